"""Listens to games that are being played: to a log file that grows, and to a port of this machine alone.

A game that sends faster than it is understood is made to wait; one that sends nothing costs nothing.
"""

import asyncio
import os
from collections.abc import Callable
from pathlib import Path
from stat import S_ISREG
from typing import Protocol

LOOPBACK = ("127.0.0.1", "::1")
"""Nobody but this machine itself is listened to."""
CHUNK = 64 * 1024
LOOKS_AGAIN = 0.1
"""Seconds after which a file is looked at again, and whether anybody still wants to know."""


class CannotListen(Exception):  # noqa: N818 - the reason, as it is told
    """The port is taken, or the file cannot be read."""


class Ears(Protocol):
    """What is told of games."""

    def begin(self, source: str) -> bool:
        """A game begins to send; whether it may."""
        ...

    def take(self, source: str, data: bytes) -> object:
        """A game sends."""
        ...

    def end(self, source: str) -> object:
        """A game sends nothing more."""
        ...


def listen_to_port(port: int, ears: Ears, stopped: Callable[[], bool], ready: Callable[[int], object]) -> None:
    """Listens to a port until stopped; 0 takes any free one. ``ready`` is told which. Raises :class:`CannotListen`."""
    asyncio.run(_serve(port, ears, stopped, ready))


def follow_file(path: Path, ears: Ears, stopped: Callable[[], bool]) -> None:
    """Reads a log from its beginning, and then what is added, until stopped. One that becomes shorter, or is another,
    is read from its beginning as another game. A file that is not there yet is waited for. Raises
    :class:`CannotListen`."""
    asyncio.run(_follow(path, ears, stopped))


async def _serve(port: int, ears: Ears, stopped: Callable[[], bool], ready: Callable[[int], object]) -> None:
    games: set[asyncio.Task[None]] = set()
    faults: list[BaseException] = []

    def on_game(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        task = asyncio.create_task(_hear(reader, writer, ears))
        games.add(task)
        task.add_done_callback(on_ended)

    def on_ended(task: asyncio.Task[None]) -> None:
        games.discard(task)
        fault = None if task.cancelled() else task.exception()
        if fault:
            faults.append(fault)

    servers = []
    try:
        for host in LOOPBACK:
            try:
                server = await asyncio.start_server(on_game, host, port, limit=CHUNK)
            except OSError as error:
                if host == LOOPBACK[0]:
                    raise CannotListen(f"port {port} cannot be listened to: {error.strerror or error}") from error
                continue  # a machine without the newer protocol, or one whose port of it is taken
            servers.append(server)
            port = server.sockets[0].getsockname()[1]
        ready(port)
        while not stopped():
            await asyncio.sleep(LOOKS_AGAIN)
            if faults:
                raise faults[0]
    finally:
        for server in servers:
            server.close()
        for task in list(games):
            task.cancel()
        await asyncio.gather(*games, return_exceptions=True)


async def _hear(reader: asyncio.StreamReader, writer: asyncio.StreamWriter, ears: Ears) -> None:
    """Passes on what one game sends."""
    host, port = writer.get_extra_info("peername")[:2]
    source = f"{host}:{port}"
    try:
        if not ears.begin(source):
            return
        try:
            while data := await reader.read(CHUNK):
                ears.take(source, data)
                await asyncio.sleep(0)
        except ConnectionError:
            pass  # a game that is gone has sent all it will
        finally:
            ears.end(source)
    finally:
        writer.close()


async def _follow(path: Path, ears: Ears, stopped: Callable[[], bool]) -> None:
    source = str(path)
    while not stopped():
        try:
            file = os.open(path, os.O_RDONLY | os.O_NONBLOCK)  # a pipe must not stop the opening
        except FileNotFoundError:
            await asyncio.sleep(LOOKS_AGAIN)
            continue
        except OSError as error:
            raise CannotListen(f"{path}: {error.strerror or error}") from error
        try:
            if not S_ISREG(os.fstat(file).st_mode):
                raise CannotListen(f"{path}: is no file")
            if ears.begin(source):
                try:
                    await _read_on(path, file, source, ears, stopped)
                finally:
                    ears.end(source)
        except OSError as error:
            raise CannotListen(f"{path}: {error.strerror or error}") from error
        finally:
            os.close(file)


async def _read_on(path: Path, file: int, source: str, ears: Ears, stopped: Callable[[], bool]) -> None:
    """Passes on what stands in a file and is added, until it is another file or begins anew."""
    done = 0
    while not stopped():
        data = os.read(file, CHUNK)
        if data:
            done += len(data)
            ears.take(source, data)
            await asyncio.sleep(0)
            continue
        if os.fstat(file).st_size < done or _is_another(path, file):
            return
        await asyncio.sleep(LOOKS_AGAIN)


def _is_another(path: Path, file: int) -> bool:
    """Whether another file stands there now; one that is gone may still be written to."""
    try:
        return not os.path.samestat(os.stat(path), os.fstat(file))
    except FileNotFoundError:
        return False

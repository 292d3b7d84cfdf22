"""A process that reads level files, so that a rule that never ends can be ended with it.

It is told on standard input what to read and answers on standard output, both in frames of MessagePack behind their
length. It imports nothing that takes long to load.
"""

import os
import resource
import stat
import struct
import sys
from collections.abc import Callable
from pathlib import Path
from typing import IO, Any

import msgspec
from msgspec import Struct

from mossy_bridge.exchange.readers.forms import Damaged
from mossy_bridge.exchange.readers.rules import contents_of
from mossy_bridge.level_files.contents import FileContents, FileFault
from mossy_bridge.level_files.pointing.sample import Sample
from mossy_bridge.model.flow import Reader

LARGEST_FILE = 64 * 1024 * 1024
MEMORY = 2 * 1024**3
"""So many bytes the process may take, whatever a file or a rule asks for."""
HEAD = struct.Struct(">I")


class ReadingJob(Struct, frozen=True, array_like=True):
    """A file to be read."""

    number: int
    path: str
    readers: tuple[Reader, ...]
    given_up: tuple[tuple[int, int], ...] = ()
    sample: str = ""
    """The name of the file where it is to be pointed at, too."""


class Word(Struct, frozen=True, array_like=True):
    """What the process says: which rule it begins with, by the numbers of reader and rule, or what a file holds."""

    number: int
    reader: int = -1
    rule: int = -1
    contents: FileContents | None = None
    sample: Sample | None = None


def frame(value: Any) -> bytes:
    """A value behind its length."""
    data = msgspec.msgpack.encode(value)
    return HEAD.pack(len(data)) + data


def bytes_of(path: Path) -> bytes | FileFault:
    """What an ordinary file holds; a pipe or device is never waited for."""
    try:
        with open(path, "rb", opener=lambda name, flags: os.open(name, flags | os.O_NONBLOCK | os.O_CLOEXEC)) as file:
            found = os.fstat(file.fileno())
            if not stat.S_ISREG(found.st_mode):
                return FileFault("is no ordinary file")
            if found.st_size <= LARGEST_FILE:
                data = file.read(LARGEST_FILE + 1)
                if len(data) <= LARGEST_FILE:
                    return data
            return FileFault(f"is larger than {LARGEST_FILE // 2**20} MB, which no level file is")
    except (OSError, ValueError) as error:
        return FileFault(f"cannot be opened: {getattr(error, 'strerror', None) or error}")


def serve(given: IO[bytes], said: IO[bytes]) -> None:
    """Reads what it is told, until nobody tells it any more."""

    def say(word: Word) -> None:
        said.write(frame(word))
        said.flush()

    jobs = msgspec.msgpack.Decoder(ReadingJob)
    while len(head := given.read(HEAD.size)) == HEAD.size:
        job = jobs.decode(given.read(HEAD.unpack(head)[0]))
        say(_answer(job, say))


def _answer(job: ReadingJob, say: Callable[[Word], None]) -> Word:
    """What a file holds; each rule is said before it begins."""
    data = bytes_of(Path(job.path))
    if isinstance(data, FileFault):
        return Word(job.number, contents=FileContents(faults=(data,)))

    def begin(reader: int, rule: int) -> None:
        say(Word(job.number, reader, rule))

    try:
        sample = _sample(job, data) if job.sample else None
        return Word(
            job.number,
            contents=contents_of(data, job.readers, begin, job.given_up, numbered=sample is not None),
            sample=sample,
        )
    except MemoryError:
        return Word(job.number, contents=FileContents(faults=(FileFault("takes more memory to read than there is"),)))


def _sample(job: ReadingJob, data: bytes) -> Sample | None:
    from mossy_bridge.exchange.readers.samples import sample_of

    try:
        return sample_of(job.sample, job.readers[0].form, data)
    except Damaged:
        return None  # its contents say so


if __name__ == "__main__":
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    serve(sys.stdin.buffer, sys.stdout.buffer)

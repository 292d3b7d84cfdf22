"""Many level files read at once, by processes that are ended when a rule takes too long."""

import os
import selectors
import subprocess
import sys
import time
from collections import deque
from collections.abc import Callable, Iterable
from contextlib import suppress

import msgspec
from msgspec.structs import replace

from mossy_bridge.exchange.readers.forms import SECONDS
from mossy_bridge.exchange.readers.worker import HEAD, ReadingJob, Word, frame
from mossy_bridge.level_files.contents import FileContents, FileFault

PARSING_SECONDS = 20.0
"""A file that takes longer to parse is given up."""
LOADING_SECONDS = 20.0
"""What a process may take to begin, on a machine that is busy."""
Tell = Callable[[Word], None]
"""Takes what there is to say of one job: what the file holds, and the sample where one was wanted."""
LOOK_EVERY = 0.1
"""So often it is asked, in seconds, whether to stop."""


class ReadingCancelled(Exception):  # noqa: N818 - no error
    """Nobody wants the files any more."""


class ReadingProcesses:
    """Processes that read level files. They are started when first needed, and kept until :meth:`close`."""

    def __init__(self, most: int | None = None):
        self._most = most or os.cpu_count() or 1
        self._idle: list[_Process] = []

    def read(
        self,
        jobs: Iterable[ReadingJob],
        tell: Tell,
        cancelled: Callable[[], bool] = lambda: False,
    ) -> None:
        """Reads files, and tells what each holds. Raises :class:`ReadingCancelled`."""
        waiting = deque(jobs)
        busy: dict[_Process, ReadingJob] = {}
        with selectors.DefaultSelector() as selector:
            try:
                while waiting or busy:
                    while waiting and len(busy) < self._most:
                        process, job = self._idle.pop() if self._idle else _Process(), waiting.popleft()
                        selector.register(process.output, selectors.EVENT_READ, process)
                        busy[process] = job
                        process.begin(job)
                    for key, _ in selector.select(LOOK_EVERY):
                        key.data.receive()
                    if cancelled():
                        raise ReadingCancelled
                    for process, job in list(busy.items()):
                        self._look(process, job, waiting, tell)
                        if process.answered or process.ended:
                            selector.unregister(process.output)
                            del busy[process]
                            if process.ended:
                                process.end()
                            else:
                                self._idle.append(process)
            finally:
                for process in busy:
                    process.end()

    def _look(
        self,
        process: "_Process",
        job: ReadingJob,
        waiting: deque[ReadingJob],
        tell: Tell,
    ) -> None:
        """Takes the answer of a process, or gives up what it takes too long for."""
        if process.answered:
            tell(process.answered)
            return
        if time.monotonic() < process.until and not process.ended:
            return
        at = process.at
        died = process.ended
        process.end()
        if at is None or at.rule < 0:
            message = "cannot be read: its reading ended by itself" if died else "takes too long to read"
            tell(Word(job.number, contents=FileContents(faults=(FileFault(message),))))
        else:
            waiting.appendleft(replace(job, given_up=(*job.given_up, (at.reader, at.rule))))

    def close(self) -> None:
        """Ends all processes."""
        for process in self._idle:
            process.end()
        self._idle = []


class _Process:
    """One process, and what it has said."""

    def __init__(self) -> None:
        command = [sys.executable, "-P", "-m", "mossy_bridge.exchange.readers.worker"]
        self._process = subprocess.Popen(
            command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL
        )
        assert self._process.stdin and self._process.stdout
        self._input, self.output = self._process.stdin, self._process.stdout
        os.set_blocking(self.output.fileno(), False)
        self._words = msgspec.msgpack.Decoder(Word)
        self._said = b""
        self._loaded = False
        self.ended = False
        self.at: Word | None = None
        """The rule it has begun with last."""
        self.answered: Word | None = None
        self.until = 0.0
        """When what it does is given up."""

    def begin(self, job: ReadingJob) -> None:
        """Gives it a file to read."""
        self.at, self.answered = None, None
        self.until = time.monotonic() + PARSING_SECONDS + (0 if self._loaded else LOADING_SECONDS)
        try:
            self._input.write(frame(job))
            self._input.flush()
        except OSError:
            self.ended = True

    def receive(self) -> None:
        """Takes in what it has said."""
        data = self.output.read()
        self.ended = self.ended or data == b""
        self._said += data or b""
        while len(self._said) >= HEAD.size:
            end = HEAD.size + HEAD.unpack_from(self._said)[0]
            if len(self._said) < end:
                break
            word = self._words.decode(self._said[HEAD.size : end])
            self._said, self._loaded = self._said[end:], True
            if word.contents is None:
                self.at = word
                self.until = time.monotonic() + (SECONDS if word.rule >= 0 else PARSING_SECONDS)
            else:
                self.answered = word

    def end(self) -> None:
        """Ends it at once."""
        self.ended = True
        self._process.kill()
        for pipe in self._input, self.output:
            with suppress(OSError):
                pipe.close()
        self._process.wait()

"""What the level files of a flow hold, each read again only when it, or its readers, have changed."""

import hashlib
import os
from collections.abc import Callable, Iterable
from contextlib import suppress
from pathlib import Path

import msgspec
from msgspec import Struct
from platformdirs import user_cache_path

from mossy_bridge.exchange.below import FilesBelow
from mossy_bridge.exchange.readers.processes import ReadingProcesses
from mossy_bridge.exchange.readers.worker import ReadingJob, Word
from mossy_bridge.level_files.contents import FileContents, FileFault, fits
from mossy_bridge.model.flow import Flow, Reader

KEPT_VERSION = 3
FEW = 20
"""So few files that have changed are kept at the end only: to write all takes longer than to read them."""
OUTSIDE = FileContents(faults=(FileFault("does not lie below the folder of the flow"),))
"""What is said of a file that leads out of the folder."""
Stamp = tuple[int, int, int]
"""Number on the disk, size and time of change of a file."""


class KnownFile(Struct, frozen=True, array_like=True):
    """What a file held when it was read last."""

    stamp: Stamp
    readers: str
    """The fingerprint of the readers by which it was read."""
    contents: FileContents


class Kept(Struct, frozen=True, array_like=True):
    """What is kept from one run of the program to the next."""

    version: int
    files: dict[str, KnownFile]


class LevelFileStore:
    """The level files below one folder. What was read is ``kept`` in the user's cache, too, where that can be
    written."""

    def __init__(self, folder: Path, processes: ReadingProcesses | None = None, kept: bool = True):
        self._folder = folder
        self._processes = processes or ReadingProcesses()
        self._cache = _cache_of(folder) if kept else None
        self._known: dict[str, KnownFile] | None = None
        self._latest: dict[str, FileContents] = {}
        self._unkept = 0
        """How many files have been read since what is known was kept last."""

    def read(
        self,
        flow: Flow,
        cancelled: Callable[[], bool] = lambda: False,
        progress: Callable[[int, int], None] = lambda _done, _all: None,
    ) -> dict[str, FileContents]:
        """What each file holds that a level which ships names, a reader fits and the disk has: the same value as at the
        last call where nothing has changed. Raises
        :class:`~mossy_bridge.exchange.readers.processes.ReadingCancelled`."""
        names = dict.fromkeys(level.file for level in flow.levels if level.ships and level.file) if flow.readers else {}
        return self.read_files(flow.readers, names, cancelled, progress)

    def read_files(
        self,
        readers: tuple[Reader, ...],
        names: Iterable[str],
        cancelled: Callable[[], bool] = lambda: False,
        progress: Callable[[int, int], None] = lambda _done, _all: None,
    ) -> dict[str, FileContents]:
        """The same, for files by name."""
        known = self._known = self._kept() if self._known is None else self._known
        prints: dict[tuple[str, ...], str] = {}
        found: dict[str, FileContents | None] = {}
        below = FilesBelow(self._folder)
        jobs: list[ReadingJob] = []
        news: dict[int, tuple[str, Stamp, str]] = {}
        for name in names:
            fitting = tuple(reader for reader in readers if fits(reader, name))
            if not fitting:
                continue
            path = below.path(name)
            if path is None:
                found[name] = OUTSIDE
                continue
            stamp = _stamp(path)
            if stamp is None:
                continue  # it is missing
            ids = tuple(reader.id for reader in fitting)
            mark = prints[ids] = prints.get(ids) or _fingerprint(fitting)
            before = known.get(name)
            if before and before.stamp == stamp and before.readers == mark:
                found[name] = before.contents
            else:
                found[name], news[len(jobs)] = None, (name, stamp, mark)
                jobs.append(ReadingJob(len(jobs), path, fitting))
        if jobs:
            self._read_anew(jobs, news, found, cancelled, progress)
        whole = {name: contents for name, contents in found.items() if contents is not None}
        same = whole.keys() == self._latest.keys() and all(whole[name] is self._latest[name] for name in whole)
        self._latest = self._latest if same else whole
        return self._latest

    def _read_anew(
        self,
        jobs: list[ReadingJob],
        news: dict[int, tuple[str, Stamp, str]],
        found: dict[str, FileContents | None],
        cancelled: Callable[[], bool],
        progress: Callable[[int, int], None],
    ) -> None:
        known, done = self._known if self._known is not None else {}, 0

        def tell(word: Word) -> None:
            nonlocal done
            name, stamp, mark = news[word.number]
            contents = word.contents or FileContents()
            found[name], known[name] = contents, KnownFile(stamp, mark, contents)
            done += 1
            progress(done, len(jobs))

        progress(0, len(jobs))
        try:
            self._processes.read(jobs, tell, cancelled)
        finally:
            self._unkept += done
            if self._unkept > FEW:
                self._keep(known)

    def _kept(self) -> dict[str, KnownFile]:
        if self._cache is None:
            return {}
        with suppress(OSError, msgspec.MsgspecError):
            kept = msgspec.msgpack.decode(self._cache.read_bytes(), type=Kept)
            if kept.version == KEPT_VERSION:
                return kept.files
        return {}

    def _keep(self, known: dict[str, KnownFile]) -> None:
        self._unkept = 0
        if self._cache is None:
            return
        with suppress(OSError):
            self._cache.parent.mkdir(parents=True, exist_ok=True)
            beside = self._cache.with_suffix(f".{os.getpid()}")
            beside.write_bytes(msgspec.msgpack.encode(Kept(KEPT_VERSION, known)))
            beside.replace(self._cache)

    def close(self) -> None:
        """Keeps what it knows, and ends its processes."""
        if self._unkept:
            self._keep(self._known or {})
        self._processes.close()


def _cache_of(folder: Path) -> Path:
    name = hashlib.sha256(os.fsencode(folder.resolve())).hexdigest()[:32]
    return user_cache_path("mossy-bridge", appauthor=False) / "level-files" / f"{name}.kept"


def _stamp(path: str) -> Stamp | None:
    try:
        found = os.stat(path)
    except (OSError, ValueError):
        return None
    return found.st_ino, found.st_size, found.st_mtime_ns


def _fingerprint(readers: tuple[Reader, ...]) -> str:
    """Tells readers apart by all that changes what is found; words and names do not."""
    parts = [(r.id, r.form, r.scale, r.y, msgspec.to_builtins(r.rules)) for r in readers]
    return hashlib.sha256(msgspec.msgpack.encode(parts)).hexdigest()[:32]

"""Reads the level files beside the window, each again only when it has changed."""

import time
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.desk.workers.background_task import BackgroundTask, Job
from mossy_bridge.exchange.readers.processes import ReadingCancelled
from mossy_bridge.exchange.readers.store import LevelFileStore
from mossy_bridge.level_files.contents import LevelFiles
from mossy_bridge.model.flow import Flow, Reader
from mossy_bridge.reach.survey.budget import Cancelled

TELL_EVERY = 0.25
"""Seconds between two words of how far it is: files are read faster than the window can say so."""
Asked = tuple[Path, tuple[Reader, ...], tuple[str, ...]]
"""A folder, the readers, and the files of levels."""


class LevelFileReading(QObject):
    """Knows what the level files hold. ``done(names)`` follows every reading, also one given up, with the files that
    hold something else than when they were read last, none where that was the first time; ``progressed(done, of)``
    tells how far it is."""

    done = pyqtSignal(object)
    progressed = pyqtSignal(int, int)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self.files: LevelFiles = {}
        self.progress: tuple[int, int] | None = None
        """How many files have been read, and of how many, while that is under way."""
        self._store: LevelFileStore | None = None
        self._asked: Asked | None = None
        self._folder: Path | None = None
        self._task = BackgroundTask(self)
        self._task.reported.connect(self._on_progress)
        self._task.done.connect(self._on_read)
        self._task.failed.connect(lambda _: self._give_up())

    @property
    def busy(self) -> bool:
        """Whether files are being read."""
        return self._task.busy

    def look_at(self, flow: Flow, folder: Path | None, again: bool = False) -> None:
        """Reads the level files of a flow with its patterns filled in, unless these are the same as last time; then
        only if told to look ``again``."""
        if folder is None or not flow.readers:
            self._forget()
            return
        files = tuple(level.file for level in flow.levels if level.ships and level.file)
        asked = (folder, flow.readers, files)
        if asked == self._asked and not again:
            return
        if folder != self._folder:
            self._forget()
            self._store, self._folder = LevelFileStore(folder), folder
        self._asked = asked
        assert self._store
        self._task.ask(partial(_read, self._store, flow.readers, files))

    def _forget(self) -> None:
        self.stop()
        had, self.files, self._asked, self._folder = bool(self.files), {}, None, None
        if had:
            self.done.emit(())

    def cancel(self) -> None:
        """Gives up what is being read; what was read before stays."""
        self._task.cancel()
        self._give_up()

    def stop(self) -> None:
        """Gives up, and waits until nothing runs any more."""
        self._task.stop()
        self.progress = None
        if self._store:
            self._store.close()
            self._store = None

    def _on_progress(self, progress: tuple[int, int]) -> None:
        self.progress = progress
        self.progressed.emit(*progress)

    def _on_read(self, files: LevelFiles) -> None:
        before, self.files = self.files, files
        self._end()
        self.done.emit(tuple(name for name in files if name in before and files[name] is not before[name]))

    def _give_up(self) -> None:
        self._end()
        self.done.emit(())

    def _end(self) -> None:
        self.progress = None
        self.progressed.emit(0, 0)


def _read(store: LevelFileStore, readers: tuple[Reader, ...], files: tuple[str, ...], job: Job) -> LevelFiles:
    told = time.monotonic()

    def tell(done: int, of: int) -> None:
        nonlocal told
        if time.monotonic() - told >= TELL_EVERY:
            told = time.monotonic()
            job.report((done, of))

    try:
        return store.read_files(readers, files, job.cancelled, tell)
    except ReadingCancelled:
        raise Cancelled from None

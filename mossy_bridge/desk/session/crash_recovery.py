"""Unsaved work, kept outside the project while it is unsaved, and found again after a crash.

Each window writes one journal, and holds a lock on it; a journal whose lock nobody holds, since its program has ended
however it did, was left behind.
"""

import os
import queue
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QLockFile, QObject, QTimer, pyqtSignal

from mossy_bridge.desk.session.document import Document
from mossy_bridge.exchange.journal import Entry, Journal, read_journal
from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.model.flow import Flow

AFTER_MS = 250
"""How long after an edit it is written, so that the many of a moment are written at once."""
LAST_WAIT = 5.0
"""Seconds that ending the program waits for what is being written."""


@dataclass(frozen=True)
class Left:
    """Unsaved work that a dead program left behind; or, where ``entry`` is None, a file in which it cannot be read."""

    file: Path
    entry: Entry | None

    @property
    def when(self) -> str:
        """When it was written, in words."""
        if self.entry is None or self.entry.when is None:
            return "an unknown time"
        return datetime.fromtimestamp(self.entry.when).strftime("%-d %B, %H:%M")


class Recovery(QObject):
    """Keeps the document's unsaved work in ``folder``. ``failed`` says that this cannot be done, ``worked`` that it
    could be after all."""

    failed = pyqtSignal(str)
    worked = pyqtSignal()

    def __init__(self, document: Document, folder: Path):
        super().__init__(document)
        self._document, self._folder = document, folder
        self._file = folder / f"{os.getpid()}-{time.time_ns()}.journal"
        self._journal = Journal(self._file)
        self._lock: QLockFile | None = None
        self._failing = False
        self._tasks: queue.SimpleQueue[Callable[[], None] | None] = queue.SimpleQueue()
        self._worker = threading.Thread(target=self._work, daemon=True, name="journal")
        self._worker.start()
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(AFTER_MS)
        self._timer.timeout.connect(self._keep)
        for happened in (document.opened, document.changed, document.saved):
            happened.connect(self._on_changed)

    @property
    def file(self) -> Path:
        """Where unsaved work is kept."""
        return self._file

    def _on_changed(self) -> None:
        if not self._document.edited:
            self._timer.stop()
            self._tasks.put(self._forget)
        elif not self._timer.isActive():
            self._timer.start()

    def _keep(self) -> None:
        """Has it written beside the window: the flow is a frozen value, so nothing can change it meanwhile."""
        document = self._document
        self._tasks.put(partial(self._write, document.flow, document.title, document.path))

    def keep_now(self) -> None:
        """Keeps the unsaved work before anything else happens."""
        if self._document.edited:
            self._timer.stop()
            self._keep()
            self._wait()

    def drop(self) -> None:
        """Throws the journal away: there is nothing unsaved any more."""
        self._timer.stop()
        self._tasks.put(self._forget)
        self._wait()

    def stop(self) -> None:
        """Ends the worker, once all is written."""
        self._tasks.put(None)
        self._worker.join(LAST_WAIT)

    def _wait(self) -> None:
        done = threading.Event()
        self._tasks.put(done.set)
        done.wait(LAST_WAIT)

    # -- beside the window -----------------------------------------------------------------------------

    def _work(self) -> None:
        while task := self._tasks.get():
            try:
                task()
            except Exception as error:  # noqa: BLE001 - a border: what fails is told, and the next is tried
                self._failing = True
                self.failed.emit(_why(error))
        self._journal.close()

    def _write(self, flow: Flow, title: str, path: Path | None) -> None:
        self._folder.mkdir(parents=True, exist_ok=True)
        if self._lock is None:
            lock = _lock(self._file.with_suffix(".lock"))
            if not lock.tryLock(0):
                raise OSError("the lock of the journal could not be taken")
            self._lock = lock  # only once it is held: without one, another start would take the journal for left behind
        self._journal.write(flow, title, path, time.time())
        self._works()

    def _works(self) -> None:
        if self._failing:
            self._failing = False
            self.worked.emit()

    def _forget(self) -> None:
        self._journal.close()
        # before the lock is given up, for a journal without one counts as left behind
        _remove(self._file, ".journal", ".fresh")
        if self._lock:
            self._lock.unlock()
            self._lock = None
        self._works()  # there is nothing left that is not kept

    # -- what others have left -------------------------------------------------------------------------

    def left_behind(self) -> list[Left]:
        """Unsaved work of programs that no longer run, the latest first; what cannot be read comes last."""
        others = [file for file in sorted(self._folder.glob("*.journal")) if file != self._file]
        abandoned = [file for file in others if _abandoned(file.with_suffix(".lock"))]
        found = [Left(file, _entry(file)) for file in abandoned if file.exists()]
        return sorted(found, key=lambda left: -(left.entry.when or 0) if left.entry else 1)


def forget(left: Left) -> None:
    """Throws away what was left behind."""
    _remove(left.file, ".journal", ".fresh", ".lock")


def _why(error: Exception) -> str:
    return getattr(error, "strerror", "") or f"{type(error).__name__}: {error}"


def _remove(file: Path, *suffixes: str) -> None:
    for suffix in suffixes:
        with suppress(OSError):
            file.with_suffix(suffix).unlink()


def _entry(file: Path) -> Entry | None:
    try:
        return read_journal(file)
    except CannotRead:
        return None


def _abandoned(lock: Path) -> bool:
    """Whether nobody holds a lock: its program has ended, however it did."""
    if not lock.exists():
        return True
    held = _lock(lock)
    if held.tryLock(0):
        held.unlock()
        return True
    known, *_ = held.getLockInfo()
    return not known  # not a lock that any program could have made and hold


def _lock(path: Path) -> QLockFile:
    """A lock that is given up when its program has ended, and at no age."""
    lock = QLockFile(str(path))
    lock.setStaleLockTime(0)
    return lock

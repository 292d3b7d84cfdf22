"""Unsaved work, kept outside the project while it is unsaved, and found again after a crash.

Each window keeps one recovery file, held by a lock that the system lets go of when the program dies however it
dies; a file whose lock is free was left behind.
"""

import fcntl
import json
import logging
import os
import threading
import time
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from PyQt6.QtCore import QObject, QTimer

from mossy_bridge.desk.document import Document
from mossy_bridge.exchange.reading import CannotRead, file_bytes, flow_from_bytes
from mossy_bridge.exchange.saving import CannotSave, replace_file
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model.flow import Flow

AFTER_MS = 3000
"""How long after an edit unsaved work is kept, at most."""
log = logging.getLogger(__name__)


@dataclass(frozen=True)
class Left:
    """Unsaved work that a dead program left behind."""

    flow: Flow
    title: str
    path: Path | None
    when: float
    """Seconds since the epoch."""
    file: Path


class Recovery(QObject):
    """Keeps the document's unsaved work in ``folder``."""

    def __init__(self, document: Document, folder: Path):
        super().__init__(document)
        self._document, self._folder = document, folder
        self._file = folder / f"{os.getpid()}-{time.time_ns()}.mossy"
        self._lock: IO[bytes] | None = None
        self._writing: threading.Thread | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(AFTER_MS)
        self._timer.timeout.connect(self._keep)
        document.changed.connect(self._on_changed)
        document.kept.connect(self._on_changed)

    @property
    def file(self) -> Path:
        """Where unsaved work is kept."""
        return self._file

    def _on_changed(self) -> None:
        if not self._document.edited:
            self._timer.stop()
            self.drop()
        elif not self._timer.isActive():
            self._timer.start()

    def _keep(self) -> None:
        """Writes beside the window: the flow is a frozen value, so nothing can change it meanwhile."""
        if self._writing and self._writing.is_alive():
            self._timer.start()
            return
        document = self._document
        told = {"title": document.title, "path": str(document.path or ""), "when": time.time()}
        self._writing = threading.Thread(target=self._write, args=(document.flow, told), daemon=True, name="recovery")
        self._writing.start()

    def keep_now(self) -> None:
        """Keeps the unsaved work before anything else happens."""
        self._keep()
        if self._writing:
            self._writing.join()

    def _write(self, flow: Flow, told: dict[str, object]) -> None:
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            self._hold()
            replace_file(self._file, flow_bytes(flow), backup=False)
            replace_file(self._file.with_suffix(".json"), json.dumps(told).encode(), backup=False)
        except (OSError, CannotSave) as error:
            log.warning("Unsaved work could not be kept in %s: %s", self._folder, error)

    def _hold(self) -> None:
        if self._lock is None:
            self._lock = self._file.with_suffix(".lock").open("wb")
            fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)

    def drop(self) -> None:
        """Throws the recovery file away: there is nothing unsaved any more."""
        if self._writing:
            self._writing.join()
        _remove(self._file)
        if self._lock:
            self._lock.close()
            self._lock = None

    def left_behind(self) -> list[Left]:
        """Unsaved work of programs that no longer run, the latest first."""
        found = [left for file in sorted(self._folder.glob("*.mossy")) if (left := _left(file))]
        return sorted(found, key=lambda left: -left.when)


def forget(left: Left) -> None:
    """Throws away what was left behind."""
    _remove(left.file)


def _remove(file: Path) -> None:
    for suffix in (".mossy", ".json", ".lock"):
        with suppress(OSError):
            file.with_suffix(suffix).unlink()


def _left(file: Path) -> Left | None:
    if not _abandoned(file.with_suffix(".lock")):
        return None
    try:
        flow = flow_from_bytes(file_bytes(file))
        told = json.loads(file.with_suffix(".json").read_bytes())
        path = Path(told["path"]) if told["path"] else None
        return Left(flow, str(told["title"]), path, float(told["when"]), file)
    except (CannotRead, OSError, ValueError, KeyError, TypeError) as error:
        log.warning("%s cannot be taken up: %s", file, error)
        return None


def _abandoned(lock: Path) -> bool:
    try:
        with lock.open("rb") as held:
            fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except FileNotFoundError:
        return True
    except OSError:
        return False
    return True

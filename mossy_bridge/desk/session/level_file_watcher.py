"""Watches level files and the folders that they lie in, while the program runs."""

import os
from operator import attrgetter
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer, pyqtSignal

from mossy_bridge.exchange.below import FilesBelow, file_below
from mossy_bridge.exchange.folders import FileNews, Stamp, files_beside, news, stamps_of
from mossy_bridge.level_files.contents import readers_of
from mossy_bridge.model.flow import Flow

SETTLE_MS = 50
MOST_WATCHED = 5_000
"""Of more files that readers fit only their folders are watched."""


class LevelFileWatch(QObject):
    """Knows what is different on disk. ``changed`` when something in the watched folders, or in a file that a reader
    fits, has changed."""

    changed = pyqtSignal()

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self._flow = Flow()
        self._folder: Path | None = None
        self.news = FileNews()
        self._watcher = QFileSystemWatcher(self)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(SETTLE_MS)
        self._watcher.directoryChanged.connect(self._on_directory_changed)
        self._watcher.fileChanged.connect(lambda _: self._timer.start())
        self._timer.timeout.connect(self._on_changed)
        self._are_others = False
        """Whether there may be other files than before, and not only other things in them."""
        self._named: tuple[str, ...] = ()
        self._read: tuple[str, ...] = ()
        """The files that readers fit, by their paths."""
        self._stamps: dict[str, Stamp] = {}
        """Of the files that levels name, as they were when they were last there."""

    @property
    def folder(self) -> Path | None:
        """The folder that level files lie in or below."""
        return self._folder

    def watch(self, flow: Flow, folder: Path | None) -> None:
        """Watches the folders of another flow's files."""
        named = tuple(filter(None, map(attrgetter("file"), flow.levels)))
        same, read_alike = named == self._named and folder == self._folder, flow.readers == self._flow.readers
        if folder != self._folder:
            self._stamps = {}
        self._flow, self._folder, self._named = flow, folder, named
        if not same or not read_alike:
            self._watch_files()
        if not same:
            self._watch_folders()
            self.look_again()

    def _watch_folders(self) -> None:
        """Watches the folders that levels' files lie in."""
        if self._watcher.directories():
            self._watcher.removePaths(self._watcher.directories())
        parents = {os.path.dirname(file) or "." for file in self._named}
        wanted = {file_below(self._folder, parent) for parent in parents} if self._folder else set()
        present = sorted(str(path) for path in wanted if path is not None and os.path.isdir(path))
        if present:
            self._watcher.addPaths(present)

    def _watch_files(self) -> None:
        """Watches the files that readers fit."""
        flow, below = self._flow, FilesBelow(self._folder) if self._folder else None
        fitting = [file for file in self._named if readers_of(flow, file)] if flow.readers and below else []
        paths = [below.path(file) for file in fitting[:MOST_WATCHED]] if below else []
        self._read = tuple(path for path in paths if path is not None)
        self._watch_again()

    def _watch_again(self) -> None:
        """A file that was replaced by another of its name is not watched any more."""
        watched = set(self._watcher.files())
        if gone := watched.difference(self._read):
            self._watcher.removePaths(gone)
        if new := [path for path in self._read if path not in watched and os.path.isfile(path)]:
            self._watcher.addPaths(new)

    def look_again(self) -> None:
        """Compares disk and flow anew."""
        if self._folder is None:
            self.news = FileNews()
            return
        files = files_beside(self._folder, self._named)
        self._stamps = {name: stamp for name, stamp in self._stamps.items() if name in self._named}
        now = stamps_of(self._folder, files)
        self.news = news(self._flow, files, self._stamps, now)
        self._stamps |= {name: stamp for name, stamp in now.items() if name in self._named}

    def _on_directory_changed(self) -> None:
        self._are_others = True
        self._timer.start()

    def _on_changed(self) -> None:
        if self._are_others:
            self.look_again()
            self._watch_again()
        self._are_others = False
        self.changed.emit()

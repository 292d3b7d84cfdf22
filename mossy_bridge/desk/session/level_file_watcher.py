"""Watches the folders that level files lie in, while the program runs."""

import os
from pathlib import Path, PurePosixPath

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer, pyqtSignal

from mossy_bridge.exchange.below import file_below
from mossy_bridge.exchange.folders import FileNews, Stamp, files_beside, news, stamps_of
from mossy_bridge.model.flow import Flow

SETTLE_MS = 250


class LevelFileWatch(QObject):
    """Knows what is different on disk. ``changed`` when something in the watched folders has changed."""

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
        self._watcher.directoryChanged.connect(lambda _: self._timer.start())
        self._timer.timeout.connect(self._on_changed)
        self._named: tuple[str, ...] = ()
        self._stamps: dict[str, Stamp] = {}
        """Of the files that levels name, as they were when they were last there."""

    @property
    def folder(self) -> Path | None:
        """The folder that level files lie in or below."""
        return self._folder

    def watch(self, flow: Flow, folder: Path | None) -> None:
        """Watches the folders of another flow's files."""
        named = tuple(level.file for level in flow.levels if level.file)
        same = named == self._named and folder == self._folder
        if folder != self._folder:
            self._stamps = {}
        self._flow, self._folder, self._named = flow, folder, named
        if same:
            return
        if self._watcher.directories():
            self._watcher.removePaths(self._watcher.directories())
        wanted = {file_below(folder, str(PurePosixPath(file).parent)) for file in named} if folder else set()
        present = sorted(str(path) for path in wanted if path is not None and os.path.isdir(path))
        if present:
            self._watcher.addPaths(present)
        self.look_again()

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

    def _on_changed(self) -> None:
        self.look_again()
        self.changed.emit()

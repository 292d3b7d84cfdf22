"""Level files opened in the editor of one's choice."""

import os
import shlex
from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import QProcess, QUrl
from PyQt6.QtGui import QDesktopServices

from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.settings.preferences import Preferences
from mossy_bridge.exchange.below import file_below

TITLE = "The file cannot be opened"


class LevelFileEditor:
    """Opens the file of the selected level: by the command that is set, or as the desktop would."""

    def __init__(self, document: Document, selection: Selection, preferences: Preferences, person: Person):
        self._document, self._selection = document, selection
        self._preferences, self._person = preferences, person
        self.start: Callable[[str, Sequence[str]], bool] = lambda program, words: QProcess.startDetached(
            program, list(words)
        )[0]
        self.open_as_desktop: Callable[[Path], bool] = lambda path: QDesktopServices.openUrl(
            QUrl.fromLocalFile(str(path))
        )

    @property
    def can_open(self) -> bool:
        """Whether the selected level has a file, and it is known where."""
        level = self._selection.level(self._document.flow)
        return bool(level and level.file and self._document.folder)

    def open(self) -> None:
        """Opens it; what keeps it from opening is told."""
        level, folder = self._selection.level(self._document.flow), self._document.folder
        if level is None or folder is None:
            return
        path = file_below(folder, level.file)
        if path is None or not path.is_file():
            self._person.tell(TITLE, f"{level.file} is not in the flow's folder.")
            return
        command = self._preferences.text("editor")
        if not command and (path.suffix == ".desktop" or os.access(path, os.X_OK)):
            self._person.tell(TITLE, f"{path.name} is a program, which the desktop would run; set an editor.")
        elif not command:
            if not self.open_as_desktop(path):
                self._person.tell(TITLE, f"The desktop has no program for {path.name}; set an editor in the settings.")
        else:
            self._start(command, path)

    def _start(self, command: str, path: Path) -> None:
        try:
            words = shlex.split(command)
        except ValueError as error:
            self._person.tell(TITLE, f"The editor in the settings is no command: {error}.")
            return
        told = [word.replace("{file}", str(path)) for word in words]
        if told == words:
            told.append(str(path))
        if not self.start(told[0], told[1:]):
            self._person.tell(TITLE, f"{words[0]}, the editor in the settings, cannot be started.")

"""The flows that were opened or saved lately, in the menu of files."""

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu

from mossy_bridge.desk.session.file_commands import Files
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import plain


class RecentFlows(QObject):
    """Lists them in a menu, above one of its actions."""

    def __init__(self, menu: QMenu, before: QAction, files: Files):
        super().__init__(menu)
        self._menu, self._before, self._files = menu, before, files
        self._entries: list[QAction] = []
        files.recent_changed.connect(self._fill)
        self._fill()

    def _fill(self) -> None:
        for entry in self._entries:
            self._menu.removeAction(entry)
        self._entries.clear()
        for path in self._files.recent:
            entry = given(self._menu.addAction(f"{path.name}  ({path.parent.name})"))
            entry.setToolTip(plain(str(path)))
            entry.triggered.connect(lambda _, p=path: self._files.open(p))
            self._menu.insertAction(self._before, entry)
            self._entries.append(entry)

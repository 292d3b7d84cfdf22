"""Actions as data: name, key, what each does, and when it is enabled."""

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QMenuBar, QWidget

from mossy_bridge.desk.widgets.plain_text import plain

ALWAYS: Callable[[], bool] = lambda: True  # noqa: E731


@dataclass(frozen=True)
class Action:
    """An entry of a menu. ``text`` may be a function, where it says what would be done."""

    menu: str
    id: str
    text: str | Callable[[], str]
    keys: str
    tip: str
    run: Callable[[], object]
    enabled: Callable[[], bool] = ALWAYS
    checked: Callable[[], bool] | None = None
    apart: bool = False
    """Whether a line stands before it in its menu."""
    needs: str = "Not possible at the moment."
    """Why it cannot be done while it is not enabled, and what it takes."""

    @property
    def words(self) -> str:
        """Its name as one reads it."""
        text = self.text if isinstance(self.text, str) else self.text()
        return text.replace("&", "")


class Actions:
    """Makes the menus of a table of actions and keeps them in step with what can be done."""

    def __init__(self, window: QWidget, bar: QMenuBar, table: list[Action]):
        self.table = table
        self.made: dict[str, QAction] = {}
        self.menus: dict[str, QMenu] = {}
        for entry in table:
            if entry.menu not in self.menus:
                self.menus[entry.menu] = self._menu(bar, entry.menu)
            menu = self.menus[entry.menu]
            if entry.apart:
                menu.addSeparator()
            self.made[entry.id] = self._make(window, entry)
            menu.addAction(self.made[entry.id])
        self.refresh()

    def _menu(self, bar: QMenuBar, title: str) -> QMenu:
        menu = QMenu(title, bar)
        bar.addMenu(menu)
        menu.setToolTipsVisible(True)
        menu.aboutToShow.connect(self.refresh)
        return menu

    def _make(self, window: QWidget, entry: Action) -> QAction:
        action = QAction(window)
        action.setShortcut(QKeySequence(entry.keys))
        action.setToolTip(plain(f"{entry.tip} ({entry.keys})"))
        action.setCheckable(entry.checked is not None)
        action.triggered.connect(lambda: self._run(entry))
        return action

    def _run(self, entry: Action) -> None:
        if entry.enabled():
            entry.run()
        self.refresh()

    def refresh(self) -> None:
        """Says anew what each action would do and whether it can be done."""
        for entry in self.table:
            action = self.made[entry.id]
            action.setText(entry.text if isinstance(entry.text, str) else entry.text())
            action.setEnabled(entry.enabled())
            why = "" if action.isEnabled() else f"\n{entry.needs}"
            action.setToolTip(plain(f"{entry.tip} ({entry.keys}){why}"))
            if entry.checked:
                action.setChecked(entry.checked())

"""Do…: any action by its name, with its key, and why it cannot be done now."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QListWidgetItem, QWidget

from mossy_bridge.desk.sentences.popups import ROLE, Popup
from mossy_bridge.desk.shell.actions import Action, Actions


class DoBox(Popup):
    """Lists the actions whose name, menu or description has the words typed; Enter does the one chosen."""

    def __init__(self, parent: QWidget, actions: Actions):
        super().__init__(parent)
        self._actions = actions
        self._line.setPlaceholderText("What is to be done? Type a part of its name")
        self._line.setAccessibleName("What is to be done")
        self._line.textChanged.connect(self._narrow)
        self._list.setWordWrap(True)
        self._list.itemClicked.connect(self._do)
        self.resize(520, 380)
        self._narrow("")

    def _narrow(self, text: str) -> None:
        self._list.clear()
        for action in matching(self._actions.table, text):
            why = "" if action.enabled() else f"\n– {action.needs}"
            item = QListWidgetItem(f"{action.words}    {action.keys}\n{action.tip}{why}")
            item.setData(ROLE, action)
            if why:
                item.setForeground(self.palette().brush(self.palette().ColorRole.PlaceholderText))
            self._list.addItem(item)
        if not self._list.count():
            nothing = QListWidgetItem("No action by that name")
            nothing.setFlags(Qt.ItemFlag.NoItemFlags)
            self._list.addItem(nothing)
        self._list.setCurrentRow(0)

    def _on_enter(self) -> None:
        if item := self._list.currentItem():
            self._do(item)

    def _do(self, item: QListWidgetItem) -> None:
        action: Action | None = item.data(ROLE)
        if action and action.enabled():
            self.close()
            self._actions.made[action.id].trigger()


def matching(actions: Sequence[Action], text: str) -> list[Action]:
    """The actions that have all the words, those with the words in their name first."""
    words = text.casefold().split()

    def has(said: str) -> bool:
        return all(word in said.casefold() for word in words)

    named = [one for one in actions if has(one.words)]
    return [*named, *(one for one in actions if one not in named and has(f"{one.words} {one.menu} {one.tip}"))]

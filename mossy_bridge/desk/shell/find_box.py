"""Find: a line to type in, and everything by that name, code, id or file."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QListWidgetItem, QWidget

from mossy_bridge.desk.sentences.popups import ROLE, Popup
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.language.naming import fact_changed, facts_named
from mossy_bridge.model.find import Match, found
from mossy_bridge.model.flow import Flow

SIGNS = {"level": "●", "exit": "∩", "spawn point": "▽", "deed": "◇", "zone": "▭", "fact": "≡", "ending": "■"}


class FindBox(Popup):
    """Lists what is found while one types. ``found(level, group, id)`` brings the place chosen."""

    chosen = pyqtSignal(str, str, str)

    def __init__(self, parent: QWidget, flow: Flow):
        super().__init__(parent)
        self._flow = flow
        self._line.setPlaceholderText("Find a level, exit, spawn point, deed or fact by name, code, id or file")
        self._line.setAccessibleName("Find")
        self._line.textChanged.connect(self._look)
        self._list.itemClicked.connect(self._on_clicked)
        self.resize(460, 340)
        self._look("")

    def _look(self, text: str) -> None:
        self._list.clear()
        for match in found(self._flow, text):
            item = QListWidgetItem(f"{SIGNS[match.kind]}  {match.title}    {match.detail}")
            item.setData(ROLE, match)
            item.setToolTip(plain(match.kind))
            self._list.addItem(item)
        if not self._list.count():
            item = QListWidgetItem("Nothing by that name" if text.strip() else "Type a part of the name")
            item.setFlags(Qt.ItemFlag.NoItemFlags)
            self._list.addItem(item)
        self._list.setCurrentRow(0)

    def _on_clicked(self, item: QListWidgetItem) -> None:
        match = item.data(ROLE)
        if match is not None:
            self.close()
            self.chosen.emit(*place_of(self._flow, match))

    def _on_enter(self) -> None:
        if item := self._list.currentItem():
            self._on_clicked(item)


def place_of(flow: Flow, match: Match) -> tuple[str, str, str]:
    """The level, and the group and id in it, that a match leads to. A fact leads to where it is first changed,
    or else first asked; an ending to the first exit into it."""
    groups = {"exit": "exits", "spawn point": "spawns", "deed": "deeds", "zone": "zones"}
    if match.kind == "level":
        return match.level, "", ""
    if match.kind in groups:
        return match.level, groups[match.kind], match.id
    for level in flow.levels:
        for exit_ in level.exits:
            ends = any(to.kind == "end" and to.ending == match.id for to in exit_.destinations)
            if (match.kind == "ending" and ends) or (match.kind == "fact" and _changes(exit_.effects, match.id)):
                return level.id, "exits", exit_.id
        for deed in level.deeds if match.kind == "fact" else ():
            if _changes(deed.effects, match.id):
                return level.id, "deeds", deed.id
    for level in flow.levels if match.kind == "fact" else ():
        for exit_ in level.exits:
            if match.id in facts_named(exit_.opens) | facts_named(exit_.trigger.when):
                return level.id, "exits", exit_.id
    return "", "", ""


def _changes(effects: Sequence[str], fact: str) -> bool:
    return any(fact_changed(effect) == fact for effect in effects)

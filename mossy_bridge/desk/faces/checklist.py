"""The face *Checklist*: what every level must have, item by level, in strip order."""

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.faces.grid import Grid
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.popups import Choice
from mossy_bridge.desk.sentences.sentence import Sentence
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.marks import paint_mark
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import ChecklistItem, Flow
from mossy_bridge.model.patterns import resolved

HELP = "What every level must have. Click a cell to tick it off; arrow keys and Space do the same."
LEVEL_W, ROW_H = 54, 30
KIND_WORDS = (("play", "levels"), ("screen", "screens"), ("board", "boards"))


class ChecklistTable(QAbstractTableModel):
    """Items by levels: True where ticked, False where open, None where the item is not for that kind."""

    def __init__(self) -> None:
        super().__init__()
        self.flow = Flow()

    def show_flow(self, flow: Flow) -> None:
        """Shows another flow."""
        self.beginResetModel()
        self.flow = resolved(flow)
        self.endResetModel()

    def rowCount(self, _: QModelIndex = QModelIndex()) -> int:  # noqa: B008 - Qt's own signature
        return len(self.flow.checklist)

    def columnCount(self, _: QModelIndex = QModelIndex()) -> int:  # noqa: B008 - Qt's own signature
        return len(self.flow.levels)

    def state(self, index: QModelIndex) -> bool | None:
        """How the cell stands."""
        item, level = self.flow.checklist[index.row()], self.flow.levels[index.column()]
        return item.id in level.ticked if level.kind in item.kinds else None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        item, level = self.flow.checklist[index.row()], self.flow.levels[index.column()]
        if role in (Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.AccessibleTextRole):
            words = {True: "ticked", False: "open", None: "not for this kind"}[self.state(index)]
            return plain(f"{level.title}: {item.text or item.id}: {words}")
        return None

    def headerData(self, section: int, way: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if way == Qt.Orientation.Horizontal:
            level = self.flow.levels[section]
            if role == Qt.ItemDataRole.DisplayRole:
                return level.code or level.title[:6]
            return plain(level.title) if role == Qt.ItemDataRole.ToolTipRole else None
        item = self.flow.checklist[section]
        return (item.text or item.id) if role == Qt.ItemDataRole.DisplayRole else None


class ChecklistFace(QWidget):
    """Edits the checklist and ticks levels."""

    title, tip = "Checklist", "What every level must have"
    follows_survey = False

    def __init__(self, look: Look, requests: Requests, selection: Selection):
        super().__init__()
        self._look, self._requests, self._selection = look, requests, selection
        self.table = ChecklistTable()
        self.grid = Grid(look, self.table, "Checklist", self._paint_cell, LEVEL_W, ROW_H)
        given(self.grid.verticalHeader()).setMinimumWidth(180)
        self.new_item = QLineEdit()
        self.new_item.setPlaceholderText("Another thing every level must have, then Enter")
        self.new_item.setAccessibleName("New item")
        self.item = Sentence("Item")
        self._help = Label(HELP)
        top = QHBoxLayout()
        top.addWidget(self._help, 1)
        top.addWidget(self.new_item, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(top)
        layout.addWidget(self.item)
        layout.addWidget(self.grid, 1)
        self.new_item.returnPressed.connect(self._add)
        self.grid.entered_cell.connect(self._toggle)
        given(self.grid.selectionModel()).currentChanged.connect(lambda index, _: self._say(index.row()))
        given(self.grid.horizontalHeader()).sectionClicked.connect(self._on_header)
        given(self.grid.verticalHeader()).sectionClicked.connect(self._say)

    def show_flow(self, flow: Flow, _result: Appraisal | None = None) -> None:
        """Shows another flow; the cell one was at stays."""
        with self.grid.keeping_place():
            self.table.show_flow(flow)
        self._say(self.grid.currentIndex().row())

    def _paint_cell(self, painter: QPainter, rect: QRect, index: QModelIndex) -> None:
        c, state = self._look.colours, self.table.state(index)
        centre = QPointF(rect.center())
        if state is True:
            paint_mark(painter, c, "sound", centre, 7)
        elif state is False:
            painter.setPen(QPen(c.colour("suspicious"), 1.6))
            painter.drawRoundedRect(QRectF(centre.x() - 6, centre.y() - 6, 12, 12), 3, 3)
        else:
            painter.setPen(QPen(c.colour("line"), 1.4))
            painter.drawLine(centre - QPointF(4, 0), centre + QPointF(4, 0))

    def _add(self) -> None:
        text = self.new_item.text().strip()
        if text:
            self.new_item.clear()
            self._requests.upkeep.add_item(text)

    def _toggle(self, index: QModelIndex) -> None:
        state = self.table.state(index) if index.isValid() else None
        if state is not None:
            level, item = self.table.flow.levels[index.column()], self.table.flow.checklist[index.row()]
            self._requests.upkeep.tick(level.id, item.id, not state)

    def _on_header(self, column: int) -> None:
        self._selection.select(self.table.flow.levels[column].id)

    def _say(self, row: int) -> None:
        """Says the item of a row, so that it can be changed."""
        flow = self.table.flow
        self.item.begin(flow)
        if not flow.checklist:
            self.item.text("Nothing is on the checklist yet.")
        elif 0 <= row < len(flow.checklist):
            item, upkeep = flow.checklist[row], self._requests.upkeep
            done = sum(item.id in level.ticked for level in flow.levels if level.kind in item.kinds)
            of = sum(level.kind in item.kinds for level in flow.levels)
            self.item.type_text("the item", item.text or item.id, item.text, lambda t: upkeep.set_item(item.id, text=t),
                                (ChecklistItem, "text"))  # fmt: skip
            self.item.text("must be had by all")
            words = ", ".join(word for kind, word in KIND_WORDS if kind in item.kinds) or "nothing"
            kinds = [Choice(kind, word) for kind, word in KIND_WORDS]
            self.item.tick("of which kinds", words, kinds, item.kinds, lambda n: upkeep.set_item(item.id, kinds=n))
            self.item.text(f"; {done} of {of} have it.")
            self.item.toggle("remove the item", "Remove it", lambda: upkeep.remove_item(item.id))
        else:
            self.item.text("Choose a row to change the item.")
        self.item.finish()

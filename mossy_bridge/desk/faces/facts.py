"""The face *Facts*: what the game remembers, level by level in strip order, and what becomes of it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.faces.grid import Grid
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.fact import FactSentence, told_kind
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.colours import Colours
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.workers.background_task import BackgroundTask
from mossy_bridge.language.fact_uses import FactUse, FactUses, Use
from mossy_bridge.model.flow import Flow
from mossy_bridge.model.patterns import resolved
from mossy_bridge.play.fact_lifetimes import MOMENTS, becomes
from mossy_bridge.reach.queries.first_gained import first_gained
from mossy_bridge.reach.survey.result import Survey

HELP = "What the game remembers, and where. Click a mark to go to its place; a row to change the fact."
WORDS: dict[Use, str] = {"gained": "gained", "spent": "spent", "turned": "turned or set", "reset": "reset",
                         "asked": "asked for"}  # fmt: skip
COLOUR = {"gained": "sound", "spent": "broken", "turned": "route", "reset": "dim", "asked": "suspicious"}
HAD_W, LEVEL_W, ROW_H = 124, 46, 40


def paint_use(painter: QPainter, c: Colours, use: Use, centre: QPointF, r: float) -> None:
    """Paints the sign of a use; each has its own shape."""
    colour = c.colour(COLOUR[use])
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if use in ("gained", "spent"):
        up = -1 if use == "gained" else 1
        corners = [QPointF(0, up * r * 0.9), QPointF(r, -up * r * 0.75), QPointF(-r, -up * r * 0.75)]
        painter.setBrush(colour)
        painter.drawPolygon(QPolygonF([centre + corner for corner in corners]))
        return
    painter.setPen(QPen(colour, 2, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    box = QRectF(centre.x() - r * 0.8, centre.y() - r * 0.8, r * 1.6, r * 1.6)
    if use == "asked":
        painter.drawRoundedRect(box, 2, 2)
    else:
        painter.drawArc(box, 90 * 16, -270 * 16)
    if use == "reset":
        painter.drawLine(centre - QPointF(r * 0.4, 0), centre + QPointF(r * 0.4, 0))


@dataclass(frozen=True)
class FactsFound:
    """What there is to say of the facts of a flow: where they are used, and where each can first be had, by its id."""

    flow: Flow
    uses: FactUses
    had: Mapping[str, str]


def found_of_facts(flow: Flow, survey: Survey | None, before: FactUses | None) -> FactsFound:
    """All there is to say; where facts are first had only once it is known how near to the start levels are."""
    uses = FactUses(flow, before)
    crossings = survey.counted_crossings if survey else None
    if survey is None or crossings is None:
        return FactsFound(flow, uses, {})
    surveyed = uses if survey.flow is flow else FactUses(survey.flow, uses)
    return FactsFound(flow, uses, first_gained(survey, surveyed, crossings))


class FactsTable(QAbstractTableModel):
    """Facts by levels, with a first column for where each can first be had."""

    def __init__(self) -> None:
        super().__init__()
        self.flow = Flow()
        self.found: FactsFound | None = None
        """What was found last, of this flow or the one before."""

    def show_flow(self, flow: Flow, found: FactsFound | None) -> None:
        """Shows another flow, or what else was found of it."""
        self.beginResetModel()
        self.flow, self.found = flow, found
        self.endResetModel()

    def rowCount(self, _: QModelIndex = QModelIndex()) -> int:  # noqa: B008 - Qt's own signature
        return len(self.flow.facts)

    def columnCount(self, _: QModelIndex = QModelIndex()) -> int:  # noqa: B008 - Qt's own signature
        return len(self.flow.levels) + 1

    def uses(self, index: QModelIndex) -> Sequence[FactUse]:
        """What a cell shows."""
        if index.column() == 0 or self.found is None:
            return ()
        return self.found.uses.at(self.flow.facts[index.row()].id, self.flow.levels[index.column() - 1].id)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        fact = self.flow.facts[index.row()]
        if index.column() == 0:
            had = self.found.had if self.found else {}
            return had.get(fact.id, "…") if role == Qt.ItemDataRole.DisplayRole else None
        if role in (Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.AccessibleTextRole):
            level = self.flow.levels[index.column() - 1]
            lines = [f"{WORDS[use.use]} at {use.at}: {use.text}" for use in self.uses(index)]
            return plain(f"{fact.name or fact.id} in {level.title}: " + ("; ".join(lines) or "nothing"))
        return None

    def headerData(self, section: int, way: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if way == Qt.Orientation.Horizontal:
            if section == 0:
                return "first to be had" if role == Qt.ItemDataRole.DisplayRole else None
            level = self.flow.levels[section - 1]
            if role == Qt.ItemDataRole.DisplayRole:
                return level.code or level.title[:6]
            return plain(level.title) if role == Qt.ItemDataRole.ToolTipRole else None
        fact = self.flow.facts[section]
        return f"{fact.name or fact.id}\n{told_kind(fact)}" if role == Qt.ItemDataRole.DisplayRole else None


class Legend(QWidget):
    """Says what the signs mean."""

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self.setAccessibleName(f"Signs: {', '.join(WORDS.values())}")
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(480, 22)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            x = 8.0
            for use, words in WORDS.items():
                paint_use(painter, c, use, QPointF(x, self.height() / 2), 5.5)
                painter.setPen(c.colour("dim"))
                painter.drawText(QPointF(x + 12, self.height() / 2 + painter.fontMetrics().ascent() / 2 - 2), words)
                x += 34 + painter.fontMetrics().horizontalAdvance(words)


class FactsFace(QWidget):
    """Shows and edits the facts."""

    title, tip = "Facts", "What the game remembers, and where"
    follows_survey = True

    def __init__(self, look: Look, requests: Requests, selection: Selection):
        super().__init__()
        self._look, self._requests, self._selection = look, requests, selection
        self.table = FactsTable()
        self._task = BackgroundTask(self)
        self._task.done.connect(self._on_found)
        self.grid = Grid(look, self.table, "Facts", self._paint_cell, LEVEL_W, ROW_H)
        self.grid.setShowGrid(False)
        given(self.grid.verticalHeader()).setMinimumWidth(150)
        given(self.grid.verticalHeader()).setDefaultAlignment(
            Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        )
        self.new_fact = QLineEdit()
        self.new_fact.setPlaceholderText("Another thing to remember, then Enter")
        self.new_fact.setAccessibleName("New fact")
        self.fact = FactSentence(requests)
        self.becoming = Label()
        self.becoming.setWordWrap(True)
        self.becoming.setAccessibleName("What becomes of the fact")
        top = QHBoxLayout()
        top.addWidget(Label(HELP), 1)
        top.addWidget(self.new_fact, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(top)
        layout.addWidget(self.fact)
        layout.addWidget(self.becoming)
        layout.addWidget(self.grid, 1)
        layout.addWidget(Legend(look))
        self.new_fact.returnPressed.connect(self._add)
        self.grid.entered_cell.connect(self._go)
        given(self.grid.selectionModel()).currentChanged.connect(lambda index, _: self._say(index.row()))
        given(self.grid.horizontalHeader()).sectionClicked.connect(self._on_header)
        given(self.grid.verticalHeader()).sectionClicked.connect(self._choose)

    def show_flow(self, flow: Flow, result: Appraisal | None) -> None:
        """Shows another flow; the cell one was at stays."""
        flow, survey = resolved(flow), result.survey if result else None
        before = self.table.found
        self._show(flow, before)
        uses = before.uses if before else None
        self._task.ask(lambda _: found_of_facts(flow, survey, uses))

    @property
    def busy(self) -> bool:
        """Whether it is still being found out where facts are used."""
        return self._task.busy

    def _on_found(self, found: FactsFound) -> None:
        if found.flow is self.table.flow:
            self._show(found.flow, found)

    def _show(self, flow: Flow, found: FactsFound | None) -> None:
        with self.grid.keeping_place():
            self.table.show_flow(flow, found)
            self.grid.setColumnWidth(0, HAD_W)
        self._say(max(self.grid.currentIndex().row(), 0))

    def _paint_cell(self, painter: QPainter, rect: QRect, index: QModelIndex) -> None:
        c = self._look.colours
        if index.row() % 2 == 0:
            painter.fillRect(rect, c.colour("column", 120))
        if index.column() == 0:
            painter.setPen(c.colour("sound"))
            words = painter.fontMetrics().elidedText(str(index.data()), Qt.TextElideMode.ElideRight, HAD_W - 16)
            painter.drawText(rect.adjusted(8, 0, -4, 0), Qt.AlignmentFlag.AlignVCenter, words)
            return
        kinds = list(dict.fromkeys(use.use for use in self.table.uses(index)))[:3]
        for place, use in enumerate(kinds):
            apart = (place - (len(kinds) - 1) / 2) * 15
            paint_use(painter, c, use, QPointF(rect.center()) + QPointF(apart, 0), 6.5)

    def _add(self) -> None:
        name = self.new_fact.text().strip()
        if name and self._requests.facts.add(name):
            self.new_fact.clear()
            self._choose(len(self.table.flow.facts) - 1)

    def _choose(self, row: int) -> None:
        self.grid.setCurrentIndex(self.table.index(row, 0))

    def _go(self, index: QModelIndex) -> None:
        """Shows the place of a cell's first use."""
        uses = self.table.uses(index) if index.isValid() else []
        if uses:
            level, _, thing = uses[0].at.partition(".")
            found = self.table.flow.level(level)
            self._selection.select(level, thing if found and found.exit(thing) else "")

    def _on_header(self, column: int) -> None:
        if column:
            self._selection.select(self.table.flow.levels[column - 1].id)

    def _say(self, row: int) -> None:
        """Says the fact of a row, so that it can be changed, and what becomes of it."""
        flow = self.table.flow
        if not 0 <= row < len(flow.facts):
            self.fact.say_nothing(flow)
            self.becoming.setText("")
            return
        fact = flow.facts[row]
        found = self.table.found
        self.fact.say(flow, fact, found.uses if found else None)
        told = zip(MOMENTS, becomes(flow, fact), strict=True)
        self.becoming.setText("What becomes of it:   " + "   ·   ".join(f"{moment}: {what}" for moment, what in told))

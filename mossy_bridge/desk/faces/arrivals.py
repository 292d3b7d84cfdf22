"""The face *Arrivals*: every way into every level, where it lands, and what stands out about it."""

from collections.abc import Callable
from typing import Any

from msgspec import Struct
from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPen
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.plan.painting import PlanFrame, has_plan, paint_door, paint_ground, paint_spawn
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.popups import Choice, Picker
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.widgets.drop_down import DropDown
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.text_table import TextTable
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.workers.background_task import BackgroundTask
from mossy_bridge.exchange.folders import natural
from mossy_bridge.language.numbers import counted
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.patterns import resolved
from mossy_bridge.plan.arrivals import Arrival, arrivals
from mossy_bridge.plan.doors import has_area
from mossy_bridge.plan.laying import Part
from mossy_bridge.reach.queries.surely_had import surely_had
from mossy_bridge.reach.survey.result import Survey

HELP = "Every way in and where it lands. Enter on a row chooses another landing."
COLUMNS = ("", "arrives in", "comes from", "lands at", "the way back", "surely there", "stands out")
PLAN, ARRIVES, FROM, LANDS, BACK, HAS, NOTES = range(len(COLUMNS))
SHOWN = ("all ways in", "what stands out", "of the level selected")
ROW_H, PLAN_W = 46, 120
NEW = "+new"


class Row(Struct, frozen=True):
    """A way in, what stands out about it, and the words by which it is found."""

    arrival: Arrival
    notes: tuple[str, ...]
    words: str


def rows_of(flow: Flow) -> list[Row]:
    """The ways into the levels of a flow, patterns filled in. Large flows have many: worked out beside the window."""
    titles = {level.id: f"{level.code} {level.title}" for level in flow.levels}
    exits = {(level.id, exit_.id): exit_.name or exit_.id for level in flow.levels for exit_ in level.exits}
    levels = {level.id: level for level in flow.levels}
    found = []
    for one in arrivals(flow):
        words = (titles[one.level], titles.get(one.source, ""), exits.get((one.source, one.thing), ""))
        notes = notes_on(one, levels[one.level], levels.get(one.source), flow.limits.return_distance)
        found.append(Row(one, tuple(notes), " ".join(words).casefold()))
    return found


class ArrivalTable(TextTable[Row]):
    """Ways in, one a row, those that are wanted."""

    def __init__(self) -> None:
        super().__init__(COLUMNS)
        self.flow = Flow()
        self._all: list[Row] = []
        self._levels: dict[str, Level] = {}
        self._survey: Survey | None = None
        self._had: dict[str, str] = {}
        self._sorted = PLAN, Qt.SortOrder.AscendingOrder
        """The column sorted by, and how; by that of the plans the rows stand in the order of the levels."""

    def show_ways(self, flow: Flow, rows: list[Row]) -> None:
        """Takes the ways into the levels of another flow."""
        self.flow, self._all = flow, rows
        self._levels = {level.id: level for level in flow.levels}
        self._had.clear()

    def show_survey(self, survey: Survey | None) -> None:
        """Takes another survey, which may be of an earlier flow."""
        if survey is not self._survey:
            self._survey = survey
            self._had.clear()

    def narrow(self, wanted: Callable[[Row], bool]) -> None:
        """Shows the ways in that are wanted."""
        self.beginResetModel()
        self.rows = [row for row in self._all if wanted(row)]
        self._put_in_order()
        self.endResetModel()

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        """Sorts by a column; by that of the plans, or none, as the levels stand in their order."""
        self._sorted = max(column, PLAN), order
        self.layoutAboutToBeChanged.emit()
        self._put_in_order()
        self.layoutChanged.emit()

    def _put_in_order(self) -> None:
        column, order = self._sorted
        at = {id(row): number for number, row in enumerate(self._all)}
        self.rows.sort(key=lambda row: (*self._sort_key(row, column), at[id(row)]))
        if order == Qt.SortOrder.DescendingOrder:
            self.rows.reverse()

    def _sort_key(self, row: Row, column: int) -> tuple[Any, ...]:
        """Ways back by how far they are, those without one last; what stands out first where there is most of it; all
        else by what is told."""
        if column == BACK:
            distance = row.arrival.distance
            return (not row.arrival.back, distance if distance is not None else float("inf"))
        if column == NOTES:
            return (-len(row.notes), self.told(row, column))
        return (natural(self.told(row, column)),) if column != PLAN else ()

    def told(self, row: Row, column: int) -> str:
        """What stands in a cell."""
        arrival = row.arrival
        level = self._levels.get(arrival.level)
        if level is None:
            return ""
        if column == ARRIVES:
            return f"{level.code} {level.title}".strip() if level.code != level.title else level.title
        if column == FROM:
            return self._told_source(arrival)
        if column == LANDS:
            spawn = level.spawn(arrival.spawn) if arrival.spawn else None
            nowhere = "nowhere: no spawn point" if level.kind == "play" else "the page itself"
            return f"{spawn.name or spawn.id}, faces {spawn.faces}" if spawn else nowhere
        if column == BACK:
            return self._told_back(arrival, level)
        if column == HAS:
            return self._told_had(level)
        return "; ".join(row.notes) if column == NOTES else ""

    def _told_source(self, arrival: Arrival) -> str:
        source = self._levels.get(arrival.source)
        if arrival.how == "start":
            return "the start of the game"
        if source is None:
            return "nowhere"
        if arrival.how == "tile":
            return f"{source.title}: a tile"
        exit_ = source.exit(arrival.thing)
        name = (exit_.name or exit_.id) if exit_ else arrival.thing
        return f"{source.title}: {name}"

    def _told_back(self, arrival: Arrival, level: Level) -> str:
        exit_ = level.exit(arrival.back) if arrival.back else None
        if exit_ is None:
            return ""
        unit = self.flow.units.name or "unit"
        units = unit if arrival.distance == 1 or unit.endswith("s") else f"{unit}s"
        far = f", {arrival.distance:g} {units} away" if arrival.distance is not None else ""
        return f"{exit_.name or exit_.id}{far}"

    def _told_had(self, level: Level) -> str:
        if self._survey is None:
            return "…"
        if level.id not in self._had:
            names = {fact.id: fact.name or fact.id for fact in self.flow.facts}
            had, lacked = surely_had(self._survey, level.id)
            told = [", ".join(names[one] for one in had)] if had else []
            told += [f"no {', no '.join(names[one] for one in lacked)}"] if lacked else []
            self._had[level.id] = "; ".join(told)
        return self._had[level.id]


def notes_on(arrival: Arrival, level: Level, source: Level | None, far: float) -> list[str]:
    """What stands out about a way in, in words; further than so many plan units the way back is ``far``."""
    if arrival.how == "unused":
        return ["nothing leads here"]
    found = [] if arrival.spawn or level.kind != "play" else ["nowhere to appear"]
    found += ["another side lands on the same spot"] if arrival.shared else []
    if arrival.by_default and arrival.how == "exit" and len(level.spawns) > 1:
        found.append("by default, at the first of several")
    if arrival.distance is not None and arrival.distance > far:
        found.append("far from the way back")
    both_play = source is not None and level.kind == "play" == source.kind
    if both_play and not arrival.back and arrival.how == "exit" and arrival.source != arrival.level:
        found.append("no way back")
    return found


class _WayCells(QStyledItemDelegate):
    """Paints the small plans, and what stands out in its colour."""

    def __init__(self, look: Look, table: ArrivalTable):
        super().__init__()
        self._look, self._table = look, table

    def sizeHint(self, _: QStyleOptionViewItem, __: QModelIndex) -> QSize:
        return QSize(100, ROW_H)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        painter, c = given(painter), self._look.colours
        row = self._table.rows[index.row()]
        rect = QRectF(option.rect)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        view = option.widget
        chosen = isinstance(view, QTableView) and view.currentIndex().row() == index.row()
        painter.fillRect(rect, c.colour("route_wash" if chosen else "card"))
        painter.setPen(QPen(c.colour("line"), 1))
        painter.drawLine(rect.bottomLeft(), rect.bottomRight())
        if index.column() == PLAN:
            self._paint_plan(painter, rect.adjusted(4, 3, -4, -3), row.arrival)
        else:
            painter.setPen(c.colour("suspicious" if index.column() == NOTES else "ink"))
            painter.setFont(self._look.font(-1))
            self._paint_words(painter, rect.adjusted(6, 1, -4, -1), self._table.told(row, index.column()))
        painter.restore()

    def _paint_words(self, painter: QPainter, room: QRectF, words: str) -> None:
        """Words on the lines that the row has room for, shortened where they need more."""
        flags = Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignVCenter
        metrics, lines, shown = (
            QFontMetricsF(painter.font()),
            room.height() / painter.fontMetrics().lineSpacing(),
            words,
        )
        while lines > 1 and metrics.boundingRect(room, flags, shown).height() > room.height():
            lines -= 0.25  # wrapping between words loses room at the end of each line
            shown = metrics.elidedText(words, Qt.TextElideMode.ElideRight, room.width() * lines)
        painter.drawText(room, flags, shown)

    def _paint_plan(self, painter: QPainter, room: QRectF, arrival: Arrival) -> None:
        """The plan in small with every spawn point: the one landed at filled, and a line to it from the way back."""
        c, flow = self._look.colours, self._table.flow
        level = flow.level(arrival.level)
        if level is None or not has_plan(level):
            painter.setPen(c.colour("dim"))
            painter.setFont(self._look.font(-2))
            painter.drawText(room, Qt.AlignmentFlag.AlignCenter, "no plan" if level and level.kind == "play" else "")
            return
        frame = PlanFrame(level, room, flow.units.y == "down")
        paint_ground(painter, c, frame, level)
        door = level.exit(arrival.back) if arrival.back else None
        for spawn in level.spawns:
            at = frame.point(spawn.x, spawn.y)
            if spawn.id == arrival.spawn:
                if door and has_area(door):
                    painter.setPen(QPen(c.colour("route"), 1.2, Qt.PenStyle.DashLine))
                    painter.drawLine(at, frame.area(door.area).center())
                paint_spawn(painter, c, at, 8, chosen=True)
            else:
                painter.setPen(QPen(c.colour("dim"), 1.2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(at - QPointF(0, 3), 2.5, 2.5)
        if door and has_area(door):
            paint_door(painter, c, frame.area(door.area), "route", least=4)


class ArrivalView(QTableView):
    """``entered(row)`` for Enter, Space or a double click."""

    entered = pyqtSignal(int)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        if Qt.Key(event.key()) in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            if self.currentIndex().isValid():
                self.entered.emit(self.currentIndex().row())
        else:
            super().keyPressEvent(event)


class ArrivalsFace(QWidget):
    """Shows ways in, and gives them other landings."""

    title, tip = "Arrivals", "Every way into every level, and where it lands"
    follows_survey = True

    def __init__(self, look: Look, requests: Requests, selection: Selection):
        super().__init__()
        self._requests, self._selection = requests, selection
        self.table, self.view = ArrivalTable(), ArrivalView()
        self._asked_for: Flow | None = None
        self._task = BackgroundTask(self)
        self._task.done.connect(self._on_rows)
        self.search, self.shown, self.count = QLineEdit(), DropDown(), Label("")
        self._cells = _WayCells(look, self.table)
        self.view.setModel(self.table)
        self.view.setItemDelegate(self._cells)
        self.view.setShowGrid(False)
        self.view.setAccessibleName("Ways in")
        self.view.setSelectionMode(QTableView.SelectionMode.NoSelection)
        self.view.setTabKeyNavigation(False)
        self.view.setSortingEnabled(True)
        given(self.view.verticalHeader()).hide()
        given(self.view.verticalHeader()).setDefaultSectionSize(ROW_H)
        header = given(self.view.horizontalHeader())
        header.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        header.setSortIndicatorClearable(True)
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(PLAN, QHeaderView.ResizeMode.Fixed)
        header.resizeSection(PLAN, PLAN_W)
        self.search.setPlaceholderText("Find a level or an exit")
        self.search.setAccessibleName("Find among the ways in")
        self.shown.addItems(SHOWN)
        self.shown.setAccessibleName("Which ways in")
        top = QHBoxLayout()
        top.addWidget(Label(HELP))
        top.addStretch(1)
        top.addWidget(self.count)
        top.addWidget(self.shown)
        top.addWidget(self.search)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(top)
        layout.addWidget(self.view, 1)
        look.changed.connect(given(self.view.viewport()).update)
        self.search.textChanged.connect(self._narrow)
        self.shown.activated.connect(self._narrow)
        self.view.clicked.connect(lambda index: self._select(index.row()))
        self.view.doubleClicked.connect(lambda index: self.choose_landing(index.row()))
        self.view.entered.connect(self.choose_landing)
        selection.changed.connect(self._on_selected)

    def show_flow(self, flow: Flow, result: Appraisal | None) -> None:
        """Shows another flow, or another survey of it."""
        self.table.show_survey(result.survey if result else None)
        if flow is self._asked_for:
            given(self.view.viewport()).update()
            return
        self._asked_for, whole = flow, resolved(flow)
        self._task.ask(lambda _: (whole, rows_of(whole)))

    @property
    def busy(self) -> bool:
        """Whether the ways in are being worked out."""
        return self._task.busy

    def _on_rows(self, found: object) -> None:
        if isinstance(found, tuple):
            self.table.show_ways(*found)
            self._narrow()

    def _on_selected(self) -> None:
        if self.isVisible() and self.shown.currentIndex() == 2:
            self._narrow()

    def _narrow(self) -> None:
        text, which = self.search.text().strip().casefold(), self.shown.currentIndex()
        level = self._selection.level_id

        def wanted(row: Row) -> bool:
            if which == 1 and not row.notes:
                return False
            return (which != 2 or row.arrival.level == level) and text in row.words

        row = self.view.currentIndex().row()
        self.table.narrow(wanted)
        if self.table.rows:
            self.view.setCurrentIndex(self.table.index(max(0, min(row, len(self.table.rows) - 1)), ARRIVES))
        count = len(self.table.rows)
        self.count.setText(f"{counted(count, 'way')} in" if count else "none")

    def _select(self, row: int) -> None:
        """Shows what a row is about on the bench: the crossing with both banks, or the spawn point."""
        arrival = self.table.rows[row].arrival
        source = self.table.flow.level(arrival.source)
        if source and source.exit(arrival.thing):
            self._selection.select(arrival.source, arrival.thing)
        else:
            parts = [Part("spawns", arrival.spawn)] if arrival.spawn else []
            self._selection.select_parts(arrival.level, parts)

    # -- another landing -------------------------------------------------------------------------------

    def choose_landing(self, row: int) -> None:
        """Lets one pick where a way in lands, or make a new spawn point for it."""
        arrival = self.table.rows[row].arrival
        level = self.table.flow.level(arrival.level)
        if level is None or arrival.how in ("unused", "next"):
            self._select(row)
            return
        choices = [Choice(spawn.id, f"{spawn.name or spawn.id}, faces {spawn.faces}") for spawn in level.spawns]
        picker = Picker(self, choices, arrival.spawn, [Choice(NEW, "A new spawn point for it…")])
        picker.picked.connect(lambda spawn: self._requests.arrivals.land(arrival, spawn))
        picker.offered.connect(lambda _: self._requests.arrivals.land_anew(arrival))
        cell = self.view.visualRect(self.table.index(row, LANDS))
        picker.open_at(given(self.view.viewport()).mapToGlobal(cell.bottomLeft()))

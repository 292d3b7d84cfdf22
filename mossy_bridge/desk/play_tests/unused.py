"""What nobody used in all play-tests, beside whether a player could."""

from msgspec import Struct
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QHeaderView, QPushButton, QTableView, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.text_table import TextTable
from mossy_bridge.language.numbers import counted
from mossy_bridge.model.addresses import title_of
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.state import Move, parse_move
from mossy_bridge.play_logs.statistics import Statistics
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.survey.verdicts import Verdict

COLUMNS = ("nobody used", "what", "could it be used?")


class Unused(Struct, frozen=True):
    """Something that nobody used."""

    flow: Flow
    move: Move
    verdict: Verdict | None
    """Whether it can be used; None where that is not known."""

    @property
    def title(self) -> str:
        """What it is called."""
        if self.move.kind == "path":
            return f"{title_of(self.flow, self.move.level)}: from {self.move.thing} to {self.move.end}"
        return title_of(self.flow, f"{self.move.level}.{self.move.thing}")

    @property
    def told(self) -> str:
        """Whether it can be used, in words."""
        if self.verdict is None or self.verdict.answer == "unknown":
            return "not known"
        if self.verdict.answer == "no":
            return "no: it can never be used"
        return f"yes, after {counted(max(len(self.verdict.route) - 1, 0), 'move')}"


def unused_of(statistics: Statistics, survey: Survey | None) -> list[Unused]:
    """What nobody used; first what somebody could have."""
    found = []
    for text in statistics.unused():
        move = parse_move(text)
        if move is not None:
            found.append(Unused(statistics.flow, move, _verdict(survey, move)))
    return sorted(found, key=lambda one: one.verdict is not None and one.verdict.answer == "no")


def _verdict(survey: Survey | None, move: Move) -> Verdict | None:
    if survey is None:
        return None
    if move.kind == "path":
        return survey.paths.get((move.level, move.thing, move.end))
    verdicts = {"exit": survey.exits, "deed": survey.deeds, "tile": survey.tiles}[move.kind]
    return verdicts.get((move.level, move.thing))


class UnusedModel(TextTable[Unused]):
    """What stands in the list."""

    def __init__(self) -> None:
        super().__init__(COLUMNS)

    def told(self, row: Unused, column: int) -> str:
        """What stands in a cell."""
        return (row.title, row.move.kind, row.told)[column]


class UnusedList(QWidget):
    """Lists it. ``chosen(place)`` follows a row, ``route_wanted(route, about)`` asks for the way to use a thing,
    ``tick_wanted()`` to have what was used ticked off in the tour."""

    chosen = pyqtSignal(str)
    route_wanted = pyqtSignal(tuple, str)
    tick_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._is_filling = False
        self.model, self.table, self.told = UnusedModel(), QTableView(), Label()
        self.table.setModel(self.model)
        self.table.setAccessibleName("What nobody used")
        self.table.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QTableView.SelectionMode.SingleSelection)
        self.table.setShowGrid(False)
        self.table.setWordWrap(False)
        self.table.setTabKeyNavigation(False)
        rows, columns = given(self.table.verticalHeader()), given(self.table.horizontalHeader())
        rows.hide()
        rows.setDefaultSectionSize(self.fontMetrics().height() + 9)
        columns.setHighlightSections(False)
        columns.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        columns.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        for column, sample in ((1, "what else"), (2, "yes, after 1,000 moves")):
            self.table.setColumnWidth(column, self.fontMetrics().horizontalAdvance(sample) + 22)
        self.route = QPushButton("Show the way to use it")
        self.tick = QPushButton("Tick off in the tour what was used")
        bottom = QHBoxLayout()
        bottom.addWidget(self.told, 1)
        bottom.addWidget(self.route)
        bottom.addWidget(self.tick)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 4, 4, 4)
        layout.addWidget(self.table, 1)
        layout.addLayout(bottom)
        given(self.table.selectionModel()).currentRowChanged.connect(self._on_row)
        self.table.activated.connect(lambda *_: self._show_route())
        self.route.clicked.connect(self._show_route)
        self.tick.clicked.connect(self.tick_wanted)

    def show_statistics(self, statistics: Statistics, survey: Survey | None) -> None:
        """Shows what is used by no session of some."""
        before = self._chosen
        self._is_filling = True
        self.model.show_rows(unused_of(statistics, survey))
        moves = [one.move for one in self.model.rows]
        if before is not None and before.move in moves:
            self.table.selectRow(moves.index(before.move))
        self._is_filling = False
        self.told.setText(counted(len(moves), "thing"))
        self._say()

    @property
    def _chosen(self) -> Unused | None:
        row = self.table.currentIndex().row()
        return self.model.rows[row] if 0 <= row < len(self.model.rows) else None

    def _say(self) -> None:
        one = self._chosen
        self.route.setEnabled(one is not None and one.verdict is not None and one.verdict.answer == "yes")

    def _on_row(self) -> None:
        one = self._chosen
        self._say()
        if one is not None and not self._is_filling:
            self.chosen.emit(one.move.level if one.move.kind == "path" else f"{one.move.level}.{one.move.thing}")

    def _show_route(self) -> None:
        one = self._chosen
        if one is not None and one.verdict is not None and one.verdict.answer == "yes":
            self.route_wanted.emit(one.verdict.route, one.title)

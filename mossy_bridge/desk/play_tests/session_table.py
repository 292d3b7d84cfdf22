"""The sessions of play-tests, one a row."""

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import QModelIndex, Qt
from PyQt6.QtWidgets import QHeaderView, QTableView

from mossy_bridge.desk.play_tests.wording import furthest, level_title, minutes_text
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.text_table import TextTable
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.judging import Judged

COLUMNS = ("", "session", "player", "build", "played", "got to")
ANSWER, NAME, PLAYER, BUILD, PLAYED, GOT_TO = range(len(COLUMNS))
SIGNS = {"yes": "✓", "no": "✗", "unknown": "?"}
ANSWERS = {"yes": "explained by the flow", "no": "not explained", "unknown": "unknown: too much is possible"}
COLOURS = {"yes": "sound", "no": "broken", "unknown": "dim"}


class SessionModel(TextTable[Judged]):
    """What stands in the table."""

    def __init__(self, look: Look) -> None:
        super().__init__(COLUMNS)
        self._look = look
        self._all: Sequence[Judged] = ()
        self._order: dict[str, int] = {}
        self._flow = Flow()
        self._furthest: dict[int, str] = {}
        """How far sessions got, by their identity, as soon as it has been asked for."""
        self._sorted = -1, Qt.SortOrder.AscendingOrder

    def show_sessions(self, flow: Flow, sessions: Sequence[Judged]) -> None:
        """Shows other sessions."""
        self.beginResetModel()
        self._flow, self._all = flow, sessions
        self._order = {level.id: at for at, level in enumerate(flow.levels)}
        self._furthest = {}
        self._put_in_order()
        self.endResetModel()

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        """Sorts by a column; by none, as they were logged."""
        self._sorted = column, order
        self.layoutAboutToBeChanged.emit()
        self._put_in_order()
        self.layoutChanged.emit()

    def _put_in_order(self) -> None:
        column, order = self._sorted
        self.rows = list(self._all)
        if column >= 0:
            self.rows.sort(key=lambda row: self._sort_key(row, column), reverse=order == Qt.SortOrder.DescendingOrder)

    def _sort_key(self, row: Judged, column: int) -> Any:
        if column == PLAYED:
            return row.explained.seconds
        if column == GOT_TO:
            return self._order.get(self._got_to(row), -1)
        return self.told(row, column).casefold()

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        row, column = self.rows[index.row()], index.column()
        if role == Qt.ItemDataRole.ForegroundRole and column == ANSWER:
            return self._look.colours.colour(COLOURS[row.explained.answer])
        if role == Qt.ItemDataRole.TextAlignmentRole and column in (ANSWER, PLAYED):
            side = Qt.AlignmentFlag.AlignRight if column == PLAYED else Qt.AlignmentFlag.AlignHCenter
            return side | Qt.AlignmentFlag.AlignVCenter
        return super().data(index, role)

    def tip(self, row: Judged, column: int) -> str:
        """The sign in words, else the text of the cell."""
        return ANSWERS[row.explained.answer] if column == ANSWER else self.told(row, column)

    def told(self, row: Judged, column: int) -> str:
        """What stands in a cell."""
        explained = row.explained
        session = explained.session
        return (
            SIGNS[explained.answer],
            session.title,
            session.player,
            session.build,
            minutes_text(explained.seconds),
            level_title(self._flow, self._got_to(row)) if column == GOT_TO and self._got_to(row) else "",
        )[column]

    def _got_to(self, row: Judged) -> str:
        known = self._furthest.get(id(row))
        if known is None:
            known = self._furthest[id(row)] = furthest(self._flow, self._order, row.explained.levels)
        return known


class SessionTable(QTableView):
    """Shows them, sorted by any column."""

    def __init__(self, look: Look):
        super().__init__()
        self.sessions = SessionModel(look)
        self.setModel(self.sessions)
        self.setAccessibleName("Sessions")
        self.setSortingEnabled(True)
        self.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QTableView.SelectionMode.SingleSelection)
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.setTabKeyNavigation(False)
        rows, columns = given(self.verticalHeader()), given(self.horizontalHeader())
        rows.hide()
        rows.setDefaultSectionSize(self.fontMetrics().height() + 9)
        columns.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        columns.setHighlightSections(False)
        columns.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        columns.setSectionResizeMode(GOT_TO, QHeaderView.ResizeMode.Stretch)
        for column, width in ((ANSWER, 30), (NAME, 90), (PLAYER, 80), (BUILD, 56), (PLAYED, 76)):
            self.setColumnWidth(column, width)

    @property
    def chosen(self) -> Judged | None:
        """The session that is selected."""
        index = self.currentIndex()
        return self.sessions.rows[index.row()] if index.isValid() else None

    def show_sessions(self, flow: Flow, sessions: Sequence[Judged]) -> None:
        """Shows other sessions; the one selected stays so where it is among them."""
        before = self.chosen
        self.sessions.show_sessions(flow, sessions)
        row = next((at for at, one in enumerate(self.sessions.rows) if one is before), -1)
        if row >= 0:
            self.selectRow(row)

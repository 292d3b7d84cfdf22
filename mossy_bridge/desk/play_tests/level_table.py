"""What play-tests measured in each level, beside the minutes that it is meant to be played."""

from collections.abc import Sequence
from typing import Any

from msgspec import Struct
from PyQt6.QtCore import QModelIndex, Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QHeaderView, QPushButton, QTableView, QVBoxLayout, QWidget

from mossy_bridge.desk.play_tests.wording import level_title, minutes_text
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.text_table import TextTable
from mossy_bridge.language.numbers import counted
from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.statistics import Statistics

COLUMNS = ("level", "arrivals", "median", "middle half", "meant", "failed", "ended here")
LEVEL, ARRIVALS, MEDIAN, HALF, MEANT, FAILED, ENDED = range(len(COLUMNS))
LEAST_STAYS = 5
"""From fewer stays no minutes are taken over: they may be chance."""


class Measured(Struct, frozen=True):
    """Minutes of a level that play-tests have measured."""

    level: str
    minutes: float


def measured(flow: Flow, statistics: Statistics) -> list[Measured]:
    """Levels of a flow that people played otherwise long than was meant, to the tenth of a minute."""
    found = []
    for level in flow.levels:
        enough = level.kind == "play" and len(statistics.seconds.get(level.id, ())) >= LEAST_STAYS
        minutes = round(statistics.spreads[level.id]["median"] / 60, 1) if enough else 0.0
        if minutes and minutes != level.minutes:
            found.append(Measured(level.id, minutes))
    return found


class LevelModel(TextTable[str]):
    """What stands in the table: one level proper a row, by its id, in their order."""

    def __init__(self) -> None:
        super().__init__(COLUMNS)
        self._statistics = Statistics(Flow())
        self._meant: dict[str, float] = {}

    def show_statistics(self, flow: Flow, statistics: Statistics) -> None:
        """Shows what sessions add up to, beside the minutes of the flow as it is now."""
        self._statistics = statistics
        self._meant = {level.id: level.minutes for level in flow.levels}
        self.show_rows([level.id for level in statistics.flow.levels if level.kind == "play"])

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role == Qt.ItemDataRole.TextAlignmentRole and index.column() != LEVEL:
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        return super().data(index, role)

    def told(self, row: str, column: int) -> str:
        """What stands in a cell."""
        level, counts = row, self._statistics
        spread, meant = counts.spreads.get(level), self._meant.get(level, 0)
        if column == LEVEL:
            return level_title(counts.flow, level)
        if column == MEDIAN:
            return minutes_text(spread["median"]) if spread else "–"
        if column == HALF:
            return f"{minutes_text(spread['low'])} – {minutes_text(spread['high'])}" if spread else "–"
        if column == MEANT:
            return minutes_text(meant * 60) if meant else "–"
        return f"{ {ARRIVALS: counts.arrivals, FAILED: counts.failures, ENDED: counts.ended}[column][level]:,}".strip()


class LevelTable(QWidget):
    """Shows it. ``chosen(level)`` follows a row, ``take_wanted(measured)`` asks to take minutes over."""

    chosen = pyqtSignal(str)
    take_wanted = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self._takable: Sequence[Measured] = ()
        self._is_filling = False
        self.model, self.table = LevelModel(), QTableView()
        self.table.setModel(self.model)
        self.table.setAccessibleName("What was measured in each level")
        self.table.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
        self.table.setShowGrid(False)
        self.table.setWordWrap(False)
        self.table.setTabKeyNavigation(False)
        rows, columns = given(self.table.verticalHeader()), given(self.table.horizontalHeader())
        rows.hide()
        rows.setDefaultSectionSize(self.fontMetrics().height() + 9)
        columns.setHighlightSections(False)
        columns.setSectionResizeMode(LEVEL, QHeaderView.ResizeMode.Stretch)
        for column, sample in ((ARRIVALS, "arrivals"), (MEDIAN, "1:00:00"), (HALF, "00:00 – 00:00"), (MEANT, "1:00:00"),
                               (FAILED, "100,000"), (ENDED, "ended here")):  # fmt: skip
            self.table.setColumnWidth(column, self.fontMetrics().horizontalAdvance(sample) + 26)
        self.told = Label(f"Medians of at least {LEAST_STAYS} stays")
        self.told.setProperty("dim", True)
        self.take = QPushButton()
        bottom = QHBoxLayout()
        bottom.addWidget(self.told, 1)
        bottom.addWidget(self.take)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 4, 4, 4)
        layout.addWidget(self.table, 1)
        layout.addLayout(bottom)
        selected = given(self.table.selectionModel())
        selected.currentRowChanged.connect(self._on_row)
        selected.selectionChanged.connect(lambda *_: self._say())
        self.take.clicked.connect(lambda: self.take_wanted.emit(self._wanted()))

    def show_statistics(self, flow: Flow, statistics: Statistics) -> None:
        """Shows what sessions add up to, beside the minutes of the flow as it is now."""
        row = self.table.currentIndex().row()
        self._takable = measured(flow, statistics)
        self._is_filling = True
        self.model.show_statistics(flow, statistics)
        if 0 <= row < len(self.model.rows):
            self.table.selectRow(row)
        self._is_filling = False
        self._say()

    def _wanted(self) -> Sequence[Measured]:
        """What can be taken over of the levels selected, or of all if fewer than two are."""
        chosen = {self.model.rows[index.row()] for index in given(self.table.selectionModel()).selectedRows()}
        return [one for one in self._takable if one.level in chosen] if len(chosen) > 1 else self._takable

    def _say(self) -> None:
        wanted = self._wanted()
        self.take.setEnabled(bool(wanted))
        words = f"Take the median over as minutes of {counted(len(wanted), 'level')}"
        self.take.setText(words if wanted else "Nothing to take over")

    def _on_row(self, index: QModelIndex) -> None:
        if index.isValid() and not self._is_filling:
            self.chosen.emit(self.model.rows[index.row()])

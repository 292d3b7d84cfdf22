"""The face *Pace*: difficulty against minutes along several walks, and how long each takes."""

from collections.abc import Iterator
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QHeaderView, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.workers.background_task import BackgroundTask
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.pace import Pace, pace_of
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move, parse_move
from mossy_bridge.reach.queries.transition_tour import widest_walk
from mossy_bridge.reach.survey.result import Survey

HELP = "Difficulty of each level against the minutes played, along the shortest, the fullest and recorded walks."
COLUMNS = ("walk", "minutes", "levels", "in transitions")
LINES = (
    ("route", Qt.PenStyle.SolidLine), ("sound", Qt.PenStyle.DashLine), ("suspicious", Qt.PenStyle.DotLine),
    ("broken", Qt.PenStyle.DashDotLine), ("dim", Qt.PenStyle.DashDotDotLine),
)  # fmt: skip
"""Colour and stroke of each curve, told apart by both."""
MOST_CURVES = len(LINES)
APART = 0.05
"""So much of a difficulty are curves drawn apart, so that like ones do not hide each other."""


def paces(flow: Flow, survey: Survey) -> Iterator[tuple[str, Pace]]:
    """The walks that are compared, by what they are called."""
    rules = Rules(flow, resuming=True, before=survey.rules)
    for ending in survey.flow.endings:
        verdict = survey.endings.get(ending.id)
        if verdict and verdict.answer == "yes":
            yield f"shortest to {ending.name or ending.id}", pace_of(rules, verdict.route)
    everything = widest_walk(survey)
    if everything:
        yield "fullest", pace_of(rules, everything)
    for walk in flow.walks:
        moves: list[Move] = [move for text in walk.moves if (move := parse_move(text))]
        yield walk.name or walk.id, pace_of(rules, moves)


class PaceFace(QWidget):
    """Plots walks and lists how long they take."""

    title, tip = "Pace", "Minutes and difficulty along walks"
    follows_survey = True

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self._plot: Any = None
        self._shown: list[tuple[str, Pace]] = []
        self._asked_for: Survey | None = None
        self._task = BackgroundTask(self)
        self._task.done.connect(self._on_done)
        self.table = QTableWidget(0, len(COLUMNS))
        self.table.setHorizontalHeaderLabels(COLUMNS)
        given(self.table.verticalHeader()).hide()
        self.table.setShowGrid(False)
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        given(self.table.horizontalHeader()).setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        given(self.table.horizontalHeader()).setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self.table.setAccessibleName("How long walks take")
        self.nothing = Label("No walk to an ending is known yet.")
        self._middle = QHBoxLayout()
        self._middle.setSpacing(12)
        self._middle.addWidget(self.table, 2)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addWidget(Label(HELP))
        layout.addWidget(self.nothing)
        layout.addLayout(self._middle, 1)
        look.changed.connect(self._draw)

    def show_flow(self, flow: Flow, result: Appraisal | None) -> None:
        """Shows another flow, or another survey of it."""
        survey = result.survey if result else None
        if survey is None:
            self._asked_for = None
            self._task.cancel()  # what it would bring is about the flow before
            self._on_done([])
        elif survey is not self._asked_for:
            self._asked_for = survey
            self._task.ask(lambda _: list(paces(flow, survey)))

    @property
    def busy(self) -> bool:
        """Whether walks are being looked for."""
        return self._task.busy

    def _on_done(self, found: object) -> None:
        if not isinstance(found, list):
            return
        self._shown = found
        self.nothing.setVisible(not self._shown)
        self.table.setRowCount(len(self._shown))
        for row, (name, pace) in enumerate(self._shown):
            between = f"{100 * pace.share_between:.0f} %"
            for column, text in enumerate(
                (name, f"{pace.minutes:.1f}", str(len({s.level for s in pace.stays})), between)
            ):
                item = QTableWidgetItem(text)
                if column == 0 and row < MOST_CURVES:
                    item.setForeground(self._look.colours.colour(LINES[row][0]))
                self.table.setItem(row, column, item)
        self._draw()

    def _draw(self) -> None:
        """Plots the first walks. The package that does is loaded when it is first needed: that takes half a second."""
        if not self._shown and self._plot is None:
            return
        import pyqtgraph

        c = self._look.colours
        if self._plot is None:
            self._plot = pyqtgraph.PlotWidget()
            self._plot.setAccessibleName("Difficulty against minutes")
            self._plot.setMenuEnabled(False)
            self._plot.hideButtons()
            self._middle.insertWidget(0, self._plot, 3)
        self._plot.clear()
        self._plot.setBackground(c.card)
        self._plot.showGrid(x=True, y=True, alpha=0.15)
        for side, words in (("bottom", "minutes"), ("left", "difficulty")):
            axis = self._plot.getAxis(side)
            axis.setLabel(words, color=c.dim)
            axis.setPen(c.colour("line"))
            axis.setTextPen(c.colour("ink"))
        for row, ((_, pace), (colour, stroke)) in enumerate(zip(self._shown, LINES, strict=False)):
            times: list[float] = []
            heights: list[float] = []
            for stay in pace.stays:
                if stay.minutes:  # screens that are passed at once would only draw needles
                    times += [stay.begins, stay.begins + stay.minutes]
                    heights += [stay.difficulty + row * APART] * 2
            self._plot.plot(times, heights, pen=pyqtgraph.mkPen(c.colour(colour), width=2, style=stroke))

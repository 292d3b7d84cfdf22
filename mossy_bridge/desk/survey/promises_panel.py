"""What the flow is held to: promises and recorded walks, below the findings, each with how it stands."""

from functools import partial
from typing import Generic, TypeVar

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.promise import PromiseSentence, WalkSentence
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.state import Move, parse_move
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.survey.verdicts import Route, is_shortest

MOST = 270
"""Pixels."""
STANDS = {"yes": ("kept", "sound"), "no": ("broken", "broken"), "unknown": ("not settled", "dim"), "": ("…", "dim")}


def route_words(route: Route) -> str:
    """What the link to a route says."""
    if len(route) < 2:
        return "Route: 1 move" if route else "Route: at the start"
    return f"Route: {len(route)} moves{'' if is_shortest(route) else ', not surely the fewest'}"


S = TypeVar("S", PromiseSentence, WalkSentence)


class PromiseRow(QWidget, Generic[S]):
    """One promise or walk: its sentence, how it stands, and the way to its route."""

    def __init__(self, look: Look, sentence: S):
        super().__init__()
        self._look = look
        self.sentence: S = sentence
        self.stands, self.route = Label(), Link("", "Show it move by move")
        below = QHBoxLayout()
        below.setSpacing(8)
        below.addWidget(self.stands)
        below.addWidget(self.route, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 2, 0, 6)
        layout.setSpacing(2)
        layout.addWidget(sentence)
        layout.addLayout(below)
        self.show_standing("", None, "")

    def show_standing(self, answer: str, route: Route | None, more: str) -> None:
        """Says how it stands."""
        words, colour = STANDS[answer]
        self.stands.setText(f"{words}{more}")
        self.stands.setStyleSheet(f"color: {getattr(self._look.colours, colour)};")
        self.route.setVisible(route is not None)
        if route is not None:
            self.route.say(route_words(route))


class PromisesPanel(QScrollArea):
    """All promises and recorded walks. ``route_wanted(route, about)`` asks for a route to be shown."""

    route_wanted = pyqtSignal(tuple, str)

    def __init__(self, look: Look, requests: Requests):
        super().__init__()
        self._look, self._requests = look, requests
        self._survey: Survey | None = None
        self._flow = Flow()
        self.promises: dict[str, PromiseRow[PromiseSentence]] = {}
        self.walks: dict[str, PromiseRow[WalkSentence]] = {}
        self._routes: dict[QWidget, tuple[tuple[Move, ...], str]] = {}
        self.add = Link("+ New promise", "Something every survey makes sure of, about the level shown")
        self.add.clicked.connect(requests.upkeep.new_promise)
        body = QWidget()
        self._rows = QVBoxLayout(body)
        self._rows.setContentsMargins(14, 6, 10, 8)
        self._rows.setSpacing(2)
        self._heading, self._walks_heading = Label("Promises"), Label("Recorded walks")
        self._rows.addWidget(self._heading)
        self._rows.addWidget(self.add)
        self._rows.addWidget(self._walks_heading)
        self._rows.addStretch(1)
        self.setWidget(body)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAccessibleName("Promises and recorded walks")
        look.changed.connect(self._wear)
        self._wear()

    def sizeHint(self) -> QSize:
        return QSize(300, 150)

    def _wear(self) -> None:
        self.setStyleSheet(f"PromisesPanel {{ border-top: 1px solid {self._look.colours.line}; }}")
        given(self.viewport()).setAutoFillBackground(False)
        given(self.widget()).setAutoFillBackground(False)
        for label in (self._heading, self._walks_heading):
            label.setFont(self._look.font(0, bold=True))

    def show_flow(self, flow: Flow) -> None:
        """Shows the promises and walks of a flow; how they stand is shown when it is known."""
        same = flow.promises is self._flow.promises and flow.walks is self._flow.walks
        self._flow = flow
        self._sort_out(self.promises, [promise.id for promise in flow.promises], PromiseSentence, 1)
        self._sort_out(self.walks, [walk.id for walk in flow.walks], WalkSentence, len(self.promises) + 3)
        for promise in flow.promises:
            self.promises[promise.id].sentence.say(flow, promise)
        for walk in flow.walks:
            self.walks[walk.id].sentence.say(flow, walk)
        self._walks_heading.setVisible(bool(flow.walks))
        if not same:
            self._show_standing()
        self._fit()

    def _fit(self) -> None:
        """As tall as what it holds, but never much of the column."""
        body = self.widget()
        tall = given(body.layout()).totalHeightForWidth(max(given(self.viewport()).width(), 180)) if body else 0
        self.setFixedHeight(max(58, min(tall + 16, MOST)))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _sort_out(self, rows: dict[str, PromiseRow[S]], names: list[str], kind: type[S], first: int) -> None:
        for name in [name for name in rows if name not in names]:
            row = rows.pop(name)
            self._routes.pop(row, None)
            self._rows.removeWidget(row)
            row.hide()
            row.deleteLater()
        for index, name in enumerate(names):
            if name not in rows:
                rows[name] = row = PromiseRow(self._look, kind(self._requests.upkeep))
                row.route.clicked.connect(partial(self._want_route, row))
                self._rows.insertWidget(first + index, row)

    def _want_route(self, row: QWidget) -> None:
        self.route_wanted.emit(*self._routes[row])

    def show_survey(self, survey: Survey) -> None:
        """Shows how promises and walks stand."""
        self._survey = survey
        self._show_standing()

    def _show_standing(self) -> None:
        survey = self._survey
        for promise in self._flow.promises:
            kept = survey.promises.get(promise.id) if survey else None
            current = survey is not None and promise in survey.flow.promises
            row = self.promises[promise.id]
            row.show_standing(kept.holds if kept and current else "", kept.route if kept and current else None, "")
            if kept and kept.route is not None:
                words = "This route keeps the promise" if kept.holds == "yes" else "This route breaks the promise"
                self._routes[row] = (kept.route, words)
        for walk in self._flow.walks:
            replay = survey.walks.get(walk.id) if survey else None
            walked, moves = self.walks[walk.id], [parse_move(move) for move in walk.moves]
            route = tuple(move for move in moves if move)
            at = f" at move {replay.stopped_at + 1}" if replay and replay.stopped_at is not None else ""
            problem = f"{at}: {replay.problem}" if replay and not replay.holds else ""
            walked.show_standing("" if replay is None else "yes" if replay.holds else "no", route, problem)
            self._routes[walked] = (route, f"The recorded walk {walk.name or walk.id}")

"""The survey column: what is broken, suspicious or worth knowing, and what can be done about it."""

import time
from collections import Counter
from collections.abc import Iterator, Sequence

from PyQt6.QtCore import QPointF, QSize, Qt, QTimer, pyqtBoundSignal, pyqtSignal
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.checks.finding import Finding
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.survey.promises_panel import PromisesPanel
from mossy_bridge.desk.widgets.flow_layout import FlowingLayout
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.marks import COLOUR_OF, SEVERITY_MARK, paint_mark
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Flow

WIDTH = 300
HEADINGS = (("error", "Broken"), ("warning", "Suspicious"), ("hint", "Worth knowing"))
MOST_SHOWN = 60
SLICE = 0.012
"""Seconds for making cards before the window may do something else."""

Key = tuple[object, ...]
"""What can be seen of a card or heading: one that looks the same is kept from survey to survey."""


class MarkSign(QWidget):
    """A mark as a small widget."""

    def __init__(self, look: Look, mark: str):
        super().__init__()
        self._look, self._mark = look, mark
        self.setFixedSize(16, 16)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as painter:
            paint_mark(painter, self._look.colours, self._mark, QPointF(8, 8), 6)


class FindingCard(QFrame):
    """One finding, with its actions as links. ``shown``, ``repaired``, ``accepted`` and ``withdrawn`` say what
    the designer wants."""

    shown = pyqtSignal()
    repaired = pyqtSignal()
    accepted = pyqtSignal()
    withdrawn = pyqtSignal()
    route_asked = pyqtSignal()

    def __init__(self, look: Look, finding: Finding):
        super().__init__()
        self.finding = finding
        c, mark = look.colours, SEVERITY_MARK[finding.severity]
        colour = getattr(c, COLOUR_OF[mark])
        self.setObjectName("finding")
        self.setStyleSheet(
            f"#finding {{ background: {c.card}; border: 1px solid {c.line}; border-left: 4px solid {colour};"
            " border-radius: 6px; }"
        )
        self.setAccessibleName(finding.message)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 8, 7)
        layout.setSpacing(4)
        top = QHBoxLayout()
        top.setSpacing(7)
        top.addWidget(MarkSign(look, mark), 0, Qt.AlignmentFlag.AlignTop)
        message = Label(finding.message)
        message.setWordWrap(True)
        message.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        message.setFont(look.font(-0.5, bold=True))
        top.addWidget(message, 1)
        layout.addLayout(top)
        told = f"Accepted: {finding.waived}" if finding.waived else finding.why
        why = Label(told)
        why.setWordWrap(True)
        why.setFont(look.font(-1))
        why.setStyleSheet(f"color: {c.dim};")
        layout.addWidget(why)
        if finding.repair and not finding.waived:
            mends = Label(f"Repair: {finding.repair.label}.")
            mends.setWordWrap(True)
            mends.setFont(look.font(-1))
            layout.addWidget(mends)
        layout.addWidget(self._actions())

    def _actions(self) -> QWidget:
        row = QWidget()
        layout = FlowingLayout(row, gap=8, line_gap=2)
        layout.setContentsMargins(0, 0, 0, 0)
        if self.finding.at:
            layout.addWidget(self._link("Show", self.shown, "Select the place on map, strip and bench"))
        if self.finding.has_route:
            layout.addWidget(self._link("Route", self.route_asked, "Show the way there, move by move"))
        if self.finding.waived:
            layout.addWidget(self._link("Take back", self.withdrawn, "Treat it as a finding again"))
            return row
        if self.finding.repair:
            tip = "Show what it changes, and then make it one step, which undo takes back"
            link = self._link("Repair…", self.repaired, tip)
            link.setAccessibleName(f"Repair: {self.finding.repair.label}")
            layout.addWidget(link)
        layout.addWidget(self._link("Accept…", self.accepted, "Accept it as it is, with a reason"))
        return row

    def _link(self, text: str, signal: pyqtBoundSignal, tip: str) -> Link:
        link = Link(text, tip)
        link.clicked.connect(signal)
        return link


def _key(finding: Finding) -> Key:
    repair = finding.repair.label if finding.repair else ""
    return finding.check, finding.severity, finding.at, finding.message, finding.waived, repair, finding.has_route


class SurveyColumn(QWidget):
    """Lists the findings. Signals bring the finding that something is wanted of."""

    show_wanted = pyqtSignal(object)
    repair_wanted = pyqtSignal(object)
    accept_wanted = pyqtSignal(object)
    withdraw_wanted = pyqtSignal(object)
    route_wanted = pyqtSignal(tuple, str)

    def __init__(self, look: Look, requests: Requests):
        super().__init__()
        self._look = look
        self.kept = PromisesPanel(look, requests)
        self.kept.route_wanted.connect(self.route_wanted)
        self._result: Appraisal | None = None
        self._figures = Label()
        self._list = QScrollArea()
        self._list.setWidgetResizable(True)
        self._list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        given(self._list.viewport()).setAutoFillBackground(False)
        body = QWidget()
        self._cards = QVBoxLayout(body)
        self._cards.setContentsMargins(14, 4, 10, 12)
        self._cards.setSpacing(7)
        self._cards.addStretch(1)
        self._list.setWidget(body)
        self._made: dict[Key, QWidget] = {}
        self._wanted: list[tuple[Key, Finding | None]] = []
        """What is to be listed, from the top: cards of findings, and headings without one."""
        self._listed = 0
        """So many of them are."""
        self._slices = QTimer(self)
        self._slices.setSingleShot(True)
        self._slices.timeout.connect(self._go_on)
        self._title = Label("Survey")
        head = QHBoxLayout()
        head.setContentsMargins(14, 10, 14, 2)
        head.addWidget(self._title)
        head.addSpacing(10)
        head.addStretch(1)
        head.addWidget(self._figures)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(head)
        layout.addWidget(self._list, 1)
        layout.addWidget(self.kept)
        self.setMinimumWidth(220)
        self.setAccessibleName("Survey")
        look.changed.connect(self._make_anew)
        self._fill()

    def sizeHint(self) -> QSize:
        return QSize(WIDTH, 400)

    def show_result(self, result: Appraisal | None) -> None:
        """Shows a survey's findings."""
        self._result = result
        self._fill()
        if result:
            self.kept.show_survey(result.survey)

    def show_flow(self, flow: Flow) -> None:
        """Shows the promises and walks of another flow, not surveyed yet."""
        self.kept.show_flow(flow)

    def show_busy(self) -> None:
        """Says that the findings are those of an earlier flow, until the next result."""
        self._figures.setText("surveying…")

    @property
    def complete(self) -> bool:
        """Whether every finding is listed; if not, the others follow in a moment."""
        return self._listed >= len(self._wanted)

    def cards(self) -> list[FindingCard]:
        """The cards in their order."""
        self._go_on(whole=True)
        widgets = (given(self._cards.itemAt(place)).widget() for place in range(self._cards.count()))
        return [widget for widget in widgets if isinstance(widget, FindingCard)]

    def _make_anew(self) -> None:
        self._let_go(set())
        self._fill()

    def _fill(self) -> None:
        self._title.setFont(self._look.font(2, bold=True))
        self._figures.setStyleSheet(f"color: {self._look.colours.dim};")
        self._wanted, self._listed = [], 0
        if self._result:
            survey = self._result.survey
            self._figures.setText(f"{survey.seconds * 1000:.0f} ms · {len(survey.graph):,} states")
            # An empty flow has no start, which is no fault yet.
            entries = self._entries(self._result.findings if self._result.flow.levels else ())
            times: Counter[Key] = Counter()
            for key, finding in entries:
                # two findings may look the same; each has a card of its own
                self._wanted.append(((*key, times[key]) if times[key] else key, finding))
                times[key] += 1
        self._let_go({key for key, _ in self._wanted})
        self._go_on()

    def _let_go(self, keys: set[Key]) -> None:
        """Gives up what is listed but for some."""
        for key in [key for key in self._made if key not in keys]:
            widget = self._made.pop(key)
            self._cards.removeWidget(widget)
            widget.hide()
            widget.deleteLater()

    def _go_on(self, whole: bool = False) -> None:
        """Lists what is to be listed, for a moment; the rest when the window has had a chance."""
        end = time.perf_counter() + SLICE
        while self._listed < len(self._wanted) and (whole or time.perf_counter() < end):
            key, finding = self._wanted[self._listed]
            widget = self._made.get(key) or self._made.setdefault(key, self._new(key, finding))
            if isinstance(widget, FindingCard) and finding:
                widget.finding = finding
            there = self._cards.itemAt(self._listed)
            if there is None or there.widget() is not widget:
                self._cards.insertWidget(self._listed, widget)
            self._listed += 1
        if self._listed < len(self._wanted):
            self._slices.start(0)

    def _entries(self, findings: Sequence[Finding]) -> Iterator[tuple[Key, Finding | None]]:
        room = MOST_SHOWN
        groups = [(h, [f for f in findings if f.severity == s and not f.waived], s) for s, h in HEADINGS]
        groups.append(("Accepted", [f for f in findings if f.waived], "hint"))
        for heading, members, severity in groups:
            if not members:
                continue
            yield ("heading", f"{heading} {len(members)}", severity), None
            for finding in members[:room]:
                yield _key(finding), finding
            if len(members) > room:
                yield ("more", f"and {len(members) - room} more", heading), None
            room = max(0, room - len(members))
        if not any(members for _, members, _ in groups):
            nothing = "Nothing is broken, nothing looks suspicious."
            yield ("more", nothing if self._result and self._result.flow.levels else "Nothing to survey yet.", ""), None

    def _new(self, key: Key, finding: Finding | None) -> QWidget:
        if finding:
            return self._card(finding)
        what, text, severity = key
        if what == "heading":
            return self._heading(str(text), str(severity))
        label = Label(str(text))
        label.setWordWrap(True)
        return label

    def _heading(self, text: str, severity: str) -> Label:
        label = Label(text)
        label.setFont(self._look.font(0, bold=True))
        label.setStyleSheet(f"color: {getattr(self._look.colours, COLOUR_OF[SEVERITY_MARK[severity]])};")
        return label

    def _card(self, finding: Finding) -> FindingCard:
        card = FindingCard(self._look, finding)
        card.shown.connect(lambda: self.show_wanted.emit(card.finding))
        card.repaired.connect(lambda: self.repair_wanted.emit(card.finding))
        card.accepted.connect(lambda: self.accept_wanted.emit(card.finding))
        card.route_asked.connect(lambda: self.route_wanted.emit(card.finding.route, card.finding.message))
        card.withdrawn.connect(lambda: self.withdraw_wanted.emit(card.finding))
        return card

"""The survey column: what is broken, suspicious or worth knowing, and what can be done about it."""

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from mossy_bridge.checks.finding import Finding
from mossy_bridge.desk.flowing import FlowingLayout
from mossy_bridge.desk.kept import KeptColumn, route_words
from mossy_bridge.desk.link import Link
from mossy_bridge.desk.look import Look
from mossy_bridge.desk.marks import COLOUR_OF, SEVERITY_MARK, paint_mark
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.surveying import Surveyed
from mossy_bridge.model.flow import Flow

WIDTH = 300
HEADINGS = (("error", "Broken"), ("warning", "Suspicious"), ("hint", "Worth knowing"))
MOST_SHOWN = 60


class MarkSign(QWidget):
    """A mark as a small widget."""

    def __init__(self, look: Look, mark: str):
        super().__init__()
        self._look, self._mark = look, mark
        self.setFixedSize(16, 16)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        painter = QPainter(self)
        paint_mark(painter, self._look.colours, self._mark, QPointF(8, 8), 6)
        painter.end()


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
        message = QLabel(finding.message)
        message.setWordWrap(True)
        message.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        message.setFont(look.font(-0.5, bold=True))
        top.addWidget(message, 1)
        layout.addLayout(top)
        told = f"Accepted: {finding.waived}" if finding.waived else finding.why
        why = QLabel(told)
        why.setWordWrap(True)
        why.setFont(look.font(-1))
        why.setStyleSheet(f"color: {c.dim};")
        layout.addWidget(why)
        layout.addWidget(self._actions())

    def _actions(self) -> QWidget:
        row = QWidget()
        layout = FlowingLayout(row, gap=8, line_gap=2)
        layout.setContentsMargins(0, 0, 0, 0)
        if self.finding.at:
            layout.addWidget(self._link("Show", self.shown, "Select the place on map, strip and bench"))
        if self.finding.route:
            layout.addWidget(self._link(route_words(self.finding.route), self.route_asked, "Show it move by move"))
        if self.finding.waived:
            layout.addWidget(self._link("Take back", self.withdrawn, "Treat it as a finding again"))
            return row
        if self.finding.repair:
            tip = "One step, which undo takes back"
            layout.addWidget(self._link(f"Repair: {self.finding.repair.label}", self.repaired, tip))
        layout.addWidget(self._link("Accept…", self.accepted, "Accept it as it is, with a reason"))
        return row

    def _link(self, text: str, signal: object, tip: str) -> Link:
        link = Link(text, tip)
        link.clicked.connect(signal)
        return link


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
        self.kept = KeptColumn(look, requests)
        self.kept.route_wanted.connect(self.route_wanted)
        self._result: Surveyed | None = None
        self._figures = QLabel()
        self._list = QScrollArea()
        self._list.setWidgetResizable(True)
        self._list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._list.viewport().setAutoFillBackground(False)
        self._title = QLabel("Survey")
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
        look.changed.connect(self._fill)
        self._fill()

    def sizeHint(self) -> QSize:
        return QSize(WIDTH, 400)

    def show_result(self, result: Surveyed | None) -> None:
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

    def cards(self) -> list[FindingCard]:
        """The cards in their order."""
        body = self._list.widget()
        return body.findChildren(FindingCard) if body else []

    def _fill(self) -> None:
        self._title.setFont(self._look.font(2, bold=True))
        self._figures.setStyleSheet(f"color: {self._look.colours.dim};")
        body = QWidget()
        layout = QVBoxLayout(body)
        layout.setContentsMargins(14, 4, 10, 12)
        layout.setSpacing(7)
        if self._result:
            survey = self._result.survey
            milliseconds = survey.seconds * 1000
            self._figures.setText(f"{milliseconds:.0f} ms · {len(survey.graph):,} states")
            # An empty flow has no start, which is no fault yet.
            self._fill_groups(layout, self._result.findings if self._result.flow.levels else ())
        layout.addStretch(1)
        at = self._list.verticalScrollBar().value()
        self._list.setWidget(body)
        self._list.verticalScrollBar().setValue(at)

    def _fill_groups(self, layout: QVBoxLayout, findings: Sequence[Finding]) -> None:
        room = MOST_SHOWN
        groups = [(h, [f for f in findings if f.severity == s and not f.waived], s) for s, h in HEADINGS]
        groups.append(("Accepted", [f for f in findings if f.waived], "hint"))
        for heading, members, severity in groups:
            if not members:
                continue
            layout.addWidget(self._heading(f"{heading} {len(members)}", severity))
            for finding in members[:room]:
                layout.addWidget(self._card(finding))
            if len(members) > room:
                layout.addWidget(QLabel(f"and {len(members) - room} more"))
            room = max(0, room - len(members))
        if not any(members for _, members, _ in groups):
            nothing = QLabel("Nothing is broken, nothing looks suspicious." if self._result.flow.levels else
                             "Nothing to survey yet.")  # fmt: skip
            nothing.setWordWrap(True)
            layout.addWidget(nothing)

    def _heading(self, text: str, severity: str) -> QLabel:
        label = QLabel(text)
        label.setFont(self._look.font(0, bold=True))
        label.setStyleSheet(f"color: {getattr(self._look.colours, COLOUR_OF[SEVERITY_MARK[severity]])};")
        return label

    def _card(self, finding: Finding) -> FindingCard:
        card = FindingCard(self._look, finding)
        card.shown.connect(lambda: self.show_wanted.emit(finding))
        card.repaired.connect(lambda: self.repair_wanted.emit(finding))
        card.accepted.connect(lambda: self.accept_wanted.emit(finding))
        card.route_asked.connect(lambda: self.route_wanted.emit(finding.route, finding.message))
        card.withdrawn.connect(lambda: self.withdraw_wanted.emit(finding))
        return card

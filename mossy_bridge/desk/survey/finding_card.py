"""What is said of the finding, or the group of findings, that the list points at, with what can be done about it."""

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, Qt, pyqtBoundSignal, pyqtSignal
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from mossy_bridge.checks.finding import Finding, Severity, check_words
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.flow_layout import FlowingLayout
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.marks import COLOUR_OF, SEVERITY_MARK, paint_mark
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.theme import Look


class MarkSign(QWidget):
    """A mark as a small widget."""

    def __init__(self, look: Look, mark: str):
        super().__init__()
        self._look, self._mark = look, mark
        self.setFixedSize(16, 16)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as painter:
            paint_mark(painter, self._look.colours, self._mark, QPointF(8, 8), 6)


class _ListedCard(QFrame):
    """A frame with a mark and a title, lines below, and links."""

    meant = pyqtSignal()

    def __init__(self, look: Look, title: str, severity: Severity, lines: Sequence[tuple[str, bool]]):
        super().__init__()
        c, mark = look.colours, SEVERITY_MARK[severity]
        self.setObjectName("finding")
        self.setStyleSheet(
            f"#finding {{ background: {c.card}; border: 1px solid {c.line};"
            f" border-left: 4px solid {getattr(c, COLOUR_OF[mark])}; border-radius: 6px; }}"
        )
        self.setAccessibleName(title)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 8, 7)
        layout.setSpacing(4)
        top = QHBoxLayout()
        top.setSpacing(7)
        top.addWidget(MarkSign(look, mark), 0, Qt.AlignmentFlag.AlignTop)
        top.addWidget(_words(look, title, -0.5, bold=True), 1)
        layout.addLayout(top)
        for text, dim in lines:
            label = _words(look, text, -1)
            label.setStyleSheet(f"color: {c.dim};" if dim else "")
            layout.addWidget(label)
        row = QWidget()
        self._links = FlowingLayout(row, gap=8, line_gap=2)
        self._links.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(row)

    def _add_link(self, text: str, signal: pyqtBoundSignal, tip: str) -> Link:
        link = Link(text, tip)
        link.clicked.connect(signal)
        self._links.addWidget(link)
        return link

    def _add_meaning(self) -> None:
        self._add_link("What it means", self.meant, "The page of the handbook on this check")


def _words(look: Look, text: str, size: float, bold: bool = False) -> Label:
    label = Label(text)
    label.setWordWrap(True)
    label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
    label.setFont(look.font(size, bold=bold))
    return label


class FindingCard(_ListedCard):
    """One finding, with its actions as links. ``shown``, ``repaired``, ``accepted``, ``withdrawn``, ``route_asked`` and
    ``meant`` say what the designer wants."""

    shown = pyqtSignal()
    repaired = pyqtSignal()
    accepted = pyqtSignal()
    withdrawn = pyqtSignal()
    route_asked = pyqtSignal()

    def __init__(self, look: Look, finding: Finding):
        repair = f"Repair: {finding.repair.label}." if finding.repair and not finding.waived else ""
        lines = [(f"Accepted: {finding.waived}" if finding.waived else finding.why, True), (repair, False)]
        super().__init__(look, finding.message, finding.severity, [line for line in lines if line[0]])
        self.finding = finding
        if finding.at:
            self._add_link("Show", self.shown, "Select the place on map, strip and bench")
        if finding.has_route:
            self._add_link("Route", self.route_asked, "Show the way there, move by move")
        if finding.waived:
            self._add_link("Take back", self.withdrawn, "Treat it as a finding again")
        else:
            self._add_repairs(finding)
        self._add_meaning()

    def _add_repairs(self, finding: Finding) -> None:
        if finding.repair:
            tip = "Show what it changes, and then make it one step, which undo takes back"
            link = self._add_link("Repair…", self.repaired, tip)
            link.setAccessibleName(f"Repair: {finding.repair.label}")
        self._add_link("Accept…", self.accepted, "Accept it as it is, with a reason")


class GroupCard(_ListedCard):
    """A group of findings of one check, with what can be done about all of them."""

    repaired = pyqtSignal()
    accepted = pyqtSignal()
    withdrawn = pyqtSignal()

    def __init__(self, look: Look, check: str, findings: Sequence[Finding]):
        self.findings = tuple(findings)
        first, count = findings[0], len(findings)
        repairs = sum(one.repair is not None for one in findings)
        title = f"{check_words(check)}: {count:,}"
        super().__init__(look, title, first.severity, [(first.why, True)])
        if first.waived:
            self._add_link(f"Take back all {count:,}", self.withdrawn, "Treat them as findings again")
        else:
            if repairs == count:
                tip = "Show what all the repairs change, and then make them one step, which undo takes back"
                self._add_link(f"Repair all {count:,}…", self.repaired, tip)
            self._add_link(f"Accept all {count:,}…", self.accepted, "Accept them as they are, with one reason")
        self._add_meaning()

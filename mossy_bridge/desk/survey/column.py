"""The survey column: what is broken, suspicious or worth knowing, and what can be done about it. While there is nothing
to say it folds itself to a margin."""

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import QPoint, QRect, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QPaintEvent
from PyQt6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.appraisal.grouping import FindingGroups, Heading, Key, grouped, key_of
from mossy_bridge.checks.finding import CHAPTERS, Chapter, Finding, Severity
from mossy_bridge.checks.registry import CHECKS
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.survey.finding_card import FindingCard, GroupCard
from mossy_bridge.desk.survey.finding_list import FindingList, next_finding
from mossy_bridge.desk.survey.finding_rows import FindingFilter, FindingRow, rows_of
from mossy_bridge.desk.survey.promises_panel import PromisesPanel
from mossy_bridge.desk.widgets.drop_down import DropDown
from mossy_bridge.desk.widgets.flow_layout import FlowingLayout
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.marks import SEVERITY_MARK, paint_mark
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.language.numbers import counted
from mossy_bridge.model.flow import Flow

WIDTH, LEAST, MARGIN = 300, 220, 34
FOLDS_AFTER, OPENS_AFTER = 4_000, 800
"""Milliseconds for which there must be nothing to say, or something, before it folds itself, or opens."""
MOST_CARD = 250
"""The card of what is pointed at is no higher than this; longer ones scroll."""
SEVERITIES: tuple[tuple[Severity, str], ...] = (
    ("error", "what is broken"),
    ("warning", "what is suspicious"),
    ("hint", "what is worth knowing"),
)
CHOICES: tuple[tuple[str, Chapter | None], ...] = (
    ("All chapters", None),
    *((chapter.capitalize(), chapter) for chapter in CHAPTERS),
)


class SeverityButton(QPushButton):
    """Lists or leaves out the findings of one severity; shows how many there are."""

    def __init__(self, look: Look, severity: Severity, words: str):
        super().__init__()
        self._look, self.severity, self._words = look, severity, words
        self.setCheckable(True)
        self.setChecked(True)
        self.setProperty("tool", True)
        self.say(0)

    def say(self, count: int) -> None:
        """Shows another count."""
        self.setText(f"   {count:,}")
        self.setAccessibleName(f"List {self._words}: {count:,}")
        self.setToolTip(plain(f"List {self._words}, or leave it out"))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        with painting(self) as painter:
            painter.setRenderHint(painter.RenderHint.Antialiasing)
            at = self.rect().center().toPointF()
            at.setX(15)
            paint_mark(painter, self._look.colours, SEVERITY_MARK[self.severity], at, 4.6)


class MarginButton(QPushButton):
    """What is left of the column while it is folded; a click opens it."""

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self.setProperty("link", True)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        self.setFixedWidth(MARGIN)
        self.say("Survey")

    def say(self, words: str) -> None:
        """Says in short how things stand."""
        self._told = words
        self.setAccessibleName(f"Unfold the survey column. {words}")
        self.setToolTip(plain(f"{words}\nUnfold the survey column (F9)"))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(MARGIN, 200)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        with painting(self) as painter:
            painter.fillRect(self.rect(), c.colour("route_wash" if self.hasFocus() else "panel"))
            painter.setFont(self._look.font(0, bold=True))
            painter.setPen(c.colour("dim"))
            painter.translate(QPoint(self.width(), 0))
            painter.rotate(90)
            line = QRect(16, 0, self.height() - 24, self.width())
            words = QFontMetrics(painter.font()).elidedText(self._told, Qt.TextElideMode.ElideRight, line.width())
            painter.drawText(line, Qt.AlignmentFlag.AlignVCenter, words)


class SurveyColumn(QStackedWidget):
    """Lists the findings. Signals bring the finding, or the findings, that something is wanted of."""

    show_wanted = pyqtSignal(object)
    repair_wanted = pyqtSignal(object)
    repair_all_wanted = pyqtSignal(tuple)
    accept_wanted = pyqtSignal(tuple)
    withdraw_wanted = pyqtSignal(tuple)
    route_wanted = pyqtSignal(tuple, str)
    meaning_wanted = pyqtSignal(str)
    stop_wanted = pyqtSignal()
    folded = pyqtSignal()

    def __init__(self, look: Look, requests: Requests, selection: Selection):
        super().__init__()
        self._look, self._selection = look, selection
        self.kept = PromisesPanel(look, requests)
        self.kept.route_wanted.connect(self.route_wanted)
        self._result: Appraisal | None = None
        self._known: frozenset[Key] | None = None
        self._files_known = False
        """The findings there were when the flow was saved or opened; None before it was surveyed."""
        self._turned: set[tuple[Heading, str]] = set()
        """Groups that somebody has opened, or closed."""
        self._had_to_say: bool | None = None
        """Whether there were findings when it last folded or opened itself; None for a flow just opened."""
        self.folds_by_itself = True
        """Whether it folds when there is nothing to say, and opens when there is something."""
        self._folding = QTimer(self)
        self._folding.setSingleShot(True)
        self._folding.timeout.connect(self._fold_now)
        self.card: FindingCard | GroupCard | None = None
        """What is said of the line that is pointed at."""
        self._make_widgets()
        self._arrange()
        self.setAccessibleName("Survey")
        look.changed.connect(self._on_look)
        selection.changed.connect(lambda: self._fill() if self.here.isChecked() else None)
        self._fill()

    def _make_widgets(self) -> None:
        self.margin = MarginButton(self._look)
        self.margin.clicked.connect(lambda: self.fold(False))
        self._title, self._figures, self._told = Label("Survey"), Label(), Label()
        self._told.setWordWrap(True)
        self.stop = Link("Stop", "Leave the repairs that have been tried so far")
        self.stop.clicked.connect(self.stop_wanted)
        self.stop.hide()
        self.severities = [SeverityButton(self._look, severity, words) for severity, words in SEVERITIES]
        for button in self.severities:
            button.toggled.connect(self._fill)
        self.chapter = DropDown()
        self.chapter.setAccessibleName("The chapter listed")
        self.chapter.addItems([words for words, _ in CHOICES])
        self.chapter.currentIndexChanged.connect(self._fill)
        self.here = self._toggle("Here", "List only what is about the levels selected")
        self.new = self._toggle("New", "List only what is new since the flow was saved or opened")
        self.list = FindingList(self._look)
        self.list.pointed.connect(self._on_pointed)
        self.list.turned.connect(self._turn)
        self.list.entered.connect(self.show_wanted)
        self._below = QScrollArea()
        self._below.setWidgetResizable(True)
        self._below.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._below.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        given(self._below.viewport()).setAutoFillBackground(False)

    def _toggle(self, words: str, tip: str) -> QPushButton:
        button = QPushButton(words)
        button.setCheckable(True)
        button.setProperty("tool", True)
        button.setToolTip(plain(tip))
        button.setAccessibleName(tip)
        button.toggled.connect(self._fill)
        return button

    def _arrange(self) -> None:
        head = QHBoxLayout()
        head.setContentsMargins(14, 10, 14, 2)
        head.addWidget(self._title)
        head.addSpacing(10)
        self._figures.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._figures.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        head.addWidget(self._figures, 1)
        head.addWidget(self.stop)
        self._filters = QWidget()
        filters = FlowingLayout(self._filters, gap=4, line_gap=4)
        filters.setContentsMargins(0, 0, 0, 0)
        for widget in (*self.severities, self.here, self.new, self.chapter):
            filters.addWidget(widget)
        open_ = QWidget()
        layout = QVBoxLayout(open_)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(head)
        around = QHBoxLayout()
        around.setContentsMargins(14, 4, 6, 4)
        around.addWidget(self._filters)
        layout.addLayout(around)
        said = QVBoxLayout()
        said.setContentsMargins(14, 4, 10, 4)
        said.addWidget(self._told)
        layout.addLayout(said)
        layout.addWidget(self.list, 1)
        layout.addWidget(self._below)
        layout.addWidget(self.kept)
        self.addWidget(open_)
        self.addWidget(self.margin)
        self.setMinimumWidth(LEAST)

    def sizeHint(self) -> QSize:
        return QSize(MARGIN if self.is_folded else WIDTH, 400)

    # -- folding ---------------------------------------------------------------------------------------

    @property
    def is_folded(self) -> bool:
        """Whether only a margin of it is seen."""
        return self.currentWidget() is self.margin

    def fold(self, away: bool) -> None:
        """Folds it to a margin, or opens it."""
        if away == self.is_folded:
            return
        self.setCurrentIndex(1 if away else 0)
        self.setMinimumWidth(MARGIN if away else LEAST)
        self.setMaximumWidth(MARGIN if away else 16_777_215)
        self.updateGeometry()
        self.folded.emit()

    def _fold_if_quiet(self) -> None:
        """Folds once there is nothing more to say, and opens once there is something; in between it stays as it was
        left. At once for a flow just opened, else after a while: what is at hand must not move with every edit."""
        if self._result is None or not self.folds_by_itself:
            return
        says = bool(self._groups.open)
        if says == self._had_to_say:
            self._folding.stop()
        elif self._had_to_say is None:
            self._fold_now()
        else:
            self._folding.start(OPENS_AFTER if says else FOLDS_AFTER)

    def _fold_now(self) -> None:
        if QApplication.mouseButtons() != Qt.MouseButton.NoButton:
            self._folding.start(OPENS_AFTER)  # not under a drag
            return
        self._had_to_say = bool(self._groups.open)
        self.fold(not self._had_to_say)

    # -- showing ---------------------------------------------------------------------------------------

    def show_result(self, result: Appraisal | None) -> None:
        """Shows a survey's findings; None before another flow is surveyed."""
        if result is None:
            self._known, self._had_to_say, self._files_known = None, None, False
            self._folding.stop()
        elif self._known is None:
            self._known = result.groups.keys
        elif result.level_files.files and not self._files_known:  # what they say was so before they were read
            of_files = (one for one in result.findings if CHECKS[one.check].chapter == "level files")
            self._known |= frozenset(map(key_of, of_files))
        if result and result.level_files.files:
            self._files_known = True
        self._result = result
        self._fill()
        self._fold_if_quiet()
        if result:
            self.kept.show_survey(result.survey)

    def mark_saved(self) -> None:
        """From now on new is what comes after this."""
        if self._result:
            self._known = self._result.groups.keys
            self._fill()

    def show_flow(self, flow: Flow) -> None:
        """Shows the promises and walks of another flow, not surveyed yet."""
        self.kept.show_flow(flow)

    def show_busy(self) -> None:
        """Says that the findings are those of an earlier flow, until the next result."""
        self._figures.setText("surveying…")

    def say_repairing(self, words: str) -> None:
        """Says how far the repairs under way are; "" once there are none."""
        self.stop.setVisible(bool(words))
        if words:
            self._figures.setText(words)
        else:
            self._say_figures()

    @property
    def _groups(self) -> FindingGroups:
        # An empty flow has no start, which is no fault yet.
        return self._result.groups if self._result and self._result.flow.levels else grouped(())

    @property
    def filter(self) -> FindingFilter:
        """What is left out."""
        hidden = frozenset(button.severity for button in self.severities if not button.isChecked())
        levels = frozenset(self._selection.levels) if self.here.isChecked() else None
        return FindingFilter(hidden, CHOICES[self.chapter.currentIndex()][1], levels, self.new.isChecked())

    def _fill(self) -> None:
        groups = self._groups
        self._title.setFont(self._look.font(2, bold=True))
        self._figures.setStyleSheet(f"color: {self._look.colours.dim};")
        self._told.setStyleSheet(f"color: {self._look.colours.dim};")
        self._say_figures()
        for button in self.severities:
            button.say(groups.count(button.severity))
        self._filters.setVisible(bool(groups.keys))
        chapters = {slug: check.chapter for slug, check in CHECKS.items()}
        new = groups.new_since(self._known)
        rows = rows_of(groups, self.filter, chapters, self._turned, new)
        self._say(groups, rows, len(new))
        self.list.take(rows)
        self.list.setVisible(bool(rows))

    def _say_figures(self) -> None:
        if self._result:
            survey = self._result.survey
            self._figures.setText(f"{survey.seconds * 1000:.0f} ms · {counted(len(survey.graph), 'state')}")

    def _say(self, groups: FindingGroups, rows: Sequence[FindingRow], new: int) -> None:
        if self._result is None:
            words = "Findings will stand here as soon as the survey knows them."
        elif not groups.keys:
            words = "Nothing is broken, nothing looks suspicious."
            if not self._result.flow.levels:
                words = "Nothing to survey yet."
        elif not rows:
            words = "Nothing of that kind. Other findings are left out by the buttons above."
        else:
            words = f"{new:,} new since the flow was saved or opened" if new else ""
        self._told.setText(words)
        self._told.setVisible(bool(words))
        say = f"{groups.open:,} findings" if groups.open else "nothing to say" if self._result else "under way"
        self.margin.say(f"Survey: {say}")

    def _on_look(self) -> None:
        self._fill()
        self._on_pointed(self.list.current)

    @property
    def check_pointed_at(self) -> str:
        """The check of the finding, or of the group, that is pointed at; "" for none."""
        row = self.list.current
        return row.findings[0].check if row and row.findings else ""

    # -- going through it ------------------------------------------------------------------------------

    def choose(self, finding: Finding) -> FindingCard:
        """Points at a finding, opening its group if need be, and gives what is said of it."""
        if not self.list.choose(finding):
            heading: Heading = "accepted" if finding.waived else finding.severity
            self._turned ^= {(heading, finding.check)}
            self._fill()
            self.list.choose(finding)
        assert isinstance(self.card, FindingCard)
        return self.card

    def step(self, step: int) -> None:
        """Points at the next finding, or the one before, and shows its place. The keyboard goes to the list: what is
        there is read, and Tab goes on to what can be done about it."""
        self.fold(False)
        self.list.setFocus()
        at = self.list.currentIndex().row()
        number = next_finding(self.list.rows, at if at >= 0 or step > 0 else 0, step)
        if number is None:
            return
        row = self.list.rows[number]
        if row.is_group:
            self._turn(row)
            number += 1 if step > 0 else len(row.findings)
        self.list.point_at(number)
        if finding := self.list.rows[number].finding:
            self.show_wanted.emit(finding)

    def _turn(self, row: FindingRow) -> None:
        """Opens a group, or closes it."""
        self._turned ^= {(row.heading, row.check)}
        self._fill()

    def _on_pointed(self, row: FindingRow | None) -> None:
        finding = row.finding if row else None
        if self.card:
            self.card.hide()
            self.card.deleteLater()
            self.card = None
        if finding:
            self.card = self._finding_card(finding)
        elif row and row.findings:
            self.card = self._group_card(row)
        self._below.setVisible(self.card is not None)
        if self.card:
            box = QWidget()
            around = QVBoxLayout(box)
            around.setContentsMargins(12, 6, 10, 8)
            around.addWidget(self.card)
            self._below.takeWidget()
            self._below.setWidget(box)
            box.setAutoFillBackground(False)  # adopting it, the scroll area has turned it on
            width = max(LEAST, self.width()) - 4
            self._below.setFixedHeight(min(MOST_CARD, max(60, around.heightForWidth(width))))

    def _finding_card(self, finding: Finding) -> FindingCard:
        card = FindingCard(self._look, finding)
        card.shown.connect(partial(self.show_wanted.emit, finding))
        card.repaired.connect(partial(self.repair_wanted.emit, finding))
        card.accepted.connect(partial(self.accept_wanted.emit, (finding,)))
        card.withdrawn.connect(partial(self.withdraw_wanted.emit, (finding,)))
        card.route_asked.connect(lambda: self.route_wanted.emit(finding.route, finding.message))
        card.meant.connect(partial(self.meaning_wanted.emit, finding.check))
        return card

    def _group_card(self, row: FindingRow) -> GroupCard:
        card = GroupCard(self._look, row.check, row.findings)
        card.repaired.connect(partial(self.repair_all_wanted.emit, row.findings))
        card.accepted.connect(partial(self.accept_wanted.emit, row.findings))
        card.withdrawn.connect(partial(self.withdraw_wanted.emit, row.findings))
        card.meant.connect(partial(self.meaning_wanted.emit, row.check))
        return card

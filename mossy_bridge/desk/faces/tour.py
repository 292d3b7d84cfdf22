"""The face *Tour*: a play-test plan to tick off while the real game is tried, and to take along as a file."""

from collections.abc import Collection
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.checks.reports.tour_report import tour_csv, tour_lines, tour_markdown, tour_summary
from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.desk.workers.background_task import BackgroundTask
from mossy_bridge.exchange.saving import CannotSave, replace_file
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.queries.transition_tour import Tour, transition_tour
from mossy_bridge.reach.survey.result import Survey

HELP = "Few walks from the start that together try all that can be tried. Tick off what the real game does as told."
ROLE = Qt.ItemDataRole.UserRole
DO, PLACE, FACTS = range(3)


class TourFace(QWidget):
    """Makes, shows and writes tours."""

    title, tip = "Tour", "A play-test plan for the real game"
    follows_survey = True

    def __init__(self, selection: Selection, person: Person):
        super().__init__()
        self._selection, self._person = selection, person
        self._survey: Survey | None = None
        self._made_for: Survey | None = None
        self._asked_for: Survey | None = None
        self._tour: Tour | None = None
        self._ticked: set[str] = set()
        self._task = BackgroundTask(self)
        self._task.done.connect(self._on_done)
        self._task.failed.connect(lambda _: self._say())
        self.make = QPushButton("&Make a tour")
        self.write = QPushButton("&Write it to a file…")
        self.summary = Label()
        self.tree = QTreeWidget()
        self.tree.setAccessibleName("Tour")
        self.tree.setHeaderLabels(["do", "then you are in", "and the game remembers"])
        given(self.tree.header()).setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        given(self.tree.header()).resizeSection(DO, 400)
        given(self.tree.header()).resizeSection(PLACE, 260)
        self.tree.setUniformRowHeights(True)
        top = QHBoxLayout()
        top.addWidget(Label(HELP), 1)
        top.addWidget(self.make)
        top.addWidget(self.write)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(top)
        layout.addWidget(self.summary)
        layout.addWidget(self.tree, 1)
        self.make.clicked.connect(self._make)
        self.write.clicked.connect(self._write)
        self.tree.itemClicked.connect(self._show)
        self.tree.itemActivated.connect(self._show)
        self.tree.itemChanged.connect(self._on_changed)
        self._say()

    @property
    def busy(self) -> bool:
        """Whether a tour is being made."""
        return self._task.busy

    def show_flow(self, _flow: Flow, result: Appraisal | None) -> None:
        """Takes another survey; a tour made for an older one stays until a new one is made."""
        self._survey = result.survey if result else None
        self._say()

    def _say(self) -> None:
        self.make.setEnabled(self._survey is not None and not self.busy)
        self.write.setEnabled(self._tour is not None)
        if self.busy:
            self.summary.setText("Looking for few walks…")
        elif self._tour is None:
            self.summary.setText("No tour has been made yet.")
        else:
            older = "" if self._made_for is self._survey else "  The flow has changed since: make it anew."
            done = f"  {len(self._ticked)} ticked off." if self._ticked else ""
            self.summary.setText(f"{tour_summary(self._tour)}.{done}{older}")

    def _make(self) -> None:
        survey = self._asked_for = self._survey
        if survey is not None:
            self._task.ask(lambda job: transition_tour(survey, job.cancelled))
            self._say()

    def _on_done(self, found: object) -> None:
        if isinstance(found, Tour):
            self._tour, self._made_for = found, self._asked_for
            self._fill()
        self._say()

    def _fill(self) -> None:
        if self._tour is None or self._made_for is None:
            return
        self.tree.blockSignals(True)
        self.tree.clear()
        walk = QTreeWidgetItem()
        for line in tour_lines(self._made_for.rules, self._tour):
            if line.step == 1:
                walk = QTreeWidgetItem([f"Walk {line.walk}, from the start"])
                self.tree.addTopLevelItem(walk)
                walk.setExpanded(True)
            beside_boxes = "" if line.first else "\u2003\u2002"
            item = QTreeWidgetItem([f"{beside_boxes}{line.step}.  {line.do}", line.place, line.facts])
            item.setData(DO, ROLE, line.move)
            if line.first:
                item.setCheckState(DO, Qt.CheckState.Checked if line.move in self._ticked else Qt.CheckState.Unchecked)
            else:
                item.setToolTip(DO, "On the way; tried before")
            for column in (DO, PLACE, FACTS):
                item.setToolTip(column, plain(item.toolTip(column) or item.text(column)))
            walk.addChild(item)
        self.tree.expandAll()
        self.tree.blockSignals(False)

    def _on_changed(self, item: QTreeWidgetItem, column: int) -> None:
        move = item.data(DO, ROLE)
        if column == DO and move:
            (self._ticked.add if item.checkState(DO) == Qt.CheckState.Checked else self._ticked.discard)(move)
            self._say()

    def tick_off(self, moves: Collection[str]) -> None:
        """Ticks off moves that were made in play-tests; in a tour that is made later, too."""
        self._ticked |= set(moves)
        self._fill()
        self._say()

    def _show(self, item: QTreeWidgetItem, _: int) -> None:
        move = item.data(DO, ROLE)
        if move:
            kind, _, place = move.partition(" ")
            level, _, thing = place.partition(".")
            self._selection.select(level, thing if kind == "exit" else "")

    def _write(self) -> None:
        if self._tour is None or self._made_for is None:
            return
        path = self._person.tour_path(Path("tour.md"))
        if path is None:
            return
        rules = self._made_for.rules
        csv = path.suffix.lower() == ".csv"
        text = tour_csv(rules, self._tour) if csv else "\n".join(tour_markdown(rules, self._tour)) + "\n"
        try:
            replace_file(path, text.encode())
        except CannotSave as error:
            self._person.tell("Tour", str(error))

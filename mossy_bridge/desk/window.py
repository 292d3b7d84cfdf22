"""The window: arranges the bands and passes on what they say. It decides nothing."""

from PyQt6.QtCore import QSettings, Qt
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import QMainWindow, QMessageBox, QSplitter, QVBoxLayout, QWidget

from mossy_bridge import __version__
from mossy_bridge.checks.finding import Finding
from mossy_bridge.desk.actions import Action, Actions
from mossy_bridge.desk.bench.bench import Bench
from mossy_bridge.desk.document import Document
from mossy_bridge.desk.files import Files
from mossy_bridge.desk.look import Look
from mossy_bridge.desk.map.view import MapView
from mossy_bridge.desk.menus import action_table, help_text
from mossy_bridge.desk.ports import DialogPerson, Person
from mossy_bridge.desk.requests import Requests
from mossy_bridge.desk.selection import Selection
from mossy_bridge.desk.standing import Standing
from mossy_bridge.desk.strip import Strip
from mossy_bridge.desk.survey_column import SurveyColumn
from mossy_bridge.desk.surveying import Surveyed, Surveyor
from mossy_bridge.desk.verdict_line import VerdictLine


class Window(QMainWindow):
    """The main window. ``person`` answers its questions; without one, dialogs ask."""

    def __init__(self, look: Look, settings: QSettings, person: Person | None = None):
        super().__init__()
        self.look = look
        self.document = Document(self)
        self.selection = Selection(self)
        self.surveyor = Surveyor(self)
        self.person = person or DialogPerson(self)
        self.requests = Requests(self.document, self.selection)
        self.files = Files(self.document, self.person, settings)
        self.result: Surveyed | None = None
        self.verdict = VerdictLine(look)
        self.strip = Strip(look, self.selection)
        self.map = MapView(look, self.selection)
        self.bench = Bench(look, self.document, self.selection, self.requests)
        self.survey_column = SurveyColumn(look)
        self._arrange()
        self.actions_made = Actions(self, self.menuBar(), self._table())
        self._connect()
        self.setMinimumSize(820, 560)
        self._on_kept()
        self._on_changed()

    def _table(self) -> list[Action]:
        return action_table(self)

    def _arrange(self) -> None:
        middle = QSplitter(Qt.Orientation.Vertical)
        middle.addWidget(self.map)
        middle.addWidget(self.bench)
        middle.setStretchFactor(0, 3)
        middle.setStretchFactor(1, 2)
        middle.setSizes([360, 300])
        self.across = QSplitter(Qt.Orientation.Horizontal)
        self.across.addWidget(middle)
        self.across.addWidget(self.survey_column)
        self.across.setStretchFactor(0, 1)
        self.across.setSizes([980, 300])
        for splitter in (middle, self.across):
            splitter.setHandleWidth(1)
            splitter.setChildrenCollapsible(False)
        body = QWidget()
        layout = QVBoxLayout(body)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        for band in (self.verdict, self.strip):
            layout.addWidget(band)
        layout.addWidget(self.across, 1)
        self.setCentralWidget(body)

    def _connect(self) -> None:
        self.document.changed.connect(self._on_changed)
        self.document.kept.connect(self._on_kept)
        self.document.refused.connect(lambda sentence: self.person.tell("Not possible", sentence))
        self.surveyor.started.connect(self._on_survey_started)
        self.surveyor.surveyed.connect(self._on_surveyed)
        self.surveyor.failed.connect(self.verdict.show_failure)
        self.strip.stepped.connect(self._go_to)
        self.map.chosen.connect(self.selection.select)
        self.map.connect_wanted.connect(self.requests.connect_exit)
        self.map.move_wanted.connect(self.requests.place_card)
        self.bench.selected.connect(self.selection.select)
        self.selection.changed.connect(self._on_selected)
        self.survey_column.show_wanted.connect(self.show_finding)
        self.survey_column.repair_wanted.connect(self.requests.repair)
        self.survey_column.accept_wanted.connect(self._on_accept)
        self.survey_column.withdraw_wanted.connect(self.requests.withdraw)
        self.files.recent_changed.connect(self._fill_recent)
        self._fill_recent()

    # -- what happened ---------------------------------------------------------------------------------

    def _on_changed(self) -> None:
        flow = self.document.flow
        self.map.show_flow(flow, self.result)
        self.strip.show_flow(flow, Standing(self.result))
        self.bench.refresh()
        self.surveyor.look_at(flow, self.document.folder)
        self._show_title()
        self.actions_made.refresh()

    def _on_kept(self) -> None:
        """Another file, or the same saved: a new file is shown from the start, its survey unknown."""
        if not self.document.undo_name and not self.document.edited and self._is_new():
            self.result = None
            self.map.fit_next()
            self.selection.select()
            self.survey_column.show_result(None)
            self._on_changed()
        self._show_title()
        self.actions_made.refresh()

    def _is_new(self) -> bool:
        return self.result is None or self.result.flow is not self.document.flow

    def _on_survey_started(self) -> None:
        self.survey_column.show_busy()
        self.verdict.show_busy()

    def _on_surveyed(self, result: Surveyed) -> None:
        self.result = result
        self.verdict.show_result(result)
        self.survey_column.show_result(result)
        self.map.show_flow(self.document.flow, result)
        self.strip.show_flow(self.document.flow, Standing(result))
        if not self.selection.level_id:
            self.selection.select(result.flow.start.level)

    def _on_selected(self) -> None:
        self.map.show_level(self.selection.level_id)
        self.actions_made.refresh()

    def _on_accept(self, finding: Finding) -> None:
        why = self.person.reason(finding.message)
        if why:
            self.requests.accept(finding, why)

    def _go_to(self, level_id: str) -> None:
        self.selection.select(level_id)

    def _show_title(self) -> None:
        document = self.document
        name = document.path.name if document.path else "not saved yet" if document.flow.levels else ""
        state = f"{name} · edited" if document.edited and name else name
        self.verdict.show_title(document.title, state)
        self.setWindowTitle(f"{'• ' if document.edited else ''}{document.title} — Mossy Bridge")

    def _fill_recent(self) -> None:
        menu = self.actions_made.menus["&File"]
        for action in menu.actions():
            if action.data() == "recent":
                menu.removeAction(action)
        before = self.actions_made.made["quit"]
        for path in self.files.recent:
            entry = menu.addAction(f"{path.name}  ({path.parent.name})")
            entry.setData("recent")
            entry.setToolTip(str(path))
            entry.triggered.connect(lambda _, p=path: self.files.open(p))
            menu.insertAction(before, entry)

    # -- what is wanted --------------------------------------------------------------------------------

    def show_finding(self, finding: Finding) -> None:
        """Selects the place a finding is about, on all bands."""
        for place in finding.at:
            level_id, _, thing = place.partition(".")
            level = self.result.survey.flow.level(level_id) if self.result else None
            if level:
                self.selection.select(level_id, thing if level.exit(thing) else "")
                return

    def fold_survey(self) -> None:
        """Folds the survey column away, or out again."""
        self.survey_column.setVisible(not self.survey_column.isVisible())

    def help(self) -> None:
        """Tells how to go about it, with the keys of all actions."""
        self.person.tell("How to go about it", help_text(self.actions_made.table))

    def about(self) -> None:
        """Says what this is."""
        text = f"Mossy Bridge {__version__}\n\nLays out how a game moves from level to level, and proves that every level is reached and nobody gets stuck.\n\nFree software under the GNU General Public License, version 3 or later."  # noqa: E501
        QMessageBox.about(self, "About Mossy Bridge", text)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if self.files.may_leave():
            self.surveyor.stop()
            event.accept()
        else:
            event.ignore()

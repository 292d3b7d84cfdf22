"""The window: arranges the bands and passes on what they say. It decides nothing."""

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QPoint, QSettings, pyqtSignal
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QMainWindow, QWidget

from mossy_bridge.appraisal.appraise import Appraisal, only_layout_differs
from mossy_bridge.appraisal.standing import Standing
from mossy_bridge.desk.bench.bench import Bench
from mossy_bridge.desk.dialogs.person import DialogPerson, Person
from mossy_bridge.desk.faces.arrivals import ArrivalsFace
from mossy_bridge.desk.faces.boards import BoardsFace
from mossy_bridge.desk.faces.checklist import ChecklistFace
from mossy_bridge.desk.faces.faces import Faces
from mossy_bridge.desk.faces.facts import FactsFace
from mossy_bridge.desk.faces.level_files import FilesFace
from mossy_bridge.desk.faces.lists import GameFace, PatternsFace, TestingFace
from mossy_bridge.desk.faces.pace import PaceFace
from mossy_bridge.desk.faces.tour import TourFace
from mossy_bridge.desk.faces.transitions import TransitionsFace
from mossy_bridge.desk.first_steps.band import StepBand
from mossy_bridge.desk.first_steps.first_steps import FirstSteps
from mossy_bridge.desk.handbook.beside import HandbookBeside
from mossy_bridge.desk.handbook.pages import check_page
from mossy_bridge.desk.handbook.panel import HandbookPanel
from mossy_bridge.desk.happenings.notes import note_happenings
from mossy_bridge.desk.map.view import MapView
from mossy_bridge.desk.outline.wiring import BOARD, MAP, ORDER, PLAN, TRANSITION, Outline
from mossy_bridge.desk.plan.page import PlanPage
from mossy_bridge.desk.play_tests.face import PlayTestsFace
from mossy_bridge.desk.play_tests.overlay import Overlay
from mossy_bridge.desk.play_tests.play_tests import PlayTests
from mossy_bridge.desk.play_tests.sign import ListeningSign
from mossy_bridge.desk.play_tests.wiring import wire_play_tests
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.clipboard import Clipboard
from mossy_bridge.desk.session.crash_recovery import Recovery
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import Proposal
from mossy_bridge.desk.session.editor import LevelFileEditor
from mossy_bridge.desk.session.exchange_commands import Exchange
from mossy_bridge.desk.session.file_commands import Files
from mossy_bridge.desk.session.level_file_watcher import LevelFileWatch
from mossy_bridge.desk.session.play_test_commands import PlayTestCommands
from mossy_bridge.desk.session.reader_commands import ReaderCommands
from mossy_bridge.desk.session.report_commands import ReportCommands
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.session.stand_in import StandInCommand
from mossy_bridge.desk.settings.applying import apply_preferences
from mossy_bridge.desk.settings.preferences import Preferences
from mossy_bridge.desk.shell.action_table import action_table
from mossy_bridge.desk.shell.actions import Actions
from mossy_bridge.desk.shell.arrangement import Middle, WalkButton, WindowBody
from mossy_bridge.desk.shell.commands import open_over_faces
from mossy_bridge.desk.shell.context_menus import level_menu, region_menu
from mossy_bridge.desk.shell.do_box import DoBox
from mossy_bridge.desk.shell.faults import Fault, Faults
from mossy_bridge.desk.shell.navigation import Navigation
from mossy_bridge.desk.shell.proposal_bar import ProposalBar
from mossy_bridge.desk.shell.recent_flows import RecentFlows
from mossy_bridge.desk.shell.tab_order import move_focus
from mossy_bridge.desk.shell.verdict_line import VerdictLine
from mossy_bridge.desk.strip.strip import Strip
from mossy_bridge.desk.survey.column import SurveyColumn
from mossy_bridge.desk.survey.finding_actions import FindingActions
from mossy_bridge.desk.survey.route_popup import RouteBox
from mossy_bridge.desk.trial.walking import Walking
from mossy_bridge.desk.versions.bench_line import BenchDifferences
from mossy_bridge.desk.versions.face import VersionsFace
from mossy_bridge.desk.versions.merging import VersionMerging
from mossy_bridge.desk.versions.other_version import OtherVersion
from mossy_bridge.desk.versions.wiring import wire_versions
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.workers.level_file_reading import LevelFileReading
from mossy_bridge.desk.workers.surveyor import Surveyor
from mossy_bridge.model.edits.levels import owner
from mossy_bridge.model.flow import Flow
from mossy_bridge.model.patterns import resolved
from mossy_bridge.play.state import Move


class Window(QMainWindow):
    """The main window. ``closed()`` says that it is over. ``person`` answers its questions; without one, dialogs ask.
    Unsaved work and earlier versions are kept below ``kept_in``, if that is given."""

    closed = pyqtSignal()

    def __init__(self, look: Look, settings: QSettings, person: Person | None = None, kept_in: Path | None = None):
        super().__init__()
        self.look = look
        self._settings, self.kept_in = settings, kept_in
        self.preferences = Preferences(settings, self)
        self.document = Document(self)
        self.selection = Selection(self)
        self.surveyor = Surveyor(self)
        self.person = person or DialogPerson(self, look)
        self.requests = Requests(self.document, self.selection)
        self.clipboard = Clipboard(self.document, self.selection, self.requests, self.person)
        versions = kept_in / "versions" if kept_in else None
        self.files = Files(self.document, self.requests.door, self.person, settings, versions)
        self.readers = ReaderCommands(self.document, self.requests.level_files, self.person)
        self.stand_in = StandInCommand(self.document, self.person)
        self.editor = LevelFileEditor(self.document, self.selection, self.preferences, self.person)
        self.other_version = OtherVersion(self.document, self.requests, self.person)
        self.merging = VersionMerging(self.document, self.requests, self.person)
        self.reports = ReportCommands(self.document, self.other_version, self.person, look)
        self.exchange = Exchange(self.document, self.person, look, self.reports, self.files.may_leave)
        self.play_tests = PlayTests(self)
        self.play_test_commands = PlayTestCommands(self.play_tests, self.requests, self.stand_in, self.person,
                                                   self.preferences)  # fmt: skip
        keeps_unsaved = self.preferences.text("journal") == "kept"
        self.recovery = Recovery(self.document, kept_in / "recovery") if kept_in and keeps_unsaved else None
        self.faults = Faults(self)
        self.watch = LevelFileWatch(self)
        self.reading = LevelFileReading(self)
        self.result: Appraisal | None = None
        self.charted: Appraisal | None = None
        """The latest of which it is known what the map is drawn from."""
        self._make_bands()
        self._arrange()
        self.actions_made = Actions(self, given(self.menuBar()), action_table(self))
        self.recent = RecentFlows(self.actions_made.menus["&File"], self.actions_made.made["quit"], self.files)
        self._connect()
        self._connect_bands()
        apply_preferences(self.preferences, look, self.survey_column)
        self.setMinimumSize(820, 560)
        self.setAcceptDrops(True)
        self._on_opened()

    @property
    def widget(self) -> QWidget:
        """The widget that menus belong to."""
        return self

    def _make_bands(self) -> None:
        look, requests, selection = self.look, self.requests, self.selection
        self.verdict = VerdictLine(look)
        self.proposal_bar = ProposalBar(look)
        self.strip = Strip(look, selection, requests.levels, requests.door)
        self.step_band = StepBand(look)
        self.map = MapView(look, selection)
        self.faces = Faces()
        self.facts = FactsFace(look, requests, selection)
        self.transitions = TransitionsFace(look, selection)
        self.checklist = ChecklistFace(look, requests, selection)
        self.testing = TestingFace(requests, selection)
        self.level_files = FilesFace(requests, selection, self.watch, self.reading, self.look_again, self.readers)
        self.patterns = PatternsFace(requests, selection, self.person)
        self.pace = PaceFace(look)
        self.tour = TourFace(selection, self.person)
        self.play_tests_face = PlayTestsFace(look, self.play_tests)
        self.versions = VersionsFace(self.other_version, self.merging)
        self.arrivals = ArrivalsFace(look, requests, selection)
        self.boards = BoardsFace(look, requests, selection, self.person)
        self.game = GameFace(requests, self.person)
        self.bench = Bench(look, self.document, selection, requests, self.person)
        self.walking = Walking(look, self.map, selection, requests, self.person)
        self.plan = PlanPage(look, requests, selection, self.person)
        plans = (self.bench.level.plan, self.bench.crossing.left, self.bench.crossing.right, self.plan.canvas)
        self.overlay = Overlay(self.play_tests, self.map, self.strip, plans)
        self.survey_column = SurveyColumn(look, requests, selection)
        self.handbook = HandbookPanel(look, lambda: self.actions_made.table)
        self.finding_actions = FindingActions(self.survey_column, self.document, requests, self.person,
                                              self.proposal_bar, lambda: self.result,
                                              lambda finding: self.navigation.show_finding(finding))  # fmt: skip

    def _arrange(self) -> None:
        look = self.look
        self.walk_button = WalkButton()
        self.listening_sign = ListeningSign(self.play_tests)
        differences = BenchDifferences(look, self.other_version, self.selection)
        self.middle = Middle(self.faces, (differences, self.bench), self.walking.page, self.plan)
        self.navigation = Navigation(self.document, self.selection, self.middle, self.faces, self.map, self.bench,
                                     self.plan, self.boards, self.overlay)  # fmt: skip
        self.first_steps = FirstSteps(self, self.step_band, lambda: self.result)
        self.outline = Outline(self.document, self.selection, lambda: self.charted, self.bench.crossing.deck.choose)
        self.outline.views = (
            (self.strip, ORDER), (self.plan, PLAN), (self.bench.crossing.deck, TRANSITION), (self.boards, BOARD),
            (self.bench.level.board, BOARD), (self.bench, PLAN), (self.map, MAP),
        )  # fmt: skip
        bands = (self.verdict, self.strip, self.step_band, self.proposal_bar)
        self.body = WindowBody(bands, self.middle, self.outline.panel, self.survey_column, self.handbook)
        self.setCentralWidget(self.body)
        self.body.fill()
        for face, group in (
            (self.map, ""), (self.facts, ""), (self.transitions, ""), (self.checklist, "Upkeep"),
            (self.testing, "Upkeep"), (self.level_files, "Upkeep"), (self.patterns, "Upkeep"), (self.game, ""),
            (self.tour, "Playing"), (self.pace, "Playing"), (self.boards, ""), (self.arrivals, ""),
            (self.play_tests_face, "Playing"), (self.versions, "Upkeep"),
        ):  # fmt: skip
            self.faces.add(face, group)
        self.faces.add_button(self.listening_sign)
        self.faces.add_button(self.walk_button)
        pages = ((self.strip, "strip"), (self.bench, "bench"), (self.plan, "plan"), (self.walking.page, "trial-walk"),
                 (self.survey_column, "survey"))  # fmt: skip
        self.handbook_beside = HandbookBeside(
            self.handbook, self.body.show_handbook, pages, lambda: self.faces.faces[self.faces.index].title,
            lambda: self.middle.setFocus() if self.navigation.is_plan_open else self.map.setFocus(),
        )  # fmt: skip

    def _connect(self) -> None:
        document, door = self.document, self.requests.door
        wire_play_tests(self.play_tests, self.play_tests_face, self.play_test_commands, self.faces, self.tour,
                        self.walking, self.selection, self.verdict)  # fmt: skip
        wire_versions(self.other_version, self.merging, self.files, self.map, self.strip, self.overlay.plans,
                      self._on_other_version, self.navigation.show_finding_place)  # fmt: skip
        self.other_version.changed.connect(lambda: self.actions_made.refresh())
        self.play_tests_face.route_wanted.connect(self.show_route)
        self.play_tests.failed.connect(self.person.tell)
        for signal in (self.play_tests.changed, self.play_tests.listener.began, self.play_tests.listener.ended):
            signal.connect(lambda *_: self.actions_made.refresh())
        document.opened.connect(self._on_opened)
        document.changed.connect(self._on_changed)
        document.saved.connect(self._on_saved)
        door.refused.connect(lambda sentence: self.person.tell("Not possible", sentence))
        self.transitions.copy_wanted.connect(self.clipboard.copy_transition)
        self.transitions.paste_wanted.connect(self.clipboard.paste)
        self.transitions.remove_wanted.connect(self.requests.transitions.remove)
        door.proposed.connect(self.proposal_bar.propose)
        door.offered.connect(self.proposal_bar.offer)
        self.proposal_bar.answered.connect(door.carry_out)
        self.proposal_bar.closed.connect(self.strip.setFocus)
        self.surveyor.started.connect(self._on_survey_started)
        self.surveyor.judged.connect(self.verdict.show_answer)
        self.surveyor.appraised.connect(self._on_appraised)
        self.surveyor.charted.connect(self._on_charted)
        self.surveyor.failed.connect(self._on_survey_failed)
        self.watch.changed.connect(self._on_files_changed)
        self.reading.done.connect(self._on_files_read)
        self.selection.changed.connect(self._on_selected)
        self.proposal_bar.shown.connect(self._on_proposal)
        self.files.not_kept.connect(partial(self._on_not_kept, "version", "Saved, but not kept as a version"))
        self.faults.happened.connect(self._on_fault)
        self.verdict.notice_wanted.connect(partial(self.person.tell, "What could not be done"))
        if self.recovery:
            self.recovery.failed.connect(partial(self._on_not_kept, "recovery", "Unsaved work is not kept; save it"))
            self.recovery.worked.connect(partial(self._on_not_kept, "recovery", "", ""))
        note_happenings(document, self.surveyor, self.files, self.faults)

    def _connect_bands(self) -> None:
        self.strip.menu_wanted.connect(self._show_menu)
        self.map.menu_wanted.connect(lambda level, at: self._show_menu(level, "", at))
        self.map.opened.connect(self.navigation.open_plan)
        self.map.connect_wanted.connect(self.requests.crossings.connect)
        self.map.join_wanted.connect(self.requests.crossings.there_and_back)
        self.map.move_wanted.connect(self.requests.levels.place_card)
        self.bench.selected.connect(self.selection.select)
        for empty in (self.bench.empty.wanted, self.faces.step_wanted, self.level_files.step_wanted):
            empty.connect(lambda action: self.actions_made.made[action].trigger())
        self.bench.plan_wanted.connect(lambda: self.navigation.open_plan(self.selection.level_id))
        self.survey_column.meaning_wanted.connect(lambda slug: self.handbook_beside.open(*check_page(slug)))
        self.survey_column.route_wanted.connect(self.show_route)
        self.walk_button.clicked.connect(self.walk_or_leave)
        self.walking.begun.connect(self._on_walk)
        self.walking.ended.connect(self._on_walk)
        self.walking.searching.connect(self._on_searching)
        self.walking.page.walk_live.toggled.connect(self.middle.fill_with_walk)
        self.requests.upkeep.condition_query.route_wanted.connect(self.show_route)
        self.outline.panel.list.opened.connect(lambda row: self.navigation.open_plan(row.level) if row.level else None)
        self.outline.panel.list.menu_wanted.connect(lambda row, at: self._show_menu(row.level, "", at))

    # -- what happened ---------------------------------------------------------------------------------

    def _on_opened(self) -> None:
        """Another flow is shown from the start, its survey unknown."""
        self.result = self.charted = self.requests.door.survey = None
        self.middle.close_plan()
        self.map.fit_next()
        self.play_tests.forget()
        self.other_version.leave()
        self.merging.leave()
        self.selection.reset()
        self.survey_column.show_result(None)
        self.verdict.forget()
        self._show_everything()
        self._survey()

    def _on_changed(self, before: Flow, after: Flow) -> None:
        self.selection.tidied(after)
        if self.result and only_layout_differs(before, after):
            both = self.result, self.charted
            # Where one is about another flow, that of the flow before is under way.
            self.result, self.charted = (one.for_flow(after) if one and one.flow is before else one for one in both)
        else:
            self._survey()
        self._show_everything()

    def _on_saved(self) -> None:
        self.survey_column.mark_saved()
        if self.document.folder != self.watch.folder:
            self._show_everything()
            self._survey()
        self.navigation.show_selected()
        self._show_title()
        self.actions_made.refresh()

    def _survey(self) -> None:
        self.surveyor.look_at(self.document.flow, self.document.folder, self.reading.files)

    def _show_everything(self) -> None:
        document = self.document
        self.proposal_bar.withdraw()
        self.watch.watch(document.flow, document.folder)
        self.reading.look_at(resolved(document.flow), document.folder)
        self._show_flow()
        self.play_tests.show_flow(resolved(document.flow))
        self.other_version.look(document.flow)
        self.walking.show_flow(document.flow, document.folder, lambda: self.result.survey if self.result else None)
        self.navigation.show_selected()
        self.faces.show_flow(document.flow, self.result)
        self.survey_column.show_flow(document.flow)
        self.finding_actions.forget()
        self._show_title()
        self.actions_made.refresh()

    def _show_flow(self) -> None:
        """The flow on strip and map, with how each level stands."""
        self.map.chart(self.document.flow, self.charted)
        standing = self.result.standing if self.result else Standing()
        self.strip.show_flow(resolved(self.document.flow), standing)

    def _on_survey_started(self) -> None:
        self.survey_column.show_busy()
        self.verdict.show_busy()

    def _on_appraised(self, result: Appraisal) -> None:
        if result.flow is not self.document.flow:  # only its layout has changed meanwhile
            result = result.for_flow(self.document.flow)
        self.result = result
        self.requests.door.survey = result.survey
        self.verdict.show_result(result)
        self.survey_column.show_result(result)
        self.bench.level.links = result.level_results.links
        self.bench.crossing.show_findings(result.findings)
        self._show_flow()
        self.faces.show_result(result)
        if not self.selection.level_id:
            self.selection.select(result.flow.start.level)

    def _on_charted(self, result: Appraisal) -> None:
        """Now the map may follow."""
        self.charted = result if result.flow is self.document.flow else result.for_flow(self.document.flow)
        self.map.chart(self.document.flow, self.charted)
        self.outline.refresh()
        if self.faces.is_in_view(self.facts):  # which tells what is nearest to the start
            self.faces.show_result(self.charted)

    def _on_survey_failed(self, sentence: str) -> None:
        self.verdict.show_failure(sentence)
        if self.charted is None:
            self.map.chart(self.document.flow, None, waits=False)

    def _on_selected(self) -> None:
        if owner(self.document.flow, self.selection.level_id):
            self.map.show_level(self.selection.level_id)
        if self.navigation.is_plan_open:
            self.navigation.show_selected()
        self.overlay.refresh_plans()
        self.actions_made.refresh()

    def _on_files_changed(self) -> None:
        self.reading.look_at(resolved(self.document.flow), self.document.folder, again=True)
        self.faces.show_flow(self.document.flow, self.result)
        if not self.reading.busy:  # else once it is known what they hold
            self._survey()
        count = sum(map(len, (self.watch.news.added, self.watch.news.gone, self.watch.news.renamed)))
        self.faces.tell(self.level_files, f"{count} new on disk" if count else "")

    def _on_files_read(self, changed: Sequence[str]) -> None:
        before = self.document.flow
        self.requests.level_files.follow_places(self.reading.files, changed)
        if self.document.flow is before:
            self._survey()
            self.faces.show_flow(before, self.result)

    def _on_other_version(self) -> None:
        self.navigation.close_plan()
        self.faces.turn_to(self.versions)

    def _on_not_kept(self, about: str, words: str, why: str) -> None:
        if why:
            self.verdict.show_notice(about, f"{words}: {why}")
        else:
            self.verdict.take_back(about)

    def _on_fault(self, fault: Fault) -> None:
        """On it goes; what is unsaved is written before anything else can go wrong."""
        self.verdict.show_notice("fault", fault.sentence, fault.details)
        if self.recovery:
            self.recovery.keep_now()

    def _on_proposal(self, proposal: Proposal | None) -> None:
        after = proposal.edit.after if proposal else None
        self.finding_actions.trial.forget()
        self.map.outline(after)
        for canvas in self.overlay.plans:
            canvas.outline(after)

    def _show_title(self) -> None:
        document = self.document
        name = document.path.name if document.path else "not saved yet" if document.flow.levels else ""
        state = f"{name} · edited" if document.edited and name else name
        self.verdict.show_title(document.title, state)
        self.setWindowTitle(f"{'• ' if document.edited else ''}{document.title} — Mossy Bridge")

    @property
    def is_free(self) -> bool:
        """Whether nothing has been opened or begun here."""
        return self.document.path is None and not self.document.edited and not self.document.flow.levels

    # -- what is wanted --------------------------------------------------------------------------------

    def show_route(self, route: tuple[Move, ...], about: str) -> RouteBox:
        """Opens a route move by move."""
        flow = self.result.survey.flow if self.result else resolved(self.document.flow)
        box = RouteBox(self, flow, route, about)
        box.chosen.connect(
            lambda level, thing: self.navigation.show_finding_place(f"{level}.{thing}" if thing else level)
        )
        box.kept.connect(self._keep_route)
        box.walk_wanted.connect(self.walking.begin_route)
        box.open_at(self.faces.mapToGlobal(QPoint(self.faces.width() - box.width() - 12, 40)))
        return box

    def walk_or_leave(self) -> None:
        """Begins a trial walk at the start, or leaves the one under way, or gives up looking for one."""
        if self.walking.busy:
            self.walking.give_up()
        elif self.walking.trial is None:
            self.walking.begin()
        else:
            self.walking.leave()

    def _on_walk(self) -> None:
        walking = self.walking.trial is not None
        if walking:
            self.navigation.close_plan()
            self.faces.turn_to(self.map)
        self.middle.show_walk(walking)
        self.walk_button.say(walking)
        if not walking:
            self.bench.refresh()
            self.map.setFocus()
        self.actions_made.refresh()

    def _on_searching(self, words: str) -> None:
        self.walk_button.say(self.walking.trial is not None, words)

    def _keep_route(self, route: tuple[Move, ...]) -> None:
        name = self.person.ask("Keep as a recorded walk", "What is it called? Every survey will walk it again.")
        if name:
            self.requests.upkeep.keep_walk(name, [str(move) for move in route])

    def _show_menu(self, level: str, region: str, at: QPoint) -> None:
        if level and level not in self.selection.levels:
            self.selection.select(level)
        menu = region_menu(self, region) if region and not level else level_menu(self, self.actions_made)
        menu.popup(at)

    def look_again(self) -> None:
        """Compares the level files on disk with the flow's anew."""
        self.watch.look_again()
        self._on_files_changed()

    def open_do_box(self) -> DoBox:
        """Opens the line to find actions by."""
        box = DoBox(self, self.actions_made)
        open_over_faces(self, box)
        return box

    def begin_first_steps(self) -> None:
        """Leads through seven steps on the demo."""
        self.first_steps.begin()

    def focusNextPrevChild(self, forwards: bool) -> bool:
        bands = (self.strip, self.step_band, self.proposal_bar, self.outline.panel, self.middle, self.survey_column,
                 self.handbook)  # fmt: skip
        return move_focus(bands, forwards) or super().focusNextPrevChild(forwards)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        event = given(event)
        if self.files.may_leave():
            self.body.keep(self, self._settings)
            if self.recovery:
                self.recovery.drop()
            self.stop()
            event.accept()
            self.closed.emit()
        else:
            event.ignore()

    def stop(self) -> None:
        """Ends all that runs beside the window."""
        for one in (self.surveyor, self.reading, self.play_tests, self.other_version, self.reports,
                    self.finding_actions, self.recovery):  # fmt: skip
            if one:
                one.stop()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if _dropped(event):
            given(event).acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        self.files.others_wanted.emit(_dropped(event))
        given(event).acceptProposedAction()


def _dropped(event: QDropEvent | None) -> list[Path]:
    """The flow files that are dragged here."""
    data = given(given(event).mimeData())
    return [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile() and url.path().endswith(".mossy")]

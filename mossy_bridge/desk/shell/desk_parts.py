"""What menus act on: the parts of a window, without knowing the window."""

from pathlib import Path
from typing import Protocol

from PyQt6.QtWidgets import QWidget

from mossy_bridge.desk.bench.bench import Bench
from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.faces.faces import Faces
from mossy_bridge.desk.handbook.beside import HandbookBeside
from mossy_bridge.desk.map.view import MapView
from mossy_bridge.desk.outline.wiring import Outline
from mossy_bridge.desk.plan.page import PlanPage
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.clipboard import Clipboard
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.editor import LevelFileEditor
from mossy_bridge.desk.session.exchange_commands import Exchange
from mossy_bridge.desk.session.file_commands import Files
from mossy_bridge.desk.session.play_test_commands import PlayTestCommands
from mossy_bridge.desk.session.reader_commands import ReaderCommands
from mossy_bridge.desk.session.report_commands import ReportCommands
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.session.stand_in import StandInCommand
from mossy_bridge.desk.settings.preferences import Preferences
from mossy_bridge.desk.shell.navigation import Navigation
from mossy_bridge.desk.strip.strip import Strip
from mossy_bridge.desk.survey.column import SurveyColumn
from mossy_bridge.desk.trial.walking import Walking
from mossy_bridge.desk.versions.merging import VersionMerging
from mossy_bridge.desk.versions.other_version import OtherVersion
from mossy_bridge.desk.widgets.theme import Look


class DeskParts(Protocol):
    """The parts, and what is done with several of them together."""

    look: Look
    document: Document
    selection: Selection
    requests: Requests
    clipboard: Clipboard
    files: Files
    editor: LevelFileEditor
    exchange: Exchange
    preferences: Preferences
    reports: ReportCommands
    readers: ReaderCommands
    stand_in: StandInCommand
    other_version: OtherVersion
    merging: VersionMerging
    play_test_commands: PlayTestCommands
    person: Person
    strip: Strip
    map: MapView
    faces: Faces
    bench: Bench
    plan: PlanPage
    walking: Walking
    survey_column: SurveyColumn
    handbook_beside: HandbookBeside
    outline: Outline
    navigation: Navigation
    kept_in: Path | None

    @property
    def widget(self) -> QWidget:
        """The widget that menus belong to."""
        ...

    def walk_or_leave(self) -> None:
        """Begins a trial walk at the start, or leaves the one under way."""
        ...

    def look_again(self) -> None:
        """Compares the level files on disk with the flow's anew."""
        ...

    def open_do_box(self) -> object:
        """Opens the line to find actions by."""
        ...

    def begin_first_steps(self) -> None:
        """Leads through seven steps on the demo."""
        ...

    def close(self) -> bool:
        """Closes the program, if the person in front of it agrees."""
        ...

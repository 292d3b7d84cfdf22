"""What menus act on: the parts of a window, without knowing the window."""

from typing import Protocol

from PyQt6.QtWidgets import QWidget

from mossy_bridge.desk.bench.bench import Bench
from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.faces.faces import Faces
from mossy_bridge.desk.map.view import MapView
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

    @property
    def widget(self) -> QWidget:
        """The widget that menus belong to."""
        ...

    @property
    def is_plan_open(self) -> bool:
        """Whether the plan fills the middle."""
        ...

    def open_plan(self, level_id: str) -> None:
        """Lays out a level's plan in the full middle."""
        ...

    def close_plan(self) -> None:
        """Back to the map and the bench."""
        ...

    def walk_or_leave(self) -> None:
        """Begins a trial walk at the start, or leaves the one under way."""
        ...

    def open_find_box(self) -> object:
        """Opens the line to find things by."""
        ...

    def join(self) -> None:
        """Joins two selected levels there and back; with one selected, asks which other."""
        ...

    def new_region(self) -> None:
        """Makes a region of the selected levels."""
        ...

    def look_again(self) -> None:
        """Compares the level files on disk with the flow's anew."""
        ...

    def fold_survey(self) -> None:
        """Folds the survey column away, or out again."""
        ...

    def help(self) -> None:
        """Opens the handbook at the page on what has the keyboard."""
        ...

    def open_handbook(self, page: str, heading: str = "") -> None:
        """Opens a page of the handbook beside the work."""
        ...

    def open_do_box(self) -> object:
        """Opens the line to find actions by."""
        ...

    def toggle_outline(self) -> None:
        """Shows the view that has the keyboard as a list, or puts the list away."""
        ...

    def begin_first_steps(self) -> None:
        """Leads through seven steps on the demo."""
        ...

    @property
    def notes_happenings(self) -> bool:
        """Whether the program notes what happens."""
        ...

    def tell_happenings(self) -> None:
        """Shows what the program has noted of its own doings."""
        ...

    def about(self) -> None:
        """Says what this is."""
        ...

    def close(self) -> bool:
        """Closes the program, if the person in front of it agrees."""
        ...

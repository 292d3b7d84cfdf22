"""All requests, by what they are about."""

from pathlib import Path

from PyQt6.QtCore import QObject

from mossy_bridge.desk.requests.arrivals import ArrivalRequests
from mossy_bridge.desk.requests.boards import BoardRequests
from mossy_bridge.desk.requests.crossings import CrossingRequests
from mossy_bridge.desk.requests.facts import FactRequests
from mossy_bridge.desk.requests.findings import FindingRequests
from mossy_bridge.desk.requests.level_files import LevelFileRequests
from mossy_bridge.desk.requests.levels import LevelRequests
from mossy_bridge.desk.requests.plans import PlanRequests
from mossy_bridge.desk.requests.transitions import TransitionRequests
from mossy_bridge.desk.requests.upkeep import UpkeepRequests
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.desk.session.selection import Selection


class Requests(QObject):
    """Edits the document as the designer asks, mostly about what is selected."""

    def __init__(self, document: Document, selection: Selection):
        super().__init__(document)
        self._document, self._selection = document, selection
        self.door = EditDoor(document, selection)
        self.levels = LevelRequests(document, selection, self.door)
        self.crossings = CrossingRequests(document, selection, self.door)
        self.plans = PlanRequests(document, selection, self.door)
        self.upkeep = UpkeepRequests(document, selection, self.door)
        self.facts = FactRequests(document, self.door)
        self.transitions = TransitionRequests(document, self.door)
        self.arrivals = ArrivalRequests(document, self.door)
        self.boards = BoardRequests(document, selection, self.door)
        self.level_files = LevelFileRequests(document, self.door)
        self.findings = FindingRequests(document, self.door)

    @property
    def folder(self) -> Path | None:
        """The folder of the flow's file, in which pictures are looked for."""
        return self._document.folder

    def remove(self) -> None:
        """Removes what is selected: things on a plan, crossings, or else levels."""
        selected = self._selection.now
        if len(selected.crossings) > 1 or self._selection.exit_id:
            self.crossings.remove()
        elif selected.parts:
            self.plans.remove(selected.level, selected.parts)
        elif selected.level.startswith("pattern:"):
            self.upkeep.remove_pattern(selected.level)
        else:
            self.levels.remove()

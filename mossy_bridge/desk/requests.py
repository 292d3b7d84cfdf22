"""The one place where what views ask for becomes an edit of the flow: one named step each."""

from collections.abc import Callable

from PyQt6.QtCore import QObject

from mossy_bridge.checks.finding import Finding
from mossy_bridge.desk.document import Document
from mossy_bridge.desk.selection import Selection
from mossy_bridge.model import edits
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.patterns import resolved
from mossy_bridge.model.places import title_of


class Requests(QObject):
    """Edits the document as the designer asks, mostly about what is selected."""

    def __init__(self, document: Document, selection: Selection):
        super().__init__(document)
        self._document, self._selection = document, selection

    @property
    def _level(self) -> Level | None:
        return self._selection.level(self._document.flow)

    def _title(self, place: str) -> str:
        return title_of(resolved(self._document.flow), place)

    # -- crossings -------------------------------------------------------------------------------------

    def connect_exit(self, level: str, exit_: str, target: str, spawn: str) -> None:
        """Leads an exit to a level's spawn point."""
        name = f"lead {self._title(f'{level}.{exit_}')} to {self._title(target)}"
        self._document.edit(name, lambda flow: edits.connect(flow, level, exit_, target, spawn))

    def lead_to_level(self, target: str) -> None:
        """Leads the selected exit to another level."""
        self.connect_exit(self._selection.level_id, self._selection.exit_id, target, "")

    def land_at(self, spawn: str) -> None:
        """Lets the selected exit land at another spawn point of its level."""
        exit_ = self._selection.exit(resolved(self._document.flow))
        if exit_ and exit_.to:
            self.connect_exit(self._selection.level_id, exit_.id, exit_.to.level, spawn)

    def use_transition(self, transition: str) -> None:
        """Gives the selected exit another transition."""
        level, exit_ = self._selection.level_id, self._selection.exit_id
        name = f"change the transition of {self._title(f'{level}.{exit_}')}"
        self._document.edit(name, lambda flow: edits.set_exit(flow, level, exit_, transition=transition))

    def new_exit(self) -> None:
        """Adds an exit to the selected level, and selects it."""
        level = self._level
        if level is None:
            return
        number = len(level.exits) + 1
        made: list[str] = []

        def change(flow: Flow) -> Flow:
            flow, exit_id = edits.add_exit(flow, level.id, f"Exit {number}")
            made.append(exit_id)
            return flow

        if self._document.edit(f"add an exit to {level.title}", change):
            self._selection.select(level.id, made[0])

    # -- levels ----------------------------------------------------------------------------------------

    def new_level(self) -> None:
        """Adds a level behind the selected one, and selects it."""
        number = len(self._document.flow.levels) + 1
        after = self._selection.level_id
        made: list[str] = []

        def change(flow: Flow) -> Flow:
            flow, level_id = edits.add_level(flow, f"New level {number}", after)
            made.append(level_id)
            return flow

        if self._document.edit("add a level", change):
            self._selection.select(made[0])

    def remove(self) -> None:
        """Removes the selected exit, or else the selected level."""
        level, exit_id = self._level, self._selection.exit_id
        if level is None:
            return
        if exit_id:
            name = f"remove {self._title(f'{level.id}.{exit_id}')}"
            change: Callable[[Flow], Flow] = lambda flow: edits.remove_thing(flow, level.id, "exits", exit_id)  # noqa: E731
            if self._document.edit(name, change):
                self._selection.select(level.id)
        elif self._document.edit(f"remove {level.title}", lambda flow: edits.remove_levels(flow, [level.id])):
            self._selection.select()

    def rename(self, level_id: str, text: str) -> None:
        """Gives a level another name. Ids stay, so nothing that refers to it breaks."""
        step = f"rename {self._title(level_id)}"
        self._document.edit(step, lambda flow: edits.set_level(flow, level_id, name=text))

    def recode(self, level_id: str, text: str) -> None:
        """Gives a level another code."""
        step = f"change the code of {self._title(level_id)}"
        self._document.edit(step, lambda flow: edits.set_level(flow, level_id, code=text))

    def move_to_region(self, region: str) -> None:
        """Puts the selected level into another region."""
        level = self._level
        if level:
            step = f"move {level.title} to another region"
            self._document.edit(step, lambda flow: edits.set_level(flow, level.id, region=region))

    def start_here(self) -> None:
        """Lets the game start at the selected level."""
        level = self._level
        if level:
            self._document.edit(f"start at {level.title}", lambda flow: edits.set_start(flow, level.id))

    def place_card(self, level_id: str, x: float, y: float) -> None:
        """Keeps a card where it was put on the map."""
        name = f"move the card of {self._title(level_id)}"
        self._document.edit(name, lambda flow: edits.place_card(flow, level_id, x, y))

    # -- findings --------------------------------------------------------------------------------------

    def repair(self, finding: Finding) -> None:
        """Carries out the repair of a finding."""
        repair = finding.repair
        if repair:
            label = repair.label[:1].lower() + repair.label[1:]
            self._document.edit(f"repair: {label}", repair.edit)

    def accept(self, finding: Finding, why: str) -> None:
        """Accepts a finding, for a reason."""
        at = finding.at[0] if finding.at else ""
        self._document.edit("accept a finding", lambda flow: edits.accept(flow, finding.check, at, why))

    def withdraw(self, finding: Finding) -> None:
        """Takes back that a finding was accepted."""
        waivers = self._document.flow.waivers
        for waiver in waivers:
            if waiver.check == finding.check and waiver.at in (*finding.at, " ".join(finding.at)):
                at = waiver.at
                self._document.edit(
                    "take back an acceptance", lambda flow, at=at: edits.withdraw(flow, finding.check, at)
                )
                return

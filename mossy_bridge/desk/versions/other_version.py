"""Another version of the flow, held beside it: what it has otherwise, and taking that over."""

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.appraisal.appraise import Appraisal, appraise, default_budget
from mossy_bridge.appraisal.comparison import ToldChange, VersionComparison, compare, told_changes
from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.naming import listed
from mossy_bridge.desk.workers.background_task import BackgroundTask, Job
from mossy_bridge.exchange.merging.changes import apply
from mossy_bridge.exchange.reading import CannotRead, flow_from_tree, read_flow
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.model.flow import Flow


class OtherVersion(QObject):
    """Compares the present flow with another version. ``changed()`` follows every other set of differences, or what is
    known of their effect; ``begun()`` asks to have it shown; ``place_wanted(level, thing)`` to have a place shown."""

    changed = pyqtSignal()
    begun = pyqtSignal()
    place_wanted = pyqtSignal(str, str)

    def __init__(self, document: Document, requests: Requests, person: Person):
        super().__init__(document)
        self._document, self._door, self._person = document, requests.door, person
        self.name = ""
        """What the other version is called; "" while there is none."""
        self.changes: Sequence[ToldChange] = ()
        """What it has otherwise: what would make it of the present flow."""
        self.effect: VersionComparison | None = None
        """What that does, once it is known."""
        self.flow = Flow()
        """The other version."""
        self._appraised: Appraisal | None = None
        self._judged_for: Appraisal | None = None
        self._shown = -1
        self._comparing, self._judging = BackgroundTask(self), BackgroundTask(self)
        self._comparing.done.connect(self._on_compared)
        self._judging.done.connect(self._on_judged)

    @property
    def busy(self) -> bool:
        """Whether versions are being compared."""
        return self._comparing.busy or self._judging.busy

    @property
    def levels(self) -> frozenset[str]:
        """The levels that differ, or that only one of the two has."""
        parts = (told.change.at.split(".") for told in self.changes)
        return frozenset(part[1] for part in parts if part[0] == "levels" and len(part) > 1)

    def differences_of(self, level_id: str, exit_id: str = "") -> list[ToldChange]:
        """What it has otherwise in a level, or in one exit of it."""
        path = f"levels.{level_id}.exits.{exit_id}" if exit_id else f"levels.{level_id}"
        return [told for told in self.changes if f"{told.change.at}.".startswith(f"{path}.")]

    def choose(self) -> None:
        """Compares with a file that is asked for."""
        path = self._person.open_path(self._document.folder)
        if path is not None:
            self.open(path)

    def open(self, path: Path) -> None:
        """Compares with the flow in a file."""
        try:
            flow = read_flow(path)
        except CannotRead as error:
            self._person.tell(f"{path.name} cannot be compared", listed(error.problems))
            return
        self.hold(path.name, flow)

    def hold(self, name: str, flow: Flow) -> None:
        """Compares with a flow that is known already."""
        self.name, self.flow, self._shown = name, flow, -1
        self._appraised = self._judged_for = self.effect = None
        self.look(self._document.flow)
        self.begun.emit()

    def leave(self) -> None:
        """Compares no more."""
        self._comparing.cancel()
        self._judging.cancel()
        self.name, self.changes, self.effect = "", (), None
        self.changed.emit()

    def stop(self) -> None:
        """Gives up all that is under way."""
        self._comparing.stop()
        self._judging.stop()

    def look(self, flow: Flow) -> None:
        """The present flow is another one now."""
        if self.name:
            other = self.flow
            self._comparing.ask(lambda _: list(told_changes(flow, other)))

    def judge(self, present: Appraisal) -> None:
        """Works out what the differences do, with the present appraisal."""
        if not self.name or present is self._judged_for:
            return
        self._judged_for = present
        other, known = self.flow, self._appraised

        def work(job: Job) -> tuple[Appraisal, VersionComparison]:
            appraised = known or appraise(other, budget=default_budget(other, job.cancelled))
            return appraised, compare(present, appraised, job.cancelled)

        self._judging.ask(work)

    def _on_compared(self, found: list[ToldChange]) -> None:
        self.changes = found
        self.changed.emit()

    def _on_judged(self, found: tuple[Appraisal, VersionComparison]) -> None:
        self._appraised, self.effect = found
        self.changed.emit()

    # -- going through them ----------------------------------------------------------------------------

    def take(self, told: ToldChange) -> None:
        """Takes one difference over."""
        change = told.change
        self._door.edit(f"take over: {told.words}", lambda flow: flow_from_tree(apply(tree_of(flow), [change])))

    def take_all(self) -> None:
        """Makes the present flow the other one, as one step."""
        other = self.flow
        self._door.edit(f"take over all of {self.name}", lambda _: other)

    def show_next(self) -> None:
        """Shows the place of the next difference; behind the last comes the first."""
        if self.changes:
            self._shown = (self._shown + 1) % len(self.changes)
            self.show(self.changes[self._shown])

    def show(self, told: ToldChange) -> None:
        """Shows the place of a difference."""
        parts = told.change.at.split(".")
        if parts[0] == "levels" and len(parts) > 1:
            self.place_wanted.emit(parts[1], parts[3] if len(parts) > 3 else "")

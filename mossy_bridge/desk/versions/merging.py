"""Two other versions brought together with the present flow: conflicts decided one by one."""

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.naming import listed
from mossy_bridge.exchange.merging.flow_tree import Tree
from mossy_bridge.exchange.merging.three_way import Conflict, Side, merge
from mossy_bridge.exchange.merging.wording import ChangeWording
from mossy_bridge.exchange.reading import CannotRead, flow_from_tree, read_flow
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.model.flow import Flow


class VersionMerging(QObject):
    """Keeps what is brought together.

    ``changed()`` follows every decision, ``begun()`` asks to have the conflicts shown.
    """

    changed = pyqtSignal()
    begun = pyqtSignal()

    def __init__(self, document: Document, requests: Requests, person: Person):
        super().__init__(document)
        self._document, self._door, self._person = document, requests.door, person
        self.name = ""
        """What their version is called; "" while nothing is brought together."""
        self.conflicts: Sequence[Conflict] = ()
        self.decided: dict[str, Side] = {}
        self._base: Tree = {}
        self._ours: Tree = {}
        self._theirs: Tree = {}
        self._flow = Flow()
        self.words = ChangeWording({}, {})

    @property
    def is_decided(self) -> bool:
        """Whether all conflicts are."""
        return all(conflict.at in self.decided for conflict in self.conflicts)

    def choose(self) -> None:
        """Brings together with files that are asked for: their version, and the one that both came from."""
        theirs = self._person.version_path("Their version", self._document.folder)
        base = self._person.version_path("The version that both came from", self._document.folder) if theirs else None
        if theirs and base:
            self.open(base, theirs)

    def open(self, base: Path, theirs: Path) -> None:
        """Brings the present flow together with theirs; what is in conflict is shown first."""
        trees = []
        for path in (base, theirs):
            try:
                trees.append(tree_of(read_flow(path)))
            except CannotRead as error:
                self._person.tell(f"{path.name} cannot be read", listed(error.problems))
                return
        self._flow, self._ours = self._document.flow, tree_of(self._document.flow)
        self._base, self._theirs = trees
        merged = merge(self._base, self._ours, self._theirs)
        self.name, self.conflicts, self.decided = theirs.name, merged.conflicts, {}
        self.words = ChangeWording(self._theirs, self._ours)
        if self.conflicts:
            self.changed.emit()
            self.begun.emit()
        else:
            self.finish()

    def decide(self, conflict: Conflict, side: Side) -> None:
        """Takes one side of a conflict."""
        self.decided[conflict.at] = side
        self.changed.emit()

    def finish(self) -> None:
        """Makes what all comes to, as one step. A flow that was changed meanwhile is brought together anew."""
        if self._document.flow is not self._flow:
            self._person.tell("Not brought together", "The flow has changed meanwhile: begin anew.")
            return
        merged = merge(self._base, self._ours, self._theirs, self.decided)
        step, known = f"bring together with {self.name}", bool(self.conflicts)
        if self._door.edit(step, lambda _: flow_from_tree(merged.ours), shown=known) or not known:
            self.leave()

    def leave(self) -> None:
        """Gives it up."""
        self.name, self.conflicts, self.decided = "", (), {}
        self.changed.emit()

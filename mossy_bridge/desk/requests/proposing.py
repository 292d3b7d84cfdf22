"""Edits with consequences for others are proposed first; those without are made at once."""

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.desk.session.document import Document
from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.exchange.rereading import reread
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.edit_impact import Consequence, consequences

Change = Callable[[Flow], Flow]


@dataclass(frozen=True)
class Proposal:
    """An edit that waits for a yes: its step, what it does to others, and another way of doing it."""

    step: str
    change: Change
    consequences: tuple[Consequence, ...]
    done: Callable[[], object] = lambda: None
    """Called once it is made."""
    otherwise: tuple[str, Change] | None = None
    """What the other way is called, and that way."""


class Proposer(QObject):
    """Makes edits, or emits ``proposed`` with those that concern others."""

    proposed = pyqtSignal(object)

    def __init__(self, document: Document):
        super().__init__(document)
        self._document = document

    def ahead(self, change: Change) -> tuple[Consequence, ...]:
        """What an edit would do to others; nothing where it is impossible."""
        flow = self._document.flow
        try:
            return consequences(flow, reread(change(flow), flow))
        except (CannotEdit, CannotRead):
            return ()

    def propose(
        self,
        step: str,
        change: Change,
        done: Callable[[], object] = lambda: None,
        otherwise: tuple[str, Change] | None = None,
        known: bool = False,
    ) -> None:
        """Makes the edit, after a yes where it concerns others. ``known`` says that its consequences were
        already shown, as while dragging."""
        found = () if known else self.ahead(change)
        proposal = Proposal(step, change, found, done, otherwise)
        if found or (otherwise and not known):
            self.proposed.emit(proposal)
        else:
            self.carry_out(proposal)

    def carry_out(self, proposal: Proposal, other_way: bool = False) -> None:
        """Makes a proposed edit."""
        change = proposal.otherwise[1] if other_way and proposal.otherwise else proposal.change
        if self._document.edit(proposal.step, change):
            proposal.done()

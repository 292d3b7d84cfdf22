"""The one door for edits of the window.

An edit is one value, computed once: the flow after it, what to select then, and what it would do to others. Whether it
must be shown first follows from that, not from who asked for it.
"""

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from itertools import islice

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.selection import Selected, Selection
from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.exchange.rereading import reread
from mossy_bridge.model.addresses import place_words
from mossy_bridge.model.differences import differences
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.edit_impact import Consequence, consequences
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.survey.result import Survey

Change = Callable[[Flow], Flow | tuple[Flow, Selected]]
"""An edit of the flow, as a pure function; it may say what is to be selected afterwards."""
MOST_CHANGES = 12
"""So many changes of a repair are told before it is made."""
MOST_REFUSALS = 6
"""So many reasons why an edit is impossible are told at once."""


@dataclass(frozen=True)
class Edit:
    """An edit that has been computed, and its name as an undoable step."""

    name: str
    before: Flow
    after: Flow
    selected: Selected | None
    """What to select once it is made; None for what is selected now."""
    consequences: tuple[Consequence, ...]
    """What it does to others."""


@dataclass(frozen=True)
class Proposal:
    """An edit that waits for a yes, and perhaps another way of doing it, with what that is called."""

    edit: Edit
    otherwise: tuple[str, Edit] | None = None
    changes: tuple[str, ...] = ()
    """What it changes, in words, where that is to be shown as well."""


class EditDoor(QObject):
    """Makes edits, or emits ``proposed`` with those that concern others, ``offered`` with those that go well with one
    just made. ``refused`` says in a sentence why one is impossible."""

    proposed = pyqtSignal(object)
    offered = pyqtSignal(object)
    refused = pyqtSignal(str)

    def __init__(self, document: Document, selection: Selection):
        super().__init__(document)
        self._document, self._selection = document, selection
        self._rules: tuple[Flow, Rules] | None = None
        self.survey: Survey | None = None
        """The latest survey, which knows what play can do."""

    def edit(self, name: str, change: Change, otherwise: tuple[str, Change] | None = None, shown: bool = False) -> bool:
        """Makes an edit one named step, after a yes where it concerns others or can be done in another way; whether it
        was made at once. ``shown`` says that its consequences were shown already, as while dragging. An impossible one
        changes nothing."""
        try:
            edit = self._computed(name, change)
            other = (otherwise[0], self._computed(name, otherwise[1])) if otherwise else None
        except (CannotEdit, CannotRead) as error:
            self.refused.emit(_reasons(self._document.flow, error))
            return False
        if not shown and (edit.consequences or other):
            self.proposed.emit(Proposal(edit, other))
            return False
        return self._make(edit)

    def offer(self, name: str, change: Change) -> None:
        """Offers an edit that would go well with the last one; whoever wants it not goes on."""
        with suppress(CannotEdit, CannotRead):
            self.offered.emit(Proposal(self._computed(name, change)))

    def show_first(self, name: str, change: Change) -> None:
        """Shows what an edit would change, and does, before it is made; an impossible one is refused."""
        try:
            edit = self._computed(name, change)
        except (CannotEdit, CannotRead) as error:
            self.refused.emit(_reasons(self._document.flow, error))
            return
        told = tuple(islice(differences(edit.before, edit.after), MOST_CHANGES))
        self.proposed.emit(Proposal(edit, changes=told))

    def carry_out(self, proposal: Proposal, other_way: bool = False) -> None:
        """Makes a proposed edit, if the flow is still the one it was proposed for."""
        edit = proposal.otherwise[1] if other_way and proposal.otherwise else proposal.edit
        if edit.before is self._document.flow:
            self._make(edit)

    def consequences(self, change: Change) -> tuple[Consequence, ...]:
        """What an edit would do to others; nothing where it is impossible. For showing it while dragging."""
        try:
            return self._computed("", change).consequences
        except (CannotEdit, CannotRead):
            return ()

    def amend(self, change: Callable[[Flow], Flow]) -> None:
        """Changes the flow without a step of its own: what follows from looking, not from doing."""
        self._document.amend(reread(change(self._document.flow), self._document.flow))

    def _computed(self, name: str, change: Change) -> Edit:
        before = self._document.flow
        made = change(before)
        after, selected = made if isinstance(made, tuple) else (made, None)
        after = reread(after, before)
        return Edit(name, before, after, selected, consequences(before, after, self._rules_of(before), self._origins))

    def _rules_of(self, flow: Flow) -> Rules | None:
        """The rules that recorded walks are replayed by; what was made for the flow before is used again."""
        if not flow.walks:
            return None
        if self._rules is None or self._rules[0] is not flow:
            self._rules = flow, Rules(flow, resuming=True, before=self._rules[1] if self._rules else None)
        return self._rules[1]

    def _origins(self, screen: str) -> set[str] | None:
        """The play levels from which one may have come to a screen; None where that is not known."""
        survey = self.survey
        if survey is None or survey.flow.level(screen) is None or not survey.tells_locations:
            return None
        return {state.origin.level for state in survey.samples(screen) if state.origin}

    def _make(self, edit: Edit) -> bool:
        if not self._document.make(edit.name, edit.after):
            return False
        if edit.selected is not None:
            self._selection.take(edit.selected)
        return True


def _reasons(flow: Flow, error: CannotEdit | CannotRead) -> str:
    """Why an edit is impossible, one reason a line."""
    if isinstance(error, CannotEdit):
        return str(error)
    return "\n".join(_in_words(flow, problem) for problem in error.problems[:MOST_REFUSALS])


def _in_words(flow: Flow, problem: str) -> str:
    """A problem as reading tells it, its place in the designer's words."""
    place, _, sentence = problem.partition(": ")
    return f"{place_words(flow, place)}: {sentence}"

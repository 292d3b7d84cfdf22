"""Constant propagation: bits of the state vector that have the same value in every state with a location.

Kildall's idea (1973), in the simplest lattice that serves: bits that no enabled transition ever changes, and facts of a
visit in levels where nothing changes them, since every arrival gives these their first values. So some guards always
hold, some never, and some updates change nothing. Linear in the transitions.
"""

from mossy_bridge.reach.system.guards import ALWAYS, Cubes
from mossy_bridge.reach.system.program_graph import ENDING, GuardedTransition, ProgramGraph
from mossy_bridge.reach.system.updates import Assign, Copy, Update


class Constants:
    """The constant bits of one flow, all of whose locations are compiled."""

    def __init__(self, program: ProgramGraph):
        self._program = program
        copies = program.layout.copies
        self._taken_back = copies["now"].mask if copies else 0
        self.never_enabled = [False] * len(program.transitions)
        """For each transition whether its guard holds in no state."""
        self._constant: list[tuple[int, int]] = []
        """For each location the constant bits, and their values."""
        for _ in range(2):  # the second time without what the first has shown to be impossible
            self._find_unchanged()
            self.never_enabled = list(map(self._never_holds, program.transitions))
        if program.updates.visiting.clear & ~self._constant[0][0]:
            self._find_unchanged_in_visits()
            self.never_enabled = list(map(self._never_holds, program.transitions))

    def _find_unchanged(self) -> None:
        """What no possible transition changes is constant everywhere. What a restart takes back is as it was earlier,
        so it is constant if nothing else changes it."""
        start = self._program.start[1] if self._program.start else 0
        changed = 0
        for transition, never in zip(self._program.transitions, self.never_enabled, strict=True):
            if transition.update and not never:
                changed |= _changed(transition.update, start, self._taken_back)
        self._constant = [(~changed, start & ~changed)] * max(1, len(self._program.locations))

    def _never_holds(self, transition: GuardedTransition) -> bool:
        if transition.guard is ALWAYS or not isinstance(transition.guard, Cubes):
            return False
        constant, vector = self._constant[transition.location]
        return all((vector ^ value) & mask & constant for mask, value in transition.guard.cubes)

    def _find_unchanged_in_visits(self) -> None:
        """Adds facts of a visit in the levels where nothing changes them."""
        program = self._program
        fixed, value = self._constant[0]
        visit, first = program.updates.visiting.clear & ~fixed, program.updates.visiting.set
        back = self._taken_back
        changed = {
            level.id: _changed(program.updates.arriving(level.id), first, back) for level in program.rules.flow.levels
        }
        for transition in program.transitions:
            if transition.target != ENDING and not transition.crosses:
                changed[program.locations[transition.location].place] |= _changed(transition.update, first, back)
        for number, location in enumerate(program.locations):
            steady = visit & ~changed[location.place]
            self._constant[number] = fixed | steady, value | first & steady

    def always_holds(self, transition: GuardedTransition, but: int = 0) -> bool:
        """Whether a transition's guard, apart from some bits, holds in every state with its location."""
        if transition.guard is ALWAYS:
            return True
        if not isinstance(transition.guard, Cubes):
            return False
        constant, vector = self._constant[transition.location]
        return any(not mask & ~but & ~(constant & ~(vector ^ value)) for mask, value in transition.guard.cubes)

    def changes_nothing(self, transition: GuardedTransition) -> bool:
        """Whether a transition's update changes no vector that there may be with its location."""
        constant, vector = self._constant[transition.location]
        for part in transition.update:
            if not isinstance(part, Assign):
                return False
            if part.set & ~(constant & vector) or part.clear & ~part.set & ~(constant & ~vector):
                return False
        return True


def _changed(update: Update, vector: int, taken_back: int) -> int:
    """The bits that an update may make other than they are in a vector, but for those that it only takes back."""
    found = 0
    for part in update:
        if isinstance(part, Copy):
            found |= part.targets & ~taken_back
        else:
            found |= part.applied(vector) ^ vector if isinstance(part, Assign) else part.field.mask
    return found

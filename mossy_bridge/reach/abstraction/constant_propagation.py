"""Constant propagation: bits of the state vector that have the same value in every state with a location.

Kildall's idea (1973), in the simplest lattice that serves: bits that no enabled transition ever changes, and facts of a
visit in levels where nothing changes them, since every arrival gives these their first values. So some guards always
hold, some never, and some updates change nothing. Linear in the transitions.
"""

from collections.abc import Callable

import numpy as np

from mossy_bridge.reach.arrays import Bools, unique
from mossy_bridge.reach.system.guards import ALWAYS, Cubes, Guard
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.transition_columns import TransitionColumns
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition
from mossy_bridge.reach.system.updates import Assign, Copy, Update

Known = tuple[int, int]
"""Constant bits, and their values."""


class Constants:
    """The constant bits of one flow, all of whose locations are compiled; ``columns`` are its transitions."""

    def __init__(self, program: ProgramGraph, columns: TransitionColumns):
        self._program = program
        copies = program.layout.copies
        self._taken_back = copies["now"].mask if copies else 0
        self.never_enabled: Bools = np.zeros(len(program.transitions), np.bool_)
        """For each transition whether its guard holds in no state."""
        self._everywhere: Known = (0, 0)
        """What is constant in all locations alike."""
        self._by_location: list[Known] = []
        """What is constant in each location, where they differ."""
        for _ in range(2):  # the second time without what the first has shown to be impossible
            self._everywhere = self._unchanged(columns)
            self.never_enabled = self._of_guards(_never_holds, columns)
        if program.updates.visiting.clear & ~self._everywhere[0]:
            self._by_location = self._unchanged_in_visits()
            self.never_enabled = self._of_guards(_never_holds, columns)
        self.always_enabled: Bools = self._of_guards(_always_holds, columns)
        """For each transition whether its guard holds in every state with its location."""
        self.changing_nothing: Bools = self._of_updates(_changes_nothing, columns)
        """For each transition whether its update changes no vector that there may be with its location."""

    def _of_guards(self, answer: Callable[[Guard, Known], bool], columns: TransitionColumns) -> Bools:
        if self._by_location:
            return self._one_by_one(lambda one: answer(one.guard, self._by_location[one.location]))
        return columns.by_guard(lambda guard: answer(guard, self._everywhere))

    def _of_updates(self, answer: Callable[[Update, Known], bool], columns: TransitionColumns) -> Bools:
        if self._by_location:
            return self._one_by_one(lambda one: answer(one.update, self._by_location[one.location]))
        return columns.by_update(lambda update: answer(update, self._everywhere))

    def _one_by_one(self, answer: Callable[[GuardedTransition], bool]) -> Bools:
        return np.fromiter(map(answer, self._program.transitions), np.bool_, len(self._program.transitions))

    def _unchanged(self, columns: TransitionColumns) -> Known:
        """What no possible transition changes is constant everywhere. What a restart takes back is as it was earlier,
        so it is constant if nothing else changes it."""
        start = self._program.start[1] if self._program.start else 0
        changed = 0
        for number in unique(columns.update[~self.never_enabled]).tolist():
            changed |= _changed(columns.updates[number], start, self._taken_back)
        return ~changed, start & ~changed

    def _unchanged_in_visits(self) -> list[Known]:
        """The same for each location, with facts of a visit in the levels where nothing changes them."""
        program, (fixed, value) = self._program, self._everywhere
        visit, first = program.updates.visiting.clear & ~fixed, program.updates.visiting.set
        back = self._taken_back
        changed = {
            level.id: _changed(program.updates.arriving(level.id), first, back) for level in program.rules.flow.levels
        }
        for transition in program.transitions:
            if transition.target != ENDING and not transition.crosses:
                changed[program.locations[transition.location].place] |= _changed(transition.update, first, back)
        steady = [visit & ~changed[location.place] for location in program.locations]
        return [(fixed | bits, value | first & bits) for bits in steady]

    def always_holds(self, transition: GuardedTransition, but: int) -> bool:
        """Whether a transition's guard, apart from some bits, holds in every state with its location."""
        known = self._by_location[transition.location] if self._by_location else self._everywhere
        return _always_holds(transition.guard, known, but)


def _never_holds(guard: Guard, known: Known) -> bool:
    if guard is ALWAYS or not isinstance(guard, Cubes):
        return False
    constant, vector = known
    return all((vector ^ value) & mask & constant for mask, value in guard.cubes)


def _always_holds(guard: Guard, known: Known, but: int = 0) -> bool:
    if guard is ALWAYS:
        return True
    if not isinstance(guard, Cubes):
        return False
    constant, vector = known
    return any(not mask & ~but & ~(constant & ~(vector ^ value)) for mask, value in guard.cubes)


def _changes_nothing(update: Update, known: Known) -> bool:
    constant, vector = known
    for part in update:
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

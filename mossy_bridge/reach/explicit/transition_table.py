"""The transitions of a system as columns of machine words, so that frontier search tries many of them at a time.

A state is kept as a row of columns: its vector, and the number of its location in bits of their own. So a transition
masks and sets bits of the whole.
"""

from collections.abc import Iterable
from typing import TypeVar

import numpy as np

from mossy_bridge.reach.arrays import Ints, Numbers, Vectors, spans, unique
from mossy_bridge.reach.system.guards import Cube, Cubes, Guard, cube_fits, machine_words
from mossy_bridge.reach.system.state_vector import BITS
from mossy_bridge.reach.system.transition_system import TransitionSystem
from mossy_bridge.reach.system.transitions import ENDING
from mossy_bridge.reach.system.updates import Assign, Update

T = TypeVar("T")


class TransitionTable:
    """The transitions of a system as arrays, one row for each; all its locations are compiled. Locations stand above
    the highest bit that the layout uses, or in a column of their own."""

    def __init__(self, system: TransitionSystem):
        layout, transitions = system.layout, system.transitions
        self.used, limits = layout.width, system.limits
        room = BITS - layout.spare
        width = max(1, (len(system.first_transition) - 2).bit_length())
        self.shift = (layout.width - 1) * BITS + room if width <= layout.spare else layout.width * BITS
        self.columns = layout.width if width <= layout.spare else layout.width + 1
        self.bits = self.shift + width
        self._location_mask = ((1 << width) - 1) << self.shift
        self.first = np.array(system.first_transition, dtype=np.int64)
        widest = int(np.diff(self.first).max(initial=1))
        self.chunk = max(16, min(limits.frontier_chunk, limits.chunk_cells // (widest * self.columns)))
        """How many states are expanded at a time."""
        self._states_per_location = limits.states_per_location
        self.transitions = transitions
        self.ends = np.array([transition.target == ENDING for transition in transitions], dtype=np.bool_)
        self.forced = np.array([transition.forced for transition in transitions], dtype=np.bool_)
        self.any_forced, self.any_ending = bool(self.forced.any()), bool(self.ends.any())
        cubes = [single_cube(transition.guard) or (0, 0) for transition in transitions]
        self.mask = self.split([mask for mask, _ in cubes])
        self.value = self.split([value for _, value in cubes])
        changes = [self._change(transition.update, transition.target) for transition in transitions]
        self.keep = ~self.split([change.clear for change in changes])
        self.set = self.split([change.set for change in changes])
        self.guards: list[Guard] = []
        self.updates: list[Update] = []
        self.guard = _numbered([None if single_cube(t.guard) else t.guard for t in transitions], self.guards)
        self.update = _numbered([None if _is_assignment(t.update) else t.update for t in transitions], self.updates)

    def _change(self, update: Update, target: int) -> Assign:
        own = update[0] if update and _is_assignment(update) else Assign()
        assert isinstance(own, Assign)
        return own.then(Assign(self._location_mask, max(target, 0) << self.shift))

    def split(self, values: Iterable[int]) -> Vectors:
        """Long integers as rows of machine words."""
        return np.array([machine_words(value, self.columns) for value in values], np.uint64).reshape(-1, self.columns)

    def location_of(self, states: Vectors) -> Ints:
        """The locations of states."""
        return (
            (states[:, self.shift // BITS] & np.uint64(self._location_mask >> (self.shift // BITS * BITS)))
            >> np.uint64(self.shift % BITS)
        ).astype(np.int32)

    def vectors_of(self, states: Vectors) -> Vectors:
        """The vectors of states."""
        vectors = states[:, : self.used].copy()
        if self.columns == self.used:
            vectors[:, -1] &= ~np.uint64(self._location_mask >> ((self.used - 1) * BITS))
        return vectors

    # -- successors ------------------------------------------------------------------------------------

    def successors(self, states: Vectors) -> tuple[Numbers, Ints, Vectors]:
        """Every enabled transition of some states: for each the index of the state, the transition's number, and the
        state after it (meaningless where it leads into an ending); in the order of states, then transitions.
        ``O(states x transitions)``, of all locations at once or one after the other."""
        location = self.location_of(states)
        here = unique(location)
        if len(states) >= self._states_per_location * len(here):
            source, transition, after = self._each_location(states, location, here)
        else:
            source, transition, after = self._all_together(states, location)
        if self.updates:
            self._update(transition, after)
        return source, transition, after

    def _update(self, transition: Ints, after: Vectors) -> None:
        """Applies those updates that are no mere assignments."""
        special = self.update[transition]
        for number in unique(special[special >= 0]):
            which = np.flatnonzero(special == number)
            changed = after[which]
            for part in self.updates[number]:
                part.apply(changed)
            after[which] = changed

    def _each_location(self, states: Vectors, location: Ints, here: Numbers) -> tuple[Numbers, Ints, Vectors]:
        """The successors, one location after the other."""
        if len(here) == 1:
            return self._of_location(states, int(here[0]))
        sources, numbers, afters = [], [], []
        for one in here.tolist():
            mine = np.flatnonzero(location == one)
            source, number, after = self._of_location(states[mine], one)
            sources.append(mine[source])
            numbers.append(number)
            afters.append(after)
        source = np.concatenate(sources)
        order = np.argsort(source.astype(np.uint16), kind="stable")
        return source[order], np.concatenate(numbers)[order], np.concatenate(afters)[order]

    def _of_location(self, states: Vectors, location: int) -> tuple[Numbers, Ints, Vectors]:
        """The successors of states with one location."""
        first, end = int(self.first[location]), int(self.first[location + 1])
        fits = np.empty((len(states), end - first), dtype=np.bool_)
        forced = np.zeros(len(states), dtype=np.bool_)
        for number in range(first, end):
            transition = self.transitions[number]
            cube = single_cube(transition.guard)
            holds = cube_fits(states, *cube) if cube else transition.guard.fits(states)
            if self.any_forced:
                holds &= ~forced
                forced |= holds & transition.forced
            fits[:, number - first] = holds
        source, index = np.nonzero(fits)
        kept, more = self.keep[first:end], self.set[first:end]
        return source, (index + first).astype(np.int32), (states[source] & kept[index]) | more[index]

    def _all_together(self, states: Vectors, location: Ints) -> tuple[Numbers, Ints, Vectors]:
        """The successors of all states at once."""
        first, end = self.first[location], self.first[location + 1]
        transition = spans(first, end)
        source = np.repeat(np.arange(len(states)), end - first)
        here = states[source]
        possible = ((here & self.mask[transition]) == self.value[transition]).all(axis=1)
        guard = self.guard[transition]
        for number in unique(guard[guard >= 0]):
            which = np.flatnonzero(guard == number)
            possible[which] = self.guards[number].fits(here[which])
        source, transition = source[possible], transition[possible]
        if self.any_forced:
            source, transition = self._only_forced(source, transition)
        after = (states[source] & self.keep[transition]) | self.set[transition]
        return source, transition.astype(np.int32), after

    def _only_forced(self, source: Numbers, transition: Numbers) -> tuple[Numbers, Numbers]:
        """Where a transition is forced, that one alone; transitions are in order, forced ones first."""
        forced = self.forced[transition]
        if not forced.any():
            return source, transition
        leads = np.ones(len(source), dtype=np.bool_)
        leads[1:] = source[1:] != source[:-1]
        start = np.flatnonzero(leads)
        alone = np.repeat(forced[start], np.diff(np.append(start, len(source))))
        keep = ~alone | (leads & forced)
        return source[keep], transition[keep]


def _numbered(values: Iterable[T | None], known: list[T]) -> Ints:
    """For each value its index among the different ones, which are added to ``known``; -1 for None."""
    places: dict[object, int] = {}
    found = []
    for value in values:
        key = value if isinstance(value, Cubes | tuple) else id(value)
        if value is not None and key not in places:
            places[key] = len(known)
            known.append(value)
        found.append(-1 if value is None else places[key])
    return np.array(found, dtype=np.int32)


def single_cube(guard: Guard) -> Cube | None:
    """The cube of a guard that is made of just one."""
    return guard.cubes[0] if isinstance(guard, Cubes) and len(guard.cubes) == 1 else None


def _is_assignment(update: Update) -> bool:
    return len(update) == 0 or (len(update) == 1 and isinstance(update[0], Assign))

"""The quotient of a program graph: a transition system whose locations are components of places joined there and back.

Its transitions are those of all places of a component, except those that stay in it and change nothing; of these only
whether they are ever enabled is asked. It is exact: whatever can be done from one place of a component can be done from
all (:mod:`mossy_bridge.reach.abstraction.scc_quotient`). Routes along it need not be the shortest, since distances
within a component are not known to it.
"""

from collections.abc import Callable, Container, Iterable, Iterator, Mapping, Sequence
from functools import cached_property, partial
from typing import NamedTuple

import numpy as np
from msgspec.structs import replace

from mossy_bridge.play.state import Move, State
from mossy_bridge.reach.abstraction.constant_propagation import Constants
from mossy_bridge.reach.abstraction.scc_quotient import Partition
from mossy_bridge.reach.arrays import Bools, Ints, Numbers, Vectors
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.system.guards import ALWAYS, Guard, packed_vectors, unpacked
from mossy_bridge.reach.system.program_graph import ProgramGraph, Stopper
from mossy_bridge.reach.system.routes import Route, SomeRoute
from mossy_bridge.reach.system.transition_columns import TransitionColumns
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition, Ready, enabled, prepared


class QuotientGraph:
    """The quotient of a program graph, all of whose locations are compiled. No places of the level ``apart`` are
    joined."""

    tells_level = False

    def __init__(self, program: ProgramGraph, apart: str = ""):
        self.program, self.rules, self.layout, self.guards = program, program.rules, program.layout, program.guards
        self.limits = program.limits
        columns = program.columns
        self.constants = Constants(program, columns)
        self._partition = partition = Partition(program, columns, self.constants, apart)
        self.component, self.members = partition.component, partition.members
        self.transitions: list[GuardedTransition] = []
        self.original: list[int] = []
        """For each transition its number in the program graph."""
        self.first_transition: list[int] = [0]
        self.lasting: list[bool] = partition.has_free
        """For each component whether some free transition is always possible in it."""
        component = np.array(self.component, np.int32)
        stays = self._add_transitions(columns, component)
        source, always = component[columns.location], columns.by_guard(lambda guard: guard is ALWAYS)
        self._staying = _Staying.of_those(stays, source, len(self.members))
        self._staying_if = _Staying.of_those(stays & ~always, source, len(self.members))
        """Those of them that ask something."""
        self._staying_always = np.flatnonzero(stays & always), source[stays & always]
        """Those that ask nothing, and the component of each."""
        self._ready: list[Ready | None] = [None] * len(self.members)
        places = [location.place for location in program.locations]
        self._levels = [
            tuple(dict.fromkeys(map(places.__getitem__, locations))) if len(locations) > 1 else (places[locations[0]],)
            for locations in self.members
        ]
        self._in_play = [any(map(program.in_play, locations)) for locations in self.members]
        self.start = (self.component[program.start[0]], program.start[1]) if program.start else None

    def _add_transitions(self, columns: TransitionColumns, component: Ints) -> Bools:
        """Makes the transitions of all components. For each transition of the program graph whether it stays in its
        component and changes nothing."""
        constants, count = self.constants, len(self.members)
        source = component[columns.location]
        target = np.where(columns.target == ENDING, ENDING, component[columns.target])
        possible = ~constants.never_enabled
        stays: Bools = possible & (source == target) & constants.changing_nothing & columns.plain
        stays &= ~self._partition.forcing[columns.location]
        made, first = _by_component(np.flatnonzero(possible & ~stays), source, count)
        self.first_transition, self.original = first.tolist(), made.tolist()
        ends = zip(self.original, source[made].tolist(), target[made].tolist(), strict=True)
        self.transitions = [
            replace(self.program.transitions[number], location=here, target=there) for number, here, there in ends
        ]
        return stays

    # -- as any transition system ----------------------------------------------------------------------

    @property
    def count(self) -> int:
        """How many components there are."""
        return len(self.members)

    def compile_all(self, _stop: Stopper) -> bool:
        """Nothing is left to compile."""
        return True

    def transitions_of(self, component: int) -> range:
        """The numbers of a component's transitions, forced ones first."""
        return range(self.first_transition[component], self.first_transition[component + 1])

    def moves(self, component: int, vector: int) -> list[tuple[int, int, int]]:
        """Every enabled transition, with the component and the vector it leads to."""
        ready = self._ready[component]
        if ready is None:
            ready = self._ready[component] = prepared(self.transitions, self.transitions_of(component))
        return enabled(ready, vector)

    def levels_of(self, component: int) -> Sequence[str]:
        """The levels that a component is in."""
        return self._levels[component]

    def in_play(self, component: int) -> bool:
        """Whether some place of a component is in a play level."""
        return self._in_play[component]

    def enters(self, transition: int) -> str:
        """The level that a transition surely arrives at, "" if it does not."""
        return self.program.enters(self.original[transition])

    def level_begun_in(self, _component: int) -> str:
        """The level that the flow begins in."""
        assert self.program.start is not None
        return self.program.level_begun_in(self.program.start[0])

    def state(self, component: int, vector: int) -> State:
        """A state in any place of a component."""
        return self.program.state(self.members[component][0], vector)

    def sample(self, component: int) -> State:
        """A state in any place of a component; its facts mean nothing."""
        return self.program.sample(self.members[component][0])

    @cached_property
    def _told_apart(self) -> set[str]:
        with_levels = list(zip(self.members, self._levels, strict=True))
        alone = {level for of, levels in with_levels if len(of) == 1 for level in levels}
        return alone.difference(level for of, levels in with_levels if len(of) > 1 for level in levels)

    def told_apart(self, level: str) -> bool:
        """Whether no place of a level is joined with others."""
        return level in self._told_apart

    def staying(self, component: int, vectors: Vectors) -> Iterator[tuple[GuardedTransition, int]]:
        """The transitions of the program graph that stay in a component and change nothing, if enabled with some of the
        vectors, each with the index of the first such vector."""
        few = [unpacked(columns) for columns in vectors[: self.limits.vectors_one_by_one]]
        more = (lambda: vectors) if len(vectors) > len(few) else None
        for number, index in self._enabled(self._staying.of(component), few, more):
            yield self.program.transitions[number], index

    def used_staying(
        self, states: Mapping[int, Sequence[int]], vector_of: Callable[[int], int]
    ) -> tuple[Numbers, Numbers]:
        """The transitions of the program graph that stay in their component and change nothing, each with the first of
        some ``states`` of the component in which it is enabled; ``vector_of`` tells their vectors."""
        first = np.full(self.count, -1, np.int64)
        first[list(states)] = [of[0] for of in states.values()]
        always, component = self._staying_always
        there = first[component] >= 0
        asking: dict[int, int] = {}
        for at in np.flatnonzero(np.diff(self._staying_if.first)).tolist():
            here = states.get(at, ())
            vectors = list(map(vector_of, here))
            few = vectors[: self.limits.vectors_one_by_one]
            more = partial(packed_vectors, vectors, self.layout.width) if len(vectors) > len(few) else None
            asking |= {number: here[index] for number, index in self._enabled(self._staying_if.of(at), few, more)}
        numbers, in_states = (np.fromiter(column, np.int64, len(asking)) for column in (asking, asking.values()))
        return np.concatenate([always[there], numbers]), np.concatenate([first[component[there]], in_states])

    def _enabled(
        self, numbers: Iterable[int], few: Sequence[int], all_of_them: Callable[[], Vectors] | None
    ) -> Iterator[tuple[int, int]]:
        """Those of some transitions of the program graph that are enabled with some vectors, each with the index of the
        first such vector; ``few`` are the first vectors, and ``all_of_them`` is None where there are no more."""
        transitions = self.program.transitions
        known: dict[int, int | None] = {}
        """For each guard, for there are few, the first of the vectors that it fits."""
        for number in numbers:
            guard = transitions[number].guard
            if id(guard) not in known:
                known[id(guard)] = _first_fitting(guard, few, all_of_them)
            index = known[id(guard)]
            if index is not None:
                yield number, index

    def stays(self, component: int, vectors: Vectors) -> Bools:
        """For each vector whether some move that stays in the component and changes nothing is possible."""
        if self.lasting[component]:
            return np.ones(len(vectors), dtype=np.bool_)
        found = np.zeros(len(vectors), dtype=np.bool_)
        for number in self._staying.of(component):
            found |= self.program.transitions[number].guard.fits(vectors)
        return found

    # -- routes ----------------------------------------------------------------------------------------

    def route(self, transitions: Iterable[int], last: Move | None = None, into: str = "", vector: int = 0) -> Route:
        """A route along some transitions; on to a level of the component they lead to (a play level, if none is named
        and there is one), or to a place where a last move is enabled with the vector, and by that move."""
        numbers = list(transitions)
        if numbers:
            component = self.transitions[numbers[-1]].target
        else:
            assert self.start is not None
            component = self.start[0]
        to = self._places_with(component, last, vector) if last else self._places_in(component, into)
        return SomeRoute((*self.moves_along(numbers, to), *((last,) if last else ())))

    def moves_along(self, transitions: Iterable[int], to: Container[int] | None = None) -> list[Move]:
        """The moves that some transitions stand for, from the start, free ones between them; on to one of some
        locations of the program graph."""
        assert self.program.start is not None
        here = self.program.start[0]
        found: list[Move] = []
        for number in transitions:
            transition = self.program.transitions[self.original[number]]
            found += [*self._partition.walk(here, (transition.location,)), transition.move]
            here = transition.target
        return found + (self._partition.walk(here, to) if to is not None else [])

    def _places_in(self, component: int, level: str) -> set[int]:
        """The locations of a component in a level; in play levels, if it has any, where none is named."""
        program, members = self.program, self.members[component]
        if level:
            return {location for location in members if program.locations[location].place == level}
        return set(filter(program.in_play, members)) or set(members)

    def _places_with(self, component: int, move: Move, vector: int) -> set[int]:
        """The locations of a component in which a move is enabled with a vector."""
        program = self.program
        return {
            location
            for location in self.members[component]
            for transition in map(program.transitions.__getitem__, program.transitions_of(location))
            if transition.move == move and transition.guard.holds(vector)
        }

    def crossings_along(self, transitions: Iterable[int]) -> dict[str, int]:
        """How many crossings it takes at most to reach each level of the component that some transitions lead into, by
        them, from the start."""
        assert self.program.start is not None
        here, crossed = self.program.start[0], 0
        for number in transitions:
            transition = self.program.transitions[self.original[number]]
            crossed += self._partition.crossings_from(here)[transition.location] + transition.crosses
            here = transition.target
        found: dict[str, int] = {}
        for location, more in self._partition.crossings_from(here).items():
            level = self.program.locations[location].place
            found[level] = min(crossed + more, found.get(level, crossed + more))
        return found


class _Staying(NamedTuple):
    """The transitions of a program graph that stay in a component and change nothing, by component."""

    numbers: Numbers
    first: Numbers
    """Where those of each component begin, and after the last one where they end."""

    @classmethod
    def of_those(cls, stays: Bools, source: Ints, count: int) -> "_Staying":
        """Those that are marked; ``source`` has the component of each transition, of ``count``."""
        return cls(*_by_component(np.flatnonzero(stays), source, count))

    def of(self, component: int) -> list[int]:
        """The numbers of those of one component, ascending."""
        found: list[int] = self.numbers[self.first[component] : self.first[component + 1]].tolist()
        return found


def _by_component(numbers: Numbers, source: Ints, count: int) -> tuple[Numbers, Numbers]:
    """Some transitions by component, and where those of each begin, and after the last one where they end."""
    here = source[numbers]
    first = np.concatenate([[0], np.cumsum(np.bincount(here, minlength=count))])
    return numbers[np.argsort(here, kind="stable")], first


def _first_fitting(guard: Guard, few: Sequence[int], all_of_them: Callable[[], Vectors] | None) -> int | None:
    """The index of the first vector for which a guard holds; ``few`` are the first of them, unpacked."""
    index = next((at for at, vector in enumerate(few) if guard.holds(vector)), None)
    if index is None and all_of_them:
        fitting = np.flatnonzero(guard.fits(all_of_them()))
        index = int(fitting[0]) if len(fitting) else None
    return index


def crossings_at_most(quotient: QuotientGraph, graph: ReachabilityGraph) -> dict[str, int]:
    """How many crossings it takes at most to reach each level that is reached in a graph of the quotient."""
    found: dict[str, int] = {}
    for number in set(graph.first_in_levels().values()):
        for level, crossed in quotient.crossings_along(graph.transitions_to(number)).items():
            found[level] = min(crossed, found.get(level, crossed))
    return found

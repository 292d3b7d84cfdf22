"""The reachability graph: the explored states of a transition system, and the transitions between them, as arrays.

States are numbered in the order in which breadth-first search reached them, so a smaller number is never further from
the start, in moves. Edges are in the order of the states they leave. Numbers are kept as NumPy arrays, so that what
follows from millions of states is computed on all at once; ``n`` below is the number of states, ``m`` that of edges.
"""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property, partial
from operator import itemgetter
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mossy_bridge.play.state import Move, State, Thing
from mossy_bridge.reach.arrays import (
    Bools,
    Ints,
    Numbers,
    Vectors,
    begins,
    distinct,
    first_places,
    grouped,
    spans,
    unique,
)
from mossy_bridge.reach.scc import component_layers, strong_components
from mossy_bridge.reach.system.guards import Cubes, unpacked
from mossy_bridge.reach.system.program_graph import PackedState
from mossy_bridge.reach.system.routes import Route, read_back
from mossy_bridge.reach.system.state_vector import BITS
from mossy_bridge.reach.system.things import KINDS
from mossy_bridge.reach.system.transition_system import TransitionSystem
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition
from mossy_bridge.reach.system.uses import Use, used_for


@dataclass(frozen=True, eq=False)
class ReachabilityGraph:
    """States and edges. Of ``n`` states the first ``expanded`` have all their edges."""

    system: TransitionSystem
    location: Ints
    """Of shape (n,)."""
    vectors: Vectors
    """Of shape (n, machine words)."""
    parent: Ints
    """For each state the one it was first reached from, -1 for a root; of shape (n,)."""
    via: Ints
    """For each state the transition from its parent; of shape (n,)."""
    depth: Ints
    """How many moves each state is from a root; of shape (n,)."""
    source: Ints
    """For each edge the state it leaves; ascending; of shape (m,)."""
    transition: Ints
    """For each edge the number of its transition; of shape (m,)."""
    target: Ints
    """For each edge the state it leads to, or ENDING; of shape (m,)."""
    expanded: int

    @property
    def complete(self) -> bool:
        """Whether every state was expanded."""
        return self.expanded == len(self.location)

    def __len__(self) -> int:
        return len(self.location)

    # -- states ----------------------------------------------------------------------------------------

    def state(self, number: int) -> State:
        """A state of the rules of play; whatever is not tracked has its first value."""
        return self.system.state(int(self.location[number]), self.vector(number))

    def vector(self, number: int) -> int:
        """A state's vector."""
        return unpacked(self.vectors[number])

    def unexpanded(self) -> Iterator[PackedState]:
        """The states that were not expanded."""
        return ((int(self.location[number]), self.vector(number)) for number in range(self.expanded, len(self)))

    def route(self, number: int, last: Move | None = None, into: str = "") -> Route:
        """A shortest route to a state, and by a last move; where locations stand for several levels, into the one
        named."""
        vector = 0 if self.system.tells_level else self.vector(number)  # asked only where levels are joined
        return self.system.route(self.transitions_to(number), last, into, vector)

    def transitions_to(self, number: int) -> list[int]:
        """The transitions by which a state was first reached."""
        parents, vias = self._tree

        def link(number: int) -> tuple[int, int] | None:
            parent = parents[number]
            return (parent, vias[number]) if parent >= 0 else None

        return read_back(number, link)

    @cached_property
    def _tree(self) -> tuple[memoryview, memoryview]:
        """The parents and the transitions from them; a view gives plain numbers sooner than an array does."""
        return self.parent.data, self.via.data

    @property
    def starts(self) -> Numbers:
        """The roots of the search."""
        return np.flatnonzero(self.parent < 0)

    @cached_property
    def levels(self) -> list[str]:
        """The levels of the flow, in their order."""
        return [level.id for level in self.system.rules.flow.levels]

    @cached_property
    def locations_in(self) -> dict[str, list[int]]:
        """The locations with which the player is in each level, or may be."""
        found: dict[str, list[int]] = {}
        for location in range(self.system.count):
            for level in self.system.levels_of(location):
                found.setdefault(level, []).append(location)
        return found

    def inside(self, level: str) -> Bools:
        """For each state whether the player is in a level, or may be."""
        return self._by_location(self.locations_in.get(level, []))

    @cached_property
    def in_play(self) -> Bools:
        """For each state whether the player is in a play level, or may be."""
        return self._by_location([number for number in range(self.system.count) if self.system.in_play(number)])

    def _by_location(self, locations: list[int]) -> Bools:
        """For each state whether its location is among some."""
        marked = np.zeros(max(1, self.system.count), dtype=np.bool_)
        marked[locations] = True
        return marked[self.location]

    @cached_property
    def level_index(self) -> Ints:
        """For each state the index of its level; only where locations tell it."""
        assert self.system.tells_level
        place_of, found = self.system.rules.flow.place_of, np.zeros(max(1, self.system.count), dtype=np.int32)
        for location in unique(self.location).tolist():
            found[location] = place_of(self.system.levels_of(location)[0]) or 0
        return found[self.location]

    def level_begun_in(self, root: int) -> str:
        """The level in which one of the roots is."""
        return self.system.level_begun_in(int(self.location[root]))

    def first_in_levels(self) -> dict[str, int]:
        """For each level that some state is in, the nearest such state."""
        first = first_places(self.location, max(1, self.system.count), self.system.limits)
        found: dict[str, int] = {}
        for location in np.flatnonzero(first >= 0).tolist():
            number = int(first[location])
            for level in self.system.levels_of(location):
                found[level] = min(number, found.get(level, number))
        return found

    @cached_property
    def _states_by_location(self) -> tuple[NDArray[np.integer], Numbers]:
        return grouped(self.location[: self.expanded], max(1, self.system.count), self.system.limits)

    def in_level(self, level: str) -> Numbers:
        """The expanded states in a level, nearest first."""
        order, first = self._states_by_location
        parts = [order[first[at] : first[at + 1]] for at in self.locations_in.get(level, [])]
        return np.sort(np.concatenate([np.zeros(0, dtype=np.int64), *parts])).astype(np.int64)

    def holds(self, condition: str, numbers: Numbers) -> Bools:
        """For each of the states whether a condition written in the flow holds."""
        return self.system.guards.of(condition).fits(self.vectors[numbers])

    def holds_seen(self, level: str, numbers: Numbers) -> Bools:
        """For each of the states whether a level has been seen; the level is one that is tracked."""
        return Cubes(((self.system.layout.seen[level],) * 2,)).fits(self.vectors[numbers])

    def by_location(self, numbers: Numbers) -> Iterable[tuple[State, Numbers]]:
        """The states by their location: one state that stands for it, whose facts mean nothing, and their numbers."""
        for location in unique(self.location[numbers]).tolist():
            yield self.system.sample(location), numbers[self.location[numbers] == location]

    def differing(self, numbers: Numbers, facts: Iterable[str]) -> Numbers:
        """One state for each combination of a location and the values of some facts: the nearest."""
        layout = self.system.layout
        mask = sum(layout.facts[fact].mask for fact in facts if fact in layout.facts)
        masks = [(mask >> (BITS * at)) & ((1 << BITS) - 1) for at in range(self.vectors.shape[1])]
        kept = self.vectors[numbers] & np.array(masks, np.uint64)
        keys = np.column_stack([self.location[numbers].astype(np.uint64), kept])
        _, nearest = np.unique(keys, axis=0, return_index=True)
        return numbers[np.sort(nearest)]

    # -- edges -----------------------------------------------------------------------------------------

    @property
    def transitions(self) -> list[GuardedTransition]:
        """What the numbers in ``transition`` and ``via`` mean."""
        return self.system.transitions

    def _marked(self, wanted: Callable[[GuardedTransition], bool]) -> Bools:
        """For each edge whether its transition is wanted."""
        if len(self.transition) > len(self.transitions):
            found = np.fromiter(map(wanted, self.transitions), np.bool_, len(self.transitions))
        else:  # of a glance at a large flow
            found = np.zeros(len(self.transitions), np.bool_)
            for number in unique(self.transition).tolist():
                found[number] = wanted(self.transitions[number])
        return found[self.transition]

    @cached_property
    def restarts(self) -> Bools:
        """For each edge whether it begins a new run by entering a level."""
        return self._marked(lambda transition: transition.restarts and transition.target != ENDING)

    @cached_property
    def crosses(self) -> Bools:
        """For each edge whether it is a crossing: an arrival."""
        return self._marked(lambda transition: transition.crosses)

    @cached_property
    def forced(self) -> Bools:
        """For each edge whether it is forced, which leaves its state no other."""
        return self._marked(lambda transition: transition.forced)

    @cached_property
    def transitions_entering(self) -> dict[str, list[int]]:
        """The transitions by which the player arrives at each level."""
        found: dict[str, list[int]] = {}
        for number in range(len(self.transitions)):
            if level := self.system.enters(number):
                found.setdefault(level, []).append(number)
        return found

    @cached_property
    def transitions_doing(self) -> dict[tuple[str, str], list[int]]:
        """The transitions that do each deed, by its level and id."""
        found: dict[tuple[str, str], list[int]] = {}
        for number, transition in enumerate(self.transitions):
            if transition.move.kind == "deed":
                found.setdefault((transition.move.level, transition.move.thing), []).append(number)
        return found

    @cached_property
    def first_by_transition(self) -> dict[int, int]:
        """For each transition that is used, the nearest state in which it is."""
        first = first_places(self.transition, len(self.transitions), self.system.limits)
        used = np.flatnonzero(first >= 0)
        return dict(zip(used.tolist(), self.source[first[used]].tolist(), strict=True))

    def uses(self) -> dict[str, dict[Any, Use]]:
        """Everything that some move uses, by kind and place: the nearest state in which one does, and its
        transition."""
        found: dict[str, dict[Any, Use]] = {kind: {} for kind in KINDS if kind != "level"}
        for number, state in sorted(self.first_by_transition.items(), key=itemgetter(1, 0)):
            transition = self.transitions[number]
            for kind, place in used_for(transition):
                found[kind].setdefault(place, (state, transition))
        if self.system.tells_level:
            return found
        for location, numbers in self._numbers_by_location():
            for transition, index in self.system.staying(location, self.vectors[numbers]):
                for kind, place in used_for(transition):
                    found[kind].setdefault(place, (int(numbers[index]), transition))
        return found

    def _numbers_by_location(self) -> Iterator[tuple[int, Numbers]]:
        order, first = grouped(self.location, max(1, self.system.count), self.system.limits)
        for location in range(self.system.count):
            numbers = order[first[location] : first[location + 1]].astype(np.int64)
            if len(numbers):
                yield location, numbers

    def states_with(self, move: Move) -> Numbers:
        """The states in which a move is possible."""
        return self.source[self._marked(lambda transition: transition.move == move)].astype(np.int64)

    @cached_property
    def deadlocks(self) -> Bools:
        """For each expanded state whether it has no move whatever."""
        found: Bools = np.equal(self.first_edge[1:], self.first_edge[:-1])
        found[self.expanded :] = False
        if not self.system.tells_level:
            for location in unique(self.location[found]).tolist():
                numbers = np.flatnonzero(found & (self.location == location))
                found[numbers] = ~self.system.stays(location, self.vectors[numbers])
        return found

    @cached_property
    def first_edge(self) -> Numbers:
        """Where the edges of each state begin, and after the last where they end; of shape (n + 1,)."""
        return begins(self.source, len(self), self.system.limits)

    def edges_of(self, numbers: Numbers) -> Numbers:
        """All edges that leave the states."""
        return spans(self.first_edge[numbers], self.first_edge[numbers + 1])

    @cached_property
    def incoming(self) -> tuple[NDArray[np.integer], Numbers]:
        """The edges that lead to a state, ordered by it, and where those of each state begin."""
        order, first = grouped(self.target + 1, len(self) + 1, self.system.limits)
        return order[first[1] :], first[1:] - first[1]

    # -- what follows ----------------------------------------------------------------------------------

    @cached_property
    def core(self) -> Bools:
        """Of a large graph without new runs, the states from which the start, and so everything, can be reached again.
        They are found quickly, and often nearly all; of other graphs none are told."""
        root = self.parent < 0
        if len(self.source) <= self.system.limits.core_edges or self.restarts.any() or root.sum() != 1:
            return np.zeros(len(self), dtype=np.bool_)
        return self._backwards(root)

    @cached_property
    def components(self) -> Ints:
        """For each state the number of its strongly connected component, over edges that begin no new run; the core has
        the highest."""
        core, (source, target) = self.core, self._outside_core
        number = np.cumsum(~core, dtype=np.int32) - 1
        outside = len(self) - int(core.sum())
        components = strong_components(outside, number[source], number[target], self.system.limits)
        found = np.full(len(self), int(components.max(initial=-1)) + 1, dtype=np.int32)
        found[~core] = components
        return found

    @cached_property
    def component_layers(self) -> list[tuple[Numbers, Numbers]]:
        """The edges between components other than the core, in layers, each after all that it leads to."""
        return list(component_layers(self.components, *self._outside_core, self.system.limits))

    @cached_property
    def _outside_core(self) -> tuple[Ints, Ints]:
        """The edges outside the core that begin no new run; none leads into it."""
        outside = self.target >= 0
        outside &= ~self.restarts
        outside &= ~self.core[self.source]
        return self.source[outside], self.target[outside]

    def backward_reachable(self, goals: Bools) -> Bools:
        """For each state whether edges that begin no new run lead from it to one of the goals; being there counts."""
        return self._backwards(goals | self.core) if goals.any() else goals.copy()

    def _backwards(self, goals: Bools) -> Bools:
        order, first = self.incoming
        found = goals.copy()
        # whatever leads into the core is in it
        frontier = np.flatnonzero(goals & ~self.core if "core" in self.__dict__ else goals)
        while len(frontier):
            edges = order[spans(first[frontier], first[frontier + 1])]
            before = self.source[edges[~self.restarts[edges]]]
            frontier = distinct(before[~found[before]], found)
        return found

    def surely(self, lost: set[Thing]) -> set[Thing]:
        """Of levels and deeds that seem lost in a state of the graph those that surely are. A level joined with others
        may have been passed on the way through its location."""
        return {thing for thing in lost if isinstance(thing, tuple) or self.system.told_apart(thing)}

    def avoiding(self, levels: Iterable[str]) -> "ReachabilityGraph":
        """The part that is reached from the roots without being in any of the levels."""
        closed = np.zeros(len(self), dtype=np.bool_)
        for level in levels:
            closed |= self.inside(level)
        starts = np.flatnonzero((self.parent < 0) & ~closed)
        number = np.full(len(self) + 1, -1, dtype=np.int32)
        number[starts] = np.arange(len(starts))
        layers, parent, via = [starts], [np.full(len(starts), -1, np.int32)], [np.zeros(len(starts), np.int32)]
        count = len(starts)
        while len(layers[-1]):
            edges = self.edges_of(layers[-1])
            there = self.target[edges]
            edges = edges[(there >= 0) & ~closed[there] & (number[there] < 0)]
            _, first = np.unique(self.target[edges], return_index=True)
            edges = edges[np.sort(first)]
            layers.append(self.target[edges].astype(np.int64))
            number[layers[-1]] = np.arange(count, count + len(edges))
            parent.append(number[self.source[edges]])
            via.append(self.transition[edges])
            count += len(edges)
        depth = np.repeat(np.arange(len(layers), dtype=np.int32), [len(layer) for layer in layers])
        whole = partial(np.concatenate, dtype=np.int32)
        return self._part(np.concatenate(layers), number, whole(parent), whole(via), depth)

    def _part(self, states: Numbers, number: Ints, parent: Ints, via: Ints, depth: Ints) -> "ReachabilityGraph":
        """The graph of some of the states, which have new numbers (-1 for the others)."""
        edges = self.edges_of(states)
        edges = edges[(self.target[edges] < 0) | (number[self.target[edges]] >= 0)]
        targets = np.where(self.target[edges] < 0, ENDING, number[self.target[edges]]).astype(np.int32)
        expanded = len(states) if self.complete else int((states < self.expanded).sum())
        return ReachabilityGraph(
            self.system, self.location[states], self.vectors[states], parent, via, depth,
            number[self.source[edges]], self.transition[edges], targets, expanded,
        )  # fmt: skip

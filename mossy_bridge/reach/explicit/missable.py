"""What can be missed for good: for each state the levels and deeds still reachable, and those that may not have been
yet.

Sets are columns of machine words used as bits, one bit for each level and for each deed that is done once a run. Both
answers are least fixpoints over the graph, and exact for it: a level may be unseen in a state exactly if some route
into the state enters the level nowhere since the last new run. Reachable sets are unions over strongly connected
components, in the order of their layers. ``O(edges x things / 64)``.
"""

from collections.abc import Collection, Sequence

import numpy as np

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.state import Thing
from mossy_bridge.reach.arrays import Bools, Numbers, Vectors, distinct, or_into
from mossy_bridge.reach.explicit.lookahead import Lookahead
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.system.guards import machine_words
from mossy_bridge.reach.system.routes import Route, read_back


def missable_things(flow: Flow) -> list[Thing]:
    """Every level, and every deed that is done once a run."""
    deeds = [(level.id, deed.id) for level in flow.levels for deed in level.deeds if deed.repeats == "run"]
    return [*(level.id for level in flow.levels), *deeds]


class Missable:
    """What can be missed in the states of a graph. Open at its start is everything but the level that it begins in,
    unless told otherwise."""

    def __init__(
        self,
        flow: Flow,
        graph: ReachabilityGraph,
        lookahead: Lookahead | None = None,
        open_at_start: Collection[Thing] | None = None,
    ):
        self.things = missable_things(flow)
        lasting = set() if flow.progress == "run" else {level.id for level in flow.levels}
        self._open_again = set(self.things) - lasting
        self._graph, self._lookahead, self._open_at_start = graph, lookahead, open_at_start

    def _sets(self, things: Sequence[Thing]) -> "_BitSets":
        return _BitSets(self._graph, self._lookahead, things, self._open_again, self._open_at_start)

    def missed(self, sound: Bools) -> set[Thing]:
        """The things that are lost in at least one of the states."""
        graph = self._graph
        found: set[Thing] = set()
        at_once = graph.system.limits.bits_at_once
        for first in range(0, len(self.things), at_once):
            sets = self._sets(self.things[first : first + at_once])
            impossible = ~sets.possible()
            relevant = np.flatnonzero(np.bincount(graph.components[sound], minlength=len(impossible)))
            shut = sets.things_in(impossible[relevant])
            if not graph.restarts.any():  # what is closed at the start is not opened again
                shut = [thing for thing in shut if thing in sets.things_in(sets.at_start(graph.starts))]
            if shut:
                lost = self._sets(shut)
                bits = lost.maybe_open() & ~lost.possible()[graph.components]
                found.update(lost.things_in(bits[sound]))
        return found

    def lost(self, thing: Thing) -> Bools:
        """For each state whether the thing is not reachable any more in the same run, while it may not have been
        reached yet."""
        sets = self._sets([thing])
        bits: Vectors = sets.maybe_open() & ~sets.possible()[self._graph.components]
        return np.not_equal(bits[:, 0], 0)

    def can_be_open(self, thing: Thing) -> Bools:
        """For each state whether some route into it leaves the level unseen, or the deed undone."""
        return np.not_equal(self._sets([thing]).maybe_open()[:, 0], 0)

    def route_leaving_open(self, thing: Thing, goals: Bools) -> Route:
        """A shortest route to one of the goals at whose end the thing is still open. Raises ValueError if there is
        none."""
        graph = self._graph
        sets = self._sets([thing])
        count = len(graph)
        # nodes: a state with the thing open, and, ``count`` higher, with it closed
        parent = np.full(2 * count, -2, dtype=np.int64)
        via = np.zeros(2 * count, dtype=np.int64)
        starts = graph.starts
        frontier = starts + np.where(sets.at_start(starts).any(axis=1), 0, count)
        parent[frontier] = -1
        while len(frontier):
            there = frontier[(frontier < count) & goals[frontier % count]]
            if len(there):
                return graph.system.route(_transitions_to(graph, parent, via, int(there.min())))
            state = frontier % count
            edges = graph.edges_of(state)
            degree = graph.first_edge[state + 1] - graph.first_edge[state]
            opened, before = np.repeat(frontier < count, degree), np.repeat(frontier, degree)
            inside = graph.target[edges] >= 0
            edges, opened, before = edges[inside], opened[inside], before[inside]
            after = sets.after(np.where(opened, np.uint64(1), np.uint64(0))[:, None], edges).any(axis=1)
            nodes = graph.target[edges] + np.where(after, 0, count)
            nodes, first = np.unique(nodes, return_index=True)
            new = parent[nodes] == -2
            nodes, first = nodes[new], first[new]
            parent[nodes], via[nodes] = before[first], edges[first]
            frontier = nodes
        raise ValueError(f"no route leaves {thing} open in any of the states")


def _transitions_to(graph: ReachabilityGraph, parent: Numbers, via: Numbers, node: int) -> list[int]:
    def link(node: int) -> tuple[int, int] | None:
        return (int(parent[node]), int(graph.transition[via[node]])) if parent[node] >= 0 else None

    return read_back(node, link)


class _BitSets:
    """Sets of some of the things: rows of bits, bit ``i`` for the thing ``i``."""

    def __init__(
        self,
        graph: ReachabilityGraph,
        lookahead: Lookahead | None,
        things: Sequence[Thing],
        open_again: set[Thing],
        open_at_start: Collection[Thing] | None,
    ):
        self._graph, self._lookahead, self.things = graph, lookahead, things
        self._columns = -(-len(things) // 64)
        self._open_again = self._set([at for at, thing in enumerate(things) if thing in open_again])
        self._all = self._set(range(len(things)))
        open_ = [at for at, thing in enumerate(things) if open_at_start is None or thing in open_at_start]
        self._open_at_start = self._set(open_)
        locations, transitions = int(graph.location.max(initial=0)) + 1, max(1, len(graph.transitions))
        self._inside = np.zeros((locations, self._columns), dtype=np.uint64)
        """The levels that each location is in."""
        self._doing = np.zeros((transitions, self._columns), dtype=np.uint64)
        self._closing = np.zeros((transitions, self._columns), dtype=np.uint64)
        """The deeds that each transition does; and with them the levels that it enters."""
        for at, thing in enumerate(things):
            bit = np.uint64(1 << at % 64)
            if isinstance(thing, str):
                inside = [location for location in graph.locations_in.get(thing, []) if location < locations]
                self._inside[inside, at // 64] |= bit
                self._closing[graph.transitions_entering.get(thing, []), at // 64] |= bit
            else:
                self._doing[graph.transitions_doing.get(thing, []), at // 64] |= bit
        self._closing |= self._doing

    def _set(self, indices: Sequence[int] | range) -> Vectors:
        found = np.zeros(self._columns, dtype=np.uint64)
        for at in indices:
            found[at // 64] |= np.uint64(1 << at % 64)
        return found

    def things_in(self, bits: Vectors) -> list[Thing]:
        """The things whose bit is set in some row."""
        some = np.bitwise_or.reduce(bits, axis=0) if len(bits) else np.zeros(self._columns, np.uint64)
        return [thing for at, thing in enumerate(self.things) if int(some[at // 64]) >> at % 64 & 1]

    def at_start(self, roots: Numbers) -> Vectors:
        """What is open at the roots of the search."""
        begun = [self._graph.level_begun_in(root) for root in roots.tolist()]
        found = [
            self._open_at_start & ~self._set([at for at, thing in enumerate(self.things) if thing == one])
            for one in begun
        ]
        return np.array(found, dtype=np.uint64).reshape(-1, self._columns)

    def after(self, opened: Vectors, edges: Numbers) -> Vectors:
        """What is open after edges into states, given what was open before."""
        graph = self._graph
        found = np.where(graph.restarts[edges, None], opened | self._open_again, opened)
        found &= ~self._closing[graph.transition[edges]]
        return found

    def maybe_open(self) -> Vectors:
        """For each state what some route into it leaves open: a least fixpoint."""
        graph = self._graph
        found = np.zeros((len(graph), self._columns), dtype=np.uint64)
        known = np.zeros(len(graph), dtype=np.bool_)
        frontier = distinct(graph.starts, known)
        found[frontier] = self.at_start(frontier)
        while len(frontier):
            edges = graph.edges_of(frontier)
            edges = edges[graph.target[edges] >= 0]
            bits = self.after(found[graph.source[edges]], edges)
            there = graph.target[edges]
            more = ~known[there] | (bits & ~found[there]).any(axis=1)
            there, bits = there[more], bits[more]
            or_into(found, there, bits)
            frontier = distinct(there, known)
        return found

    def possible(self) -> Vectors:
        """For each strongly connected component what is reachable from it in the same run: within one, whatever is
        possible anywhere is possible everywhere."""
        graph = self._graph
        components = graph.components
        count = int(components.max(initial=-1)) + 1
        found = np.zeros((count, self._columns), dtype=np.uint64)
        or_into(found, components, self._inside[graph.location])
        ahead = components[graph.expanded :]
        if self._lookahead and len(ahead):
            sets = self._lookahead.possible(graph.unexpanded(), self.things)
            or_into(found, ahead, np.array([machine_words(bits, self._columns) for bits in sets], dtype=np.uint64))
        else:
            found[ahead] = self._all  # not expanded: anything may follow
        of_deeds: Bools = np.bitwise_or.reduce(self._doing, axis=1) != 0
        deeds = np.flatnonzero(of_deeds[graph.transition]) if of_deeds.any() else np.zeros(0, dtype=np.int64)
        or_into(found, components[graph.source[deeds]], self._doing[graph.transition[deeds]])
        found[components[graph.core]] = self._all
        for above, below in graph.component_layers:
            or_into(found, above, found[below])
        return found

"""What can still be come to, and what may not have been yet: sets of levels and deeds for each state.

Sets are columns of machine words used as bits, one bit for each level and for each deed that is done once a run. Both
answers are least fixpoints over the graph and exact for it: a level may be unseen in a state exactly if some
route into the state arrives nowhere at the level since the last new run.
"""

from collections.abc import Collection, Sequence

import numpy as np

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.state import Move, Thing
from mossy_bridge.reach.arrays import Bools, Numbers, Words, distinct, or_into
from mossy_bridge.reach.enough import Outlook
from mossy_bridge.reach.formulas import columns_of
from mossy_bridge.reach.graph import Graph


def things_to_miss(flow: Flow) -> list[Thing]:
    """Every level, and every deed that is done once a run."""
    deeds = [(lv.id, deed.id) for lv in flow.levels for deed in lv.deeds if deed.repeats == "run"]
    return [*(level.id for level in flow.levels), *deeds]


class Missing:
    """Possible and open things of the states of a graph. What is open at its start is everything but where that is,
    unless told."""

    def __init__(
        self, flow: Flow, graph: Graph, outlook: Outlook | None = None, open_at_start: Collection[Thing] | None = None
    ):
        self.things = things_to_miss(flow)
        levels = set() if flow.progress == "run" else {level.id for level in flow.levels}
        self._forgotten = set(self.things) - levels
        self._graph, self._outlook = graph, outlook
        self._open_at_start = open_at_start

    def _block(self, things: Sequence[Thing]) -> "_Block":
        return _Block(self._graph, self._outlook, things, self._forgotten, self._open_at_start)

    def missed(self, sound: Bools) -> set[Thing]:
        """The things that are lost in at least one of the states."""
        graph = self._graph
        found: set[Thing] = set()
        at_once = graph.machine.limits.bits_at_once
        for first in range(0, len(self.things), at_once):
            block = self._block(self.things[first : first + at_once])
            impossible = ~block.possible()
            relevant = np.flatnonzero(np.bincount(graph.groups[sound], minlength=len(impossible)))
            shut = block.set_in(impossible[relevant])
            if not graph.fresh.any():  # what is closed at the start is not opened again
                shut = [thing for thing in shut if thing in block.set_in(block.at_start(graph.starts))]
            if shut:
                lost = self._block(shut)
                bits = lost.maybe_open() & ~lost.possible()[graph.groups]
                found.update(lost.set_in(bits[sound]))
        return found

    def lost(self, thing: Thing) -> Bools:
        """The states from which nothing leads there any more in the same run, while it may not have been yet."""
        block = self._block([thing])
        bits: Words = block.maybe_open() & ~block.possible()[self._graph.groups]
        return np.not_equal(bits[:, 0], 0)

    def can_be_open(self, thing: Thing) -> Bools:
        """The states into which some route leaves the level unseen, or the deed undone."""
        return np.not_equal(self._block([thing]).maybe_open()[:, 0], 0)

    def route_leaving_open(self, thing: Thing, goals: Bools) -> tuple[Move, ...]:
        """A shortest route on which the thing is still open at its end, in one of the states."""
        graph = self._graph
        block = self._block([thing])
        count = len(graph)
        # nodes: a state with the thing open, and, ``count`` higher, with it closed
        came = np.full(2 * count, -2, dtype=np.int64)
        by = np.zeros(2 * count, dtype=np.int64)
        starts = graph.starts
        frontier = starts + np.where(block.at_start(starts).any(axis=1), 0, count)
        came[frontier] = -1
        while len(frontier):
            there = frontier[(frontier < count) & goals[frontier % count]]
            if len(there):
                return graph.told(_traced(graph, came, by, int(there.min())))
            state = frontier % count
            edges = graph.edges_of(state)
            opened = np.repeat(frontier < count, graph.first_edge[state + 1] - graph.first_edge[state])
            before = np.repeat(frontier, graph.first_edge[state + 1] - graph.first_edge[state])
            inside = graph.target[edges] >= 0
            edges, opened, before = edges[inside], opened[inside], before[inside]
            after = block.after(np.where(opened, np.uint64(1), np.uint64(0))[:, None], edges).any(axis=1)
            nodes = graph.target[edges] + np.where(after, 0, count)
            nodes, first = np.unique(nodes, return_index=True)
            new = came[nodes] == -2
            nodes, first = nodes[new], first[new]
            came[nodes], by[nodes] = before[first], edges[first]
            frontier = nodes
        raise ValueError(f"no route leaves {thing} open in any of the states")


def _traced(graph: Graph, came: Numbers, by: Numbers, node: int) -> list[int]:
    rows = []
    while came[node] >= 0:
        rows.append(int(graph.row[by[node]]))
        node = int(came[node])
    return rows[::-1]


class _Block:
    """Sets of some of the things: their bits stand in the columns of rows."""

    def __init__(
        self,
        graph: Graph,
        outlook: Outlook | None,
        things: Sequence[Thing],
        forgotten: set[Thing],
        begun: Collection[Thing] | None,
    ):
        self._graph, self._outlook, self.things = graph, outlook, things
        self._columns = -(-len(things) // 64)
        self._forgotten = self._set([at for at, thing in enumerate(things) if thing in forgotten])
        self._all = self._set(range(len(things)))
        self._begun = self._set([at for at, thing in enumerate(things) if begun is None or thing in begun])
        controls, rows = int(graph.control.max(initial=0)) + 1, max(1, len(graph.rows))
        self._inside = np.zeros((controls, self._columns), dtype=np.uint64)
        """The levels that each control is in."""
        self._doing = np.zeros((rows, self._columns), dtype=np.uint64)
        self._closing = np.zeros((rows, self._columns), dtype=np.uint64)
        """The deeds that each row does; and with them the levels that it arrives at."""
        for at, thing in enumerate(things):
            bit = np.uint64(1 << at % 64)
            if isinstance(thing, str):
                inside = [control for control in graph.controls_in.get(thing, []) if control < controls]
                self._inside[inside, at // 64] |= bit
                self._closing[graph.rows_into.get(thing, []), at // 64] |= bit
            else:
                self._doing[graph.rows_doing.get(thing, []), at // 64] |= bit
        self._closing |= self._doing

    def _set(self, places: Sequence[int] | range) -> Words:
        found = np.zeros(self._columns, dtype=np.uint64)
        for at in places:
            found[at // 64] |= np.uint64(1 << at % 64)
        return found

    def set_in(self, bits: Words) -> list[Thing]:
        """The things whose bit is set in some row."""
        some = np.bitwise_or.reduce(bits, axis=0) if len(bits) else np.zeros(self._columns, np.uint64)
        return [thing for at, thing in enumerate(self.things) if int(some[at // 64]) >> at % 64 & 1]

    def at_start(self, numbers: Numbers) -> Words:
        """What is open at the start."""
        begun = [self._graph.begun_in(number) for number in numbers.tolist()]
        found = [
            self._begun & ~self._set([at for at, thing in enumerate(self.things) if thing == one]) for one in begun
        ]
        return np.array(found, dtype=np.uint64).reshape(-1, self._columns)

    def after(self, opened: Words, edges: Numbers) -> Words:
        """What is open after edges into states, of what was before."""
        graph = self._graph
        found = np.where(graph.fresh[edges, None], opened | self._forgotten, opened)
        found &= ~self._closing[graph.row[edges]]
        return found

    def maybe_open(self) -> Words:
        """For each state what some route into it leaves open: a fixpoint from below."""
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
            for column in range(self._columns):
                np.bitwise_or.at(found[:, column], there, bits[:, column])
            frontier = distinct(there, known)
        return found

    def possible(self) -> Words:
        """For each strongly connected group what can be come to from it in the same run: within one, everything
        possible anywhere is possible everywhere."""
        graph = self._graph
        groups = graph.groups
        count = int(groups.max(initial=-1)) + 1
        found = np.zeros((count, self._columns), dtype=np.uint64)
        or_into(found, groups, self._inside[graph.control])
        ahead = groups[graph.looked_at :]
        if self._outlook and len(ahead):
            sets = self._outlook.possible(graph.ahead(), self.things)
            or_into(found, ahead, np.array([columns_of(bits, self._columns) for bits in sets], dtype=np.uint64))
        else:
            found[ahead] = self._all  # not looked at: anything may follow
        of_deeds: Bools = np.bitwise_or.reduce(self._doing, axis=1) != 0
        deeds = np.flatnonzero(of_deeds[graph.row]) if of_deeds.any() else np.zeros(0, dtype=np.int64)
        or_into(found, groups[graph.source[deeds]], self._doing[graph.row[deeds]])
        found[groups[graph.core]] = self._all
        for above, below in graph.between_groups:
            or_into(found, above, found[below])
        return found

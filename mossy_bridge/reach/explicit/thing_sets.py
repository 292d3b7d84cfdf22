"""Sets of levels and deeds for each state of a graph: what is open at its start, what an edge leaves open, and what is
still reachable.

Sets are columns of machine words used as bits, one bit for each thing. Reachable sets are unions over strongly
connected components, in the order of their layers. ``O(edges x things / 64)``.
"""

from collections.abc import Collection, Iterable, Mapping, Sequence
from itertools import chain

import numpy as np
from numpy.typing import NDArray

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.arrays import Bools, Numbers, Vectors, or_into
from mossy_bridge.reach.explicit.lookahead import Lookahead
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.system.guards import cube_fits, machine_words


class ThingSets:
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
        levels = {at: thing for at, thing in enumerate(things) if isinstance(thing, str)}
        deeds = {at: thing for at, thing in enumerate(things) if not isinstance(thing, str)}
        _mark(self._inside, {at: graph.locations_in.get(level, []) for at, level in levels.items()})
        _mark(self._closing, {at: graph.transitions_entering.get(level, []) for at, level in levels.items()})
        _mark(self._doing, {at: graph.transitions_doing.get(deed, []) for at, deed in deeds.items()})
        self._closing |= self._doing
        self._of_redone, self._undone = self._redone_deeds()

    def _redone_deeds(self) -> tuple[Vectors, Vectors]:
        """The deeds that a restart takes back, and for each state those of them that are not spent there: no route
        tells that, but the state itself does."""
        graph, copies = self._graph, self._graph.system.layout.copies
        spent = copies["now"].spent if copies else {}
        redone = {
            at: spent[thing] for at, thing in enumerate(self.things) if not isinstance(thing, str) and thing in spent
        }
        undone = np.zeros((len(graph) if redone else 0, self._columns), dtype=np.uint64)
        for at, bit in redone.items():
            undone[cube_fits(graph.vectors, bit, 0), at // 64] |= np.uint64(1 << at % 64)
        return self._set(list(redone)), undone

    def _set(self, indices: Sequence[int] | range) -> Vectors:
        found = np.zeros(self._columns, dtype=np.uint64)
        for at in indices:
            found[at // 64] |= np.uint64(1 << at % 64)
        return found

    def by_state(self, holding: Iterable[Bools]) -> Vectors:
        """For each state the set of things of which it holds; ``holding`` has the states of one thing after another."""
        found = np.zeros((len(self._graph), self._columns), dtype=np.uint64)
        for at, states in enumerate(holding):
            found[states, at // 64] |= np.uint64(1 << at % 64)
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
        return self._as_the_states_say(np.array(found, dtype=np.uint64).reshape(-1, self._columns), roots)

    @property
    def redone(self) -> list[Thing]:
        """The deeds that a restart takes back."""
        return self.things_in(self._of_redone[None])

    def _as_the_states_say(self, opened: Vectors, states: NDArray[np.integer]) -> Vectors:
        """What is open in states, with the deeds that a restart takes back as these say."""
        return opened & ~self._of_redone | self._undone[states] if len(self._undone) else opened

    def after(self, opened: Vectors, edges: Numbers) -> Vectors:
        """What is open after edges into states, given what was open before."""
        graph = self._graph
        found = np.where(graph.restarts[edges, None], opened | self._open_again, opened)
        found &= ~self._closing[graph.transition[edges]]
        return self._as_the_states_say(found, graph.target[edges])

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


def _mark(sets: Vectors, rows: Mapping[int, Sequence[int]]) -> None:
    """Puts things into the sets of some rows: for each thing, by its index, the rows, as far as there are such."""
    things = np.repeat(np.array(list(rows), dtype=np.int64), [len(of) for of in rows.values()])
    where = np.fromiter(chain.from_iterable(rows.values()), np.int64, len(things))
    where, things = where[where < len(sets)], things[where < len(sets)]
    np.bitwise_or.at(sets, (where, things // 64), np.uint64(1) << (things % 64).astype(np.uint64))

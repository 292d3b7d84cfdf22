"""Shortest routes that leave levels unseen and deeds undone, for many of them in one search.

Breadth-first search over pairs of a state and a thing that is still open there; all things go on together, one bit for
each, as in multi-source search by bit sets (Then and others, *The more the merrier*, 2014). A layer holds rows: a state
and the things that are open there for the first time. ``O(edges x layers in which one is used)``, at worst
``O(edges x things)``; mostly near ``O(edges x things / 64)``.
"""

from collections.abc import Iterator

import numpy as np
from msgspec import Struct

from mossy_bridge.reach.arrays import Ints, Numbers, Vectors, spans
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.explicit.thing_sets import ThingSets
from mossy_bridge.reach.system.routes import read_back


class _Layer(Struct, frozen=True):
    """The rows of a layer: from which row of the layer before each was reached, and by which transition."""

    before: Ints
    transition: Ints


class OpenSearch:
    """For each of some things the nearest state, among goals of its own, to which a route leads that leaves it open.
    ``goals`` has a set of things for each state: those whose goal it is."""

    def __init__(self, graph: ReachabilityGraph, sets: ThingSets, goals: Vectors):
        self._graph, self._sets, self._goals = graph, sets, goals
        self._layers: list[_Layer] = []
        self._found: dict[int, tuple[int, int]] = {}
        """By the index of a thing the layer and row that its route ends with."""
        self._left = np.full(goals.shape[1], np.iinfo(np.uint64).max)
        """The things without a route so far."""
        self._open = np.zeros_like(goals)
        self._known = np.zeros(len(graph), dtype=np.bool_)
        """The states reached; with nothing open as well, since a new run may open things again."""
        self._search()
        del self._open, self._known, self._goals, self._left

    def found(self) -> Iterator[int]:
        """The indices of the things for which there is a route."""
        yield from self._found

    def transitions_to(self, thing: int) -> list[int]:
        """The transitions of the shortest route for a thing, by its index."""

        def link(node: tuple[int, int]) -> tuple[tuple[int, int], int] | None:
            layer, row = node
            here = self._layers[layer]
            return ((layer - 1, int(here.before[row])), int(here.transition[row])) if layer else None

        return read_back(self._found[thing], link)

    def last_transition(self, thing: int) -> int | None:
        """The transition that such a route ends with; None where it is empty."""
        layer, row = self._found[thing]
        return int(self._layers[layer].transition[row]) if layer else None

    def _search(self) -> None:
        starts = self._graph.starts
        states, bits = starts, self._sets.at_start(starts)
        self._open[starts], self._known[starts] = bits, True
        nowhere = np.full(len(starts), -1, dtype=np.int32)
        self._layers.append(_Layer(nowhere, nowhere))
        while len(states):
            self._note(states, bits)
            if len(self._found) == len(self._sets.things):
                return
            states, bits = self._expanded(states, bits)

    def _note(self, states: Numbers, bits: Vectors) -> None:
        hits = bits & self._goals[states] & self._left
        some = np.bitwise_or.reduce(hits, axis=0)
        if not some.any():
            return
        self._left &= ~some
        for column, word in enumerate(some.tolist()):
            while word:
                bit = (word & -word).bit_length() - 1
                word &= word - 1
                row = int(np.argmax((hits[:, column] >> np.uint64(bit)) & np.uint64(1)))
                self._found[64 * column + bit] = (len(self._layers) - 1, row)

    def _expanded(self, states: Numbers, bits: Vectors) -> tuple[Numbers, Vectors]:
        """The states of the next layer, and what is open there for the first time; it is noted how they were
        reached."""
        graph = self._graph
        first, end = graph.first_edge[states], graph.first_edge[states + 1]
        edges, before = spans(first, end), np.repeat(np.arange(len(states), dtype=np.int32), end - first)
        inside = graph.target[edges] >= 0
        edges, before = edges[inside], before[inside]
        target = graph.target[edges].astype(np.int64)
        new = self._sets.after(bits[before], edges) & ~self._open[target]
        rows = self._news(target, new)
        self._layers.append(_Layer(before[rows], graph.transition[edges[rows]].astype(np.int32)))
        return target[rows], new[rows]

    def _news(self, target: Numbers, new: Vectors) -> Numbers:
        """Which rows reach their target first or open something there, ascending by it; from ``new`` is taken what
        another row before has opened there."""
        left = np.flatnonzero(new.any(axis=1) | ~self._known[target])
        left = left[np.argsort(target[left], kind="stable")]
        kept = []
        while len(left):
            there = target[left]
            leads = np.concatenate([[True], there[1:] != there[:-1]])
            rows, left = left[leads], left[~leads]
            self._open[target[rows]] |= new[rows]
            self._known[target[rows]] = True
            kept.append(rows)
            new[left] &= ~self._open[target[left]]
            left = left[new[left].any(axis=1)]
        if len(kept) < 2:
            return kept[0] if kept else np.zeros(0, dtype=np.int64)
        rows = np.concatenate(kept)
        return rows[np.argsort(target[rows], kind="stable")]

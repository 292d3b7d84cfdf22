"""What follows from states that a search did not expand, known from minimal bases."""

from collections.abc import Iterable, Sequence

import numpy as np

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.arrays import Bools
from mossy_bridge.reach.monotone.antichain_search import Discrete
from mossy_bridge.reach.monotone.backward_coverability import MinimalBases
from mossy_bridge.reach.monotone.regression import RegressionGraph
from mossy_bridge.reach.scc import reachable_unions
from mossy_bridge.reach.system.program_graph import PackedState


class BasisLookahead:
    """Answers by minimal bases for reaching an ending, and for levels and deeds by an over-approximation."""

    def __init__(
        self, quotient: QuotientGraph, graph: RegressionGraph[QuotientGraph], bases: MinimalBases, some_ending: bool
    ):
        self._quotient, self._graph, self._bases = quotient, graph, bases
        self.some_ending = some_ending
        self.exact = bases.exact
        self._index, self._possible = _possible(graph)

    def can_end(self, states: Iterable[PackedState]) -> Bools:
        """For each state whether an ending is known to be reachable in the same run."""
        monotone, component = self._graph.monotone, self._quotient.component
        found = [
            self._bases.suffices((component[location], vector & ~monotone), vector & monotone)
            for location, vector in states
        ]
        return np.array(found, dtype=np.bool_)

    def possible(self, states: Iterable[PackedState], things: Sequence[Thing]) -> list[int]:
        """For each state those of the things that may be reached in the same run, as bits; no others can be."""
        monotone, component = self._graph.monotone, self._quotient.component
        known: dict[int, int] = {}
        found = []
        for location, vector in states:
            bits = self._possible[component[location], vector & ~monotone]
            if bits not in known:
                known[bits] = sum(1 << at for at, thing in enumerate(things) if bits >> self._index[thing] & 1)
            found.append(known[bits])
        return found


def _possible(graph: RegressionGraph[QuotientGraph]) -> tuple[dict[Thing, int], dict[Discrete, int]]:
    """Numbers for levels and deeds, and for each discrete part those that are reachable along any edges in the same
    run, as bits: no less than the truth, so edges whose needs are not told count too."""
    system = graph.system
    flow = system.rules.flow
    deeds = [(level.id, deed.id) for level in flow.levels for deed in level.deeds]
    things: list[Thing] = [*(level.id for level in flow.levels), *deeds]
    index = {thing: at for at, thing in enumerate(things)}
    number = {discrete: at for at, discrete in enumerate(graph.edges)}
    pairs = [
        (number[discrete], number[edge.target])
        for discrete, edges in graph.edges.items()
        for edge in edges
        if edge.target is not None and not system.transitions[edge.transition].restarts
    ]
    sets = []
    for discrete, edges in graph.edges.items():
        bits = sum(1 << index[level] for level in system.levels_of(discrete[0]))
        for edge in edges:
            move = system.transitions[edge.transition].move
            if move.kind == "deed":
                bits |= 1 << index[move.level, move.thing]
        sets.append(bits)
    return index, dict(zip(graph.edges, reachable_unions(sets, pairs, system.limits), strict=True))

"""Backward coverability: the minimal sets of monotone bits with which a goal is reachable. Exact, without exploring.

A state from which a goal is reachable stays one with more monotone bits
(:mod:`mossy_bridge.reach.monotone.monotonicity`). So for each discrete part the sets that suffice are upward-closed,
and represented by their minimal basis, and bases follow backwards from the goals: what suffices before a transition is
what it needs, with what suffices after it less what it gives (with care where deeds done once add to counts, see
:mod:`mossy_bridge.reach.monotone.pseudo_boolean`). The smallest sets are taken first, so that most larger ones are
never made. This is backward reachability of a well-structured transition system (Abdulla, Čerāns, Jonsson and Tsay
1996).

What does not suffice is represented by minimal *hitting sets* of the basis: a state has too little exactly if it lacks
every bit of one of them. Bits once set are not lost within a run, so a state that lacks a hitting set is reached, if at
all, by never gaining any bit of it.
"""

import heapq
from collections.abc import Iterable
from itertools import count, product

from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.monotone.antichain import MinimalSets
from mossy_bridge.reach.monotone.antichain_search import Discrete
from mossy_bridge.reach.monotone.regression import RegressionEdge, RegressionGraph, Subgoal
from mossy_bridge.reach.system.program_graph import Stopper


class MinimalBases:
    """For each discrete part the minimal sets of monotone bits with which one of some goals, an ending say, is
    reachable in the same run. Goals are discrete parts, each with the bits that are needed there."""

    def __init__(self, graph: RegressionGraph[QuotientGraph], goals: Iterable[Subgoal], stop: Stopper):
        self._graph = graph
        self.basis: dict[Discrete, MinimalSets] = {discrete: MinimalSets() for discrete in graph.edges}
        self.exact = graph.exact
        into = self._edges_into()
        order = count()
        waiting = [(bits.bit_count(), next(order), bits, discrete) for discrete, bits in goals]
        heapq.heapify(waiting)
        most, taken = graph.system.limits.basis_elements, 0
        while waiting:
            taken += 1
            if taken > most or (taken % 256 == 0 and stop()):
                self.exact = False
                return
            _, _, bits, discrete = heapq.heappop(waiting)
            if not self.basis[discrete].add(bits):
                continue
            for before, edge in into.get(discrete, ()):
                left = graph.tallies.regress(edge.transition, bits)
                if left is not None:
                    for needed in edge.needs:
                        heapq.heappush(waiting, ((left | needed).bit_count(), next(order), left | needed, before))

    def _edges_into(self) -> dict[Discrete, list[tuple[Discrete, RegressionEdge]]]:
        """For each discrete part the edges of the same run that lead to it, with where they come from."""
        transitions = self._graph.system.transitions
        found: dict[Discrete, list[tuple[Discrete, RegressionEdge]]] = {}
        for discrete, edges in self._graph.edges.items():
            for edge in edges:
                if edge.needs and edge.target is not None and not transitions[edge.transition].restarts:
                    found.setdefault(edge.target, []).append((discrete, edge))
        return found

    def suffices(self, discrete: Discrete, had: int) -> bool:
        """Whether the monotone bits of a state, or those of a lower bound, suffice."""
        return any(self._graph.tallies.meets(discrete[1] | had, need) for need in self.basis[discrete])

    def hitting_sets(self, discrete: Discrete, had: int) -> list[int] | None:
        """The minimal hitting sets of the basis; ``had`` are bits that every state has. None where there are too
        many."""
        choices: list[list[int]] = []
        size = 1
        for need in self.basis[discrete]:
            missing = self._graph.tallies.missing_sets(discrete[1] | had, need)
            if missing == []:
                return []
            if missing is None or size * len(missing) > self._graph.system.limits.hitting_sets:
                return None
            size *= len(missing)
            choices.append(missing)
        found = MinimalSets()
        for chosen in product(*choices):
            union = 0
            for bits in chosen:
                union |= bits
            found.add(union)
        return found.elements

"""From which explored states an ending is still reachable in the same run, and which are stuck.

Backward reachability over the reachability graph, linear in its edges. Unexpanded states count as the lookahead says;
without one, an ending might follow from each.
"""

from functools import cached_property

import numpy as np

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.arrays import Bools, Numbers
from mossy_bridge.reach.explicit.lookahead import Lookahead
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph


class DeadEnds:
    """What is stuck in one graph. All arrays are of shape (n,), a value for each state."""

    def __init__(self, rules: Rules, graph: ReachabilityGraph, lookahead: Lookahead | None = None):
        self._rules, self._graph, self._lookahead = rules, graph, lookahead
        ending = np.zeros(len(graph), dtype=np.bool_)
        ending[graph.source[graph.target < 0]] = True
        if lookahead:
            ending[graph.expanded :] = lookahead.can_end(graph.unexpanded())
        self.some_ending = bool(ending.any()) or (lookahead is not None and lookahead.some_ending)
        """Whether some ending is reachable at all; without one nobody is called stuck for want of one."""
        self.can_end = graph.backward_reachable(ending)
        """Whether an ending is surely reachable."""

    @property
    def _exact_ahead(self) -> bool:
        return self._lookahead is not None and self._lookahead.exact

    @cached_property
    def may_end(self) -> Bools:
        """Whether unexpanded states follow from which an ending might."""
        graph = self._graph
        unknown = np.zeros(len(graph), dtype=np.bool_)
        unknown[graph.expanded :] = not self._exact_ahead
        return unknown if graph.complete else graph.backward_reachable(unknown)

    @cached_property
    def sound(self) -> Bools:
        """Whether the state is in a play level and surely not stuck."""
        if not self.some_ending and (self._graph.complete or self._exact_ahead):
            return self._graph.in_play
        return self._graph.in_play & self.can_end

    @cached_property
    def stuck(self) -> Bools:
        """Whether the state is surely stuck, for want of an ending or of any move."""
        graph = self._graph
        found = np.zeros(len(graph), dtype=np.bool_)
        if self.some_ending:
            found = graph.in_play & ~self.can_end & ~self.may_end
        found[self._dead_screens()] = True
        return found

    def _dead_screens(self) -> Numbers:
        """The states on a screen or board with no move whatever."""
        graph, rules = self._graph, self._rules
        idle = np.flatnonzero(graph.deadlocks & ~graph.in_play)
        return np.array([n for n in idle.tolist() if not rules.resume_open(graph.state(n))], dtype=np.int64)

    @cached_property
    def first_stuck(self) -> int | None:
        """The stuck state nearest to the start, or None."""
        numbers = np.flatnonzero(self.stuck)
        return int(numbers[0]) if len(numbers) else None

"""From which states an ending can still be got to in the same run, and which are stuck."""

from functools import cached_property

import numpy as np

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.arrays import Bools, Numbers
from mossy_bridge.reach.enough import Outlook
from mossy_bridge.reach.graph import Graph


class Sinking:
    """What is stuck in one graph."""

    def __init__(self, rules: Rules, graph: Graph, outlook: Outlook | None = None):
        self._rules, self._graph, self._outlook = rules, graph, outlook
        enders = np.zeros(len(graph), dtype=np.bool_)
        enders[graph.source[graph.target < 0]] = True
        if outlook:
            enders[graph.looked_at :] = outlook.can_end(graph.ahead())
        self.asked = bool(enders.any()) or (outlook is not None and outlook.some_ending)
        """Whether some ending is reached at all; without one nobody is called stuck for want of one."""
        self.can_end = graph.leading_to(enders)
        """For each state whether an ending is surely possible from it."""

    @cached_property
    def may_end(self) -> Bools:
        """For each state whether states not gone on from follow, so that an ending might."""
        graph = self._graph
        unseen = np.zeros(len(graph), dtype=np.bool_)
        unseen[graph.looked_at :] = not (self._outlook and self._outlook.exact)
        return unseen if graph.complete else graph.leading_to(unseen)

    @cached_property
    def sound(self) -> Bools:
        """The judged states that are surely not stuck."""
        if not self.asked and (self._graph.complete or (self._outlook and self._outlook.exact)):
            return self._graph.judged
        return self._graph.judged & self.can_end

    @cached_property
    def stuck(self) -> Bools:
        """The states that are surely stuck, for want of an ending or of any move."""
        graph = self._graph
        found = graph.judged & ~self.can_end & ~self.may_end if self.asked else np.zeros(len(graph), dtype=np.bool_)
        found[self._dead()] = True
        return found

    def _dead(self) -> Numbers:
        """The states on a screen or board with no move whatever."""
        graph, rules = self._graph, self._rules
        idle = np.flatnonzero(graph.idle & ~graph.judged)
        return np.array([n for n in idle.tolist() if not rules.resume_open(graph.state(n))], dtype=np.int64)

    @cached_property
    def first_stuck(self) -> int | None:
        """The stuck state nearest to the start, or None."""
        numbers = np.flatnonzero(self.stuck)
        return int(numbers[0]) if len(numbers) else None

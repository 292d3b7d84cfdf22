"""From which states an ending can still be got to in the same run, and which are stuck."""

from collections.abc import Callable, Iterable
from functools import cached_property

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.graph import ENDING, Edge, Graph


def in_same_run(edge: Edge) -> bool:
    """Whether the move does not begin a new run by entering a level."""
    return not edge.fresh or edge.target == ENDING


def leading_to(graph: Graph, goals: Iterable[int], allowed: Callable[[Edge], bool] = in_same_run) -> list[bool]:
    """For each state whether allowed moves lead from it to one of the goals; being there counts."""
    before = graph.backward(allowed)
    found = [False] * len(graph.states)
    waiting = list(goals)
    for number in waiting:
        found[number] = True
    while waiting:
        for number in before[waiting.pop()]:
            if not found[number]:
                found[number] = True
                waiting.append(number)
    return found


class Sinking:
    """What is stuck in one graph."""

    def __init__(self, rules: Rules, graph: Graph):
        self._rules = rules
        self._graph = graph
        enders = {n for n, edge in graph.numbered_edges() if edge.target == ENDING}
        self.asked = bool(enders)
        """Whether some ending is reached at all; without one nobody is called stuck for want of one."""
        self._ends = leading_to(graph, enders)
        unseen = range(len(graph.edges), len(graph.states))
        self._may_end = leading_to(graph, unseen) if unseen else [False] * len(graph.states)

    @cached_property
    def judged(self) -> list[int]:
        """The states whose place is a play level."""
        kinds = {level.id: level.kind for level in self._rules.flow.levels}
        return [n for n, state in enumerate(self._graph.states) if kinds[state.place] == "play"]

    def can_end(self, number: int) -> bool:
        """Whether an ending is surely possible from the state."""
        return self._ends[number]

    def is_stuck(self, number: int) -> bool:
        """Whether a judged state is surely stuck."""
        return self.asked and not self._ends[number] and not self._may_end[number]

    def surely_not_stuck(self, number: int) -> bool:
        """Whether a judged state is surely not stuck."""
        return self._ends[number] or (not self.asked and self._graph.complete)

    def is_dead(self, number: int) -> bool:
        """Whether the state is on a screen or board with no move whatever."""
        graph, rules = self._graph, self._rules
        if number >= len(graph.edges) or graph.edges[number]:
            return False
        state = graph.states[number]
        return rules.levels[state.place].source.kind != "play" and not rules.resume_open(state)

    @cached_property
    def first_stuck(self) -> int | None:
        """The stuck state nearest to the start, or None."""
        judged = set(self.judged)
        for number in range(len(self._graph.states)):
            if self.is_stuck(number) if number in judged else self.is_dead(number):
                return number
        return None

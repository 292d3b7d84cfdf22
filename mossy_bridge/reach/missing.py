"""What can still be come to, and what may not have been yet: sets of levels and deeds for each state.

Sets are Python integers used as bits, one for each level and for each deed that is done once a run. Both
answers are least fixpoints over the graph and exact for it: a level may be unseen in a state exactly if some
route into the state arrives nowhere at the level since the last new run.
"""

from collections import deque
from collections.abc import Iterable

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.state import Move
from mossy_bridge.reach.graph import ENDING, Edge, Graph
from mossy_bridge.reach.retracing import retraced

Thing = str | tuple[str, str]
"""A level's id, or a deed: its level and id."""


class Missing:
    """Possible and open things of every state of a graph."""

    def __init__(self, flow: Flow, graph: Graph):
        deeds = [(lv.id, deed.id) for lv in flow.levels for deed in lv.deeds if deed.repeats == "run"]
        self.things: list[Thing] = [*(level.id for level in flow.levels), *deeds]
        self._bit = {thing: 1 << index for index, thing in enumerate(self.things)}
        self._deeds = sum(self._bit[deed] for deed in deeds)
        self._levels = (1 << len(flow.levels)) - 1
        self._afresh = self._deeds | (self._levels if flow.progress == "run" else 0)
        self._graph = graph
        self.still_possible = self._still_possible()
        self.maybe_open = self._maybe_open()

    def can_be_open(self, thing: Thing, number: int) -> bool:
        """Whether some route into the state leaves the level unseen, or the deed undone."""
        return bool(self.maybe_open[number] & self._bit[thing])

    def lost(self, thing: Thing, number: int) -> bool:
        """Whether nothing leads there any more from the state in this run, and it may not have been yet."""
        return bool(self.maybe_open[number] & ~self.still_possible[number] & self._bit[thing])

    def missed_anywhere(self, numbers: Iterable[int]) -> list[Thing]:
        """The things that are lost in at least one of the states."""
        bits = 0
        for number in numbers:
            bits |= self.maybe_open[number] & ~self.still_possible[number]
        return [thing for thing in self.things if bits & self._bit[thing]]

    def route_leaving_open(self, thing: Thing, goals: set[int]) -> list[Move]:
        """A shortest route on which the thing is still open at its end, in one of the states."""
        bit = self._bit[thing]
        start = (0, bool(self._at_start() & bit))
        came: dict[tuple[int, bool], tuple[tuple[int, bool], Move] | None] = {start: None}
        waiting = deque([start])
        while waiting:
            here = waiting.popleft()
            if here[1] and here[0] in goals:
                return retraced(came, here)
            for edge in self._edges(here[0]):
                if edge.target == ENDING:
                    continue
                there = (edge.target, bool(self._after(bit if here[1] else 0, edge) & bit))
                if there not in came:
                    came[there] = (here, edge.move)
                    waiting.append(there)
        raise ValueError(f"no route leaves {thing} open in any of the states")

    def _edges(self, number: int) -> tuple[Edge, ...]:
        return self._graph.edges[number] if number < len(self._graph.edges) else ()

    def _at_start(self) -> int:
        return (self._levels | self._deeds) & ~self._bit[self._graph.states[0].place]

    def _after(self, open_things: int, edge: Edge) -> int:
        if edge.fresh:
            open_things |= self._afresh
        if edge.crosses:
            open_things &= ~self._bit[self._graph.states[edge.target].place]
        elif edge.move.kind == "deed":
            open_things &= ~self._bit.get((edge.move.level, edge.move.thing), 0)
        return open_things

    def _maybe_open(self) -> list[int]:
        found = [0] * len(self._graph.states)
        if not found:
            return found
        found[0] = self._at_start()
        waiting = deque([0])
        reached = {0}
        while waiting:
            here = waiting.popleft()
            for edge in self._edges(here):
                if edge.target == ENDING:
                    continue
                there = found[edge.target] | self._after(found[here], edge)
                if there != found[edge.target] or edge.target not in reached:
                    reached.add(edge.target)
                    found[edge.target] = there
                    waiting.append(edge.target)
        return found

    def _still_possible(self) -> list[int]:
        """By strongly connected groups: within one, everything possible anywhere is possible everywhere."""
        everything = self._levels | self._deeds
        group_of, groups = strong_groups(self._graph)
        of_group = [0] * len(groups)
        for index, members in enumerate(groups):  # a group comes after all that it leads to
            bits = 0
            for number in members:
                bits |= self._bit[self._graph.states[number].place]
                if number >= len(self._graph.edges):
                    bits = everything  # not looked at: anything may follow
                for edge in self._edges(number):
                    if edge.target != ENDING and not edge.fresh:
                        bits |= of_group[group_of[edge.target]]
                    if edge.move.kind == "deed":
                        bits |= self._bit.get((edge.move.level, edge.move.thing), 0)
            of_group[index] = bits
        return [of_group[group_of[number]] for number in range(len(self._graph.states))]


def strong_groups(graph: Graph) -> tuple[list[int], list[list[int]]]:
    """The strongly connected groups over edges that begin no new run: for each state its group, and the
    groups' members, each group after all that it leads to. Tarjan's algorithm (1972), without recursion."""
    count = len(graph.states)
    onward = [[e.target for e in edges if e.target != ENDING and not e.fresh] for edges in graph.edges] + [
        [] for _ in range(count - len(graph.edges))
    ]
    order = [-1] * count
    low = [0] * count
    group_of = [-1] * count
    groups: list[list[int]] = []
    open_states: list[int] = []
    visited = 0
    for root in range(count):
        if order[root] >= 0:
            continue
        work = [(root, 0)]
        while work:
            here, child = work.pop()
            if child == 0:
                order[here] = low[here] = visited
                visited += 1
                open_states.append(here)
            elif low[onward[here][child - 1]] < low[here] and group_of[onward[here][child - 1]] < 0:
                low[here] = low[onward[here][child - 1]]
            descends = False
            for index in range(child, len(onward[here])):
                there = onward[here][index]
                if order[there] < 0:
                    work += [(here, index + 1), (there, 0)]
                    descends = True
                    break
                if group_of[there] < 0:
                    low[here] = min(low[here], order[there])
            if not descends and low[here] == order[here]:
                members: list[int] = []
                while not members or members[-1] != here:
                    members.append(open_states.pop())
                    group_of[members[-1]] = len(groups)
                groups.append(members)
    return group_of, groups

"""Whether a promise of the designer holds."""

from collections.abc import Iterator
from typing import Literal

from msgspec import Struct

from mossy_bridge.model.flow import Promise
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move
from mossy_bridge.reach.graph import ENDING, Edge, Graph
from mossy_bridge.reach.retracing import retraced
from mossy_bridge.reach.sinking import leading_to

_Node = tuple[int, int]
"""A state's number and the crossings made on the way to it."""


class Kept(Struct, frozen=True):
    """Whether a promise holds, and a route that shows it, where one does."""

    holds: Literal["yes", "no", "unknown"]
    route: tuple[Move, ...] | None = None


class _Goal:
    """What the promise speaks of: states in its level, or moves into its ending, with its condition true."""

    def __init__(self, promise: Promise, rules: Rules, graph: Graph):
        self._level, self._ending = promise.level, promise.ending
        self._holds = rules.words.test(promise.when)
        self._graph = graph

    def met_in(self, number: int) -> bool:
        state = self._graph.states[number]
        return bool(self._level) and state.place == self._level and self._holds(state)

    def ending_moves(self, number: int) -> Iterator[Edge]:
        if self._ending and number < len(self._graph.edges) and self._holds(self._graph.states[number]):
            yield from (e for e in self._graph.edges[number] if e.target == ENDING and e.ending == self._ending)

    def near(self, number: int) -> bool:
        return self.met_in(number) or any(True for _ in self.ending_moves(number))


def kept(promise: Promise, rules: Rules, graph: Graph) -> Kept:
    """Whether the promise holds in the graph; unknown where states not looked at could decide it."""
    goal = _Goal(promise, rules, graph)
    match promise.kind:
        case "can" | "within":
            most = promise.crossings if promise.kind == "within" else None
            route = _route(graph, goal, frozenset(promise.avoiding), most)
            if route is not None:
                return Kept("yes", tuple(route))
            return Kept("no" if graph.complete else "unknown")
        case "never":
            route = _route(graph, goal, frozenset(), None)
            if route is not None:
                return Kept("no", tuple(route))
            return Kept("yes" if graph.complete else "unknown")
        case "always_can":
            return _always(goal, rules, graph)


def _route(graph: Graph, goal: _Goal, avoiding: frozenset[str], most: int | None) -> list[Move] | None:
    """A shortest route, in moves, to the goal; with ``most``, among those with no more crossings."""
    if not graph.states or graph.states[0].place in avoiding:
        return None
    start: _Node = (0, 0)
    came: dict[_Node, tuple[_Node, Move] | None] = {start: None}
    fewest = {0: 0}
    layer = [start]
    while layer:
        # A state at the goal is nearer than a move into the ending from the same layer.
        inside = next((node for node in layer if goal.met_in(node[0])), None)
        if inside is not None:
            return retraced(came, inside)
        for node in layer:
            for ending in goal.ending_moves(node[0]):
                return [*retraced(came, node), ending.move]
        after = []
        for here in layer:
            for edge in graph.edges[here[0]] if here[0] < len(graph.edges) else ():
                there = (edge.target, here[1] + (edge.crosses and most is not None))
                if edge.target == ENDING or graph.states[edge.target].place in avoiding:
                    continue
                if (most is None or there[1] <= most) and there[1] < fewest.get(edge.target, there[1] + 1):
                    fewest[edge.target] = there[1]
                    came[there] = (here, edge.move)
                    after.append(there)
        layer = after
    return None


def _always(goal: _Goal, rules: Rules, graph: Graph) -> Kept:
    count = len(graph.states)
    fine = leading_to(graph, [n for n in range(count) if goal.near(n)])
    unseen = range(len(graph.edges), count)
    maybe = leading_to(graph, unseen) if unseen else [False] * count
    for number, state in enumerate(graph.states):
        judged = rules.levels[state.place].source.kind == "play"
        if judged and not fine[number] and not maybe[number]:
            return Kept("no", tuple(graph.route(number)))
    return Kept("yes" if graph.complete else "unknown")

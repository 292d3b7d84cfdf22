"""The graph of reachable states, found breadth first.

``O(states × moves)`` time and space. States are numbered in the order found, so a smaller number is never
further from the start, in moves.
"""

import time
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field

from msgspec import Struct

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State
from mossy_bridge.reach.retracing import traced_back

ENDING = -1
"""The target of an edge into an ending, instead of a state's number."""

Stopper = Callable[[], bool]
"""Asked now and then; true when the search must stop."""


class Edge(Struct, frozen=True, gc=False):
    """A move out of a state."""

    move: Move
    target: int
    ending: str = ""
    fresh: bool = False
    """Whether the move fires a ``fresh`` exit."""

    @property
    def crosses(self) -> bool:
        """Whether the move is an arrival."""
        return self.target != ENDING and self.move.kind in ("exit", "tile")


@dataclass
class Graph:
    """States, the moves between them, and how each was first come to."""

    states: list[State] = field(default_factory=list)
    edges: list[tuple[Edge, ...]] = field(default_factory=list)
    """Of the states expanded so far, which are the first ``len(edges)``."""
    forced: list[bool] = field(default_factory=list)
    came: list[tuple[int, Move] | None] = field(default_factory=list)
    """The state before, and the move from it; None for a start."""
    complete: bool = True

    def route(self, number: int) -> list[Move]:
        """A shortest list of moves into the state."""
        return traced_back(self.came, number)

    def numbered_edges(self) -> Iterator[tuple[int, Edge]]:
        """Every edge with the state it leaves, nearest states first."""
        for number, edges in enumerate(self.edges):
            for edge in edges:
                yield number, edge

    def backward(self, allowed: Callable[[Edge], bool]) -> list[list[int]]:
        """For each state, those from which an allowed edge leads to it."""
        before: list[list[int]] = [[] for _ in self.states]
        for number, edge in self.numbered_edges():
            if edge.target != ENDING and allowed(edge):
                before[edge.target].append(number)
        return before


class Exploration:
    """The search for all states that moves lead to from some starts: it can be stopped, and gone on with."""

    def __init__(self, rules: Rules, starts: Iterable[State], blanked: Callable[[State], State]):
        self._rules, self._blanked = rules, blanked
        self._numbers: dict[State, int] = {}
        self._fresh = {(level.id, e.id) for level in rules.flow.levels for e in level.exits if e.fresh}
        self.graph = Graph()
        for start in starts:
            self._number_of(start, None)

    def _number_of(self, state: State, came: tuple[int, Move] | None) -> int:
        state = self._blanked(state)
        found = self._numbers.get(state)
        if found is None:
            found = self._numbers[state] = len(self.graph.states)
            self.graph.states.append(state)
            self.graph.came.append(came)
        return found

    def go_on(self, stop: Stopper) -> Graph:
        """Searches until all is found or the stop; the graph says which."""
        graph, rules = self.graph, self._rules
        graph.complete = False
        while len(graph.edges) < len(graph.states):
            here = len(graph.edges)
            if here % 64 == 0 and stop():
                return graph
            edges = []
            state = graph.states[here]
            sprung = rules.sprung(state)
            for move, after in [rules.forced_move(sprung, state)] if sprung else rules.free_moves(state):
                anew = move.kind == "exit" and (move.level, move.thing) in self._fresh
                if isinstance(after, Ended):
                    edges.append(Edge(move, ENDING, after.ending, anew))
                else:
                    edges.append(Edge(move, self._number_of(after, (here, move)), "", anew))
            graph.edges.append(tuple(edges))
            graph.forced.append(sprung is not None)
        graph.complete = True
        return graph


def deadline(seconds: float) -> Stopper:
    """A stopper that says stop once the seconds are over."""
    end = time.monotonic() + seconds
    return lambda: time.monotonic() >= end

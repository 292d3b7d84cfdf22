"""Whether forced firing ever comes back to a state without a move of the player."""

from collections import deque
from collections.abc import Iterable

import numpy as np

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move, State
from mossy_bridge.play.walking import final_state
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.machine import Stopper
from mossy_bridge.reach.retracing import retraced
from mossy_bridge.reach.routes import SomeRoute


def route_into_circle(rules: Rules, graph: Graph, stop: Stopper) -> tuple[Move, ...] | None:
    """A shortest route into a state that forced firing comes back to, or None if there is none.

    States of the graph that are alike circle together, but the first laps may still change what is not tracked
    (a level becoming seen); so where there is a circle, whole states are searched for the shortest way in.
    If that is stopped, the route leads to where the circle shows in the graph, and on to a state that comes again.
    """
    entry = first_in_circle(graph)
    if entry is None:
        return None
    return (graph.tells_places and _exact_route(rules, stop)) or SomeRoute(_until_again(rules, graph.route(entry)))


def first_in_circle(graph: Graph) -> int | None:
    """The smallest number of a state on a circle of forced moves; each state has at most one such move.

    Going on twice as far in each round, from everywhere at once, only states on circles are left.
    """
    count = len(graph)
    edges = np.flatnonzero(graph.forced & (graph.target >= 0))
    if not len(edges):
        return None
    onward = np.full(count + 1, count)  # the last stands for where nothing is forced any more
    onward[graph.source[edges]] = graph.target[edges]
    for _ in range(len(edges).bit_length() + 1):
        onward = onward[onward]
    circling = np.unique(onward)
    return int(circling[0]) if circling[0] < count else None


def _exact_route(rules: Rules, stop: Stopper) -> tuple[Move, ...] | None:
    start = rules.begin()
    if start is None:
        return None
    came: dict[State, tuple[State, Move] | None] = {start: None}
    waiting = deque([start])
    while waiting and not stop():
        here = waiting.popleft()
        if _comes_again(rules, here):
            return tuple(retraced(came, here))
        for move, after in rules.moves(here):
            if isinstance(after, State) and after not in came:
                came[after] = (here, move)
                waiting.append(after)
    return None


def _until_again(rules: Rules, route: Iterable[Move]) -> tuple[Move, ...]:
    """A route into a state from which forced firing never ends, and on as far as the first that comes again."""
    moves = list(route)
    here = final_state(rules, [str(move) for move in moves])
    passed: dict[State, int] = {}
    while isinstance(here, State) and here not in passed and (forced := rules.sprung(here)):
        passed[here] = len(moves)
        move, here = rules.forced_move(forced, here)
        moves.append(move)
    if not isinstance(here, State) or here not in passed:
        raise ValueError("the route does not lead into a circle of forced moves")
    return tuple(moves[: passed[here]])


def _comes_again(rules: Rules, state: State) -> bool:
    passed: set[State] = set()
    here = state
    while here not in passed:
        passed.add(here)
        forced = rules.sprung(here)
        after = rules.fire(forced, here) if forced else None
        if not isinstance(after, State):
            return False
        here = after
    return here == state

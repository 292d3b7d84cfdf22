"""Whether forced moves ever return to a state without a move of the player, and a route into such a cycle.

States with a forced move have no other, so forced moves form a functional graph; its cycles are found by pointer
doubling.
"""

from collections import deque
from collections.abc import Iterable

import numpy as np

from mossy_bridge.play.replay import final_state
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move, State
from mossy_bridge.reach.arrays import unique
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.system.program_graph import Stopper
from mossy_bridge.reach.system.routes import Route, SomeRoute, read_back


def route_into_forced_cycle(rules: Rules, graph: ReachabilityGraph, stop: Stopper) -> Route | None:
    """A shortest route into a state that forced moves return to, or None if there is none.

    In the graph states that are alike form a cycle, but the first laps may still change what is not tracked (a level
    becoming seen); so where there is a cycle, whole states are searched for the shortest route into it. If that is
    stopped, the route leads to where the cycle shows in the graph, and on to a state that recurs.
    """
    entry = first_in_forced_cycle(graph)
    if entry is None:
        return None
    exact = _shortest_route(rules, stop) if graph.system.tells_level else None
    return exact or SomeRoute(_until_recurring(rules, graph.route(entry)))


def first_in_forced_cycle(graph: ReachabilityGraph) -> int | None:
    """The smallest number of a state on a cycle of forced moves; each state has at most one such move.

    Following the moves twice as far in each round, from everywhere at once, leaves only states on cycles.
    ``O(states x log states)``.
    """
    count = len(graph)
    edges = np.flatnonzero(graph.forced & (graph.target >= 0))
    if not len(edges):
        return None
    onward = np.full(count + 1, count)  # the last stands for where nothing is forced any more
    onward[graph.source[edges]] = graph.target[edges]
    for _ in range(len(edges).bit_length() + 1):
        onward = onward[onward]
    recurring = unique(onward)
    return int(recurring[0]) if recurring[0] < count else None


def _shortest_route(rules: Rules, stop: Stopper) -> Route | None:
    start = rules.begin()
    if start is None:
        return None
    parent: dict[State, tuple[State, Move] | None] = {start: None}
    waiting = deque([start])
    while waiting and not stop():
        here = waiting.popleft()
        if _recurs(rules, here):
            return tuple(read_back(here, parent.__getitem__))
        for move, after in rules.moves(here):
            if isinstance(after, State) and after not in parent:
                parent[after] = (here, move)
                waiting.append(after)
    return None


def _until_recurring(rules: Rules, route: Iterable[Move]) -> Route:
    """A route into a state from which forced moves never end, and on to the first state that recurs."""
    moves = list(route)
    here = final_state(rules, [str(move) for move in moves])
    passed: dict[State, int] = {}
    while isinstance(here, State) and here not in passed and (forced := rules.sprung(here)):
        passed[here] = len(moves)
        move, here = rules.forced_move(forced, here)
        moves.append(move)
    if not isinstance(here, State) or here not in passed:
        raise ValueError("the route does not lead into a cycle of forced moves")
    return tuple(moves[: passed[here]])


def _recurs(rules: Rules, state: State) -> bool:
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

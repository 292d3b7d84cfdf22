"""Whether forced firing ever comes back to a state without a move of the player."""

from collections import deque

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move, State
from mossy_bridge.reach.graph import Graph, Stopper
from mossy_bridge.reach.retracing import retraced


def route_into_circle(rules: Rules, graph: Graph, stop: Stopper) -> list[Move] | None:
    """A shortest route into a state that forced firing comes back to, or None if there is none.

    States that were blanked alike circle together, but the first laps may still change what blanking hides
    (a level becoming seen); so where there is a circle, whole states are searched for the shortest way in.
    If that is stopped, the route leads to where the circle shows among the blanked states.
    """
    entry = first_in_circle(graph)
    if entry is None:
        return None
    return _exact_route(rules, stop) or graph.route(entry)


def first_in_circle(graph: Graph) -> int | None:
    """The smallest number of a state on a circle of forced moves; each state has at most one such move."""
    onward = {
        number: edges[0].target
        for number, edges in enumerate(graph.edges)
        if graph.forced[number] and edges[0].target >= 0
    }
    finished: set[int] = set()
    circling: list[int] = []
    for start in onward:
        trail: dict[int, None] = {}
        here: int | None = start
        while here is not None and here not in trail and here not in finished:
            trail[here] = None
            here = onward.get(here)
        if here is not None and here in trail:
            way = list(trail)
            circling += way[way.index(here) :]
        finished.update(trail)
    return min(circling, default=None)


def _exact_route(rules: Rules, stop: Stopper) -> list[Move] | None:
    start = rules.begin()
    if start is None:
        return None
    came: dict[State, tuple[State, Move] | None] = {start: None}
    waiting = deque([start])
    while waiting and not stop():
        here = waiting.popleft()
        if _comes_again(rules, here):
            return retraced(came, here)
        for move, after in rules.moves(here):
            if isinstance(after, State) and after not in came:
                came[after] = (here, move)
                waiting.append(after)
    return None


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

"""A transition tour: few walks from the start that together use every exit, deed, path and tile that can be used.

Transition tours are from protocol testing (Naito and Tsunoyama 1981). Here one is found greedily: a walk goes on to the
nearest thing not used yet, until none is reachable any more; then the next walk begins. Of several such tours, which
choose differently between things equally near, the one with the fewest moves is taken. How far that can be from the
optimum is given by a lower bound: moves as a network flow through the locations, whatever their guards, that uses each
thing at least once (a linear program; no tour has fewer moves).
"""

import math
import random
from collections.abc import Callable, Iterator

import numpy as np
from msgspec import Struct

from mossy_bridge.play.replay import play
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.survey.budget import Cancelled
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.system.routes import read_back
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition

Use = tuple[str, tuple[str, ...]]
"""The kind of a move, and the name of what it uses."""
Leg = tuple[Move, Use | None]
"""A move, and what it uses for the first time."""


class Stop(Struct, frozen=True):
    """One move of a tour: what to do, what should be seen after it, and what it uses for the first time ("" if
    nothing)."""

    move: Move
    after: State | Ended
    first: str


class Tour(Struct, frozen=True):
    """Walks from the start. ``least`` is a lower bound on the moves of any tour."""

    walks: tuple[tuple[Stop, ...], ...]
    things: int
    least: int

    @property
    def moves(self) -> int:
        """How many moves all walks have together."""
        return sum(map(len, self.walks))


def transition_tour(survey: Survey, cancelled: Callable[[], bool] = lambda: False) -> Tour:
    """A tour of a flow. Raises :class:`~mossy_bridge.reach.survey.budget.Cancelled` soon after ``cancelled`` says
    so."""
    wanted, limits = set(_wanted(survey)), survey.program.limits
    if survey.settled and len(survey.graph) <= limits.tour_states:
        found = []
        for seed in range(limits.tour_tries):
            found.append(_greedy(survey.graph, wanted, random.Random(seed)))
            if cancelled():
                raise Cancelled
        routes = min(found, key=lambda routes: (sum(map(len, routes)), len(routes)))
    else:
        routes = list(_by_routes(survey, wanted))
    walks = tuple(tuple(_stops(survey.rules, route)) for route in routes)
    return Tour(walks, len(wanted), _least(survey, wanted) if wanted else 0)


def widest_walk(survey: Survey) -> list[Move]:
    """A walk that enters every play level that can still be entered, the nearest first, and then reaches an ending
    if it can. Empty where not every state was explored, or there are too many."""
    graph = survey.graph
    if not survey.settled or len(graph) > survey.program.limits.tour_states or not len(graph):
        return []
    locations = survey.program.locations
    entered: list[Use] = [
        ("level", (locations[transition.target].place if transition.crosses else "",))
        for transition in graph.transitions
    ]
    ends: list[Use] = [("ending", (transition.ending,)) for transition in graph.transitions]
    played = [level.id for level in survey.flow.levels if level.kind == "play"]  # credits would lead to an end too soon
    left: set[Use] = {("level", (name,)) for name in played if survey.levels[name].answer == "yes"}
    left.discard(("level", (locations[graph.location[0]].place,)))
    edges = _Edges.of_graph(graph)
    pick, here, walk = random.Random(0), 0, list[Move]()
    endings: set[Use] = {("ending", (ending.id,)) for ending in survey.flow.endings}
    legs = (entered, left), (ends, endings)
    for uses, wanted in legs:
        while here != ENDING and (leg := _nearest(here, wanted, uses, edges, pick)):
            for edge in leg:
                wanted.discard(uses[edges.transition[edge]])
                walk.append(graph.transitions[edges.transition[edge]].move)
                here = edges.target[edge]
    return walk


def _wanted(survey: Survey) -> Iterator[Use]:
    for kind, group in (("exit", survey.exits), ("deed", survey.deeds), ("tile", survey.tiles), ("path", survey.paths)):
        yield from ((kind, place) for place, verdict in group.items() if verdict.answer == "yes")


def _use(transition: GuardedTransition) -> Use:
    return transition.move.kind, transition.place


# -- finding -----------------------------------------------------------------------------------------------


class _Edges(Struct, frozen=True):
    """The edges of a graph as lists, which are quicker to follow one at a time."""

    first: list[int]
    transition: list[int]
    target: list[int]

    @staticmethod
    def of_graph(graph: ReachabilityGraph) -> "_Edges":
        """Those of a graph."""
        return _Edges(graph.first_edge.tolist(), graph.transition.tolist(), graph.target.tolist())

    def of(self, state: int) -> range:
        """The edges that leave a state."""
        return range(self.first[state], self.first[state + 1])


def _greedy(graph: ReachabilityGraph, wanted: set[Use], pick: random.Random) -> list[list[Leg]]:
    left = set(wanted)
    uses = [_use(transition) for transition in graph.transitions]
    edges = _Edges.of_graph(graph)
    walks: list[list[Leg]] = []
    while left:
        here = 0
        walk: list[Leg] = []
        while here != ENDING:
            leg = _nearest(here, left, uses, edges, pick)
            if leg is None:
                break
            for edge in leg:
                thing = uses[edges.transition[edge]]
                walk.append((graph.transitions[edges.transition[edge]].move, thing if thing in left else None))
                left.discard(thing)
                here = edges.target[edge]
        if not walk:
            break
        walks.append(walk)
    return walks


def _nearest(here: int, left: set[Use], uses: list[Use], graph: _Edges, pick: random.Random) -> list[int] | None:
    """The edges to the nearest thing that is left. Of those equally near, one that does not end the walk."""
    parent: dict[int, tuple[int, int] | None] = {here: None}
    layer = [here]
    while layer:
        found = [(edge, state) for state in layer for edge in graph.of(state) if uses[graph.transition[edge]] in left]
        if found:
            going_on = [pair for pair in found if graph.target[pair[0]] != ENDING] or found
            edge, state = pick.choice(going_on)
            return [*read_back(state, parent.__getitem__), edge]
        after = []
        for state in layer:
            for edge in graph.of(state):
                there = graph.target[edge]
                if there != ENDING and there not in parent:
                    parent[there] = state, edge
                    after.append(there)
        layer = after
    return None


def _by_routes(survey: Survey, wanted: set[Use]) -> Iterator[list[Leg]]:
    """The survey's routes, the longest first, those left out that use nothing new."""
    left = set(wanted)
    for thing in sorted(wanted, key=lambda thing: -len(survey.verdicts(thing[0])[thing[1]].route)):
        if thing not in left:
            continue
        steps: list[Leg] = []
        route = survey.verdicts(thing[0])[thing[1]].route
        for number, move in enumerate(route, 1):
            # which of two paths between the same zones is walked on the way cannot be told from the move
            uses = thing if number == len(route) else (move.kind, (move.level, move.thing))
            steps.append((move, uses if uses in left else None))
            left.discard(uses)
        yield steps


def _stops(rules: Rules, route: list[Leg]) -> Iterator[Stop]:
    for (move, thing), taken in zip(route, play(rules, [str(move) for move, _ in route]), strict=False):
        if taken.after is None:
            return
        yield Stop(move, taken.after, ".".join(thing[1]) if thing else "")


# -- how good it can be ------------------------------------------------------------------------------------


def _least(survey: Survey, wanted: set[Use]) -> int:
    """A lower bound on the moves of any tour: the least flow in which no more leaves a location than enters
    it, or begins there, and each wanted thing is used. A column for each used transition, and one for beginning."""
    from scipy.optimize import linprog
    from scipy.sparse import coo_array

    program = survey.program
    used = sorted(survey.used_transitions)
    count = len(program.locations)
    row_of = {thing: count + at for at, thing in enumerate(sorted(wanted))}
    entries: list[tuple[int, int, float]] = [(program.start[0], len(used), -1.0)] if program.start else []
    for column, number in enumerate(used):
        transition = program.transitions[number]
        entries.append((transition.location, column, 1.0))
        if transition.target != ENDING:
            entries.append((transition.target, column, -1.0))
        if _use(transition) in row_of:
            entries.append((row_of[_use(transition)], column, -1.0))
    rows, columns, values = zip(*entries, strict=True)
    shape = (count + len(row_of), len(used) + 1)
    matrix = coo_array((values, (rows, columns)), shape=shape).tocsr()
    bounds = np.concatenate([np.zeros(count), -np.ones(len(row_of))])
    cost = np.append(np.ones(len(used)), 0.0)
    found = linprog(cost, A_ub=matrix, b_ub=bounds, method="highs")  # type: ignore[call-overload]
    return max(math.ceil(found.fun - 1e-6), len(wanted)) if found.status == 0 else len(wanted)

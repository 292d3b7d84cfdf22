"""A tour: few walks from the start that together use every exit, deed, path and tile that can be used.

Greedy: from where a walk is, it goes on to the nearest thing not used yet, until none can be come to any more; then the
next walk begins. Of several such tours, which choose differently between things equally near, the one with the fewest
moves is taken. How far that can be from the best is told by a lower bound: moves as a flow through the places of the
game, whatever conditions ask, that uses each thing at least once (a linear program; no tour has fewer moves).
"""

import math
import random
from collections.abc import Iterator

import numpy as np
from msgspec import Struct

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State
from mossy_bridge.play.walking import play
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.machine import ENDING, Row
from mossy_bridge.reach.verdicts import Survey

Thing = tuple[str, tuple[str, ...]]
"""The kind of a move, and the place of what it uses."""
Step = tuple[Move, Thing | None]
"""A move, and what it uses for the first time."""


class Stop(Struct, frozen=True):
    """One move of a tour: what to do, what should be seen after it, and what it uses for the first time ("" if
    nothing)."""

    move: Move
    after: State | Ended
    first: str


class Tour(Struct, frozen=True):
    """Walks from the start. ``least`` is a number of moves that no tour can do with less of."""

    walks: tuple[tuple[Stop, ...], ...]
    things: int
    least: int

    @property
    def moves(self) -> int:
        """How many moves all walks have together."""
        return sum(map(len, self.walks))


def toured(survey: Survey) -> Tour:
    """A tour of a flow."""
    wanted, limits = set(_wanted(survey)), survey.machine.limits
    if survey.settled and len(survey.graph) <= limits.tour_states:
        found = [_greedy(survey.graph, wanted, random.Random(seed)) for seed in range(limits.tour_tries)]
        routes = min(found, key=lambda routes: (sum(map(len, routes)), len(routes)))
    else:
        routes = list(_by_routes(survey, wanted))
    walks = tuple(tuple(_stops(survey.rules, route)) for route in routes)
    return Tour(walks, len(wanted), _least(survey, wanted) if wanted else 0)


def fullest(survey: Survey) -> list[Move]:
    """A walk that enters every play level that can still be entered, the nearest first, and then comes to an ending
    if it can. Empty where not every state was looked at, or there are too many."""
    graph = survey.graph
    if not survey.settled or len(graph) > survey.machine.limits.tour_states or not len(graph):
        return []
    controls = survey.machine.controls
    entered: list[Thing] = [("level", (controls[row.target].place if row.crosses else "",)) for row in graph.rows]
    ends: list[Thing] = [("ending", (row.ending,)) for row in graph.rows]
    played = [level.id for level in survey.flow.levels if level.kind == "play"]  # credits would lead to an end too soon
    left: set[Thing] = {("level", (name,)) for name in played if survey.levels[name].answer == "yes"}
    left.discard(("level", (controls[graph.control[0]].place,)))
    first, row, target = graph.first_edge.tolist(), graph.row.tolist(), graph.target.tolist()
    pick, here, walk = random.Random(0), 0, list[Move]()
    endings: set[Thing] = {("ending", (ending.id,)) for ending in survey.flow.endings}
    legs = (entered, left), (ends, endings)
    for things, wanted in legs:
        while here != ENDING and (leg := _nearest(here, wanted, things, first, row, target, pick)):
            for edge in leg:
                wanted.discard(things[row[edge]])
                walk.append(graph.rows[row[edge]].move)
                here = target[edge]
    return walk


def _wanted(survey: Survey) -> Iterator[Thing]:
    for kind, group in (("exit", survey.exits), ("deed", survey.deeds), ("tile", survey.tiles), ("path", survey.paths)):
        yield from ((kind, place) for place, verdict in group.items() if verdict.answer == "yes")


def _thing(row: Row) -> Thing:
    return row.move.kind, row.path or (row.move.level, row.move.thing)


# -- finding -----------------------------------------------------------------------------------------------


def _greedy(graph: Graph, wanted: set[Thing], pick: random.Random) -> list[list[Step]]:
    left = set(wanted)
    things = [_thing(row) for row in graph.rows]
    first, row, target = graph.first_edge.tolist(), graph.row.tolist(), graph.target.tolist()
    walks: list[list[Step]] = []
    while left:
        here = 0
        walk: list[Step] = []
        while here != ENDING:
            leg = _nearest(here, left, things, first, row, target, pick)
            if leg is None:
                break
            for edge in leg:
                thing = things[row[edge]]
                walk.append((graph.rows[row[edge]].move, thing if thing in left else None))
                left.discard(thing)
                here = target[edge]
        if not walk:
            break
        walks.append(walk)
    return walks


def _nearest(
    here: int, left: set[Thing], things: list[Thing], first: list[int], row: list[int], target: list[int],
    pick: random.Random,
) -> list[int] | None:  # fmt: skip
    """The edges to the nearest thing that is left. Of those equally near, one that does not end the walk."""
    came: dict[int, int] = {here: -1}
    source: dict[int, int] = {}
    layer = [here]
    while layer:
        found = [(edge, state) for state in layer for edge in range(first[state], first[state + 1])
                 if things[row[edge]] in left]  # fmt: skip
        if found:
            going_on = [pair for pair in found if target[pair[0]] != ENDING] or found
            edge, state = pick.choice(going_on)
            leg = [edge]
            while state != here:
                leg.append(came[state])
                state = source[state]
            return leg[::-1]
        after = []
        for state in layer:
            for edge in range(first[state], first[state + 1]):
                there = target[edge]
                if there != ENDING and there not in came:
                    came[there], source[there] = edge, state
                    after.append(there)
        layer = after
    return None


def _by_routes(survey: Survey, wanted: set[Thing]) -> Iterator[list[Step]]:
    """The survey's routes, the longest first, those left out that use nothing new."""
    left = set(wanted)
    for thing in sorted(wanted, key=lambda thing: -len(survey.group(thing[0])[thing[1]].route)):
        if thing not in left:
            continue
        steps: list[Step] = []
        route = survey.group(thing[0])[thing[1]].route
        for number, move in enumerate(route, 1):
            # which of two paths between the same zones is walked on the way cannot be told from the move
            uses = thing if number == len(route) else (move.kind, (move.level, move.thing))
            steps.append((move, uses if uses in left else None))
            left.discard(uses)
        yield steps


def _stops(rules: Rules, route: list[Step]) -> Iterator[Stop]:
    for (move, thing), taken in zip(route, play(rules, [str(move) for move, _ in route]), strict=False):
        if taken.after is None:
            return
        yield Stop(move, taken.after, ".".join(thing[1]) if thing else "")


# -- how good it can be ------------------------------------------------------------------------------------


def _least(survey: Survey, wanted: set[Thing]) -> int:
    """A number of moves that no tour can do with less of."""
    from scipy.optimize import linprog
    from scipy.sparse import coo_array

    machine = survey.machine
    rows = machine.rows
    used = sorted(survey.graph.first_by_row if survey.settled or not survey.proofs else survey.proofs.used)
    begun = len(used)  # the variable for how often play begins
    columns, places, values = [], [], []
    for column, index in enumerate(used):
        row = rows[index]
        places.append(row.control)
        values.append(1.0)
        columns.append(column)
        if row.target != ENDING:
            places.append(row.target)
            values.append(-1.0)
            columns.append(column)
    count = len(machine.controls)
    if machine.start:
        places.append(machine.start[0])
        values.append(-1.0)
        columns.append(begun)
    numbers = {thing: count + at for at, thing in enumerate(sorted(wanted))}
    for column, index in enumerate(used):
        thing = _thing(rows[index])
        if thing in numbers:
            places.append(numbers[thing])
            values.append(-1.0)
            columns.append(column)
    shape = (count + len(numbers), begun + 1)
    limits = np.concatenate([np.zeros(count), -np.ones(len(numbers))])
    cost = np.append(np.ones(begun), 0.0)
    matrix = coo_array((values, (places, columns)), shape=shape).tocsr()
    found = linprog(cost, A_ub=matrix, b_ub=limits, method="highs")  # type: ignore[call-overload]
    return max(math.ceil(found.fun - 1e-6), len(wanted)) if found.status == 0 else len(wanted)

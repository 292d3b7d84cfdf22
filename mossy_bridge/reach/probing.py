"""Playing on at random until little more can happen, and looking at that little whole.

Where there are far too many states to look at each, what can be lost is still often found at the end of play: spent
keys and shut doors leave few states to come to. A probe makes moves at random, rather those that change something, and
every so often looks at all that can still be come to from where it is. Once that is little it is known exactly: a
state in it from which no ending follows *is* stuck, and what cannot be come to any more *is* lost. A probe can only
find, never exclude. The same flow is always probed in the same way.
"""

import random
from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

from mossy_bridge.play.state import Move, Thing
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.machine import ENDING, Machine, Row, Stopper
from mossy_bridge.reach.missing import Missing
from mossy_bridge.reach.routes import Route, SomeRoute
from mossy_bridge.reach.search import little_from
from mossy_bridge.reach.sinking import Sinking

EAGER = 4
"""How much rather a move is made that changes something."""


class Probe:
    """A route, and everything that can still be come to at its end."""

    def __init__(self, machine: Machine, rows: list[Row], graph: Graph):
        self._moves = tuple(row.move for row in rows)
        self._machine, self._rows, self._graph = machine, rows, graph
        self.sinking = Sinking(machine.rules, graph)
        self.missing = Missing(machine.rules.flow, graph, open_at_start=_left_open(machine, rows))

    def found(self) -> Iterator[tuple[str, Any, Callable[[], Route]]]:
        """Everything that it came to, on the way and at the end: its kind and place, and how to trace a route there."""
        controls = self._machine.controls
        for number, row in enumerate(self._rows, 1):
            route = partial(SomeRoute, self._moves[:number])
            yield row.move.kind, row.path or (row.move.level, row.move.thing), route
            if row.crosses:
                yield "level", controls[row.target].place, route
        graph = self._graph
        for level, state in graph.first_in_levels().items():
            yield "level", level, partial(self._route, state)
        for (kind, place), (state, row) in graph.uses().items():
            yield kind, place, partial(self._route, state, row.move)

    def _route(self, state: int, *last: Move) -> Route:
        return SomeRoute((*self._moves, *self._graph.route(state, *last)))

    def stuck(self) -> tuple[Move, ...] | None:
        """A route into a stuck state, where some ending is known to be come to from elsewhere."""
        graph = self._graph
        numbers = (graph.judged & ~self.sinking.can_end).nonzero()[0]
        return (*self._moves, *graph.route(int(numbers[0]))) if len(numbers) else None

    def lost(self) -> set[Thing]:
        """The levels and deeds that are missed in some state."""
        return self.missing.missed(self.sinking.can_end & self._graph.judged)

    def route_to_loss(self, thing: Thing) -> tuple[Move, ...]:
        """A route into a state in which the level or deed is missed."""
        goals = self.missing.lost(thing) & self.sinking.can_end & self._graph.judged
        return (*self._moves, *self.missing.route_leaving_open(thing, goals))


def probes(machine: Machine, stop: Stopper) -> Iterator[Probe]:
    """Probes from the start, one after the other."""
    limits, in_vain = machine.limits, 0
    for seed in range(limits.walks):
        found = _probe(machine, random.Random(seed), stop)
        if found:
            yield found
        in_vain += found is None
        if stop() or in_vain == limits.walks_in_vain:
            return


def _probe(machine: Machine, pick: random.Random, stop: Stopper) -> Probe | None:
    state = machine.start
    if state is None:
        return None
    rows: list[Row] = []
    trail, passed = [state], {state: 0}
    limits = machine.limits
    look = limits.walk_first_look
    for made in range(limits.walk_moves):
        moves = [move for move in machine.moves(*state) if move[1] != ENDING and not machine.rows[move[0]].fresh]
        if made == look or made == limits.walk_moves - 1 or not moves:
            look *= 2
            graph = little_from(machine, [state], stop, limits.walk_states, limits.walk_edges)
            if graph.complete:  # otherwise nothing is sure
                return Probe(machine, rows, graph)
            if not moves or stop():
                return None
        weights = [EAGER if move[2] != state[1] else 1 for move in moves]
        row, control, word = pick.choices(moves, weights)[0]
        state = (control, word)
        at = passed.get(state, len(trail))
        if at < len(trail) and trail[at] == state:  # a circle adds nothing to the route
            del rows[at:], trail[at + 1 :]
        else:
            rows.append(machine.rows[row])
            passed[state] = len(trail)
            trail.append(state)
    return None


def _left_open(machine: Machine, rows: list[Row]) -> set[Thing]:
    """The levels not entered and the deeds not done on a route that begins no new run."""
    flow = machine.rules.flow
    found: set[Thing] = {level.id for level in flow.levels}
    found |= {(level.id, deed.id) for level in flow.levels for deed in level.deeds}
    found.discard(flow.start.level)
    for row in rows:
        if row.crosses:
            found.discard(machine.controls[row.target].place)
        elif row.move.kind == "deed":
            found.discard((row.move.level, row.move.thing))
    return found

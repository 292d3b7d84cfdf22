"""Random walks until little more can happen, and exploring that little whole.

Where there are far too many states to explore (cf. West, *Protocol validation by random state exploration*, 1986), what
can be missed is still often found late in play, when spent keys and shut doors leave few states reachable. A walk makes
moves at random, preferring those that change something, and every so often explores all that is still reachable from
where it is. Once that is little it is known exactly: a state in it from which no ending follows *is* stuck, and what is
not reachable any more *is* lost. A walk can only find, never exclude. The walks of a flow are always the same.
"""

import random
from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

from mossy_bridge.play.state import Move, Thing
from mossy_bridge.reach.explicit.breadth_first import breadth_first_if_little
from mossy_bridge.reach.explicit.dead_ends import DeadEnds
from mossy_bridge.reach.explicit.missable import Missable
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.system.program_graph import ProgramGraph, Stopper
from mossy_bridge.reach.system.routes import Loss, Route, SomeRoute
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition

EAGER = 4
"""How many times likelier a move is made that changes something."""


class RandomWalk:
    """A route, and everything that is still reachable at its end."""

    def __init__(self, program: ProgramGraph, transitions: list[GuardedTransition], graph: ReachabilityGraph):
        self._moves = tuple(transition.move for transition in transitions)
        self._program, self._transitions, self._graph = program, transitions, graph
        self.dead_ends = DeadEnds(program.rules, graph)
        self.missable = Missable(program.rules.flow, graph, open_at_start=_open_after(program, transitions))

    def found(self) -> Iterator[tuple[str, Any, Callable[[], Route]]]:
        """Everything it reached, on the way and at the end: its kind and name, and how to trace a route there."""
        locations = self._program.locations
        for number, transition in enumerate(self._transitions, 1):
            route = partial(SomeRoute, self._moves[:number])
            yield transition.move.kind, transition.place, route
            if transition.crosses:
                yield "level", locations[transition.target].place, route
        graph = self._graph
        for level, state in graph.first_in_levels().items():
            yield "level", level, partial(self._route, state)
        for kind, uses in graph.uses().items():
            for name, (state, transition) in uses.items():
                yield kind, name, partial(self._route, state, transition.move)

    def _route(self, state: int, last: Move | None = None) -> Route:
        return SomeRoute((*self._moves, *self._graph.route(state, last)))

    def stuck(self) -> Route | None:
        """A route into a stuck state, provided that some ending is reachable from elsewhere."""
        graph = self._graph
        numbers = (graph.in_play & ~self.dead_ends.can_end).nonzero()[0]
        return (*self._moves, *graph.route(int(numbers[0]))) if len(numbers) else None

    def losses(self) -> dict[Thing, Loss]:
        """The levels and deeds that are missed in some state, with a route into such a state."""
        found = self.missable.losses(self.dead_ends.can_end & self._graph.in_play)
        return {thing: loss.at_the_end_of(self._moves) for thing, loss in found.items()}


def random_walks(program: ProgramGraph, stop: Stopper) -> Iterator[RandomWalk]:
    """Random walks from the start, one after the other."""
    limits, in_vain = program.limits, 0
    for seed in range(limits.walks):
        found = _random_walk(program, random.Random(seed), stop)
        if found:
            yield found
        in_vain += found is None
        if stop() or in_vain == limits.walks_in_vain:
            return


def _random_walk(program: ProgramGraph, pick: random.Random, stop: Stopper) -> RandomWalk | None:
    state = program.start
    if state is None:
        return None
    transitions: list[GuardedTransition] = []
    trail, passed = [state], {state: 0}
    limits = program.limits
    look = limits.walk_first_look
    for made in range(limits.walk_moves):
        moves = [
            move for move in program.moves(*state) if move[1] != ENDING and not program.transitions[move[0]].restarts
        ]
        if made == look or made == limits.walk_moves - 1 or not moves:
            look *= 2
            graph = breadth_first_if_little(program, [state], stop, limits.walk_states, limits.walk_edges)
            if graph.complete:  # otherwise nothing can be concluded
                return RandomWalk(program, transitions, graph)
            if not moves or stop():
                return None
        weights = [EAGER if move[2] != state[1] else 1 for move in moves]
        transition, location, vector = pick.choices(moves, weights)[0]
        state = (location, vector)
        at = passed.get(state, len(trail))
        if at < len(trail) and trail[at] == state:  # a cycle adds nothing to the route
            del transitions[at:], trail[at + 1 :]
        else:
            transitions.append(program.transitions[transition])
            passed[state] = len(trail)
            trail.append(state)
    return None


def _open_after(program: ProgramGraph, transitions: list[GuardedTransition]) -> set[Thing]:
    """The levels not entered and the deeds not done on a route that begins no new run."""
    flow = program.rules.flow
    found: set[Thing] = {level.id for level in flow.levels}
    found |= {(level.id, deed.id) for level in flow.levels for deed in level.deeds}
    found.discard(flow.start.level)
    for transition in transitions:
        if transition.crosses:
            found.discard(program.locations[transition.target].place)
        elif transition.move.kind == "deed":
            found.discard((transition.move.level, transition.move.thing))
    return found

"""What can be missed for good: the levels and deeds that, in some state, are not reachable any more in the same run,
though they may not have been reached yet.

Both halves are exact for a graph: a level may be unseen in a state exactly if some route into the state enters the
level nowhere since the last new run.
"""

from collections.abc import Callable, Collection, Sequence
from functools import partial

import numpy as np

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.state import Thing
from mossy_bridge.reach.arrays import Bools, Vectors
from mossy_bridge.reach.explicit.lookahead import Lookahead
from mossy_bridge.reach.explicit.open_search import OpenSearch
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.explicit.thing_sets import ThingSets
from mossy_bridge.reach.system.routes import Loss, Route
from mossy_bridge.reach.system.things import missable_things


class Missable:
    """What can be missed in the states of a graph. Open at its start is everything but the level that it begins in,
    unless told otherwise."""

    def __init__(
        self,
        flow: Flow,
        graph: ReachabilityGraph,
        lookahead: Lookahead | None = None,
        open_at_start: Collection[Thing] | None = None,
    ):
        self.things = missable_things(flow)
        lasting = set() if flow.progress == "run" else {level.id for level in flow.levels}
        self._open_again = set(self.things) - lasting
        self._graph, self._lookahead, self._open_at_start = graph, lookahead, open_at_start

    def _sets(self, things: Sequence[Thing]) -> ThingSets:
        return ThingSets(self._graph, self._lookahead, things, self._open_again, self._open_at_start)

    def losses(self, sound: Bools) -> dict[Thing, Loss]:
        """The things that are lost in at least one of the states, with a shortest route into such a state."""
        found: dict[Thing, Loss] = {}
        at_once = self._graph.system.limits.bits_at_once
        for first in range(0, len(self.things), at_once):
            shut = self._ever_shut(self.things[first : first + at_once], sound)
            if shut:
                sets = self._sets(shut)
                goals = ~sets.possible()[self._graph.components]
                goals[~sound] = 0
                found.update({shut[at]: loss for at, loss in self._routes_leaving_open(sets, goals).items()})
        return found

    def _ever_shut(self, things: Sequence[Thing], sound: Bools) -> list[Thing]:
        """The things that are not reachable from one of the states at least, and may be open there."""
        graph, sets = self._graph, self._sets(things)
        impossible = ~sets.possible()
        relevant = np.flatnonzero(np.bincount(graph.components[sound], minlength=len(impossible)))
        shut = sets.things_in(impossible[relevant])
        if graph.restarts.any():
            return shut
        open_ = set(sets.things_in(sets.at_start(graph.starts)))  # what is closed at the start is not opened again
        open_.update(sets.redone)  # but for what a restart takes back
        return [thing for thing in shut if thing in open_]

    def routes_leaving_open(self, things: Sequence[Thing], goals: Callable[[int], Bools]) -> dict[int, Loss]:
        """For things, by their index, with goals of their own a shortest route to one of these that leaves the thing
        open: a level unseen, a deed undone. There is nothing of those for which there is none."""
        found: dict[int, Loss] = {}
        at_once = self._graph.system.limits.bits_at_once
        for first in range(0, len(things), at_once):
            some = range(first, min(first + at_once, len(things)))
            sets = self._sets([things[at] for at in some])
            here = self._routes_leaving_open(sets, sets.by_state(map(goals, some)))
            found.update({first + at: loss for at, loss in here.items()})
        return found

    def _routes_leaving_open(self, sets: ThingSets, goals: Vectors) -> dict[int, Loss]:
        search = OpenSearch(self._graph, sets, goals)
        return {at: Loss(partial(self._route, search, at), self._left(search, at)) for at in search.found()}

    def _route(self, search: OpenSearch, thing: int) -> Route:
        return self._graph.system.route(search.transitions_to(thing))

    def _left(self, search: OpenSearch, thing: int) -> str:
        last = search.last_transition(thing)
        return "" if last is None else self._graph.system.transitions[last].move.level

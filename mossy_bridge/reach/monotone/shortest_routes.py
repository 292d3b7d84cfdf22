"""Shortest routes, and fewest crossings, to whatever is reachable: the goals of backward A* in the designer's terms."""

from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import suppress
from functools import cached_property
from typing import Any

from mossy_bridge.reach.monotone.antichain_search import Discrete
from mossy_bridge.reach.monotone.h_max import Weight
from mossy_bridge.reach.monotone.regression import RegressionGraph, Subgoal
from mossy_bridge.reach.monotone.regression_astar import (
    CROSSING,
    GivenUp,
    RegressionAStar,
    SearchSpace,
    crossings_first,
    moves,
)
from mossy_bridge.reach.system.guards import Cubes
from mossy_bridge.reach.system.program_graph import ProgramGraph, Stopper
from mossy_bridge.reach.system.routes import Route, as_sure
from mossy_bridge.reach.system.uses import used_for


class ShortestRoutes:
    """Shortest routes in one flow, for which the needs of all edges are known. Searches end when ``stop`` says so;
    without it, at a number of subgoals."""

    def __init__(self, graph: RegressionGraph[ProgramGraph], stop: Stopper | None = None):
        self.graph, self._program, self._stop = graph, graph.system, stop
        self._spaces: dict[tuple[Weight, frozenset[str]], SearchSpace] = {}
        self._searches: dict[tuple[Weight, frozenset[str], int], RegressionAStar] = {}

    @cached_property
    def _in_level(self) -> dict[str, list[Discrete]]:
        found: dict[str, list[Discrete]] = {}
        for discrete in self.graph.edges:
            found.setdefault(self._program.locations[discrete[0]].place, []).append(discrete)
        return found

    @cached_property
    def _uses(self) -> dict[tuple[str, Any], dict[Subgoal, Route]]:
        """For everything that a move uses, what is needed before it, with the move."""
        found: dict[tuple[str, Any], dict[Subgoal, Route]] = {}
        for discrete, edges in self.graph.edges.items():
            for edge in edges:
                transition = self._program.transitions[edge.transition]
                for key in used_for(transition):
                    found.setdefault(key, {}).update({(discrete, bits): (transition.move,) for bits in edge.needs})
        return found

    def route_to(self, kind: str, name: Any) -> Route | None:
        """A route to something that is reachable, a shortest one if it says so; None if searching for it takes too
        long."""
        goals = self._uses.get((kind, name), {})
        if kind == "level":
            goals = {(discrete, 0): () for discrete in self._in_level.get(name, ())}
        try:
            return self.route_among(goals)
        except GivenUp:
            return None

    def crossings(self, levels: Iterable[str], check: Callable[[], None] = lambda: None) -> dict[str, int]:
        """The fewest crossings to levels, or not many more where the fewest take too long to find; levels for which
        even that takes too long are left out. ``check`` is called for each, and ends it by raising."""
        least = self._search(crossings_first).h_max.cost
        goals = {level: {(discrete, 0): 0 for discrete in self._in_level.get(level, ())} for level in levels}

        def at_least(level: str) -> int:
            return min((least.get(discrete, 0) for discrete, _ in goals[level]), default=0)

        found: dict[str, int] = {}
        for level in sorted(goals, key=at_least):
            check()
            with suppress(GivenUp):
                if nearest := self._nearest(crossings_first, goals[level]):
                    search, goal = nearest
                    found[level] = search.cost(goal) // CROSSING
        return found

    def route_lacking(self, bits: int, discretes: Iterable[Discrete]) -> Route | None:
        """A shortest route to one of some discrete parts among those without a move that may give any of some monotone
        bits; None if there is none. Raises :class:`GivenUp`."""
        search = RegressionAStar(SearchSpace(self.graph, moves, without=bits))
        goal = search.nearest({(discrete, 0): 0 for discrete in discretes})
        return None if goal is None else tuple(transition.move for transition in search.route(goal))

    # -- subgoals --------------------------------------------------------------------------------------

    def subgoals(self, level: str, uses: Iterable[tuple[str, Any]], condition: str) -> dict[Subgoal, Route] | None:
        """What is needed for a condition to hold in a level, or before something is used (by kind and name), each with
        the moves that remain; None if the condition asks for monotone parts to be absent, or is not a disjunction of
        few cubes."""
        guard = self._program.guards.of(condition)
        monotone = self.graph.monotone
        if not isinstance(guard, Cubes) or any(mask & ~value & monotone for mask, value in guard.cubes):
            return None
        found: dict[Subgoal, Route] = {}
        for discrete in self._in_level.get(level, ()):
            found.update({(discrete, bits): () for bits in self._fitting(guard, discrete)})
        for use in uses:
            for (discrete, needed), last in self._uses.get(use, {}).items():
                for bits in self._fitting(guard, discrete):
                    found.setdefault((discrete, bits | needed), last)
        return found

    def _fitting(self, guard: Cubes, discrete: Discrete) -> Iterator[int]:
        """The monotone bits that the cubes ask for which a discrete part satisfies otherwise."""
        monotone = self.graph.monotone
        for mask, value in guard.cubes:
            if (discrete[1] ^ value) & mask & ~monotone == 0:
                yield value & monotone

    def route_among(
        self, subgoals: Mapping[Subgoal, Route], closed: frozenset[str] = frozenset(), crossings: int | None = None
    ) -> Route | None:
        """A route to one of some subgoals, and on by its last moves, without entering some levels; None if there is
        none. A shortest one if it says so. If that has more crossings than allowed, the shortest of those with the
        fewest, unless these are too many as well. Raises :class:`GivenUp`."""
        costs = {subgoal: len(last) for subgoal, last in subgoals.items()}
        for weight in moves, crossings_first:
            nearest = self._nearest(weight, costs, closed)
            if nearest is None:
                return None
            search, goal = nearest
            transitions = search.route(goal)
            if crossings is None or sum(transition.crosses for transition in transitions) <= crossings:
                route = (*[transition.move for transition in transitions], *subgoals[goal])
                return as_sure(route, weight is moves and search.greed == 1)
        if search.greed > 1:
            raise GivenUp
        return None

    def _nearest(
        self, weight: Weight, goals: Mapping[Subgoal, int], closed: frozenset[str] = frozenset()
    ) -> tuple[RegressionAStar, Subgoal] | None:
        """The nearest goal, or a near one where the nearest takes too long to find, with the search that found it; None
        if there is no route to any."""
        for greed in 1, self._program.limits.greed:
            search = self._search(weight, closed, greed)
            with suppress(GivenUp):
                goal = search.nearest(goals)
                return None if goal is None else (search, goal)
        raise GivenUp

    def _search(self, weight: Weight, closed: frozenset[str] = frozenset(), greed: int = 1) -> RegressionAStar:
        key = weight, closed, greed
        if key not in self._searches:
            stop = self._stop if greed == 1 else None
            self._searches[key] = RegressionAStar(self._space(weight, closed), greed, stop)
        return self._searches[key]

    def _space(self, weight: Weight, closed: frozenset[str]) -> SearchSpace:
        key = weight, closed
        if key not in self._spaces:
            self._spaces[key] = SearchSpace(self.graph, weight, closed)
        return self._spaces[key]

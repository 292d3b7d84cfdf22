"""Shortest routes, and fewest crossings, to what the richest states show can be come to."""

from collections.abc import Iterable, Iterator, Mapping
from contextlib import suppress
from functools import cached_property
from typing import Any

from mossy_bridge.reach.enough import Need, Ways
from mossy_bridge.reach.floor import Weight
from mossy_bridge.reach.formulas import Cubes
from mossy_bridge.reach.machine import Machine, Stopper, used_for
from mossy_bridge.reach.richest import Rest
from mossy_bridge.reach.routes import Route, as_sure
from mossy_bridge.reach.shortest import ARRIVAL, Shortest, TooMany, arrivals_first, moves


class Nearest:
    """The nearest ways to goals in one flow, all of whose ways are known. With ``stop`` they are looked for until it
    says so, else until that has taken a while."""

    def __init__(self, ways: Ways[Machine], stop: Stopper | None = None):
        self.ways, self._machine, self._stop = ways, ways.machine, stop
        self._searches: dict[tuple[Weight, frozenset[str], int], Shortest] = {}

    @cached_property
    def _in_level(self) -> dict[str, list[Rest]]:
        found: dict[str, list[Rest]] = {}
        for rest in self.ways.of:
            found.setdefault(self._machine.controls[rest[0]].place, []).append(rest)
        return found

    @cached_property
    def _uses(self) -> dict[tuple[str, Any], dict[Need, Route]]:
        """For everything that a move makes use of, what is needed before it, with the move."""
        found: dict[tuple[str, Any], dict[Need, Route]] = {}
        for rest, ways in self.ways.of.items():
            for way in ways:
                row = self._machine.rows[way.row]
                for key in used_for(row):
                    found.setdefault(key, {}).update({(rest, asked): (row.move,) for asked in way.asks})
        return found

    def route_to(self, kind: str, place: Any) -> Route | None:
        """A route to something that can be come to, a shortest one if it says so; None if looking for it takes too
        long."""
        goals = self._uses.get((kind, place), {})
        if kind == "level":
            goals = {(rest, 0): () for rest in self._in_level.get(place, ())}
        try:
            return self.route_among(goals)
        except TooMany:
            return None

    def crossings(self, levels: Iterable[str]) -> dict[str, int]:
        """The fewest crossings to levels, or not many more where that is too hard to tell; those are left out for which
        even that takes too long."""
        least = self._search(arrivals_first).floor.rest
        goals = {level: {(rest, 0): 0 for rest in self._in_level.get(level, ())} for level in levels}
        found: dict[str, int] = {}
        for level in sorted(goals, key=lambda name: min((least.get(rest, 0) for rest, _ in goals[name]), default=0)):
            with suppress(TooMany):
                if nearest := self._nearest(arrivals_first, goals[level]):
                    search, goal = nearest
                    found[level] = search.cost(goal) // ARRIVAL
        return found

    def route_lacking(self, bits: int, rests: Iterable[Rest]) -> Route | None:
        """A shortest route to one of some rests among those without a move that may give any of some growing bits; None
        if there is none. Raises :class:`TooMany`."""
        search = Shortest(self.ways, moves, without=bits)
        goal = search.nearest({(rest, 0): 0 for rest in rests})
        return None if goal is None else tuple(row.move for row in search.route(goal))

    # -- some needs ------------------------------------------------------------------------------------

    def needs(self, level: str, uses: Iterable[tuple[str, Any]], condition: str) -> dict[Need, Route] | None:
        """What is needed for a condition to hold in a level, or before something is used (by kind and place), each with
        the moves that are still to be made; None if the condition asks for growing parts to be absent, or is told by no
        few sets."""
        formula = self._machine.formulas.of(condition)
        if not isinstance(formula, Cubes) or any(mask & ~value & self.ways.grows for mask, value in formula.cubes):
            return None
        found: dict[Need, Route] = {}
        for rest in self._in_level.get(level, ()):
            found.update({(rest, bits): () for bits in self._fitting(formula, rest)})
        for use in uses:
            for (rest, asked), last in self._uses.get(use, {}).items():
                for bits in self._fitting(formula, rest):
                    found.setdefault((rest, bits | asked), last)
        return found

    def _fitting(self, formula: Cubes, rest: Rest) -> Iterator[int]:
        grows = self.ways.grows
        for mask, value in formula.cubes:
            if (rest[1] ^ value) & mask & ~grows == 0:
                yield value & grows

    def route_among(
        self, needs: Mapping[Need, Route], closed: frozenset[str] = frozenset(), crossings: int | None = None
    ) -> Route | None:
        """A route to one of some needs, and on by its last moves, without entering some levels; None if there is none.
        A shortest one if it says so. If that crosses more often than allowed, the shortest of those that cross the
        least, unless these do so too. Raises :class:`TooMany`."""
        costs = {need: len(last) for need, last in needs.items()}
        for weight in moves, arrivals_first:
            nearest = self._nearest(weight, costs, closed)
            if nearest is None:
                return None
            search, goal = nearest
            rows = search.route(goal)
            if crossings is None or sum(row.crosses for row in rows) <= crossings:
                route = (*(row.move for row in rows), *needs[goal])
                return as_sure(route, weight is moves and search.greed == 1)
        if search.greed > 1:
            raise TooMany
        return None

    def _nearest(
        self, weight: Weight, goals: Mapping[Need, int], closed: frozenset[str] = frozenset()
    ) -> tuple[Shortest, Need] | None:
        """The nearest goal, or a near one where that is too hard to tell, with the search that has found it; None if
        there is no way to any."""
        for greed in 1, self._machine.limits.greed:
            search = self._search(weight, closed, greed)
            with suppress(TooMany):
                goal = search.nearest(goals)
                return None if goal is None else (search, goal)
        raise TooMany

    def _search(self, weight: Weight, closed: frozenset[str] = frozenset(), greed: int = 1) -> Shortest:
        key = weight, closed, greed
        if key not in self._searches:
            self._searches[key] = Shortest(self.ways, weight, closed, greed, stop=self._stop if greed == 1 else None)
        return self._searches[key]

"""Shortest routes without looking at every state: backwards from the goal, asking only for what is needed there.

A goal asks for a rest of a state and for some growing parts. Before a move it takes what the move asks for, with what
is asked for after it less what the move gives; so the search goes back from goal to start over *needs*, a rest with
the bits to be had there. Forty keys that lie about are forty choices forwards, but none for who asks for three of them.
Two needs of one rest are compared: who needs no more, for no more, is enough. Nearest the start first (A*; Hart,
Nilsson and Raphael 1968) with :mod:`mossy_bridge.reach.floor` for what is still to come; so the first route that
begins at the start is a shortest one. The cost of needs on it is then known for good, and cuts later searches short.

A deed done once might be made again on such a route, to no effect; but then the route would be shorter without. What
it adds to counts is told apart by :mod:`mossy_bridge.reach.tallies`.
"""

from collections.abc import Mapping
from heapq import heappop, heappush
from itertools import count

from mossy_bridge.reach.enough import Need, Way, Ways
from mossy_bridge.reach.floor import Floor, Weight
from mossy_bridge.reach.machine import Machine, Row, Stopper
from mossy_bridge.reach.richest import Rest

ARRIVAL = 1 << 32
"""What an arrival costs where arrivals count first: more than all the moves of any route."""


def moves(_row: Row) -> int:
    """Every move costs the same."""
    return 1


def arrivals_first(row: Row) -> int:
    """Fewer arrivals count for more than fewer moves."""
    return ARRIVAL * row.crosses + 1


class TooMany(Exception):  # noqa: N818 - no error
    """The search was given up: it would have taken too long."""


class Shortest:
    """Shortest ways to goals, by one weight of moves, without entering the levels ``closed`` and without ever gaining
    a growing bit of ``without``. With ``greed`` above 1 they are found sooner, but may be longer. With ``stop`` that,
    and no number of needs, ends the search."""

    def __init__(
        self,
        ways: Ways[Machine],
        weight: Weight,
        closed: frozenset[str] = frozenset(),
        greed: int = 1,
        without: int = 0,
        stop: Stopper | None = None,
    ):
        machine = ways.machine
        assert machine.start is not None
        self._rows, self._tallies, self._weight, self.greed = machine.rows, ways.tallies, weight, greed
        control, word = machine.start
        self._start, self._begun = (control, word & ~ways.grows), word & ways.grows
        self.floor = Floor(ways, weight, machine.start, closed, without)
        self._into: dict[Rest, list[tuple[Rest, Way, int]]] = {}
        """The ways into each rest, with where from and what the move costs."""
        for rest in self.floor.rest:
            for way in ways.of[rest]:
                if way.target in self.floor.rest and self.floor.may_use(way):
                    self._into.setdefault(way.target, []).append((rest, way, weight(self._rows[way.row])))
        self._counting = ~ways.tallies.apart
        """The bits of needs that must be had, as against those of deeds that do not count."""
        self._looked_at = 0
        self._stop, self._limits = stop, machine.limits
        self._most_sets = self._limits.needs_per_place_until_stopped if stop else self._limits.needs_per_place
        self._cost: dict[Need, int] = {}
        """Needs whose cost is known; with greed, what it is at most."""
        self._came: dict[Need, tuple[Need, int]] = {}
        """For each of them the need before it, and the row of the move from there; none for the start."""

    def nearest(self, goals: Mapping[Need, int]) -> Need | None:
        """The goal that costs least, with what is still to be paid from there; None if there is no way to any. Raises
        :class:`TooMany`."""
        waiting: list[tuple[int, int, int, Need]] = []
        spent: dict[Rest, list[tuple[int, int]]] = {}
        """For each rest the needs found and what it costs from there to a goal."""
        onward: dict[Need, tuple[Need, int] | None] = {}
        order = count()
        limits = self._limits
        altogether = limits.crossing_needs if self._weight is arrivals_first else limits.route_needs_altogether
        last = min(self._looked_at + limits.route_needs, altogether)

        def note(rest: Rest, bits: int, cost: int, link: tuple[Need, int] | None) -> None:
            if not self.floor.allows(rest, bits & self._counting):
                return
            others = spent.setdefault(rest, [])
            for known, other in others:
                if known & bits == known and other <= cost:
                    return
            others.append((bits, cost))
            if len(others) > self._most_sets:
                raise TooMany
            need = rest, bits
            onward[need] = link
            ahead = self._cost.get(need)
            ahead = self.greed * self.floor.of(rest, bits & self._counting) if ahead is None else ahead
            heappush(waiting, (cost + ahead, -cost, next(order), need))

        for goal, more in goals.items():
            note(*goal, more, None)
        while waiting:
            _, cost, _, need = heappop(waiting)
            (rest, bits), cost = need, -cost
            if any(known & bits == known and (other, known) < (cost, bits) for known, other in spent[rest]):
                continue  # for less something that needs no more was found
            if need in self._cost or (rest == self._start and not bits & self._counting & ~self._begun):
                return self._settle(need, onward)
            if self._looked_at >= last if self._stop is None else self._looked_at % 256 == 0 and self._stop():
                raise TooMany
            self._looked_at += 1
            for before, way, more in self._into.get(rest, ()):
                left = self._tallies.before(way.row, bits) if bits else 0
                for asked in way.asks if left is not None else ():
                    note(before, left | asked, cost + more, (need, way.row))  # type: ignore[operator]
        return None

    def _settle(self, need: Need, onward: dict[Need, tuple[Need, int] | None]) -> Need:
        """Notes the costs along a shortest route from a need; the goal at its end."""
        self._cost.setdefault(need, 0)  # only of the start it is not known yet
        while link := onward[need]:
            after, row = link
            if after not in self._cost:
                self._cost[after] = self._cost[need] + self._weight(self._rows[row])
                self._came[after] = need, row
                if not after[1] and self.greed == 1:
                    self.floor.raise_to(after[0], self._cost[after])
            need = after
        return need

    def cost(self, goal: Need) -> int:
        """What the way to a goal costs that was found to be nearest."""
        return self._cost[goal]

    def route(self, goal: Need) -> list[Row]:
        """The moves to a goal that was found to be nearest."""
        found = []
        while goal in self._came:
            goal, row = self._came[goal]
            found.append(self._rows[row])
        return found[::-1]

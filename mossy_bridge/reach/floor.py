"""The least that it can cost to come to each place, and to have each growing part: never too much, often exact.

As in play, but as if whatever has been had once were had ever after, and as if what is asked for together could be
fetched by several at the same time: a move can be made as soon as its place is come to and each bit it asks for is
had, whichever of these is last. (This is the heuristic *h-max* of planning; Bonet and Geffner 2001.)
"""

from collections import defaultdict
from collections.abc import Callable
from heapq import heappop, heappush

from mossy_bridge.reach.effects import Assign, Effect, Shift
from mossy_bridge.reach.enough import State, Way, Ways
from mossy_bridge.reach.machine import Machine, Row
from mossy_bridge.reach.richest import Rest
from mossy_bridge.reach.tallies import single, wanted_before

Weight = Callable[[Row], int]
"""What a move costs; not less than nothing."""


class Floor:
    """Lower bounds of costs, over the ways of one flow, without entering the levels ``closed`` and without ever
    gaining a growing bit of ``without``. What is not in them cannot be come to."""

    def __init__(
        self, ways: Ways[Machine], weight: Weight, start: State, closed: frozenset[str] = frozenset(), without: int = 0
    ):
        self._ways, self._weight, self._closed, self._without = ways, weight, closed, without
        self._controls, self._rows = ways.machine.controls, ways.machine.rows
        self.rest: dict[Rest, int] = {}
        self.bit: dict[int, int] = {}
        self._had = 0
        self._gives: dict[int, list[tuple[int, int]]] = {}
        self._ready: list[tuple[int, int, Rest | None]] = []
        """What each rest come to, and each bit had, may cost; for rests the bit is 0."""
        self._asking: defaultdict[int, list[tuple[int, Way]]] = defaultdict(list)
        """By a bit not had yet: the ways that ask for it, with all that they ask for."""
        self._following: defaultdict[int, list[tuple[int, int]]] = defaultdict(list)
        """By a bit not had yet: bits that follow at a cost once it is had, as each step of a count does."""
        grows = ways.grows
        if not start[1] & without:
            self._come_to(0, (start[0], start[1] & ~grows))
        self._ready += [(0, bit, None) for bit in single(start[1] & grows)]
        while self._ready:
            cost, bit, rest = heappop(self._ready)
            if rest is None:
                self._have(cost, bit)
            else:
                self._leave(cost, rest)

    def of(self, rest: Rest, bits: int) -> int:
        """The least it can cost to come to a rest with some bits, all of which can be come to."""
        least = self.rest[rest]
        for bit in single(bits):
            least = max(least, self.bit[bit])
        return least

    def allows(self, rest: Rest, bits: int) -> bool:
        """Whether the rest, and each of the bits, can be come to."""
        return rest in self.rest and not bits & ~self._had

    def may_use(self, way: Way) -> bool:
        """Whether a way gives nothing that is not to be gained."""
        return not self._without or not any(bit & self._without for bit, _ in self._gives.get(way.row, ()))

    def raise_to(self, rest: Rest, cost: int) -> None:
        """Notes that it surely costs so much to come to a rest."""
        self.rest[rest] = cost

    def _come_to(self, cost: int, rest: Rest) -> None:
        if self._controls[rest[0]].place not in self._closed and cost < self.rest.get(rest, cost + 1):
            self.rest[rest] = cost
            heappush(self._ready, (cost, 0, rest))

    def _leave(self, cost: int, rest: Rest) -> None:
        if self.rest[rest] < cost:
            return  # it has been come to for less
        for way in self._ways.of[rest]:
            for asked in way.asks:
                self._try(cost, asked, way)

    def _have(self, cost: int, bit: int) -> None:
        if self._had & bit:
            return
        self._had |= bit
        self.bit[bit] = cost
        for follower, more in self._following.pop(bit, ()):
            heappush(self._ready, (cost + more, follower, None))
        for asked, way in self._asking.pop(bit, ()):
            self._try(cost, asked, way)

    def _try(self, cost: int, asked: int, way: Way) -> None:
        missing = asked & ~self._had
        if missing:
            self._asking[missing & -missing].append((asked, way))
            return
        if way.row not in self._gives:
            self._gives[way.row] = _gives(self._rows[way.row].does, self._ways.grows)
        if way.target is None or not self.may_use(way):
            return
        more = self._weight(self._rows[way.row])
        self._come_to(cost + more, way.target)
        for bit, before in self._gives[way.row]:
            if self._had & bit:
                continue
            if before & ~self._had:
                self._following[before].append((bit, more))
            else:
                heappush(self._ready, (cost + more, bit, None))


def _gives(effect: Effect, grows: int) -> list[tuple[int, int]]:
    """The growing bits that an effect may give, each with the bit that must be had before, if any."""
    touched = 0
    for part in effect:
        touched |= part.set if isinstance(part, Assign) else part.field.mask if isinstance(part, Shift) else 0
    found = ((bit, wanted_before(effect, bit)) for bit in single(touched & grows))
    return [(bit, before) for bit, before in found if before is not None and before != bit]

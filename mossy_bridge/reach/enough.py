"""What is enough to come to an ending, or to any other goal: exact, without looking at every state.

Whoever can come to a goal with some growing parts can do so with more (see :mod:`mossy_bridge.reach.growing`). So
for each rest of a state the sets of growing bits that are enough are told by the smallest of them, and these follow
backwards from the goals: a move asks for some bits and gives some, so what is enough before it is what it asks for,
with what is enough after it less what it gives (with care where deeds done once add to counts, see
:mod:`mossy_bridge.reach.tallies`). The smallest sets are taken first, so that most larger ones are never
made. This is backward reachability of a well-structured transition system (Abdulla, Čerāns, Jonsson and Tsay 1996).

What is not enough is told by *gaps*: a set of bits, one from each set that is enough, none of which is had. Bits once
had are not lost within a run, so a state with a gap is come to, if at all, by never gaining any bit of it.
"""

import heapq
from collections.abc import Collection, Iterable, Iterator, Sequence
from itertools import count, product
from typing import Generic, TypeVar

import numpy as np
from msgspec import Struct

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.arrays import Bools, Ints
from mossy_bridge.reach.effects import done
from mossy_bridge.reach.formulas import Cubes
from mossy_bridge.reach.groups import layers_between, strong_groups
from mossy_bridge.reach.joining import Joined
from mossy_bridge.reach.machine import ENDING, Machine, Row, Stopper
from mossy_bridge.reach.richest import Rest
from mossy_bridge.reach.tallies import Tallies

State = tuple[int, int]
"""A control and a word."""
Need = tuple[Rest, int]
"""A rest, and the growing bits that must be had there."""


class Way(Struct, frozen=True):
    """A row that some state with a rest may be able to use: the growing bits it asks for (any of some sets; none where
    these are not told by few sets), and the rest it leads to; None for an ending."""

    row: int
    asks: tuple[int, ...]
    target: Rest | None


M = TypeVar("M", Machine, Joined)


class Ways(Generic[M]):
    """Every way between those rests that are come to, whatever growing parts it asks for. Where ``exact`` is false
    what some of them ask for is not told: they may be possible, but it is not known with which growing parts."""

    def __init__(self, machine: M, grows: int, rests: Collection[Rest]):
        self.machine: M = machine
        self.grows = grows
        self.tallies = Tallies(machine, grows)
        self.exact = True
        self.of: dict[Rest, list[Way]] = {}
        self._rests, self._waiting = set(rests), list(rests)
        while self._waiting:
            rest = self._waiting.pop()
            self.of[rest] = list(self._from(rest))

    def _from(self, rest: Rest) -> Iterator[Way]:
        control, word = rest
        numbers = self.machine.rows_of(control)
        rows = [self.machine.rows[number] for number in numbers]
        forced = next((row for row in rows if row.sprung and row.asks.holds(word)), None)
        for number, row in zip(numbers, rows, strict=True):
            if row is not forced and (forced or row.sprung):
                continue
            asks = self._asked(row, word)
            target = None if row.target == ENDING else (row.target, done(row.does, word) & ~self.grows)
            if asks is not None and (target is None or self._is_come_to(target, row, word)):
                self.exact = self.exact and asks != ()
                yield Way(number, asks, target)

    def _is_come_to(self, target: Rest, row: Row, word: int) -> bool:
        """Whether a rest is come to. A deed that only gives growing parts may lead to one that the richest states are
        not in, since they have done it before: whoever does it has not *just arrived* any more. That makes no
        difference to what follows, but to routes."""
        if target not in self._rests and row.move.kind == "deed" and target[1] == word:
            self._rests.add(target)
            self._waiting.append(target)
        return target in self._rests

    def _asked(self, row: Row, word: int) -> tuple[int, ...] | None:
        """The sets of growing bits any of which a row asks for in a rest with the word, none where few sets do not tell
        it; None where it is not possible with any."""
        if isinstance(row.asks, Cubes):
            fitting = (cube for cube in row.asks.cubes if (word ^ cube[1]) & cube[0] & ~self.grows == 0)
            return tuple(value & self.grows for _, value in fitting) or None
        # whoever has more can do no less: so what nobody needs and what does not do even with everything is told
        if row.asks.holds(word):
            return (0,)
        spent = self.machine.layout.spent.get((row.move.level, row.move.thing), 0) if row.move.kind == "deed" else 0
        return () if row.asks.holds(word | self.grows & ~spent) else None

    def endings(self) -> Iterator[Need]:
        """What is needed for going into an ending."""
        for rest, found in self.of.items():
            for way in found:
                if way.target is None:
                    yield from ((rest, asked) for asked in way.asks)


class Enough:
    """For each rest the smallest sets of growing bits with which one of some goals, an ending say, can be come to in
    the same run. Goals are rests, each with the bits that are needed there."""

    def __init__(self, ways: Ways[Joined], goals: Iterable[Need], stop: Stopper):
        self._ways = ways
        rows = ways.machine.rows
        into: dict[Rest, list[tuple[Rest, Way]]] = {}
        self.least: dict[Rest, list[int]] = {rest: [] for rest in ways.of}
        self.exact = ways.exact
        order = count()
        waiting = [(bits.bit_count(), next(order), bits, rest) for rest, bits in goals]
        heapq.heapify(waiting)
        for rest, way in ((rest, way) for rest, found in ways.of.items() for way in found if way.asks):
            if way.target is not None and not rows[way.row].fresh:
                into.setdefault(way.target, []).append((rest, way))
        looked_at = 0
        while waiting:
            looked_at += 1
            if looked_at > ways.machine.limits.basis_elements or (looked_at % 256 == 0 and stop()):
                self.exact = False
                return
            _, _, bits, rest = heapq.heappop(waiting)
            if any(bits & least == least for least in self.least[rest]):
                continue
            self.least[rest] = [other for other in self.least[rest] if other & bits != bits] + [bits]
            for before, way in into.get(rest, ()):
                left = ways.tallies.before(way.row, bits)
                for asked in way.asks if left is not None else ():
                    heapq.heappush(waiting, ((left | asked).bit_count(), next(order), left | asked, before))  # type: ignore[operator]

    def holds(self, rest: Rest, had: int) -> bool:
        """Whether the growing bits of a state, or such as are sure, are enough."""
        return any(self._ways.tallies.meets(rest[1] | had, least) for least in self.least[rest])

    def gaps(self, rest: Rest, had: int) -> list[int] | None:
        """The smallest sets of bits that, if none of them is had, leave too little; ``had`` are bits that everybody
        has. None where there are too many to tell."""
        lacking: list[list[int]] = []
        size = 1
        for least in self.least[rest]:
            some = self._ways.tallies.lacking(rest[1] | had, least)
            if some == []:
                return []
            if some is None or size * len(some) > self._ways.machine.limits.hitting_sets:
                return None
            size *= len(some)
            lacking.append(some)
        found: list[int] = []
        for chosen in product(*lacking):
            gap = 0
            for bits in chosen:
                gap |= bits
            if not any(gap & other == other for other in found):
                found = [other for other in found if other & gap != gap] + [gap]
        return found


class Outlook:
    """What follows after states that were not gone on from."""

    def __init__(self, joined: Joined, ways: Ways[Joined], enough: Enough, some_ending: bool):
        self._joined, self._ways, self._enough = joined, ways, enough
        self.some_ending = some_ending
        """Whether some ending is come to at all, be it in a later run."""
        self.exact = enough.exact
        """Whether what is said about endings is the whole truth."""
        self._index, self._possible = _possible(joined, ways)

    def can_end(self, states: Iterable[State]) -> Bools:
        """For each state whether an ending is known to be possible in the same run."""
        grows, group = self._ways.grows, self._joined.group
        found = [self._enough.holds((group[control], word & ~grows), word & grows) for control, word in states]
        return np.array(found, dtype=np.bool_)

    def possible(self, states: Iterable[State], things: Sequence[Thing]) -> list[int]:
        """For each state those of the things that may be come to in the same run, as bits; no others can be."""
        grows, group = self._ways.grows, self._joined.group
        known: dict[int, int] = {}
        found = []
        for control, word in states:
            bits = self._possible[group[control], word & ~grows]
            if bits not in known:
                known[bits] = sum(1 << at for at, thing in enumerate(things) if bits >> self._index[thing] & 1)
            found.append(known[bits])
        return found


def _possible(machine: Joined, ways: Ways[Joined]) -> tuple[dict[Thing, int], dict[Rest, int]]:
    """Numbers for levels and deeds, and for each rest those that are come to along any ways in the same run, as
    bits: no less than the truth, so ways of which it is not told what they ask for count too."""
    flow = machine.rules.flow
    things: list[Thing] = [
        *(level.id for level in flow.levels),
        *((lv.id, d.id) for lv in flow.levels for d in lv.deeds),
    ]
    index = {thing: at for at, thing in enumerate(things)}
    number = {rest: at for at, rest in enumerate(ways.of)}
    pairs = [
        (number[rest], number[way.target])
        for rest, found in ways.of.items()
        for way in found
        if way.target is not None and not machine.rows[way.row].fresh
    ]
    source: Ints = np.array([one for one, _ in pairs], dtype=np.int32)
    target: Ints = np.array([other for _, other in pairs], dtype=np.int32)
    groups = strong_groups(len(number), source, target, machine.limits)
    bits = [0] * (int(groups.max(initial=-1)) + 1)
    for rest, group in zip(ways.of, groups.tolist(), strict=True):
        for level in machine.levels[rest[0]]:
            bits[group] |= 1 << index[level]
        for way in ways.of[rest]:
            move = machine.rows[way.row].move
            if move.kind == "deed":
                bits[group] |= 1 << index[move.level, move.thing]
    for above, below in layers_between(groups, source, target, machine.limits):
        for one, other in zip(above.tolist(), below.tolist(), strict=True):
            bits[one] |= bits[other]
    return index, {rest: bits[group] for rest, group in zip(ways.of, groups.tolist(), strict=True)}

"""What can be said of a flow whose states are too many to look at each: what is come to at all, by the richest
states, and that nobody gets stuck, nothing is missed and nothing loops, by the poorest bounds."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from mossy_bridge.play.state import Move
from mossy_bridge.reach.enough import Enough, Need, Outlook, Thing, Ways
from mossy_bridge.reach.growing import growing
from mossy_bridge.reach.machine import Machine, Stopper, first_uses
from mossy_bridge.reach.nearest import Nearest
from mossy_bridge.reach.poorest import Poorest
from mossy_bridge.reach.richest import Rest, Richest, richest

Route = tuple[Move, ...]
MOST_SHORTENED = 8
"""For so many gaps a short route into a state with it is looked for."""


@dataclass(frozen=True)
class Trap:
    """A state in which there is too little to come to some goal: a route there, and for each gap that may be left the
    rests in which it leaves too little."""

    route: Route
    gaps: Mapping[int, Iterable[Rest]]


class Proofs:
    """Answers without looking at every state. Where ``complete``, what has no route here can not be come to. Of the
    conditions ``also`` nothing that they ask to be absent counts as growing."""

    def __init__(self, machine: Machine, stop: Stopper, also: Iterable[str] = ()):
        self.machine, self._stop = machine, stop
        self._parts = growing(machine, also)
        starts = [machine.start] if machine.start else []
        # where nothing grows the states can only be looked at one by one
        self._found = richest(machine, self._parts.bits, stop if self._parts.bits else lambda: True, starts)
        self.complete = self._found.complete

    def asking(self, condition: str) -> "Proofs":
        """Proofs that hold for a condition too."""
        return self if self._parts.asks_for(condition) else Proofs(self.machine, self._stop, [condition])

    @cached_property
    def _poorest(self) -> Poorest:
        return Poorest(self.machine, self._parts, self._found, self._stop)

    @cached_property
    def nothing_loops(self) -> bool:
        """Whether it is shown that forced firing never goes in a circle."""
        return self._poorest.nothing_loops()

    @cached_property
    def _ways(self) -> Ways:
        return Ways(self.machine, self._found)

    @cached_property
    def _enough(self) -> Enough:
        fine = ((rest, 0) for rest in self._poorest.fine)
        return Enough(self._ways, [*fine, *self._ways.endings()], self._stop)

    @cached_property
    def nearest(self) -> Nearest | None:
        """Shortest routes, where all ways are known."""
        return Nearest(self._ways) if self.complete and self._ways.exact else None

    @cached_property
    def outlook(self) -> Outlook | None:
        """What follows after any state, where that is known."""
        return Outlook(self._ways, self._enough, self._some_ending) if self.complete else None

    @cached_property
    def _doubtful(self) -> set[Rest]:
        """The rests in play levels from which the poorest bound does not come to an ending."""
        return set(self._poorest.judged()) - self._poorest.fine if self._poorest.complete else set()

    @cached_property
    def never_missed(self) -> set[Thing]:
        """The levels and deeds that are shown never to be missed."""
        if not self.complete:
            return set()
        needed = self._doubtful and self._some_ending and self._enough.exact
        return self._poorest.never_missed(self._enough.least if needed else None)

    @cached_property
    def stuck(self) -> Trap | bool | None:
        """A state that is stuck; False where it is shown that there is none; None where neither is.

        A stuck state has a gap (see :mod:`mossy_bridge.reach.enough`). So for each gap that is not excluded by what
        everybody has, the richest states that can be come to without it are searched for.
        """
        safe = self._poorest.no_dead_screen()
        if not self.complete or not self._some_ending:
            return False if safe else None
        if not self._doubtful:
            return False if safe and self._poorest.complete else None
        short = self._falling_short(self._enough, self._doubtful)
        return None if short is False and not safe else short

    def ever_short_of(self, needs: Iterable[Need]) -> Trap | bool | None:
        """A state in a play level from which none of some needs can be come to in the same run; False where it is
        shown that there is none; None where neither is."""
        if not self.complete or not self._poorest.complete:
            return None
        enough = Enough(self._ways, needs, self._stop)
        bound = self._poorest.bound
        return self._falling_short(
            enough, {rest for rest in self._poorest.judged() if not enough.holds(rest, bound[rest])}
        )

    def _falling_short(self, enough: Enough, doubtful: Iterable[Rest]) -> Trap | bool | None:
        """A state in which there is too little, if there is; ``doubtful`` are the rests in which it may be."""
        safe = self._poorest.complete
        gaps: dict[int, set[Rest]] = {}
        for rest in doubtful:
            found = enough.gaps(rest, self._poorest.bound[rest])
            safe = safe and found is not None
            for gap in found or ():
                gaps.setdefault(gap, set()).add(rest)
        for gap, rests in gaps.items():
            without, known = self._without(gap)
            safe = safe and known
            short = rests & without.best.keys()
            if short and enough.exact:
                number = next(n for n, state in enumerate(without.states) if without.split(*state)[0] in short)
                return Trap(self._since_begun(without, number), gaps)
            safe = safe and not short
        return False if safe else None

    def route_into(self, trap: Trap) -> Route:
        """A short route into a trap; the shortest, if no new run begins on it, and counts are not needed."""
        if not self.nearest:
            return trap.route
        smallest = sorted(trap.gaps, key=int.bit_count)[:MOST_SHORTENED]
        others = (self.nearest.route_lacking(gap, trap.gaps[gap]) for gap in smallest)
        return min([trap.route, *(route for route in others if route is not None)], key=len)

    @cached_property
    def _some_ending(self) -> bool:
        return any(self.machine.rows[row].ending for row in self._found.used)

    def _without(self, gap: int) -> tuple[Richest, bool]:
        """The richest states come to without any of some growing bits in the last run, and whether these are all."""
        if not gap:
            return self._found, self.complete
        begun = [state for state in self._found.anew if not state[1] & gap]
        starts = [self.machine.start] if self.machine.start and not self.machine.start[1] & gap else []
        found = richest(self.machine, self._parts.bits, self._stop, [*starts, *begun], gap)
        return found, found.complete and len(begun) == len(self._found.anew)

    def _since_begun(self, found: Richest, number: int) -> Route:
        """The route into a state of a search that also began where new runs do."""
        route = found.route(number)
        first = number
        while step := found.came[first]:
            first = step[0]
        begun = found.states[first]
        if begun == self.machine.start or found is self._found:
            return route
        before, row = self._found.anew[begun]
        return (*self._found.route(before, self.machine.rows[row].move), *route)

    @property
    def states(self) -> int:
        """How many states were kept."""
        return len(self._found.states)

    @cached_property
    def _kept(self) -> dict[str, list[int]]:
        """The states of each level that no other surpasses."""
        kept: dict[str, list[int]] = {}
        for number, (control, word) in enumerate(self._found.states):
            rest, bits = self._found.split(control, word)
            if bits in self._found.best[rest]:
                kept.setdefault(self.machine.controls[control].place, []).append(number)
        return kept

    def _holding(self, level: str, condition: str) -> Iterator[int]:
        holds = self.machine.formulas.of(condition).holds
        return (number for number in self._kept.get(level, ()) if holds(self._found.states[number][1]))

    @property
    def used(self) -> dict[int, int]:
        """The rows that can be used, each with a state in which it is."""
        return self._found.used

    def found(self) -> Iterator[tuple[str, Any, int, tuple[Move, ...]]]:
        """Everything that can be come to: its kind (also level and ending) and place; the state it is come to by,
        and the move after that, if it takes one."""
        first: dict[str, int] = {}
        for control, number in self._found.entered.items():
            place = self.machine.controls[control].place
            first[place] = min(number, first.get(place, number))
        for place, number in first.items():
            yield "level", place, number, ()
        for (kind, key), (number, row) in first_uses(self.machine.rows, self.used).items():
            yield kind, key, number, (row.move,)

    def route(self, number: int, *last: Move) -> Route:
        """The moves into a state, and those after it."""
        return self._found.route(number, *last)

    def route_to(self, kind: str, place: Any, number: int, *last: Move) -> Route:
        """A route to what was come to by a state and the move after that: a shortest one, unless that is too hard to
        find."""
        route = self.route(number, *last)
        nearest = self.nearest.route_to(kind, place) if self.nearest else None
        return route if nearest is None or len(nearest) > len(route) else nearest

    def route_to_some(self, needs: Mapping[Need, Route]) -> Route | None:
        """Any route to one of some needs, and on by its last moves; None if there is none."""
        wanted: dict[Rest, list[tuple[int, Route]]] = {}
        for (rest, bits), last in needs.items():
            wanted.setdefault(rest, []).append((bits, last))
        for number, state in enumerate(self._found.states):
            rest, had = self._found.split(*state)
            for bits, last in wanted.get(rest, ()):
                if not bits & ~had:
                    return self._found.route(number, *last)
        return None

    def crossings(self, number: int) -> int:
        """How many arrivals the route into a state has after the first."""
        return self._found.crossed[number]

    def controls(self, level: str) -> list[int]:
        """The controls of the states found in a level."""
        return self._controls.get(level, [])

    @cached_property
    def _controls(self) -> dict[str, list[int]]:
        found: dict[str, list[int]] = {}
        for control in self._found.entered:
            found.setdefault(self.machine.controls[control].place, []).append(control)
        return found

    def holds_somewhere(self, level: str, condition: str) -> bool:
        """Whether a condition written in some level holds in a state of this level. Exact where complete, for
        such conditions only ever ask for what grows."""
        return any(True for _ in self._holding(level, condition))

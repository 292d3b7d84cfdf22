"""What can be said of a flow whose states are too many to look at each: what is come to at all, by the richest
states, and that nobody gets stuck, nothing is missed and nothing loops, by the poorest bounds."""

from collections.abc import Container, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from mossy_bridge.play.state import Move, Thing
from mossy_bridge.reach.enough import Enough, Need, Outlook, Ways
from mossy_bridge.reach.formulas import Cubes, Formula, as_columns
from mossy_bridge.reach.growing import growing
from mossy_bridge.reach.joining import Joined
from mossy_bridge.reach.machine import Row, Stopper, first_uses
from mossy_bridge.reach.nearest import Nearest
from mossy_bridge.reach.poorest import Poorest
from mossy_bridge.reach.richest import Rest, Richest, richest
from mossy_bridge.reach.routes import Route, SomeRoute
from mossy_bridge.reach.shortest import TooMany
from mossy_bridge.reach.tallies import Tallies
from mossy_bridge.reach.trimming import trimmed


@dataclass(frozen=True)
class Trap:
    """A state in which there is too little to come to some goal: a route there, what would be enough, and for each gap
    that may be left the rests in which it leaves too little; ``whole`` if there are no other gaps."""

    route: Route
    enough: Enough
    gaps: Mapping[int, Iterable[Rest]]
    whole: bool


class Proofs:
    """Answers without looking at every state. Where ``complete``, what has no route here can not be come to. Of the
    conditions ``also`` nothing that they ask to be absent counts as growing."""

    def __init__(self, joined: Joined, stop: Stopper, also: Iterable[str] = ()):
        self._joined, self.machine, self._stop = joined, joined.machine, stop
        self._parts = growing(self.machine, also)
        starts = [joined.start] if joined.start else []
        # where nothing grows, and no places are joined, states are better looked at whole frontiers at a time
        fewer = self._parts.bits or len(joined.members) < len(joined.group)
        self._found = richest(joined, self._parts.bits, stop if fewer else lambda: True, starts)
        self.complete = self._found.complete
        self._crossed: dict[int, dict[str, int]] = {}
        """For each group that was asked about, how often one crosses on the way to its levels."""

    def asking(self, condition: str) -> "Proofs":
        """Proofs that hold for a condition too."""
        return self if self._parts.asks_for(condition) else Proofs(self._joined, self._stop, [condition])

    @cached_property
    def _poorest(self) -> Poorest:
        return Poorest(self._joined, self._parts, self._found, self._stop)

    @cached_property
    def nothing_loops(self) -> bool:
        """Whether it is shown that forced firing never goes in a circle."""
        return self._poorest.nothing_loops()

    @cached_property
    def _ways(self) -> Ways[Joined]:
        """The ways between joined places."""
        return Ways(self._joined, self._parts.bits, self._found.best)

    @cached_property
    def _enough(self) -> Enough:
        fine = ((rest, 0) for rest in self._poorest.fine)
        return Enough(self._ways, [*fine, *self._ways.endings()], self._stop)

    @cached_property
    def nearest(self) -> Nearest | None:
        """Shortest routes, where all ways are known."""
        places = sum(len(self._joined.members[group]) for group, _ in self._found.best)
        if not self.complete or places > self.machine.limits.route_places:
            return None
        ways = Ways(self.machine, self._parts.bits, dict.fromkeys(self._apart(self._found.best)))
        return Nearest(ways) if ways.exact else None

    def _apart(self, rests: Iterable[Rest]) -> Iterator[Rest]:
        """Rests of joined places as those of each place."""
        return ((control, word) for group, word in rests for control in self._joined.members[group])

    def _judged(self, rests: Iterable[Rest]) -> Iterator[Rest]:
        """Of rests of joined places those of each place in a play level."""
        return (rest for rest in self._apart(rests) if self.machine.in_play(rest[0]))

    @cached_property
    def outlook(self) -> Outlook | None:
        """What follows after any state, where that is known."""
        return Outlook(self._joined, self._ways, self._enough, self._some_ending) if self.complete else None

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
        if isinstance(short, Trap):
            return replace(short, whole=short.whole and safe)
        return None if short is False and not safe else short

    def ever_short_of(self, needs: Iterable[Need]) -> Trap | bool | None:
        """A state in a play level from which none of some needs (places not joined) can be come to in the same run;
        False where it is shown that there is none; None where neither is."""
        if not self.complete or not self._poorest.complete:
            return None
        group = self._joined.group
        enough = Enough(self._ways, [((group[control], word), bits) for (control, word), bits in needs], self._stop)
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
        whole = safe
        for gap, rests in gaps.items():
            without, known = self._without(gap)
            safe = safe and known
            short = rests & without.best.keys()
            if short and enough.exact:
                number = next(n for n, state in enumerate(without.states) if without.split(*state)[0] in short)
                return Trap(self._since_begun(without, number), enough, gaps, whole)
            safe = safe and not short
        return False if safe else None

    def route_into(self, trap: Trap) -> Route:
        """A short route into a trap; a shortest one, if it says so. That is known where no new run begins and no counts
        are needed: then who has a gap has not made any move that may give a part of it."""
        if not self.nearest:
            return SomeRoute(self._until_trapped(trap.route, trap.enough))
        smallest = sorted(trap.gaps, key=int.bit_count)[: self.machine.limits.short_traps]
        counts = sum(field.mask for field in self.machine.layout.facts.values() if field.coding == "climb")
        sure = trap.whole and len(smallest) == len(trap.gaps) and not self._found.anew
        routes = [SomeRoute(trap.route)]
        for gap in smallest:
            sure = sure and not gap & counts
            try:
                route = self.nearest.route_lacking(gap, self._judged(trap.gaps[gap]))
                routes += [] if route is None else [SomeRoute(route)]
            except TooMany:
                sure = False
        shortest = min(routes, key=len)
        return tuple(shortest) if sure else SomeRoute(self._until_trapped(shortest, trap.enough))

    def _until_trapped(self, route: Route, enough: Enough) -> Route:
        """A route into a trap as far as the move that seals it."""
        machine, grows = self.machine, self._parts.bits
        assert machine.start is not None
        control, word = machine.start
        for number, move in enumerate(route):
            rest = self._joined.group[control], word & ~grows
            if machine.in_play(control) and not enough.holds(rest, word & grows):
                return route[:number]
            control, word = next(
                (there, after) for row, there, after in machine.moves(control, word) if machine.rows[row].move == move
            )
        return route

    @cached_property
    def _some_ending(self) -> bool:
        return any(self._joined.rows[row].ending for row in self._found.used)

    def _without(self, gap: int) -> tuple[Richest, bool]:
        """The richest states come to without any of some growing bits in the last run, and whether these are all."""
        if not gap:
            return self._found, self.complete
        begun = [state for state in self._found.anew if not state[1] & gap]
        start = self._joined.start
        starts = [start] if start and not start[1] & gap else []
        found = richest(self._joined, self._parts.bits, self._stop, [*starts, *begun], gap)
        return found, found.complete and len(begun) == len(self._found.anew)

    def _since_begun(self, found: Richest, number: int) -> Route:
        """The route into a judged state of a search that also began where new runs do."""
        rows = found.rows_to(number)
        first = number
        while step := found.came[first]:
            first = step[0]
        begun = found.states[first]
        if begun != self._joined.start and found is not self._found:
            before, row = self._found.anew[begun]
            rows = [*self._found.rows_to(before), row, *rows]
        group, word = found.states[number]
        return self._joined.route(rows, to={control for control, _ in self._judged([(group, word)])})

    @property
    def states(self) -> int:
        """How many states were kept."""
        return len(self._found.states)

    @cached_property
    def _kept(self) -> dict[int, list[int]]:
        """The states of each group that no other surpasses."""
        kept: dict[int, list[int]] = {}
        for number, (group, word) in enumerate(self._found.states):
            rest, bits = self._found.split(group, word)
            if bits in self._found.best[rest]:
                kept.setdefault(group, []).append(number)
        return kept

    @cached_property
    def _groups(self) -> dict[str, list[int]]:
        """The groups that some state is in, by their levels."""
        found: dict[str, list[int]] = {}
        for group in self._kept:
            for level in self._joined.levels[group]:
                found.setdefault(level, []).append(group)
        return found

    @cached_property
    def used(self) -> dict[int, int]:
        """The rows of the machine that can be used, each with a state from which it is."""
        found = {self._joined.real[row]: number for row, number in self._found.used.items()}
        for group, numbers in self._kept.items():
            words = as_columns((self._found.states[number][1] for number in numbers), self.machine.layout.columns)
            for row, place in self._joined.staying(group, words):
                found.setdefault(row, numbers[place])
        return found

    def found(self) -> Iterator[tuple[str, Any, int, Row | None]]:
        """Everything that can be come to: its kind (also level and ending) and place; the state it is come to by,
        and the row used after that, if it takes one."""
        first: dict[str, int] = {}
        for group, number in self._found.entered.items():
            for level in self._joined.levels[group]:
                first[level] = min(number, first.get(level, number))
        for level, number in first.items():
            yield "level", level, number, None
        for (kind, key), (number, row) in first_uses(self.machine.rows, self.used).items():
            yield kind, key, number, row

    def route_to(self, kind: str, place: Any, number: int, last: Row | None) -> Route:
        """A route to what was come to by a state and the row after that: a shortest one, unless that is too hard to
        find."""
        nearest = self.nearest.route_to(kind, place) if self.nearest else None
        return self.some_route(place, number, last) if nearest is None else nearest

    def some_route(self, place: Any, number: int, last: Row | None) -> Route:
        """Any route there: to a level, where there is no row after the state."""
        if last is None:
            return self._route(number, 0, self.controls(place))
        return self._route(number, self._asked(last.asks, number), (last.control,), last.move)

    def _asked(self, formula: Formula, number: int) -> int:
        """Growing bits of a state by which a formula holds there."""
        bits, word = self._parts.bits, self._found.states[number][1]
        cubes = formula.cubes if isinstance(formula, Cubes) else ()
        return next((value & bits for mask, value in cubes if word & mask == value), word & bits)

    def _route(self, number: int, need: int, to: Container[int], *last: Move) -> Route:
        """A route into a state, as far as some growing bits are had, on to one of some controls, and by the last
        moves."""
        rows = trimmed(self._found, self._tallies, number, need)
        return SomeRoute(self._joined.route(rows, *last, to=to))

    @cached_property
    def _tallies(self) -> Tallies:
        return Tallies(self._joined, self._parts.bits)

    def route_to_some(self, needs: Mapping[Need, Route]) -> Route | None:
        """Any route to one of some needs (places not joined), and on by its last moves; None if there is none."""
        wanted: dict[Rest, list[tuple[int, int, Route]]] = {}
        for ((control, word), bits), last in needs.items():
            wanted.setdefault((self._joined.group[control], word), []).append((bits, control, last))
        for number, state in enumerate(self._found.states):
            rest, had = self._found.split(*state)
            for bits, control, last in wanted.get(rest, ()):
                if not bits & ~had:
                    return self._route(number, bits, (control,), *last)
        return None

    def crossings(self, level: str) -> int:
        """How many arrivals it takes at most to come to a level that is come to."""
        return min(self._crossings_in(group)[level] for group in self._groups[level])

    def _crossings_in(self, group: int) -> dict[str, int]:
        if group not in self._crossed:
            self._crossed[group] = self._joined.crossings(self._found.rows_to(self._found.entered[group]))
        return self._crossed[group]

    def controls(self, level: str) -> list[int]:
        """The controls of the states found in a level."""
        controls = self.machine.controls
        return [
            control
            for group in self._groups.get(level, ())
            for control in self._joined.members[group]
            if controls[control].place == level
        ]

    def holds_everywhere(self, level: str, condition: str) -> bool:
        """Whether it is shown that a condition written in some level holds in every state of this level: it does with
        what everybody has there at least."""
        holds, bound = self.machine.formulas.of(condition).holds, self._poorest.bound
        groups = set(self._groups.get(level, ()))
        rests = [rest for rest in self._found.best if rest[0] in groups]
        return self._poorest.complete and all(rest in bound and holds(rest[1] | bound[rest]) for rest in rests)

    def holds_somewhere(self, level: str, condition: str) -> bool:
        """Whether a condition written in some level holds in a state of this level. Exact where complete, for
        such conditions only ever ask for what grows."""
        holds = self.machine.formulas.of(condition).holds
        kept = (number for group in self._groups.get(level, ()) for number in self._kept[group])
        return any(holds(self._found.states[number][1]) for number in kept)

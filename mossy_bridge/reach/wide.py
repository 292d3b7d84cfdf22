"""Every state, places joined there and back being one: for flows in which much is turned to and fro, far and wide."""

from collections.abc import Iterable
from functools import cached_property

import numpy as np

from mossy_bridge.play.state import Move, State, Thing
from mossy_bridge.reach.arrays import Bools, Numbers, first_places
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.joining import Joined
from mossy_bridge.reach.machine import Row, used_for
from mossy_bridge.reach.routes import Route, SomeRoute


class WideGraph(Graph):
    """A graph of joined places: its controls are groups. Routes along it are not surely the shortest, for how far it
    is from place to place within a group it does not tell."""

    machine: Joined  # type: ignore[assignment]
    tells_places = False

    def state(self, number: int) -> State:
        """A state, in any place of its group."""
        return self.machine.machine.state(self.machine.members[int(self.control[number])][0], self.word(number))

    def route(self, number: int, *last: Move, into: str = "") -> Route:
        """A route into the state, to a level of its group (a play level, if none is told), and by the last move."""
        group, word, machine = int(self.control[number]), self.word(number), self.machine.machine
        to = self._places(group, into)
        if last:
            to = {
                control
                for control in self.machine.members[group]
                for row in map(machine.rows.__getitem__, machine.rows_of(control))
                if row.move == last[0] and row.asks.holds(word)
            }
        return SomeRoute(self.machine.route(self.rows_to(number), *last, to=to))

    def told(self, rows: Iterable[int]) -> Route:
        """The moves of rows one after the other, from the start, with those between them, and into a play level."""
        rows = list(rows)
        group = self.machine.rows[rows[-1]].target if rows else int(self.control[0])
        return SomeRoute(self.machine.route(rows, to=self._places(group, "")))

    def _places(self, group: int, level: str) -> set[int]:
        """The controls of a group in a level; in play levels, if it has any, where none is named."""
        machine, members = self.machine.machine, self.machine.members[group]
        if level:
            return {control for control in members if machine.controls[control].place == level}
        return set(filter(machine.in_play, members)) or set(members)

    @cached_property
    def judged(self) -> Bools:
        """For each state whether some place of its group is in a play level."""
        return np.array(self.machine.in_play, dtype=np.bool_)[self.control]

    def inside(self, level: str) -> Bools:
        """For each state whether the level is in its group."""
        found = np.zeros(len(self.machine.members), dtype=np.bool_)
        found[self.controls_in.get(level, [])] = True
        return found[self.control]

    def in_level(self, level: str) -> Numbers:
        """The states of a level's groups, nearest first."""
        return np.flatnonzero(self.inside(level)[: self.looked_at])

    def begun_in(self, _start: int, /) -> str:
        """The level that the flow begins in."""
        machine = self.machine.machine
        assert machine.start is not None
        return machine.controls[machine.start[0]].place

    @cached_property
    def controls_in(self) -> dict[str, list[int]]:
        """The groups that each level is in."""
        found: dict[str, list[int]] = {}
        for group, levels in enumerate(self.machine.levels):
            for level in levels:
                found.setdefault(level, []).append(group)
        return found

    @cached_property
    def rows_into(self) -> dict[str, list[int]]:
        """The rows by which the player surely arrives at each level."""
        found: dict[str, list[int]] = {}
        machine = self.machine.machine
        for number, real in enumerate(self.machine.real):
            row = machine.rows[real]
            if row.crosses:
                found.setdefault(machine.controls[row.target].place, []).append(number)
        return found

    def first_in_levels(self) -> dict[str, int]:
        """For each level that some state's group has, the first such state."""
        first = first_places(self.control, len(self.machine.members), self.machine.limits)
        found: dict[str, int] = {}
        for group in np.flatnonzero(first >= 0).tolist():
            for level in self.machine.levels[group]:
                found[level] = min(int(first[group]), found.get(level, len(self)))
        return found

    def crossings(self) -> dict[str, int]:
        """How many arrivals it takes at most to come to each level."""
        found: dict[str, int] = {}
        for number in set(self.first_in_levels().values()):
            for level, crossed in self.machine.crossings(self.rows_to(number)).items():
                found[level] = min(crossed, found.get(level, crossed))
        return found

    def uses(self) -> dict[tuple[str, object], tuple[int, Row]]:
        """As of other graphs; moves that stay in a group and change nothing are among them."""
        found = super().uses()
        by_group = np.argsort(self.control, kind="stable")
        first = np.searchsorted(self.control[by_group], np.arange(len(self.machine.members) + 1))
        for group in range(len(self.machine.members)):
            numbers = by_group[first[group] : first[group + 1]]
            for real, place in self.machine.staying(group, self.words[numbers]) if len(numbers) else ():
                row = self.machine.machine.rows[real]
                for key in used_for(row):
                    found.setdefault(key, (int(numbers[place]), row))
        return found

    def _idle(self) -> Bools:
        found = super()._idle()
        found &= ~np.array(self.machine.lasting, dtype=np.bool_)[self.control]
        for group in np.unique(self.control[found]).tolist():
            numbers = np.flatnonzero(found & (self.control == group))
            found[numbers] = ~self.machine.stays(group, self.words[numbers])
        return found

    def surely(self, lost: set[Thing]) -> set[Thing]:
        """Deeds, and levels not joined with others: these may have been passed on the way through their groups."""
        alone = {level for level, groups in self.controls_in.items()
                 if all(len(self.machine.members[group]) == 1 for group in groups)}  # fmt: skip
        return {thing for thing in lost if isinstance(thing, tuple) or thing in alone}

"""Places joined there and back are one.

A *free step* is a move from one place to another that is possible in every state there, changes nothing that is kept,
begins no new run and is no deed; from a place where an exit may be forced there is none. Places that free steps lead
between, there and back, make a *group*. Whoever is in one of them can come to all of them with the same word; so what
can be come to from one can be from all, and a state need not say in which of them the player is, only in which group.
Moves of a group are those of all its places, but for those that stay in it and change nothing. Of these it is only
asked whether they are ever possible.
"""

from collections import deque
from collections.abc import Container, Iterable, Iterator

import numpy as np
from msgspec.structs import replace

from mossy_bridge.play.state import Move
from mossy_bridge.reach.arrays import Bools, Words
from mossy_bridge.reach.certain import Certain
from mossy_bridge.reach.formulas import as_word
from mossy_bridge.reach.groups import strong_groups
from mossy_bridge.reach.machine import ENDING, Machine, Ready, Row, Stopper, made_ready, possible


class Joined:
    """A machine, all of whose controls are compiled, with groups for controls. No places of the level ``apart`` are
    joined."""

    def __init__(self, machine: Machine, apart: str = ""):
        self.machine, self.rules, self.layout, self.formulas = machine, machine.rules, machine.layout, machine.formulas
        self.limits = machine.limits
        self.rows: list[Row] = []
        self.real: list[int] = []
        """For each row its number in the machine."""
        self.first_row: list[int] = [0]
        self.certain = certain = Certain(machine)
        self._free: list[list[Row]] = [
            self._free_steps(certain, control, apart) for control in range(len(machine.controls))
        ]
        self.group: list[int] = self._grouped()
        """For each control of the machine the number of its group."""
        self.members: list[list[int]] = [[] for _ in set(self.group)]
        """For each group its controls."""
        for control, group in enumerate(self.group):
            self.members[group].append(control)
        self.lasting: list[bool] = [any(self._free[control] for control in of) for of in self.members]
        """For each group whether some free step is always possible in it."""
        self._staying: list[list[int]] = [self._add_rows(certain, group) for group in range(len(self.members))]
        """For each group the rows of the machine that stay in it and change nothing."""
        self._ready: list[Ready | None] = [None] * len(self.members)
        self.levels: list[tuple[str, ...]] = [
            tuple(dict.fromkeys(machine.controls[control].place for control in controls)) for controls in self.members
        ]
        """For each group the levels it is in."""
        self.in_play: list[bool] = [any(map(machine.in_play, controls)) for controls in self.members]
        """For each group whether some of it is in a play level."""
        self.start = (self.group[machine.start[0]], machine.start[1]) if machine.start else None

    def _free_steps(self, certain: Certain, control: int, apart: str) -> list[Row]:
        controls = self.machine.controls
        if controls[control].place == apart:
            return []
        numbers = self.machine.rows_of(control)
        rows = [self.machine.rows[number] for number in numbers if not certain.never[number]]
        if rows and rows[0].sprung:
            return []
        return [
            row
            for row in rows
            if row.target != ENDING and not row.fresh and row.move.kind != "deed"
            if certain.holds(row) and certain.still(row) and controls[row.target].place != apart
        ]

    def _grouped(self) -> list[int]:
        steps = [(row.control, row.target) for rows in self._free for row in rows]
        source = np.array([here for here, _ in steps], dtype=np.int32)
        target = np.array([there for _, there in steps], dtype=np.int32)
        numbers: dict[int, int] = {}  # in the order of the controls
        labels = strong_groups(len(self.machine.controls), source, target, self.limits).tolist()
        return [numbers.setdefault(label, len(numbers)) for label in labels]

    def _add_rows(self, certain: Certain, group: int) -> list[int]:
        """Makes the rows of a group; the rest of those of its controls."""
        staying = []
        for control in self.members[group]:
            numbers = [number for number in self.machine.rows_of(control) if not certain.never[number]]
            forced = bool(numbers) and self.machine.rows[numbers[0]].sprung
            for number in numbers:
                row = self.machine.rows[number]
                target = ENDING if row.target == ENDING else self.group[row.target]
                if target == group and row.move.kind != "deed" and not (forced or row.fresh) and certain.still(row):
                    staying.append(number)
                    continue
                self.rows.append(replace(row, control=group, target=target))
                self.real.append(number)
        self.first_row.append(len(self.rows))
        return staying

    def compile_all(self, _stop: Stopper) -> bool:
        """As of a machine: everything is compiled."""
        return True

    def rows_of(self, group: int) -> range:
        """The numbers of a group's rows, forced ones first."""
        return range(self.first_row[group], self.first_row[group + 1])

    def moves(self, group: int, word: int) -> list[tuple[int, int, int]]:
        """As those of a machine."""
        ready = self._ready[group]
        if ready is None:
            ready = self._ready[group] = made_ready((number, self.rows[number]) for number in self.rows_of(group))
        return possible(ready, word)

    def staying(self, group: int, words: Words) -> Iterator[tuple[int, int]]:
        """The rows of the machine that stay in a group and change nothing and are possible with some of the words, each
        with the place of the first such word."""
        few = [as_word(columns) for columns in words[: self.limits.vectors_one_by_one]]
        for number in self._staying[group]:
            asks = self.machine.rows[number].asks
            place = next((at for at, word in enumerate(few) if asks.holds(word)), None)
            if place is None and len(words) > len(few):
                fitting = np.flatnonzero(asks.fits(words))
                place = int(fitting[0]) if len(fitting) else None
            if place is not None:
                yield number, place

    def stays(self, group: int, words: Words) -> Bools:
        """For each of some words whether a move that stays in the group and changes nothing is possible."""
        found = np.zeros(len(words), dtype=np.bool_)
        for number in self._staying[group]:
            found |= self.machine.rows[number].asks.fits(words)
        return found

    def route(self, rows: Iterable[int], *last: Move, to: Container[int] | None = None) -> tuple[Move, ...]:
        """The moves that some rows stand for, from the start, free steps between them; on to one of some controls of
        the machine, and by the last moves."""
        assert self.machine.start is not None
        here = self.machine.start[0]
        found: list[Move] = []
        for number in rows:
            row = self.machine.rows[self.real[number]]
            found += [*self._walk(here, (row.control,)), row.move]
            here = row.target
        return (*found, *(self._walk(here, to) if to is not None else ()), *last)

    def crossings(self, rows: Iterable[int]) -> dict[str, int]:
        """How many arrivals it takes at most to come by some rows, from the start, to each level of the group that they
        lead into."""
        assert self.machine.start is not None
        here, crossed = self.machine.start[0], 0
        for number in rows:
            row = self.machine.rows[self.real[number]]
            crossed += self._arrivals(here)[row.control] + row.crosses
            here = row.target
        found: dict[str, int] = {}
        for control, more in self._arrivals(here).items():
            level = self.machine.controls[control].place
            found[level] = min(crossed + more, found.get(level, crossed + more))
        return found

    def _arrivals(self, here: int) -> dict[int, int]:
        """For each control of a group the fewest arrivals on free steps there from one of them."""
        found: dict[int, int] = {}
        waiting = deque([(0, here)])  # whoever arrives waits behind those who do not
        while waiting:
            crossed, control = waiting.popleft()
            if control in found:
                continue
            found[control] = crossed
            for row in self._free[control]:
                if self.group[row.target] == self.group[here]:
                    (waiting.append if row.crosses else waiting.appendleft)((crossed + row.crosses, row.target))
        return found

    def _walk(self, here: int, to: Container[int]) -> list[Move]:
        """The fewest free steps from a control to one of some others in its group."""
        came: dict[int, tuple[int, Move] | None] = {here: None}
        waiting = deque([here])
        while waiting and (here := waiting.popleft()) not in to:
            for row in self._free[here]:
                if row.target not in came:
                    came[row.target] = here, row.move
                    waiting.append(row.target)
        found = []
        while step := came[here]:
            here, move = step
            found.append(move)
        return found[::-1]

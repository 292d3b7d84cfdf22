"""The graph of reachable states, as columns: states numbered in the order they were come to, and the moves between.

A smaller number is never further from the start, in moves; edges are in the order of the states they leave. Numbers
are kept as arrays, so that what follows from millions of states is worked out on all at once.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mossy_bridge.play.state import Move, State, Thing
from mossy_bridge.reach.arrays import Bools, Ints, Numbers, Words, begins, distinct, first_places, grouped, spans
from mossy_bridge.reach.crossings import crossings
from mossy_bridge.reach.formulas import Cubes, as_word
from mossy_bridge.reach.groups import layers_between, strong_groups
from mossy_bridge.reach.layout import BITS
from mossy_bridge.reach.machine import ENDING, Machine, Row, first_uses
from mossy_bridge.reach.routes import Route


@dataclass
class Graph:
    """States and moves. Of ``n`` states the first ``looked_at`` have been gone on from."""

    machine: Machine
    control: Ints
    """Of shape (n,)."""
    words: Words
    """Of shape (n, columns)."""
    came: Ints
    """For each state the one before it, -1 for a start; of shape (n,)."""
    by: Ints
    """For each state the row of the move into it."""
    depth: Ints
    """How many moves each state is from its start."""
    source: Ints
    """For each edge the state it leaves; ascending."""
    row: Ints
    target: Ints
    """For each edge the state it leads to, or ENDING."""
    looked_at: int
    tells_places: ClassVar[bool] = True
    """Whether each state tells in which level the player is, and so how many moves it took to come there."""

    @property
    def complete(self) -> bool:
        """Whether every state was gone on from."""
        return self.looked_at == len(self.control)

    def __len__(self) -> int:
        return len(self.control)

    # -- states ----------------------------------------------------------------------------------------

    def state(self, number: int) -> State:
        """A state, with all that is not tracked at its first value."""
        return self.machine.state(int(self.control[number]), self.word(number))

    def ahead(self) -> Iterator[tuple[int, int]]:
        """The controls and words of the states that were not gone on from."""
        return ((int(self.control[number]), self.word(number)) for number in range(self.looked_at, len(self)))

    def word(self, number: int) -> int:
        """A state's word."""
        return as_word(self.words[number])

    def route(self, number: int, *last: Move, into: str = "") -> Route:
        """A shortest list of moves into the state, and those after it. A level (``into``) is told to graphs whose
        states do not say in which of several the player is."""
        del into  # here they do
        return (*(self.machine.rows[row].move for row in self.rows_to(number)), *last)

    def rows_to(self, number: int) -> list[int]:
        """The rows by which a state was come to."""
        found = []
        while self.came[number] >= 0:
            found.append(int(self.by[number]))
            number = int(self.came[number])
        return found[::-1]

    def told(self, rows: Iterable[int]) -> Route:
        """The moves of rows one after the other, from the start."""
        return tuple(self.machine.rows[row].move for row in rows)

    @cached_property
    def places(self) -> list[str]:
        """The levels, by the numbers that ``place`` uses."""
        return [level.id for level in self.machine.rules.flow.levels]

    @cached_property
    def place(self) -> Ints:
        """For each state its level's number in the flow."""
        number = self.number_of
        return np.array([number[control.place] for control in self.machine.controls] or [0], dtype=np.int32)[
            self.control
        ]

    def inside(self, level: str) -> Bools:
        """For each state whether it is in a level."""
        number = self.number_of.get(level, -1)
        found: Bools = np.equal(self.place, number)
        return found

    def begun_in(self, start: int, /) -> str:
        """The level that one of the starts is in."""
        return self.machine.controls[int(self.control[start])].place

    @cached_property
    def controls_in(self) -> dict[str, list[int]]:
        """The controls with which the player is in each level, or may be."""
        found: dict[str, list[int]] = {}
        for number, control in enumerate(self.machine.controls):
            found.setdefault(control.place, []).append(number)
        return found

    @cached_property
    def rows_into(self) -> dict[str, list[int]]:
        """The rows by which the player arrives at each level."""
        found: dict[str, list[int]] = {}
        controls = self.machine.controls
        for number, row in enumerate(self.machine.rows):
            if row.crosses:
                found.setdefault(controls[row.target].place, []).append(number)
        return found

    def first_in_levels(self) -> dict[str, int]:
        """For each level that some state is in, the nearest such state."""
        first = first_places(self.place, len(self.places), self.machine.limits).tolist()
        return {name: number for name, number in zip(self.places, first, strict=True) if number >= 0}

    @cached_property
    def judged(self) -> Bools:
        """For each state whether its place is a play level."""
        kinds = [level.kind == "play" for level in self.machine.rules.flow.levels]
        return np.array(kinds, dtype=np.bool_)[self.place]

    @cached_property
    def _by_place(self) -> tuple[NDArray[np.integer], Numbers]:
        return grouped(self.place[: self.looked_at], len(self.places), self.machine.limits)

    def in_level(self, level: str) -> Numbers:
        """The states of a level that have been gone on from, nearest first."""
        order, first = self._by_place
        place = self.number_of[level]
        return order[first[place] : first[place + 1]].astype(np.int64)

    @cached_property
    def number_of(self) -> dict[str, int]:
        """The number of each level."""
        return {name: index for index, name in enumerate(self.places)}

    def crossings(self) -> dict[str, int]:
        """For each level that some state is in, the least number of arrivals after the first over all routes."""
        return crossings(self)

    def holds(self, condition: str, numbers: Numbers) -> Bools:
        """For each of the states whether a condition written in the flow holds."""
        return self.machine.formulas.of(condition).fits(self.words[numbers])

    def holds_seen(self, level: str, numbers: Numbers) -> Bools:
        """For each of the states whether a level has been seen; the level is one that is tracked."""
        return Cubes(((self.machine.layout.seen[level],) * 2,)).fits(self.words[numbers])

    def by_control(self, numbers: Numbers) -> Iterable[tuple[State, Numbers]]:
        """The states by their control: one state that stands for it, whose facts mean nothing, and their numbers."""
        for control in np.unique(self.control[numbers]):
            yield self.machine.sample(int(control)), numbers[self.control[numbers] == control]

    def differing(self, numbers: Numbers, facts: Iterable[str]) -> Numbers:
        """One state for each combination of a control and the values of some facts: the nearest."""
        bits = [self.machine.layout.facts[fact].mask for fact in facts if fact in self.machine.layout.facts]
        mask = np.array(
            [(sum(bits) >> (BITS * at)) & ((1 << BITS) - 1) for at in range(self.words.shape[1])], np.uint64
        )
        keys = np.column_stack([self.control[numbers].astype(np.uint64), self.words[numbers] & mask])
        _, nearest = np.unique(keys, axis=0, return_index=True)
        return numbers[np.sort(nearest)]

    # -- edges -----------------------------------------------------------------------------------------

    @property
    def rows(self) -> list[Row]:
        """What the numbers in ``row`` and ``by`` mean."""
        return self.machine.rows

    @cached_property
    def rows_doing(self) -> dict[tuple[str, str], list[int]]:
        """The rows of each deed, by its level and id."""
        found: dict[tuple[str, str], list[int]] = {}
        for number, row in enumerate(self.rows):
            if row.move.kind == "deed":
                found.setdefault((row.move.level, row.move.thing), []).append(number)
        return found

    @cached_property
    def fresh(self) -> Bools:
        """For each edge whether it begins a new run by entering a level."""
        return self._marked([row.fresh and row.target != ENDING for row in self.rows])

    @cached_property
    def crosses(self) -> Bools:
        """For each edge whether it is an arrival."""
        return self._marked([row.crosses for row in self.rows])

    @cached_property
    def forced(self) -> Bools:
        """For each edge whether it is a sprung exit, which leaves its state no other."""
        return self._marked([row.sprung for row in self.rows])

    def _marked(self, rows: list[bool]) -> Bools:
        """For each edge whether its row is marked."""
        return np.array(rows, dtype=np.bool_)[self.row] if any(rows) else np.zeros(len(self.row), dtype=np.bool_)

    @cached_property
    def first_by_row(self) -> dict[int, int]:
        """For each row that is used, the nearest state from which it is."""
        first = first_places(self.row, len(self.rows), self.machine.limits)
        rows = np.flatnonzero(first >= 0)
        return dict(zip(rows.tolist(), self.source[first[rows]].tolist(), strict=True))

    def uses(self) -> dict[tuple[str, Any], tuple[int, Row]]:
        """For everything that some move makes use of, by kind and place, the nearest state from which one does, and its
        row."""
        return first_uses(self.rows, self.first_by_row)

    def surely(self, lost: set[Thing]) -> set[Thing]:
        """Of levels and deeds that seem lost in a state of the graph those that surely are: here all."""
        return lost

    @cached_property
    def idle(self) -> Bools:
        """For each state that was gone on from whether it has no move whatever."""
        return self._idle()

    def _idle(self) -> Bools:
        found: Bools = np.equal(self.first_edge[1:], self.first_edge[:-1])
        found[self.looked_at :] = False
        return found

    def making(self, move: Move) -> Numbers:
        """The states in which a move is possible."""
        wanted = np.array([row.move == move for row in self.rows] or [False], dtype=np.bool_)
        return self.source[wanted[self.row]].astype(np.int64)

    @cached_property
    def first_edge(self) -> Numbers:
        """Where the edges of each state begin, and after the last where they end; of shape (n + 1,)."""
        return begins(self.source, len(self), self.machine.limits)

    @cached_property
    def inward(self) -> tuple[NDArray[np.integer], Numbers]:
        """The edges that lead to a state, ordered by it, and where those of each state begin."""
        order, first = grouped(self.target + 1, len(self) + 1, self.machine.limits)
        return order[first[1] :], first[1:] - first[1]

    @property
    def starts(self) -> Numbers:
        """Where the graph begins."""
        return np.flatnonzero(self.came < 0)

    @cached_property
    def core(self) -> Bools:
        """Of a large graph without new runs, the states from which the start, and so everything, can be come to
        again. They are quickly found, and often nearly all; of other graphs none are told."""
        start = self.came < 0
        if len(self.source) <= self.machine.limits.core_edges or self.fresh.any() or start.sum() != 1:
            return np.zeros(len(self), dtype=np.bool_)
        return self._backwards(start)

    @cached_property
    def groups(self) -> Ints:
        """For each state the number of its strongly connected group, over edges that begin no new run; the core has
        the highest."""
        core, (source, target) = self.core, self._apart
        number = np.cumsum(~core, dtype=np.int32) - 1
        groups = strong_groups(len(self) - int(core.sum()), number[source], number[target], self.machine.limits)
        found = np.full(len(self), int(groups.max(initial=-1)) + 1, dtype=np.int32)
        found[~core] = groups
        return found

    @cached_property
    def between_groups(self) -> list[tuple[Numbers, Numbers]]:
        """The edges between groups other than the core, in layers, each after all that it leads to."""
        return list(layers_between(self.groups, *self._apart, self.machine.limits))

    @cached_property
    def _apart(self) -> tuple[Ints, Ints]:
        """The edges outside the core that begin no new run; none leads into it."""
        apart = self.target >= 0
        apart &= ~self.fresh
        apart &= ~self.core[self.source]
        return self.source[apart], self.target[apart]

    def edges_of(self, numbers: Numbers) -> Numbers:
        """All edges that leave the states."""
        return spans(self.first_edge[numbers], self.first_edge[numbers + 1])

    def leading_to(self, goals: Bools) -> Bools:
        """For each state whether edges that begin no new run lead from it to one of the goals; being there counts."""
        return self._backwards(goals | self.core) if goals.any() else goals.copy()

    def _backwards(self, goals: Bools) -> Bools:
        order, first = self.inward
        found = goals.copy()
        # whatever leads into the core is in it
        frontier = np.flatnonzero(goals & ~self.core if "core" in self.__dict__ else goals)
        while len(frontier):
            edges = order[spans(first[frontier], first[frontier + 1])]
            before = self.source[edges[~self.fresh[edges]]]
            frontier = distinct(before[~found[before]], found)
        return found

    def avoiding(self, levels: Iterable[str]) -> "Graph":
        """The part that is come to from the starts without being in any of the levels."""
        shut = {name for name in levels}
        shut_place = np.array([name in shut for name in self.places], dtype=np.bool_)
        kept = ~shut_place[self.place]
        starts = np.flatnonzero((self.came < 0) & kept)
        number = np.full(len(self) + 1, -1, dtype=np.int32)
        number[starts] = np.arange(len(starts))
        layers, came, by = [starts], [np.full(len(starts), -1, np.int32)], [np.zeros(len(starts), np.int32)]
        count = len(starts)
        while len(layers[-1]):
            edges = self.edges_of(layers[-1])
            there = self.target[edges]
            edges = edges[(there >= 0) & kept[there] & (number[there] < 0)]
            _, first = np.unique(self.target[edges], return_index=True)
            edges = edges[np.sort(first)]
            layers.append(self.target[edges].astype(np.int64))
            number[layers[-1]] = np.arange(count, count + len(edges))
            came.append(number[self.source[edges]])
            by.append(self.row[edges])
            count += len(edges)
        states = np.concatenate(layers)
        looked = states[states < self.looked_at]
        edges = self.edges_of(states)
        inside = (self.target[edges] < 0) | (number[self.target[edges]] >= 0)
        edges = edges[inside]
        targets = np.where(self.target[edges] < 0, ENDING, number[self.target[edges]]).astype(np.int32)
        depths = np.repeat(np.arange(len(layers), dtype=np.int32), [len(layer) for layer in layers])
        return Graph(
            self.machine, self.control[states], self.words[states], np.concatenate(came).astype(np.int32),
            np.concatenate(by).astype(np.int32), depths, number[self.source[edges]], self.row[edges], targets,
            len(states) if self.complete else len(looked),
        )  # fmt: skip

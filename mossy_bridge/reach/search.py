"""The search for every state, one at a time: quickest where states are few or come to one after the other."""

from collections.abc import Iterable

import numpy as np

from mossy_bridge.reach.arrays import Ints
from mossy_bridge.reach.effects import Assign, Effect, done
from mossy_bridge.reach.formulas import Cubes, Formula, columns_of
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.machine import ENDING, Machine, Stopper

_Ready = tuple[int, int, Formula | None, int, int, Effect | None, int, int]
"""A row ready to be tried: mask and value, or a formula; bits to clear and set, or an effect; target; number."""


def prepared(machine: Machine, control: int) -> tuple[list[_Ready], list[_Ready]]:
    """The rows of a control: those that may be forced, and the free ones."""
    forced: list[_Ready] = []
    free: list[_Ready] = []
    for number in machine.rows_of(control):
        row = machine.rows[number]
        one_cube = isinstance(row.asks, Cubes) and len(row.asks.cubes) == 1
        mask, value = row.asks.cubes[0] if one_cube and isinstance(row.asks, Cubes) else (0, 0)
        simple = len(row.does) <= 1 and all(isinstance(part, Assign) for part in row.does)
        first = row.does[0] if row.does else Assign()
        clear, more = (first.clear, first.set) if simple and isinstance(first, Assign) else (0, 0)
        ready = (mask, value, None if one_cube else row.asks, ~clear, more, None if simple else row.does, row.target,
                 number)  # fmt: skip
        (forced if row.sprung else free).append(ready)
    return forced, free


class Stepping:
    """Makes moves on words."""

    def __init__(self, machine: Machine):
        self._machine = machine
        self._ready: dict[int, tuple[list[_Ready], list[_Ready]]] = {}

    def moves(self, control: int, word: int) -> Iterable[tuple[int, int, int]]:
        """Every move that is possible: its row, and the control (or ENDING) and word it leads to; a forced move
        is the only one."""
        ready = self._ready.get(control)
        if ready is None:
            ready = self._ready[control] = prepared(self._machine, control)
        found = []
        for rows in ready:
            for mask, value, formula, kept, more, effect, target, row in rows:
                if word & mask == value and (formula is None or formula.holds(word)):
                    after = (word & kept) | more if effect is None else done(effect, word)
                    found.append((row, target, after))
                    if rows is ready[0]:
                        return found
        return found


def searched(machine: Machine, starts: Iterable[tuple[int, int]], stop: Stopper, most: int) -> Graph:
    """Breadth-first from the starts, until all is found, the stop, or more than ``most`` states are known.
    ``O(states × moves)``."""
    stepping = Stepping(machine)
    numbers: dict[tuple[int, int], int] = {}
    states: list[tuple[int, int]] = []
    came: list[int] = []
    by: list[int] = []
    depth: list[int] = []
    source: list[int] = []
    rows: list[int] = []
    targets: list[int] = []
    for state in starts:
        if state not in numbers:
            numbers[state] = len(states)
            states.append(state)
            came.append(-1)
            by.append(0)
            depth.append(0)
    here = 0
    while here < len(states) and len(states) <= most:
        if here % 256 == 0 and stop():
            break
        for row, control, word in stepping.moves(*states[here]):
            number = ENDING
            if control != ENDING:
                state = (control, word)
                number = numbers.setdefault(state, len(states))
                if number == len(states):
                    states.append(state)
                    came.append(here)
                    by.append(row)
                    depth.append(depth[here] + 1)
            source.append(here)
            rows.append(row)
            targets.append(number)
        here += 1
    columns = machine.layout.columns
    words = np.array([columns_of(word, columns) for _, word in states], dtype=np.uint64).reshape(-1, columns)
    edges = (_ints(source), _ints(rows), _ints(targets))
    return Graph(
        machine, _ints([control for control, _ in states]), words, _ints(came), _ints(by), _ints(depth), *edges, here
    )


def _ints(values: list[int]) -> Ints:
    return np.array(values, dtype=np.int32)

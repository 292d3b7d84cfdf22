"""The search for every state, one at a time: quickest where states are few or come to one after the other."""

from collections.abc import Iterable, Sequence
from math import inf

import numpy as np

from mossy_bridge.reach.arrays import Ints
from mossy_bridge.reach.formulas import as_columns
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.machine import ENDING, Machine, Stopper


def little_from(
    machine: Machine, starts: Sequence[tuple[int, int]], stop: Stopper, most: int, most_moves: int
) -> Graph:
    """All that follows from the starts, if that is little; otherwise as much of it as it takes to see that."""
    found = searched(machine, starts, stop, most, most_moves // machine.limits.first_portion)
    spreading = len(found) > machine.limits.spreading * found.looked_at
    return found if found.complete or spreading else searched(machine, starts, stop, most, most_moves)


def searched(
    machine: Machine, starts: Iterable[tuple[int, int]], stop: Stopper, most: int, most_moves: float = inf
) -> Graph:
    """Breadth-first from the starts, until all is found, the stop, more than ``most`` states are known, or about
    ``most_moves`` are made. ``O(states × moves)``."""
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
    while here < len(states) and len(states) <= most and len(source) < most_moves:
        if here % 256 == 0 and stop():
            break
        for row, control, word in machine.moves(*states[here]):
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
    words = as_columns((word for _, word in states), machine.layout.columns)
    edges = (_ints(source), _ints(rows), _ints(targets))
    return Graph(
        machine, _ints([control for control, _ in states]), words, _ints(came), _ints(by), _ints(depth), *edges, here
    )


def _ints(values: list[int]) -> Ints:
    return np.array(values, dtype=np.int32)

"""What transitions make use of: exits, deeds, paths, tiles and endings."""

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np

from mossy_bridge.reach.arrays import Numbers
from mossy_bridge.reach.system.transition_columns import MOVES, TransitionColumns
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition

Use = tuple[int, GuardedTransition]
"""A state in which a transition is enabled, and the transition."""


class FirstUses(NamedTuple):
    """What is used of one kind: the numbers of those things, ascending, and for the first use of each the numbers of
    the state and of the transition."""

    things: list[int]
    states: list[int]
    transitions: list[int]


def used_for(transition: GuardedTransition) -> tuple[tuple[str, Any], ...]:
    """Everything that a transition makes use of, as its kind and place."""
    own = transition.move.kind, transition.place
    return (own, ("ending", transition.ending)) if transition.ending else (own,)


def first_uses(
    transitions: Sequence[GuardedTransition], columns: TransitionColumns, first: Numbers
) -> dict[str, FirstUses]:
    """The first use of everything, by kind. For each transition ``first`` has the first state in which it is enabled,
    -1 where there is none."""
    numbers = np.flatnonzero(first >= 0)
    last_first = numbers[np.lexsort((numbers, first[numbers]))[::-1]]

    def of_kind(count: int, used: Numbers, things: Numbers) -> FirstUses:
        by = np.full(count, -1)
        by[things] = used  # what is written last stays
        there = np.flatnonzero(by >= 0)
        return FirstUses(there.tolist(), first[by[there]].tolist(), by[there].tolist())

    kinds, found = columns.kind[last_first], {}
    for number, kind in enumerate(MOVES):
        used = last_first[kinds == number]
        found[kind] = of_kind(len(columns.numbering[kind]), used, columns.thing[used])
    endings = columns.numbering["ending"]
    into_endings = last_first[columns.target[last_first] == ENDING].tolist()
    ended = [number for number in into_endings if transitions[number].ending in endings]
    things = [endings[transitions[number].ending] for number in ended]
    found["ending"] = of_kind(len(endings), np.array(ended, np.int64), np.array(things, np.int64))
    return found

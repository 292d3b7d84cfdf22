"""The transitions of a program graph as columns, for what is asked of each of tens of thousands."""

from collections.abc import Callable, Iterable, Sequence
from operator import attrgetter
from typing import NamedTuple, TypeVar

import numpy as np

from mossy_bridge.reach.arrays import Bools, Ints
from mossy_bridge.reach.system.guards import Guard
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.updates import Update

T = TypeVar("T")


class TransitionColumns(NamedTuple):
    """One entry for each transition, each column of shape (transitions,). Locations are ascending."""

    location: Ints
    target: Ints
    """The number of a location, or ENDING."""
    forced: Bools
    plain: Bools
    """Whether it is no deed and begins no new run."""
    guard: Ints
    """Which of ``guards``."""
    update: Ints
    """Which of ``updates``."""
    guards: list[Guard]
    """The guards, each once."""
    updates: list[Update]
    """The updates, each once."""

    def by_guard(self, answer: Callable[[Guard], bool]) -> Bools:
        """For each transition an answer that depends on its guard alone."""
        return _bools(map(answer, self.guards), len(self.guards))[self.guard]

    def by_update(self, answer: Callable[[Update], bool]) -> Bools:
        """For each transition an answer that depends on its update alone."""
        return _bools(map(answer, self.updates), len(self.updates))[self.update]


def columns_of(program: ProgramGraph) -> TransitionColumns:
    """The columns of a program graph, all of which is compiled."""
    transitions, size = program.transitions, len(program.transitions)
    many = np.diff(np.array(program.first_transition))
    guards, guard = _distinct(list(map(attrgetter("guard"), transitions)))
    updates, update = _distinct(list(map(attrgetter("update"), transitions)))
    return TransitionColumns(
        location=np.repeat(np.arange(len(many), dtype=np.int32), many),
        target=np.fromiter(map(attrgetter("target"), transitions), np.int32, size),
        forced=_bools(map(attrgetter("forced"), transitions), size),
        plain=_bools([not one.restarts and one.move[0] != "deed" for one in transitions], size),
        guard=guard,
        update=update,
        guards=guards,
        updates=updates,
    )


def _distinct(values: Sequence[T]) -> tuple[list[T], Ints]:
    """The values, each once, and for each of them which it is. Told by identity: equal ones may count as several."""
    names = np.fromiter(map(id, values), np.uint64, len(values))
    _, first, which = np.unique(names, return_index=True, return_inverse=True)
    return [values[at] for at in first.tolist()], which.astype(np.int32)


def _bools(values: Iterable[bool], size: int) -> Bools:
    return np.fromiter(values, np.bool_, size)

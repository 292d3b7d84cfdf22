"""The transitions of a program graph as columns, for what is asked of each of tens of thousands."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from operator import attrgetter
from typing import NamedTuple, TypeVar

import numpy as np

from mossy_bridge.reach.arrays import Bools, Ints, Numbers
from mossy_bridge.reach.system.guards import Guard
from mossy_bridge.reach.system.things import Numbering, Things
from mossy_bridge.reach.system.transitions import GuardedTransition
from mossy_bridge.reach.system.updates import Update

T = TypeVar("T")
MOVES = ("exit", "deed", "tile", "path")
"""The kinds of moves."""


class TransitionColumns(NamedTuple):
    """One entry for each transition, each column of shape (transitions,)."""

    location: Ints
    target: Ints
    """The number of a location, or ENDING."""
    kind: Ints
    """Which of :data:`MOVES`."""
    thing: Ints
    """The number of what the move uses, among those of its kind."""
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
    numbering: Mapping[str, Numbering]
    """The things by kind, with their numbers."""

    def by_guard(self, answer: Callable[[Guard], bool]) -> Bools:
        """For each transition an answer that depends on its guard alone."""
        return _bools(map(answer, self.guards), len(self.guards))[self.guard]

    def by_update(self, answer: Callable[[Update], bool]) -> Bools:
        """For each transition an answer that depends on its update alone."""
        return _bools(map(answer, self.updates), len(self.updates))[self.update]

    def taken(self, numbers: Numbers) -> "TransitionColumns":
        """Some of the transitions, by their numbers."""
        return self._replace(
            location=self.location[numbers],
            target=self.target[numbers],
            kind=self.kind[numbers],
            thing=self.thing[numbers],
            forced=self.forced[numbers],
            plain=self.plain[numbers],
            guard=self.guard[numbers],
            update=self.update[numbers],
        )

    def moved(self, number: Ints) -> "TransitionColumns":
        """With other numbers of the locations; ``number`` has for each of them the new one, and ENDING at its end."""
        return self._replace(location=number[self.location], target=number[self.target])

    def joined(self, other: "TransitionColumns") -> "TransitionColumns":
        """These transitions, and others after them."""
        guards, guard = _joined((self.guards, self.guard), (other.guards, other.guard))
        updates, update = _joined((self.updates, self.update), (other.updates, other.update))
        return TransitionColumns(
            location=np.concatenate([self.location, other.location]),
            target=np.concatenate([self.target, other.target]),
            kind=np.concatenate([self.kind, other.kind]),
            thing=np.concatenate([self.thing, other.thing]),
            forced=np.concatenate([self.forced, other.forced]),
            plain=np.concatenate([self.plain, other.plain]),
            guard=guard,
            update=update,
            guards=guards,
            updates=updates,
            numbering=other.numbering,
        )


def columns_of(transitions: Sequence[GuardedTransition], things: Things) -> TransitionColumns:
    """The columns of transitions."""
    size = len(transitions)
    kinds = [one.move[0] for one in transitions]
    guards, guard = _distinct(list(map(attrgetter("guard"), transitions)))
    updates, update = _distinct(list(map(attrgetter("update"), transitions)))
    return TransitionColumns(
        location=np.fromiter(map(attrgetter("location"), transitions), np.int32, size),
        target=np.fromiter(map(attrgetter("target"), transitions), np.int32, size),
        kind=np.fromiter(map(MOVES.index, kinds), np.int32, size),
        thing=_things_used(transitions, things),
        forced=_bools(map(attrgetter("forced"), transitions), size),
        plain=_bools([kind != "deed" and not one.restarts for kind, one in zip(kinds, transitions, strict=True)], size),
        guard=guard,
        update=update,
        guards=guards,
        updates=updates,
        numbering=things.numbers,
    )


def columns_again(
    before: TransitionColumns | None, known: Numbers, transitions: Sequence[GuardedTransition], things: Things
) -> TransitionColumns:
    """The columns of transitions after an edit. Of each ``known`` has the number it had ``before``, with the same
    locations; -1 of one that is new."""
    if before is None:
        return columns_of(transitions, things)
    new = np.flatnonzero(known < 0)
    kept = before.taken(known[known >= 0])
    joined = kept.joined(columns_of([transitions[number] for number in new.tolist()], things))
    at = np.empty(len(known), np.int64)
    at[known >= 0], at[new] = np.arange(len(kept.location)), len(kept.location) + np.arange(len(new))
    found = joined.taken(at)
    if before.numbering is things.numbers:
        return found
    return found._replace(thing=_things_used(transitions, things), numbering=things.numbers)


def _things_used(transitions: Sequence[GuardedTransition], things: Things) -> Ints:
    numbers = things.numbers
    return np.fromiter((numbers[one.move[0]][one.place] for one in transitions), np.int32, len(transitions))


def _distinct(values: Sequence[T]) -> tuple[list[T], Ints]:
    """The values, each once, and for each of them which it is. Told by identity: equal ones may count as several."""
    names = np.fromiter(map(id, values), np.uint64, len(values))
    _, first, which = np.unique(names, return_index=True, return_inverse=True)
    return [values[at] for at in first.tolist()], which.astype(np.int32)


def _joined(one: tuple[list[T], Ints], other: tuple[list[T], Ints]) -> tuple[list[T], Ints]:
    """Two lists of values as one, each that is still there once, and for each transition of both which it is."""
    values, which = [*one[0], *other[0]], np.concatenate([one[1], other[1] + len(one[0])])
    there = np.flatnonzero(np.bincount(which, minlength=len(values)))
    number = np.zeros(len(values), np.int32)
    kept, number[there] = _distinct([values[at] for at in there.tolist()])
    return kept, number[which]


def _bools(values: Iterable[bool], size: int) -> Bools:
    return np.fromiter(values, np.bool_, size)

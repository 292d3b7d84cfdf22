"""Guarded transitions, and their quickest form: unpacked, by location."""

from collections.abc import Iterable, Sequence
from typing import Literal

from msgspec import Struct

from mossy_bridge.play.state import Move
from mossy_bridge.reach.system.guards import Cubes, Guard
from mossy_bridge.reach.system.updates import Assign, Update, applied

ENDING = -1
"""The target of a transition into an ending, instead of a location's number."""


class GuardedTransition(Struct, frozen=True, gc=False):
    """One move from one location: its guard on the vector, its update of it, and the location it leads to."""

    location: int
    move: Move
    place: tuple[str, ...]
    """What the move uses: its level and id; of a path, its level and its ends as written."""
    guard: Guard
    update: Update
    target: int
    ending: str = ""
    restarts: bool = False
    """Whether the move fires a ``fresh`` exit, and so begins a new run."""
    forced: bool = False
    """Whether the move is made by itself wherever it is enabled, so that no other is; of several, the first."""
    goes_back: Literal["", "again", "back"] = ""
    """How the move restarts a level so that what rewinds is taken back; "" if it does not."""

    @property
    def crosses(self) -> bool:
        """Whether the move is an arrival."""
        return self.target != ENDING and self.move.kind in ("exit", "tile")


_Prepared = tuple[int, int, Guard | None, int, int, Update | None, int, int]
"""A transition unpacked for speed: mask and value of its guard, or the guard; bits to keep and to set, or the update;
target; number."""
Ready = tuple[list[_Prepared], list[_Prepared]]
"""The transitions of one location: the forced ones, and the others."""


def prepared(transitions: Sequence[GuardedTransition], numbers: Iterable[int]) -> Ready:
    """Those of the transitions that belong to one location, unpacked."""
    forced: list[_Prepared] = []
    free: list[_Prepared] = []
    for number in numbers:
        transition = transitions[number]
        mask, value = (0, 0)
        guard: Guard | None = transition.guard
        if isinstance(transition.guard, Cubes) and len(transition.guard.cubes) == 1:
            (mask, value), guard = transition.guard.cubes[0], None
        clear, more = (0, 0)
        update: Update | None = transition.update or None
        if len(transition.update) == 1 and isinstance(transition.update[0], Assign):
            clear, more, update = transition.update[0].clear, transition.update[0].set, None
        found = forced if transition.forced else free
        found.append((mask, value, guard, ~clear, more, update, transition.target, number))
    return forced, free


def enabled(ready: Ready, vector: int) -> list[tuple[int, int, int]]:
    """Every transition that is enabled with a vector, with the location (or ENDING) and the vector it leads to; a
    forced one is the only one."""
    found = []
    for transitions in ready:
        for mask, value, guard, kept, more, update, target, transition in transitions:
            if vector & mask == value and (guard is None or guard.holds(vector)):
                after = (vector & kept) | more if update is None else applied(update, vector)
                found.append((transition, target, after))
                if transitions is ready[0]:
                    return found
    return found

"""The search for every state: one at a time where they are few, whole frontiers at a time where they are many."""

from collections.abc import Sequence

from mossy_bridge.reach.frontier import swept
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.growing import growing
from mossy_bridge.reach.machine import Machine, Stopper
from mossy_bridge.reach.search import little_from, searched

ONE_BY_ONE = 5_000
"""Up to so many states are found one at a time."""
FIRST_MOVES, GLANCED_MOVES = 6_000, 150_000
"""So many moves make a first look, and a glance."""
SMALL = 1_000
"""A flow with up to so many moves to choose from, over all places, is small."""

POSSIBLE = 4_000_000
"""So many states can be looked at in a few seconds."""


def at_once(machine: Machine, stop: Stopper) -> bool:
    """Whether it is best to look at every state at once: there cannot be too many, and nothing grows that would spare
    looking at them."""
    words = machine.layout.words
    if words * len(machine.rules.flow.levels) > POSSIBLE or growing(machine).bits:
        return False
    return machine.compile_all(stop) and words * len(machine.controls) <= POSSIBLE


def explored(machine: Machine, starts: Sequence[tuple[int, int]], stop: Stopper) -> Graph:
    """Everything that moves lead to from the starts, nearest first; the graph says whether it is complete."""
    few = searched(machine, starts, stop, ONE_BY_ONE)
    return few if few.complete else swept(machine, starts, stop)


def glanced(machine: Machine, starts: Sequence[tuple[int, int]], stop: Stopper) -> Graph:
    """What a moment is enough to find: all of a flow with few states; of a small flow, some ten thousands; of others
    those nearest to the start."""
    few = little_from(machine, starts, stop, ONE_BY_ONE, FIRST_MOVES)
    small = not few.complete and machine.compile_all(stop) and len(machine.rows) <= SMALL
    return swept(machine, starts, stop, GLANCED_MOVES) if small else few

"""The search for every state: one at a time where they are few, whole frontiers at a time where they are many."""

from collections.abc import Sequence

from mossy_bridge.reach.frontier import swept
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.machine import Machine, Stopper
from mossy_bridge.reach.search import searched

ONE_BY_ONE = 5_000
"""Up to so many states are found one at a time."""


def explored(machine: Machine, starts: Sequence[tuple[int, int]], stop: Stopper) -> Graph:
    """Everything that moves lead to from the starts, nearest first; the graph says whether it is complete."""
    few = searched(machine, starts, stop, ONE_BY_ONE)
    return few if few.complete else swept(machine, starts, stop)

"""The search for every state: one at a time where they are few, whole frontiers at a time where they are many."""

from collections.abc import Sequence

from mossy_bridge.reach.frontier import swept
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.growing import growing
from mossy_bridge.reach.machine import Machine, Stopper
from mossy_bridge.reach.search import little_from, searched


def at_once(machine: Machine, stop: Stopper) -> bool:
    """Whether it is best to look at every state at once: there cannot be too many, and nothing grows that would spare
    looking at them."""
    words, most = machine.layout.words, machine.limits.states_at_once
    if words * len(machine.rules.flow.levels) > most or growing(machine).bits:
        return False
    return machine.compile_all(stop) and words * len(machine.controls) <= most


def explored(machine: Machine, starts: Sequence[tuple[int, int]], stop: Stopper) -> Graph:
    """Everything that moves lead to from the starts, nearest first; the graph says whether it is complete."""
    few = searched(machine, starts, stop, machine.limits.states_one_by_one)
    return few if few.complete else swept(machine, starts, stop)


def glanced(machine: Machine, starts: Sequence[tuple[int, int]], stop: Stopper) -> Graph:
    """What a moment is enough to find: all of a flow with few states; of a small flow, some ten thousands; of others
    those nearest to the start."""
    limits = machine.limits
    few = little_from(machine, starts, stop, limits.states_one_by_one, limits.first_edges)
    small = not few.complete and machine.compile_all(stop) and len(machine.rows) <= limits.small_flow
    return swept(machine, starts, stop, limits.glance_edges) if small else few

"""Exploring every state: one at a time where they are few, whole frontiers at a time where they are many."""

from collections.abc import Sequence

from mossy_bridge.reach.explicit.breadth_first import breadth_first, breadth_first_if_little
from mossy_bridge.reach.explicit.frontier_search import frontier_search
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.system.program_graph import PackedState, Stopper
from mossy_bridge.reach.system.transition_system import TransitionSystem


def explore(system: TransitionSystem, starts: Sequence[PackedState], stop: Stopper) -> ReachabilityGraph:
    """Everything reachable from the starts, nearest first; the graph says whether it is complete."""
    few = breadth_first(system, starts, stop, system.limits.states_one_by_one)
    return few if few.complete else frontier_search(system, starts, stop)


def glance(system: TransitionSystem, starts: Sequence[PackedState], stop: Stopper) -> ReachabilityGraph:
    """What can be explored in a moment: all of a flow with few states; of a small flow, some ten thousands; of others
    those nearest to the start."""
    limits = system.limits
    few = breadth_first_if_little(system, starts, stop, limits.states_one_by_one, limits.first_edges)
    small = not few.complete and system.compile_all(stop) and len(system.transitions) <= limits.small_flow
    return frontier_search(system, starts, stop, limits.glance_edges) if small else few

"""Breadth-first search for every state, one at a time: quickest where states are few, or follow one after another."""

from collections.abc import Iterable, Sequence
from math import inf

import numpy as np

from mossy_bridge.reach.arrays import Ints
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.system.guards import packed_vectors
from mossy_bridge.reach.system.program_graph import PackedState, Stopper
from mossy_bridge.reach.system.transition_system import TransitionSystem
from mossy_bridge.reach.system.transitions import ENDING


def breadth_first_if_little(
    system: TransitionSystem, starts: Sequence[PackedState], stop: Stopper, most: int, most_edges: int
) -> ReachabilityGraph:
    """All states reachable from the starts, if these are few; otherwise as many as it takes to see that they are
    not."""
    limits = system.limits
    found = breadth_first(system, starts, stop, most, most_edges // limits.first_portion)
    spreading = len(found) > limits.spreading * found.expanded
    return found if found.complete or spreading else breadth_first(system, starts, stop, most, most_edges)


def breadth_first(
    system: TransitionSystem, starts: Iterable[PackedState], stop: Stopper, most: int, most_edges: float = inf
) -> ReachabilityGraph:
    """All states reachable from the starts, until the stop, or more than ``most`` states or about so many edges are
    known. ``O(states x transitions of a location)``."""
    numbers: dict[PackedState, int] = {}
    states: list[PackedState] = []
    parent: list[int] = []
    via: list[int] = []
    depth: list[int] = []
    source: list[int] = []
    transitions: list[int] = []
    targets: list[int] = []
    for state in starts:
        if state not in numbers:
            numbers[state] = len(states)
            states.append(state)
            parent.append(-1)
            via.append(0)
            depth.append(0)
    here = 0
    while here < len(states) and len(states) <= most and len(source) < most_edges:
        if here % 256 == 0 and stop():
            break
        for transition, location, vector in system.moves(*states[here]):
            number = ENDING
            if location != ENDING:
                state = (location, vector)
                number = numbers.setdefault(state, len(states))
                if number == len(states):
                    states.append(state)
                    parent.append(here)
                    via.append(transition)
                    depth.append(depth[here] + 1)
            source.append(here)
            transitions.append(transition)
            targets.append(number)
        here += 1
    vectors = packed_vectors((vector for _, vector in states), system.layout.width)
    locations = [location for location, _ in states]
    return ReachabilityGraph(
        system, _ints(locations), vectors, _ints(parent), _ints(via), _ints(depth), _ints(source), _ints(transitions),
        _ints(targets), here,
    )  # fmt: skip


def _ints(values: list[int]) -> Ints:
    return np.array(values, dtype=np.int32)

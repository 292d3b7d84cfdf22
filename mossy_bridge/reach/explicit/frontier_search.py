"""Breadth-first search for every state, whole frontiers at a time, on columns of machine words.

Quick where there are many states: each step of the search works on thousands of them (:mod:`transition_table
<mossy_bridge.reach.explicit.transition_table>`), and new states are told from known ones by a hash table that is looked
up and filled a whole array at a time (:mod:`state_set <mossy_bridge.reach.explicit.state_set>`).
"""

from collections.abc import Iterable
from math import inf

import numpy as np

from mossy_bridge.reach.arrays import Ints, Numbers
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.explicit.state_set import DirectStateSet, HashedStateSet
from mossy_bridge.reach.explicit.transition_table import TransitionTable
from mossy_bridge.reach.system.program_graph import PackedState, Stopper
from mossy_bridge.reach.system.transition_system import TransitionSystem
from mossy_bridge.reach.system.transitions import ENDING

StateSet = DirectStateSet | HashedStateSet


def frontier_search(
    system: TransitionSystem,
    starts: Iterable[PackedState],
    stop: Stopper,
    most_edges: float = inf,
    most_states: float = inf,
) -> ReachabilityGraph:
    """All states reachable from the starts, until the stop, or about so many edges or states are known.
    ``O(states x transitions of a location)``."""
    compiled = system.compile_all(stop)
    table = TransitionTable(system)
    short = table.bits <= system.limits.direct_table_bits
    known: StateSet = DirectStateSet(table.bits) if short else HashedStateSet(table.columns)
    known.numbers_of(table.split(vector | location << table.shift for location, vector in starts))
    parent = [np.full(known.count, -1, dtype=np.int32)]
    via = [np.zeros(known.count, dtype=np.int32)]
    depth = [np.zeros(known.count, dtype=np.int32)]
    edges: tuple[list[Ints], list[Ints], list[Ints]] = ([], [], [])
    expanded, layer_end, layer, made = 0, known.count, 0, 0
    most = min(most_states, system.limits.state_bytes // (8 * table.columns))
    while compiled and expanded < known.count < most and made < most_edges and not stop():
        if expanded == layer_end:
            layer_end, layer = known.count, layer + 1
        end = min(expanded + table.chunk, layer_end)
        source, transition, target, added = _expand(table, known, expanded, end)
        for column, more in zip(edges, (source, transition, target), strict=True):
            column.append(more)
        parent.append(source[added])
        via.append(transition[added])
        depth.append(np.full(len(added), layer + 1, dtype=np.int32))
        expanded = end
        made += len(source)
    source, transition, target = (_whole(column) for column in edges)
    states = known.states[: known.count]
    return ReachabilityGraph(
        system, table.location_of(states), table.vectors_of(states), np.concatenate(parent), np.concatenate(via),
        np.concatenate(depth), source, transition, target, expanded,
    )  # fmt: skip


def _expand(table: TransitionTable, known: StateSet, first: int, end: int) -> tuple[Ints, Ints, Ints, Numbers]:
    """Every edge out of some states: sources, transitions and targets; and which edges lead to new states."""
    source, transition, after = table.successors(known.states[first:end])
    numbers = (source + first).astype(np.int32)
    if not table.any_ending:
        target, added = known.numbers_of(after)
        return numbers, transition, target, added
    target = np.full(len(transition), ENDING, dtype=np.int32)
    leads = np.flatnonzero(~table.ends[transition])
    target[leads], added = known.numbers_of(after[leads])
    return numbers, transition, target, leads[added]


def _whole(parts: list[Ints]) -> Ints:
    """The parts as one column; they are given up, so that not everything is held twice."""
    whole = np.concatenate([*parts, np.zeros(0, np.int32)])
    parts.clear()
    return whole

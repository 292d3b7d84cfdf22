"""Strongly connected groups of a graph, and the order in which they lead to one another."""

from collections.abc import Iterator

import numpy as np

from mossy_bridge.reach.arrays import Ints, Numbers, grouped, spans
from mossy_bridge.reach.limits import Limits


def strong_groups(count: int, source: Ints, target: Ints, limits: Limits) -> Ints:
    """For each of the nodes from 0 to ``count`` the number of its group, over edges given by their ends,
    ascending by the first."""
    if count + len(source) <= limits.components_here:  # loading the package that is quick for more takes longer
        return _tarjan(count, source, target)
    from scipy.sparse import csr_array
    from scipy.sparse.csgraph import connected_components

    first = np.concatenate([[0], np.cumsum(np.bincount(source, minlength=count))]).astype(np.int32)
    matrix = csr_array((np.ones(len(source), dtype=np.int8), target, first), shape=(count, count))
    labels: Ints = connected_components(matrix, directed=True, connection="strong")[1]
    return labels


def _tarjan(count: int, source: Ints, target: Ints) -> Ints:
    """Tarjan's algorithm (1972), without recursion."""
    onward: list[list[int]] = [[] for _ in range(count)]
    for here, there in zip(source.tolist(), target.tolist(), strict=True):
        onward[here].append(there)
    order = [-1] * count
    low = [0] * count
    group_of = [-1] * count
    open_states: list[int] = []
    visited = groups = 0
    for root in range(count):
        if order[root] >= 0:
            continue
        work = [(root, 0)]
        while work:
            here, child = work.pop()
            if child == 0:
                order[here] = low[here] = visited
                visited += 1
                open_states.append(here)
            elif low[onward[here][child - 1]] < low[here] and group_of[onward[here][child - 1]] < 0:
                low[here] = low[onward[here][child - 1]]
            descends = False
            for index in range(child, len(onward[here])):
                there = onward[here][index]
                if order[there] < 0:
                    work += [(here, index + 1), (there, 0)]
                    descends = True
                    break
                if group_of[there] < 0:
                    low[here] = min(low[here], order[there])
            if not descends and low[here] == order[here]:
                member = -1
                while member != here:
                    member = open_states.pop()
                    group_of[member] = groups
                groups += 1
    return np.array(group_of, dtype=np.int32)


def layers_between(groups: Ints, source: Ints, target: Ints, limits: Limits) -> Iterator[tuple[Numbers, Numbers]]:
    """Edges between groups, as pairs of arrays: the groups they leave and those they lead to. They come in layers:
    all edges that leave a group come after all that leave those it leads to."""
    above, below = groups[source], groups[target]
    apart = above != below
    count = int(groups.max(initial=-1)) + 1
    pairs = np.unique(above[apart].astype(np.int64) * count + below[apart])
    above, below = (pairs // max(count, 1)).astype(np.int64), (pairs % max(count, 1)).astype(np.int64)
    left = np.bincount(above, minlength=count)
    first_out = np.concatenate([[0], np.cumsum(left)])
    order, first_in = grouped(below, count, limits)
    ready = np.flatnonzero(left == 0)
    while len(ready):
        into = order[spans(first_in[ready], first_in[ready + 1])]
        done, gone = np.unique(above[into], return_counts=True)
        left[done] -= gone
        ready = done[left[done] == 0]
        edges = spans(first_out[ready], first_out[ready + 1])
        if len(edges):
            yield above[edges].astype(np.int64), below[edges].astype(np.int64)

"""Strongly connected components of a graph (Tarjan 1972), and the layers in which they lead to one another.

Linear in nodes and edges. Edges are given as two arrays of shape (m,), their sources and targets.
"""

from collections.abc import Iterator, Sequence

import numpy as np

from mossy_bridge.reach.arrays import Ints, Numbers, grouped, spans, unique
from mossy_bridge.reach.limits import Limits


def strong_components(count: int, source: Ints, target: Ints, limits: Limits) -> Ints:
    """For each node from 0 to ``count`` the number of its component, of shape (count,); sources are ascending."""
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
    component_of = [-1] * count
    open_states: list[int] = []
    visited = components = 0
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
            elif low[onward[here][child - 1]] < low[here] and component_of[onward[here][child - 1]] < 0:
                low[here] = low[onward[here][child - 1]]
            descends = False
            for index in range(child, len(onward[here])):
                there = onward[here][index]
                if order[there] < 0:
                    work += [(here, index + 1), (there, 0)]
                    descends = True
                    break
                if component_of[there] < 0:
                    low[here] = min(low[here], order[there])
            if not descends and low[here] == order[here]:
                member = -1
                while member != here:
                    member = open_states.pop()
                    component_of[member] = components
                components += 1
    return np.array(component_of, dtype=np.int32)


def component_layers(components: Ints, source: Ints, target: Ints, limits: Limits) -> Iterator[tuple[Numbers, Numbers]]:
    """Edges between components, as pairs of arrays: the components they leave and those they lead to. They come in
    layers: all edges that leave a component come after all that leave those it leads to."""
    above, below = components[source], components[target]
    apart = above != below
    count = int(components.max(initial=-1)) + 1
    pairs = unique(above[apart].astype(np.int64) * count + below[apart])
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


def components_of_pairs(count: int, pairs: Sequence[tuple[int, int]], limits: Limits) -> list[int]:
    """The same for edges given as pairs."""
    found: list[int] = strong_components(count, *_columns(pairs), limits).tolist()
    return found


def reachable_unions(sets: Sequence[int], pairs: Sequence[tuple[int, int]], limits: Limits) -> list[int]:
    """For each node the union of the sets (bits of an integer) of all nodes reachable from it along the edges, itself
    included: unions over components, then over their layers."""
    source, target = _columns(pairs)
    components = strong_components(len(sets), source, target, limits)
    found = [0] * (int(components.max(initial=-1)) + 1)
    for bits, component in zip(sets, components.tolist(), strict=True):
        found[component] |= bits
    for above, below in component_layers(components, source, target, limits):
        for one, other in zip(above.tolist(), below.tolist(), strict=True):
            found[one] |= found[other]
    return [found[component] for component in components.tolist()]


def _columns(pairs: Sequence[tuple[int, int]]) -> tuple[Ints, Ints]:
    """Edges as two arrays, ascending by source."""
    edges = np.array(pairs, dtype=np.int32).reshape(-1, 2)
    edges = edges[np.argsort(edges[:, 0], kind="stable")]
    return edges[:, 0].copy(), edges[:, 1].copy()

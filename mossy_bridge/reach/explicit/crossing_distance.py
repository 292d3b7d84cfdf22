"""The fewest crossings to each level: 0-1 breadth-first search, with buckets for the costs (Dial 1969)."""

import numpy as np

from mossy_bridge.reach.arrays import Numbers, distinct
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph


def crossing_distances(graph: ReachabilityGraph) -> dict[str, int]:
    """For each level that some state is in, the least number of crossings after the first arrival, over all routes.

    Crossings cost 1, moves within levels 0. Buckets are alternately closed under moves within levels and left by
    crossings. Only a crossing leads into another level, so it ends once each level was entered. ``O(states + edges)``.
    """
    level_of, levels = graph.level_index, graph.levels
    least = {levels[index]: 0 for index in level_of[graph.starts].tolist()}
    left = len(graph.first_in_levels()) - len(least)
    known = np.zeros(len(graph), dtype=np.bool_)
    bucket = distinct(graph.starts, known)
    crossed = 0
    while len(bucket) and left:
        crossed += 1
        arrived: list[Numbers] = []
        while len(bucket) and left:
            edges = graph.edges_of(bucket)
            crossing = graph.crosses[edges]
            there = graph.target[edges[crossing]].astype(np.int64)
            arrived.append(there)
            for index in np.flatnonzero(np.bincount(level_of[there])).tolist():
                left -= levels[index] not in least
                least.setdefault(levels[index], crossed)
            inside = graph.target[edges[~crossing]]
            inside = inside[inside >= 0]
            bucket = distinct(inside[~known[inside]], known)
        there = np.concatenate(arrived)
        bucket = distinct(there[~known[there]], known)
    return least

"""The least number of crossings to each level."""

from typing import TYPE_CHECKING

import numpy as np

from mossy_bridge.reach.arrays import distinct

if TYPE_CHECKING:
    from mossy_bridge.reach.graph import Graph


def crossings(graph: "Graph") -> dict[str, int]:
    """For each level that some state is in, the least number of arrivals after the first over all routes.

    A search in two steps: all that moves within levels lead to, then the arrivals from there. Only arrivals lead into
    another level, so it ends once each level has been arrived at.
    """
    least = {graph.places[place]: 0 for place in graph.place[graph.starts].tolist()}
    missing = len(graph.first_in_levels()) - len(least)
    known = np.zeros(len(graph), dtype=np.bool_)
    frontier = distinct(graph.starts, known)
    crossed = 0
    while len(frontier) and missing:
        crossed += 1
        arrived = []
        while len(frontier) and missing:
            edges = graph.edges_of(frontier)
            crossing = graph.crosses[edges]
            there = graph.target[edges[crossing]]
            arrived.append(there)
            for place in np.flatnonzero(np.bincount(graph.place[there])).tolist():
                missing -= graph.places[place] not in least
                least.setdefault(graph.places[place], crossed)
            inside = graph.target[edges[~crossing]]
            inside = inside[inside >= 0]
            frontier = distinct(inside[~known[inside]], known)
        there = np.concatenate(arrived)
        frontier = distinct(there[~known[there]], known)
    return least

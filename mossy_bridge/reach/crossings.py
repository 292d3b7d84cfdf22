"""The least number of crossings to each level."""

import numpy as np

from mossy_bridge.reach.arrays import distinct
from mossy_bridge.reach.graph import Graph


def crossings(graph: Graph) -> dict[str, int]:
    """For each level that some state is in, the least number of arrivals after the first over all routes.

    A search in two steps: all that moves within levels lead to, then the arrivals from there.
    """
    least: dict[str, int] = {}
    reached = graph.first_in_levels()
    known = np.zeros(len(graph), dtype=np.bool_)
    frontier = distinct(graph.starts, known)
    crossed = 0
    while len(frontier):
        inside = [frontier]
        while len(inside[-1]):
            edges = graph.edges_of(inside[-1])
            there = graph.target[edges[~graph.crosses[edges] & (graph.target[edges] >= 0)]]
            inside.append(distinct(there[~known[there]], known))
        here = np.concatenate(inside)
        for place in np.flatnonzero(np.bincount(graph.place[here])):
            least.setdefault(graph.places[place], crossed)
        if len(least) == len(reached):
            break
        edges = graph.edges_of(here)
        there = graph.target[edges[graph.crosses[edges]]]
        frontier = distinct(there[~known[there]], known)
        crossed += 1
    return least

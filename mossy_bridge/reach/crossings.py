"""The least number of crossings to each level."""

from collections import deque

from mossy_bridge.reach.graph import ENDING, Graph


def crossings(graph: Graph) -> dict[str, int]:
    """For each level that some state is in, the least number of arrivals after the first over all routes.

    A breadth-first search with moves of cost 0 and 1 (Dijkstra's algorithm on a double-ended queue).
    """
    if not graph.states:
        return {}
    cost: dict[int, int] = {0: 0}
    waiting = deque([0])
    settled: set[int] = set()
    least: dict[str, int] = {}
    while waiting:
        here = waiting.popleft()
        if here in settled:
            continue
        settled.add(here)
        least.setdefault(graph.states[here].place, cost[here])
        for edge in graph.edges[here] if here < len(graph.edges) else ():
            if edge.target == ENDING:
                continue
            price = cost[here] + edge.crosses
            if price < cost.get(edge.target, price + 1):
                cost[edge.target] = price
                (waiting.append if edge.crosses else waiting.appendleft)(edge.target)
    return least

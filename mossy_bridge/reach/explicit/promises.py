"""Whether a promise of the designer holds in a reachability graph: invariants and reachability, by breadth-first
search."""

from typing import Literal

import numpy as np
from msgspec import Struct

from mossy_bridge.model.flow import Promise
from mossy_bridge.play.state import Move
from mossy_bridge.reach.arrays import Bools, Numbers
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.system.routes import Route, as_sure, read_back


class PromiseVerdict(Struct, frozen=True):
    """Whether a promise holds, and a route that shows it, where one does."""

    holds: Literal["yes", "no", "unknown"]
    route: Route | None = None


class _Goal:
    """What a promise speaks of: states in its level, or moves into its ending, with its condition true."""

    def __init__(self, promise: Promise, graph: ReachabilityGraph):
        self.graph = graph
        there = np.arange(len(graph))
        holds = graph.holds(promise.when, there)
        self.level = promise.level
        self.states: Bools = holds & graph.inside(promise.level)
        endings = [transition.ending for transition in graph.transitions] or [""]
        ends = np.array([bool(ending) and ending == promise.ending for ending in endings])
        self.edges: Numbers = np.flatnonzero(ends[graph.transition] & holds[graph.source])

    def near(self) -> Bools:
        """The states in which the goal is met, or one move away into the ending."""
        found = self.states.copy()
        found[self.graph.source[self.edges]] = True
        return found

    def route(self) -> Route | None:
        """A shortest route to the goal."""
        graph = self.graph
        state = np.flatnonzero(self.states)[:1]
        edge = self.edges[:1]
        if len(state) and (not len(edge) or graph.depth[state[0]] <= graph.depth[graph.source[edge[0]]] + 1):
            return graph.route(int(state[0]), into=self.level)
        return self._by(int(edge[0])) if len(edge) else None

    def _by(self, edge: int) -> Route:
        return self.graph.route(int(self.graph.source[edge]), self.graph.transitions[self.graph.transition[edge]].move)

    def route_within(self, most: int) -> Route | None:
        """A shortest route among those with at most so many crossings.

        Layer by layer of moves, a state is expanded again only where it was reached with fewer crossings.
        """
        graph = self.graph
        fewest = np.full(len(graph), most + 1)
        near = self.near()
        leaving = np.zeros(len(graph), dtype=np.int64)
        leaving[graph.source[self.edges[::-1]]] = self.edges[::-1]
        state = graph.starts
        crossed = np.zeros(len(state), dtype=np.int64)
        fewest[state] = 0
        trail = [(state, np.full(len(state), -1), np.zeros(len(state), dtype=np.int64))]
        while len(state):
            met = np.flatnonzero(self.states[state])
            if len(met):
                return self._walked(trail, int(met[0]))
            ending = np.flatnonzero(near[state])
            if len(ending):
                last = graph.transitions[graph.transition[leaving[state[ending[0]]]]].move
                return (*self._walked(trail, int(ending[0])), last)
            at = np.repeat(np.arange(len(state)), graph.first_edge[state + 1] - graph.first_edge[state])
            edges = graph.edges_of(state)
            there = graph.target[edges]
            cost = crossed[at] + graph.crosses[edges]
            better = (there >= 0) & (cost <= most)
            better[better] = cost[better] < fewest[there[better]]
            at, edges, there, cost = at[better], edges[better], there[better], cost[better]
            order = np.lexsort((cost, there))
            _, first = np.unique(there[order], return_index=True)
            chosen = order[first]
            state, crossed = there[chosen].astype(np.int64), cost[chosen]
            fewest[state] = crossed
            trail.append((state, at[chosen], edges[chosen]))
        return None

    def _walked(self, trail: list[tuple[Numbers, Numbers, Numbers]], index: int) -> Route:
        """The moves to one of the states of the last layer; ``trail`` holds for each layer the states, the indices of
        their parents in the layer before, and the edges from there."""

        graph = self.graph

        def link(node: tuple[int, int]) -> tuple[tuple[int, int], Move] | None:
            layer, at = node
            if not layer:
                return None
            _, parents, edges = trail[layer]
            return (layer - 1, int(parents[at])), graph.transitions[graph.transition[edges[at]]].move

        return tuple(read_back((len(trail) - 1, index), link))


def judge_promise(promise: Promise, graph: ReachabilityGraph) -> PromiseVerdict:
    """Whether the promise holds in the graph; unknown where unexpanded states could decide it, or levels passed on the
    way, which the quotient does not tell."""
    on_the_way = promise.kind == "within" or (promise.kind == "can" and promise.avoiding)
    if on_the_way and not graph.system.tells_level:
        return PromiseVerdict("no" if graph.complete and _Goal(promise, graph).route() is None else "unknown")
    match promise.kind:
        case "can" | "within":
            goal = _Goal(promise, graph.avoiding(promise.avoiding) if promise.avoiding else graph)
            route = goal.route() if promise.kind == "can" else goal.route_within(promise.crossings)
            if route is not None:  # by detours some of the states not explored may be nearer
                sure = graph.complete or (promise.kind == "can" and not promise.avoiding)
                return PromiseVerdict("yes", as_sure(route, sure))
            return PromiseVerdict("no" if graph.complete else "unknown")
        case "never":
            route = _Goal(promise, graph).route()
            if route is not None:
                return PromiseVerdict("no", route)
            return PromiseVerdict("yes" if graph.complete else "unknown")
        case "always_can":
            return _always(_Goal(promise, graph))


def _always(goal: _Goal) -> PromiseVerdict:
    graph = goal.graph
    fine = graph.backward_reachable(goal.near())
    unseen = np.zeros(len(graph), dtype=np.bool_)
    unseen[graph.expanded :] = True
    maybe = unseen if graph.complete else graph.backward_reachable(unseen)
    broken = np.flatnonzero(graph.in_play & ~fine & ~maybe)
    if len(broken):
        return PromiseVerdict("no", as_sure(graph.route(int(broken[0])), graph.complete))
    return PromiseVerdict("yes" if graph.complete else "unknown")

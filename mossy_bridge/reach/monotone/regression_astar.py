"""Shortest routes without exploring every state: A* backwards from the goal, over the subgoals that remain there.

A goal asks for a discrete part and for some monotone bits. Before a transition it takes what the transition needs, with
what is needed after it less what it gives; so the search goes back from goal to start over *subgoals*. Forty keys in
reach are forty choices forwards, but none backwards from a lock that needs three of them. Of two subgoals with one
discrete part, the one that needs a subset at no higher cost dominates. The nearest to the start is expanded first (A*;
Hart, Nilsson and Raphael 1968) with :mod:`mossy_bridge.reach.monotone.h_max` as the heuristic for the cost that
remains; so the first route that begins at the start is a shortest one. The exact cost of the subgoals on it is kept,
and cuts later searches short; what the others that were expanded cost at least is kept too, and leads later searches
past them (adaptive A*; Koenig and Likhachev 2006).

A deed done once might be made again on such a route, to no effect; but then the route would be shorter without. What it
adds to counts is told apart by :mod:`mossy_bridge.reach.monotone.pseudo_boolean`.
"""

from collections.abc import Mapping
from heapq import heappop, heappush
from itertools import count

from mossy_bridge.reach.monotone.antichain_search import Discrete
from mossy_bridge.reach.monotone.h_max import HMax, Weight
from mossy_bridge.reach.monotone.regression import RegressionEdge, RegressionGraph, Subgoal
from mossy_bridge.reach.system.program_graph import ProgramGraph, Stopper
from mossy_bridge.reach.system.routes import read_back
from mossy_bridge.reach.system.transitions import GuardedTransition

RECENT = 64
"""So many routes are kept."""
CROSSING = 1 << 32
"""What a crossing costs where crossings count first: more than all the moves of any route."""


def moves(_transition: GuardedTransition) -> int:
    """Every move costs the same."""
    return 1


def crossings_first(transition: GuardedTransition) -> int:
    """Fewer crossings count for more than fewer moves."""
    return CROSSING * transition.crosses + 1


class GivenUp(Exception):  # noqa: N818 - no error
    """The search was given up since it takes too long."""


class SearchSpace:
    """What searches go back over: edges by where they lead to, and the heuristic; for one weight of transitions,
    without entering the levels ``closed`` and without ever gaining a monotone bit of ``without``."""

    def __init__(
        self,
        graph: RegressionGraph[ProgramGraph],
        weight: Weight,
        closed: frozenset[str] = frozenset(),
        without: int = 0,
    ):
        program = graph.system
        assert program.start is not None
        self.graph, self.weight = graph, weight
        location, vector = program.start
        self.start, self.begun = (location, vector & ~graph.monotone), vector & graph.monotone
        self.h_max = HMax(graph, weight, program.start, closed, without)
        self.into: dict[Discrete, list[tuple[Discrete, RegressionEdge, int]]] = {}
        """The edges into each discrete part, with where they come from and what they cost."""
        for discrete in self.h_max.cost:
            for edge in graph.edges[discrete]:
                if edge.target in self.h_max.cost and self.h_max.may_use(edge):
                    cost = weight(program.transitions[edge.transition])
                    self.into.setdefault(edge.target, []).append((discrete, edge, cost))


class RegressionAStar:
    """Shortest routes to goals in one space. With ``greed`` above 1 they are found sooner, but may be longer. With
    ``stop`` that, and no number of subgoals, ends the search."""

    def __init__(self, space: SearchSpace, greed: int = 1, stop: Stopper | None = None):
        graph = space.graph
        program = graph.system
        self._transitions, self._tallies = program.transitions, graph.tallies
        self._weight, self.greed = space.weight, greed
        self._start, self._begun, self._into, self.h_max = space.start, space.begun, space.into, space.h_max
        self.least: dict[Discrete, int] = dict(space.h_max.cost)
        """What discrete parts cost at least: as the heuristic says, or more where earlier searches have shown it."""
        self.bounds: dict[Subgoal, int] = {}
        """The same of subgoals that ask for bits too, as far as it was shown."""
        self.bits = ~graph.tallies.apart
        """The bits of subgoals that must be had, as against those of deeds that do not count."""
        self._expanded = 0
        self._stop, limits = stop, program.limits
        self.most_subgoals_here = limits.subgoals_per_place_until_stopped if stop else limits.subgoals_per_place
        """More incomparable subgoals with one discrete part than this are too many."""
        self._most_each = limits.route_subgoals
        self._most = limits.crossing_subgoals if space.weight is crossings_first else limits.route_subgoals_altogether
        self.known_costs: dict[Subgoal, int] = {}
        """Subgoals whose cost is known; with greed, what it is at most."""
        self._parent: dict[Subgoal, tuple[Subgoal, int]] = {}
        """For each of them the subgoal before it, and the transition from there; none for the start."""
        self._recent: dict[Subgoal, list[GuardedTransition]] = {}
        for discrete, link in self.h_max.free.items():  # the bound is the cost: nothing has to be searched
            self.known_costs[discrete, 0] = self.h_max.cost[discrete]
            if link:
                self._parent[discrete, 0] = (link[0], 0), link[1]

    def nearest(self, goals: Mapping[Subgoal, int]) -> Subgoal | None:
        """The goal with the least cost, given the cost that remains after each; None if there is no route to any.
        Raises :class:`GivenUp`."""
        if all(goal in self.known_costs for goal in goals):
            return min(goals, key=lambda goal: self.known_costs[goal] + goals[goal], default=None)
        search = _Open(self, goals)
        last = min(self._expanded + self._most_each, self._most)
        closed: list[tuple[Subgoal, int]] = []
        while search.waiting:
            subgoal, cost = search.pop()
            discrete, bits = subgoal
            if search.dominated(discrete, bits, cost):
                continue
            if subgoal in self.known_costs or (discrete == self._start and not bits & self.bits & ~self._begun):
                goal = self._settle(subgoal, search.onward)
                if self.greed == 1:  # no route costs less, so to what was expanded it costs at least the rest of that
                    least = self.known_costs[subgoal] + cost
                    for other, onward in closed:
                        self._raise_bound(other, least - onward)
                return goal
            if self._expanded >= last if self._stop is None else self._expanded % 256 == 0 and self._stop():
                raise GivenUp
            self._expanded += 1
            closed.append((subgoal, cost))
            for before, edge, more in self._into.get(discrete, ()):
                left = self._tallies.regress(edge.transition, bits) if bits else 0
                if left is not None:
                    for needed in edge.needs:
                        search.offer(before, left | needed, cost + more, (subgoal, edge.transition))
        return None

    def _settle(self, subgoal: Subgoal, onward: Mapping[Subgoal, tuple[Subgoal, int] | None]) -> Subgoal:
        """Notes the costs along a shortest route from a subgoal; the goal at its end."""
        self.known_costs.setdefault(subgoal, 0)  # only of the start it is not known yet
        while link := onward[subgoal]:
            after, transition = link
            if after not in self.known_costs:
                self.known_costs[after] = self.known_costs[subgoal] + self._weight(self._transitions[transition])
                self._parent[after] = subgoal, transition
                if self.greed == 1:
                    self._raise_bound(after, self.known_costs[after])
            subgoal = after
        return subgoal

    def _raise_bound(self, subgoal: Subgoal, cost: int) -> None:
        """Notes what a subgoal surely costs."""
        discrete, bits = subgoal
        if not bits:
            self.least[discrete] = max(cost, self.least[discrete])
        elif cost > self.bounds.get(subgoal, 0):
            self.bounds[subgoal] = cost

    def cost(self, goal: Subgoal) -> int:
        """What the route costs to a goal that was found to be nearest."""
        return self.known_costs[goal]

    def route(self, goal: Subgoal) -> list[GuardedTransition]:
        """The transitions to a goal that was found to be nearest. Of one goal after the other the beginnings are mostly
        the same, so those asked for last are kept."""
        known = self._recent.get(goal)
        if known is None:
            begun: list[Subgoal] = []

            def link(subgoal: Subgoal) -> tuple[Subgoal, int] | None:
                if subgoal in self._recent:
                    begun.append(subgoal)
                    return None
                return self._parent.get(subgoal)

            rest = [self._transitions[number] for number in read_back(goal, link)]
            known = [*self._recent[begun[0]], *rest] if begun else rest
            if len(self._recent) >= RECENT:
                self._recent.clear()
            self._recent[goal] = known
        return known


class _Open:
    """The open list of one search. It is what takes longest, so it holds at hand what it needs of the search."""

    def __init__(self, search: RegressionAStar, goals: Mapping[Subgoal, int]):
        self._h_max, self._greed, self._exact = search.h_max, search.greed, search.known_costs
        self._least, self._bounds, self._unreachable = search.least, search.bounds, ~search.h_max.reachable
        self._bits, self._most_here = search.bits, search.most_subgoals_here
        self.waiting: list[tuple[int, bool, int, int, Subgoal]] = []
        self._found: dict[Discrete, list[tuple[int, int]]] = {}
        """For each discrete part the bits needed and what it costs from there to a goal, none dominated when added."""
        self.onward: dict[Subgoal, tuple[Subgoal, int] | None] = {}
        self._order = count()
        for (discrete, bits), cost in goals.items():
            self.offer(discrete, bits, cost, None)

    def offer(self, discrete: Discrete, bits: int, cost: int, link: tuple[Subgoal, int] | None) -> None:
        """Adds a subgoal with what it costs from there to a goal, unless it is dominated or unreachable."""
        needed, least = bits & self._bits, self._least.get(discrete)
        if least is None or needed & self._unreachable:
            return
        others = self._found.setdefault(discrete, [])
        for known, other in others:
            if known & bits == known and other <= cost:
                return
        others.append((bits, cost))
        if len(others) > self._most_here:
            raise GivenUp
        subgoal = discrete, bits
        self.onward[subgoal] = link
        rest, known = self._exact.get(subgoal), True
        if rest is None:
            bound = max(least, self._h_max.of(needed), self._bounds.get(subgoal, 0)) if bits else least
            rest, known = self._greed * bound, False
        heappush(self.waiting, (cost + rest, not known, -cost, next(self._order), subgoal))

    def pop(self) -> tuple[Subgoal, int]:
        """The subgoal nearest to the start and to a goal together, and what it costs from there to a goal."""
        _, _, cost, _, subgoal = heappop(self.waiting)
        return subgoal, -cost

    def dominated(self, discrete: Discrete, bits: int, cost: int) -> bool:
        """Whether a subgoal that needs no more was found for less since."""
        for known, other in self._found[discrete]:
            if other <= cost and known & bits == known and (other, known) < (cost, bits):
                return True
        return False

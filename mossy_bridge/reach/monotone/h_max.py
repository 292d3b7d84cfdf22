"""The heuristic h-max: the least that it can cost to reach each discrete part, and to have each monotone bit.

In this relaxation nothing is ever lost again, and what is needed together can be got at the same time: a transition can
be taken as soon as its discrete part is reached and each bit it needs is set, and costs what the last of these costs.
Admissible: never more than the true cost, and often exactly that (Bonet and Geffner, *Planning as heuristic search*,
2001). Computed as by Dijkstra, ``O(edges log edges)``.
"""

from collections import defaultdict
from collections.abc import Callable
from heapq import heappop, heappush

from mossy_bridge.reach.monotone.antichain_search import Discrete
from mossy_bridge.reach.monotone.regression import RegressionEdge, RegressionGraph
from mossy_bridge.reach.system.program_graph import PackedState, ProgramGraph
from mossy_bridge.reach.system.transitions import GuardedTransition
from mossy_bridge.reach.system.updates import Assign, Copy, Shift, Update, single_bits, weakest_precondition

Weight = Callable[[GuardedTransition], int]
"""What a transition costs; not less than nothing."""


class HMax:
    """Lower bounds of costs, over the edges of one flow, without entering the levels ``closed`` and without ever
    gaining a monotone bit of ``without``. What has no cost is unreachable."""

    def __init__(
        self,
        graph: RegressionGraph[ProgramGraph],
        weight: Weight,
        start: PackedState,
        closed: frozenset[str] = frozenset(),
        without: int = 0,
    ):
        self._graph, self._weight, self._closed, self._without = graph, weight, closed, without
        self._locations, self._transitions = graph.system.locations, graph.system.transitions
        self.cost: dict[Discrete, int] = {}
        """Of each discrete part."""
        self.free: dict[Discrete, tuple[Discrete, int] | None] = {}
        """The discrete parts that can be reached at exactly that cost with nothing but what is had at the start; each
        with the one before it and the transition from there, None for the start."""
        self._free_link: dict[Discrete, tuple[int, tuple[Discrete, int] | None]] = {}
        """The least cost with nothing else found so far, and how it is reached so."""
        self._bit_cost: dict[int, int] = {}
        self._bits_cost: dict[int, int] = {}
        """Of sets of bits that have been asked for, all of them: they are few, and asked for again and again."""
        self.reachable = 0
        """The monotone bits that are reachable."""
        self._gives: dict[int, list[tuple[int, int]]] = {}
        self._ready: list[tuple[int, int, Discrete | None]] = []
        """What each discrete part, and each bit, may cost; for discrete parts the bit is 0."""
        self._needing: defaultdict[int, list[tuple[int, RegressionEdge]]] = defaultdict(list)
        """By a bit not had yet: the edges that need it, with all that they need."""
        self._following: defaultdict[int, list[tuple[int, int]]] = defaultdict(list)
        """By a bit not had yet: bits that follow at a cost once it is had, as each step of a count does."""
        monotone = graph.monotone
        if not start[1] & without:
            begun = (start[0], start[1] & ~monotone)
            self._reach(0, begun)
            self._free_link[begun] = (0, None)
        self._ready += [(0, bit, None) for bit in single_bits(start[1] & monotone)]
        while self._ready:
            cost, bit, discrete = heappop(self._ready)
            if discrete is None:
                self._have(cost, bit)
            else:
                self._expand(cost, discrete)

    def of(self, bits: int) -> int:
        """The least it can cost to have some bits, all of which are reachable."""
        known = self._bits_cost.get(bits)
        if known is None:
            known = self._bits_cost[bits] = max([self._bit_cost[bit] for bit in single_bits(bits)], default=0)
        return known

    def may_use(self, edge: RegressionEdge) -> bool:
        """Whether an edge gives nothing that is not to be gained."""
        return not self._without or not any(bit & self._without for bit, _ in self._gives.get(edge.transition, ()))

    def _reach(self, cost: int, discrete: Discrete) -> None:
        if self._locations[discrete[0]].place not in self._closed and cost < self.cost.get(discrete, cost + 1):
            self.cost[discrete] = cost
            heappush(self._ready, (cost, 0, discrete))

    def _expand(self, cost: int, discrete: Discrete) -> None:
        if self.cost[discrete] < cost:
            return  # it has been reached for less
        least, link = self._free_link.get(discrete, (-1, None))
        if least == cost:
            self.free[discrete] = link
        for edge in self._graph.edges[discrete]:
            for needed in edge.needs:
                self._try(cost, needed, edge)
            if least == cost and edge.target in self.cost and not all(edge.needs) and self.may_use(edge):
                more = cost + self._weight(self._transitions[edge.transition])
                if edge.target not in self._free_link or more < self._free_link[edge.target][0]:
                    self._free_link[edge.target] = more, (discrete, edge.transition)

    def _have(self, cost: int, bit: int) -> None:
        if self.reachable & bit:
            return
        self.reachable |= bit
        self._bit_cost[bit] = cost
        for follower, more in self._following.pop(bit, ()):
            heappush(self._ready, (cost + more, follower, None))
        for needed, edge in self._needing.pop(bit, ()):
            self._try(cost, needed, edge)

    def _try(self, cost: int, needed: int, edge: RegressionEdge) -> None:
        missing = needed & ~self.reachable
        if missing:
            self._needing[missing & -missing].append((needed, edge))
            return
        transition = self._transitions[edge.transition]
        if edge.transition not in self._gives:
            self._gives[edge.transition] = _gives(transition.update, self._graph.monotone)
        if edge.target is None or not self.may_use(edge):
            return
        more = self._weight(transition)
        self._reach(cost + more, edge.target)
        for bit, before in self._gives[edge.transition]:
            if self.reachable & bit:
                continue
            if before & ~self.reachable:
                self._following[before].append((bit, more))
            else:
                heappush(self._ready, (cost + more, bit, None))


def _gives(update: Update, monotone: int) -> list[tuple[int, int]]:
    """The monotone bits that an update may give, each with the bit that must be had before, if any."""
    touched = 0
    for part in update:
        match part:
            case Assign(set=bits) | Copy(targets=bits):
                touched |= bits
            case Shift(field=field):
                touched |= field.mask
    found = ((bit, weakest_precondition(update, bit)) for bit in single_bits(touched & monotone))
    return [(bit, before) for bit, before in found if before is not None and before != bit]

"""Dead ends by proof: whether some reachable state lacks what every route to a goal needs.

Such a state lacks a hitting set of the minimal basis of its discrete part
(:mod:`mossy_bridge.reach.monotone.backward_coverability`). So for each hitting set that lower bounds do not exclude,
the maximal states that are reachable without it are searched for.
"""

from collections.abc import Container, Iterable, Iterator, Mapping
from dataclasses import dataclass

from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.monotone.antichain_search import Discrete, MaximalStates, maximal_states
from mossy_bridge.reach.monotone.backward_coverability import MinimalBases
from mossy_bridge.reach.monotone.lower_bounds import LowerBounds
from mossy_bridge.reach.monotone.monotonicity import monotone_parts
from mossy_bridge.reach.monotone.regression_astar import GivenUp
from mossy_bridge.reach.monotone.shortest_routes import ShortestRoutes
from mossy_bridge.reach.system.program_graph import Stopper
from mossy_bridge.reach.system.routes import Route, SomeRoute


@dataclass(frozen=True)
class Trap:
    """A state from which a goal is not reachable any more: a route there, what would suffice, and for each hitting set
    that may be lacking the discrete parts in which it decides; ``whole`` if there are no others."""

    route: Route
    bases: MinimalBases
    hitting_sets: Mapping[int, Iterable[Discrete]]
    whole: bool


class TrapSearch:
    """Searches for traps among the states of one flow."""

    def __init__(self, quotient: QuotientGraph, maximal: MaximalStates, bounds: LowerBounds, stop: Stopper):
        self._quotient, self._program, self._maximal, self._bounds = quotient, quotient.program, maximal, bounds
        self._stop = stop

    def trap(self, bases: MinimalBases, doubtful: Iterable[Discrete]) -> Trap | bool | None:
        """A trap; False where it is shown that there is none; None where neither is. ``doubtful`` are the discrete
        parts in which there may be one."""
        known = self._bounds.complete
        hitting_sets: dict[int, set[Discrete]] = {}
        for discrete in doubtful:
            found = bases.hitting_sets(discrete, self._bounds.bound[discrete])
            known = known and found is not None
            for hitting_set in found or ():
                hitting_sets.setdefault(hitting_set, set()).add(discrete)
        whole = known
        for hitting_set, discretes in hitting_sets.items():
            without, complete = self._without(hitting_set)
            known = known and complete
            lacking = self._lacking(without, hitting_set, discretes)
            if lacking is not None and bases.exact:
                return Trap(self._route_since_restart(without, lacking), bases, hitting_sets, whole)
            known = known and lacking is None
        return False if known else None

    def _without(self, hitting_set: int) -> tuple[MaximalStates, bool]:
        """The maximal states reachable without any bit of a hitting set in the last run, and whether these are all.
        What of it rewinds may be had on the way and lost again, so there it does not count as monotone."""
        if not hitting_set:
            return self._maximal, self._maximal.complete
        taken_back, monotone = self._taken_back(hitting_set), self._maximal.monotone
        if taken_back:
            monotone = monotone_parts(self._program, but=taken_back).bits & monotone
            hitting_set &= monotone
        begun = [state for state in self._maximal.restarted if not state[1] & hitting_set]
        start = self._quotient.start
        starts = [start] if start and not start[1] & hitting_set else []
        found = maximal_states(self._quotient, monotone, self._stop, [*starts, *begun], hitting_set)
        return found, found.complete and len(begun) == len(self._maximal.restarted)

    def _lacking(self, found: MaximalStates, hitting_set: int, discretes: Container[Discrete]) -> int | None:
        """A state that was found with one of some discrete parts, and without any bit of a hitting set."""
        discrete_bits = ~self._maximal.monotone
        for number, (location, vector) in enumerate(found.states):
            if not vector & hitting_set and (location, vector & discrete_bits) in discretes:
                return number
        return None

    def _taken_back(self, bits: int) -> frozenset[str]:
        """The facts that rewind, some bit of which, or of a deed that changes them, is among some bits."""
        found: set[str] = set()
        for copy in self._program.layout.copies.values():
            found.update(fact for fact, field in copy.facts.items() if field.mask & bits)
            deeds = (
                self._program.rules.levels[level].source.deed(name)
                for (level, name), bit in copy.spent.items()
                if bit & bits
            )
            found.update(parse_effect(text).fact for deed in deeds if deed for text in deed.effects)
        return frozenset(found)

    def _route_since_restart(self, found: MaximalStates, number: int) -> Route:
        """The route into a state of a search that also began where new runs do."""
        transitions = found.transitions_to(number)
        first = number
        while link := found.parents[first]:
            first = link[0]
        begun = found.states[first]
        if begun != self._quotient.start and found is not self._maximal:
            before, transition = self._maximal.restarted[begun]
            transitions = [*self._maximal.transitions_to(before), transition, *transitions]
        return self._quotient.route(transitions)

    def route_into(self, trap: Trap, routes: ShortestRoutes | None) -> Route:
        """A short route into a trap; a shortest one, if it says so. That is known where no new run begins and no counts
        are needed: then a state lacks a hitting set exactly if no move that may set a bit of it was made."""
        if not routes:
            return SomeRoute(self._until_trapped(trap.route, trap.bases))
        smallest = sorted(trap.hitting_sets, key=int.bit_count)[: self._program.limits.short_traps]
        counts = sum(field.mask for field in self._program.layout.facts.values() if field.coding == "unary")
        sure = trap.whole and len(smallest) == len(trap.hitting_sets) and not self._maximal.restarted
        found = [SomeRoute(trap.route)]
        for hitting_set in smallest:
            sure = sure and not hitting_set & counts and not self._taken_back(hitting_set)
            if self._taken_back(hitting_set):
                continue
            try:
                route = routes.route_lacking(hitting_set, self._in_play(trap.hitting_sets[hitting_set]))
                found += [] if route is None else [SomeRoute(route)]
            except GivenUp:
                sure = False
        shortest = min(found, key=len)
        return tuple(shortest) if sure else SomeRoute(self._until_trapped(shortest, trap.bases))

    def _in_play(self, discretes: Iterable[Discrete]) -> Iterator[Discrete]:
        """The discrete parts of the program graph, in play levels, that some of the quotient stand for."""
        for component, vector in discretes:
            for location in self._quotient.members[component]:
                if self._program.in_play(location):
                    yield location, vector

    def _until_trapped(self, route: Route, bases: MinimalBases) -> Route:
        """A route into a trap as far as the move that seals it."""
        program, monotone = self._program, self._maximal.monotone
        assert program.start is not None
        location, vector = program.start
        for number, move in enumerate(route):
            discrete = self._quotient.component[location], vector & ~monotone
            if program.in_play(location) and not bases.suffices(discrete, vector & monotone):
                return route[:number]
            location, vector = next(
                (there, after)
                for transition, there, after in program.moves(location, vector)
                if program.transitions[transition].move == move
            )
        return route

"""Proofs about a flow without exploring every state, all at one place and each computed when first asked for.

What is reachable at all, from the maximal states; that nobody gets stuck, nothing is missed and nothing loops, from
lower bounds and minimal bases; and the routes to all of that.
"""

from collections.abc import Container, Iterable, Mapping
from dataclasses import replace
from functools import cached_property
from typing import Any

import numpy as np

from mossy_bridge.play.state import Move, Thing
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.arrays import Numbers
from mossy_bridge.reach.monotone.action_elimination import without_redundant_moves
from mossy_bridge.reach.monotone.antichain_search import Discrete, maximal_states
from mossy_bridge.reach.monotone.backward_coverability import MinimalBases
from mossy_bridge.reach.monotone.dead_ends import Trap, TrapSearch
from mossy_bridge.reach.monotone.lookahead import BasisLookahead
from mossy_bridge.reach.monotone.lower_bounds import LowerBounds
from mossy_bridge.reach.monotone.monotonicity import monotone_parts
from mossy_bridge.reach.monotone.never_missed import never_missed
from mossy_bridge.reach.monotone.pseudo_boolean import Tallies
from mossy_bridge.reach.monotone.regression import RegressionGraph, Subgoal
from mossy_bridge.reach.monotone.shortest_routes import ShortestRoutes
from mossy_bridge.reach.system.guards import Cubes, Guard
from mossy_bridge.reach.system.program_graph import Stopper
from mossy_bridge.reach.system.routes import Route, SomeRoute
from mossy_bridge.reach.system.transitions import GuardedTransition
from mossy_bridge.reach.system.uses import FirstUses, first_uses


class Prover:
    """Answers without exploring every state. Where ``complete``, what has no route here is unreachable. Of the
    conditions ``also`` nothing that they ask to be absent counts as monotone."""

    def __init__(self, quotient: QuotientGraph, stop: Stopper, also: Iterable[str] = ()):
        self._quotient, self.program, self._stop = quotient, quotient.program, stop
        self._parts = monotone_parts(self.program, also)
        starts = [quotient.start] if quotient.start else []
        # where nothing is monotone, and no places are joined, states are better explored whole frontiers at a time
        fewer = self._parts.bits or len(quotient.members) < len(quotient.component)
        self._maximal = maximal_states(quotient, self._parts.bits, stop if fewer else lambda: True, starts)
        self.complete = self._maximal.complete
        self._crossings: dict[int, dict[str, int]] = {}
        """For each component that was asked about, how many crossings it takes to reach its levels."""

    def asking(self, condition: str) -> "Prover":
        """A prover whose answers hold for a condition too."""
        positive = self._parts.positive_in(condition)
        return self if positive else Prover(self._quotient, self._stop, [condition])

    # -- stages ----------------------------------------------------------------------------------------

    @cached_property
    def _bounds(self) -> LowerBounds:
        return LowerBounds(self._quotient, self._parts, self._maximal, self._stop)

    @cached_property
    def _regression(self) -> RegressionGraph[QuotientGraph]:
        return RegressionGraph(self._quotient, self._parts.bits, self._maximal.antichains)

    @cached_property
    def _bases(self) -> MinimalBases:
        """What suffices for reaching an ending."""
        sure = ((discrete, 0) for discrete in self._bounds.sure_to_end)
        return MinimalBases(self._regression, [*sure, *self._regression.endings()], self._stop)

    @cached_property
    def _traps(self) -> TrapSearch:
        return TrapSearch(self._quotient, self._maximal, self._bounds, self._stop)

    @cached_property
    def routes(self) -> ShortestRoutes | None:
        """Shortest routes, where the needs of all edges are known."""
        members = self._quotient.members
        places = sum(len(members[component]) for component, _ in self._maximal.antichains)
        if not self.complete or places > self.program.limits.route_places:
            return None
        discretes = ((at, vector) for component, vector in self._maximal.antichains for at in members[component])
        graph = RegressionGraph(self.program, self._parts.bits, dict.fromkeys(discretes))
        return ShortestRoutes(graph) if graph.exact else None

    @cached_property
    def lookahead(self) -> BasisLookahead | None:
        """What follows from any state, where that is known."""
        if not self.complete:
            return None
        return BasisLookahead(self._quotient, self._regression, self._bases, self._some_ending)

    @cached_property
    def _tallies(self) -> Tallies:
        return Tallies(self._quotient, self._parts.bits)

    # -- verdicts --------------------------------------------------------------------------------------

    @property
    def nothing_loops(self) -> bool:
        """Whether it is shown that forced moves never form a cycle."""
        return self._bounds.nothing_loops()

    @cached_property
    def _some_ending(self) -> bool:
        return any(self._quotient.transitions[number].ending for number in self._maximal.used)

    @cached_property
    def _doubtful(self) -> set[Discrete]:
        """The discrete parts in play levels from which the lower bound reaches no ending."""
        return set(self._bounds.in_play()) - self._bounds.sure_to_end if self._bounds.complete else set()

    @cached_property
    def never_missed(self) -> set[Thing]:
        """The levels and deeds that are shown never to be missed."""
        if not self.complete:
            return set()
        needed = self._doubtful and self._some_ending and self._bases.exact
        return never_missed(self._bounds, self._bases.basis if needed else None)

    @cached_property
    def stuck(self) -> Trap | bool | None:
        """A state that is stuck; False where it is shown that there is none; None where neither is."""
        no_dead_screen = self._bounds.no_dead_screen()
        if not self.complete or not self._some_ending:
            return False if no_dead_screen else None
        if not self._doubtful:
            return False if no_dead_screen and self._bounds.complete else None
        trap = self._traps.trap(self._bases, self._doubtful)
        if isinstance(trap, Trap):
            return replace(trap, whole=trap.whole and no_dead_screen)
        return None if trap is False and not no_dead_screen else trap

    def ever_short_of(self, subgoals: Iterable[Subgoal]) -> Trap | bool | None:
        """A state in a play level from which none of some subgoals (of the program graph) is reachable in the same run;
        False where it is shown that there is none; None where neither is."""
        bounds = self._bounds
        if not self.complete or not bounds.complete:
            return None
        component = self._quotient.component
        goals = [((component[location], vector), bits) for (location, vector), bits in subgoals]
        bases = MinimalBases(self._regression, goals, self._stop)
        doubtful = {one for one in bounds.in_play() if not bases.suffices(one, bounds.bound[one])}
        return self._traps.trap(bases, doubtful)

    def route_into(self, trap: Trap) -> Route:
        """A short route into a trap; a shortest one, if it says so."""
        return self._traps.route_into(trap, self.routes)

    def holds_everywhere(self, level: str, condition: str) -> bool:
        """Whether it is shown that a condition written in some level holds in every state of this level: it does with
        what everybody has there at least."""
        holds, bound = self.program.guards.of(condition).holds, self._bounds.bound
        components = set(self._components.get(level, ()))
        discretes = [discrete for discrete in self._maximal.antichains if discrete[0] in components]
        return self._bounds.complete and all(one in bound and holds(one[1] | bound[one]) for one in discretes)

    def holds_somewhere(self, level: str, condition: str) -> bool:
        """Whether a condition written in some level holds in a state of this level. Exact where complete, for such
        conditions only ever ask for what is monotone."""
        holds = self.program.guards.of(condition).holds
        numbers = (number for component in self._components.get(level, ()) for number in self._kept[component])
        return any(holds(self._maximal.states[number][1]) for number in numbers)

    # -- what is reachable -----------------------------------------------------------------------------

    @property
    def states(self) -> int:
        """How many states were found."""
        return len(self._maximal.states)

    @cached_property
    def _kept(self) -> dict[int, list[int]]:
        """The maximal states of each component."""
        kept: dict[int, list[int]] = {}
        for number, (component, vector) in enumerate(self._maximal.states):
            discrete, bits = self._maximal.split(component, vector)
            if bits in self._maximal.antichains[discrete]:
                kept.setdefault(component, []).append(number)
        return kept

    @cached_property
    def _components(self) -> dict[str, list[int]]:
        """The components that some state is in, by their levels."""
        found: dict[str, list[int]] = {}
        for component in self._kept:
            for level in self._quotient.levels_of(component):
                found.setdefault(level, []).append(component)
        return found

    def locations(self, level: str) -> list[int]:
        """The locations of the states found in a level."""
        locations = self.program.locations
        return [
            location
            for component in self._components.get(level, ())
            for location in self._quotient.members[component]
            if locations[location].place == level
        ]

    @cached_property
    def _first_used(self) -> Numbers:
        """For each transition of the program graph the first state in which it is enabled, -1 where there is none."""
        states, used = self._maximal.states, self._maximal.used
        made = (np.fromiter(column, np.int64, len(used)) for column in (used, used.values()))
        staying = self._quotient.used_staying(self._kept, lambda number: states[number][1])
        first = np.full(len(self.program.transitions), -1)
        transitions, first_states = made
        first[np.array(self._quotient.original, np.int64)[transitions]] = first_states
        first[staying[0]] = staying[1]
        return first

    @cached_property
    def used(self) -> dict[int, int]:
        """The transitions of the program graph that can be used, each with a state in which it is enabled."""
        used = np.flatnonzero(self._first_used >= 0)
        return dict(zip(used.tolist(), self._first_used[used].tolist(), strict=True))

    def entered(self) -> dict[str, int]:
        """The levels that are reachable, each with the first state in it."""
        first: dict[str, int] = {}
        for component, number in reversed(self._maximal.entered.items()):  # they were entered in the order of states
            first.update(dict.fromkeys(self._quotient.levels_of(component), number))
        return first

    def uses(self) -> dict[str, FirstUses]:
        """Everything else that is reachable, by kind: the first state it is reached by, and the transition after
        that."""
        return first_uses(self.program.transitions, self.program.columns, self._first_used)

    # -- routes ----------------------------------------------------------------------------------------

    def route_to(self, kind: str, name: Any, number: int, last: GuardedTransition | None = None) -> Route:
        """A route to what is reached by a state and the transition after that: a shortest one, unless that is too hard
        to find."""
        shortest = self.routes.route_to(kind, name) if self.routes else None
        return self.some_route(name, number, last) if shortest is None else shortest

    def route_by(self, kind: str, number: int, transition: int) -> Route:
        """The same to what a transition of the program graph uses after a state: the ending, or else the exit, deed,
        tile or path."""
        last = self.program.transitions[transition]
        return self.route_to(kind, last.ending if kind == "ending" else last.place, number, last)

    def some_route(self, name: Any, number: int, last: GuardedTransition | None = None) -> Route:
        """Any route there: to a level, where there is no transition after the state."""
        if last is None:
            return self._route(number, 0, self.locations(name))
        return self._route(number, self._needed(last.guard, number), (last.location,), last.move)

    def _needed(self, guard: Guard, number: int) -> int:
        """Monotone bits of a state by which a guard holds there."""
        bits, vector = self._parts.bits, self._maximal.states[number][1]
        cubes = guard.cubes if isinstance(guard, Cubes) else ()
        return next((value & bits for mask, value in cubes if vector & mask == value), vector & bits)

    def _route(self, number: int, need: int, to: Container[int], *last: Move) -> Route:
        """A route into a state, as far as some monotone bits are had, on to one of some locations, and by the last
        moves."""
        transitions = without_redundant_moves(self._maximal, self._tallies, number, need)
        return SomeRoute((*self._quotient.moves_along(transitions, to), *last))

    def route_to_some(self, subgoals: Mapping[Subgoal, Route]) -> Route | None:
        """Any route to one of some subgoals (of the program graph), and on by its last moves; None if there is none."""
        wanted: dict[Discrete, list[tuple[int, int, Route]]] = {}
        for ((location, vector), bits), last in subgoals.items():
            wanted.setdefault((self._quotient.component[location], vector), []).append((bits, location, last))
        for number, state in enumerate(self._maximal.states):
            discrete, had = self._maximal.split(*state)
            for bits, location, last in wanted.get(discrete, ()):
                if not bits & ~had:
                    return self._route(number, bits, (location,), *last)
        return None

    def crossings(self, level: str) -> int:
        """How many crossings it takes at most to reach a level that is reachable."""
        return min(self._crossings_in(component)[level] for component in self._components[level])

    def _crossings_in(self, component: int) -> dict[str, int]:
        if component not in self._crossings:
            transitions = self._maximal.transitions_to(self._maximal.entered[component])
            self._crossings[component] = self._quotient.crossings_along(transitions)
        return self._crossings[component]

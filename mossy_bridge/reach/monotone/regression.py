"""Regression: the transitions between discrete parts, with the monotone bits that each needs, to be followed backwards.

In planning, regression takes a goal back through an action to what must hold before it. Here the goal is a discrete
part together with monotone bits: a :data:`Subgoal`.
"""

from collections.abc import Collection, Iterator
from typing import Generic, TypeVar

from msgspec import Struct

from mossy_bridge.reach.monotone.antichain_search import Discrete
from mossy_bridge.reach.monotone.pseudo_boolean import Tallies
from mossy_bridge.reach.system.guards import Cubes
from mossy_bridge.reach.system.transition_system import TransitionSystem
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition
from mossy_bridge.reach.system.updates import applied

Subgoal = tuple[Discrete, int]
"""A discrete part, and the monotone bits that must be had there."""
System = TypeVar("System", bound=TransitionSystem)


class RegressionEdge(Struct, frozen=True):
    """A transition that some state with a discrete part may be able to take: the monotone bits it needs (any one of
    some sets; empty where these are not a few sets), and the discrete part it leads to; None for an ending."""

    transition: int
    needs: tuple[int, ...]
    target: Discrete | None


class RegressionGraph(Generic[System]):
    """Every edge between those discrete parts that are reachable, whatever monotone bits it needs. Where ``exact`` is
    false the needs of some are unknown: they may be enabled, but not even roughly is it known with which monotone
    bits."""

    def __init__(self, system: System, monotone: int, discretes: Collection[Discrete]):
        self.system: System = system
        self.monotone = monotone
        self.tallies = Tallies(system, monotone)
        self.exact = True
        self.edges: dict[Discrete, list[RegressionEdge]] = {}
        self._reachable, self._waiting = set(discretes), list(discretes)
        while self._waiting:
            discrete = self._waiting.pop()
            self.edges[discrete] = list(self._edges_from(discrete))

    def _edges_from(self, discrete: Discrete) -> Iterator[RegressionEdge]:
        location, vector = discrete
        numbers = self.system.transitions_of(location)
        transitions = [self.system.transitions[number] for number in numbers]
        forced = next((one for one in transitions if one.forced and one.guard.holds(vector)), None)
        for number, transition in zip(numbers, transitions, strict=True):
            if transition is not forced and (forced or transition.forced):
                continue
            needs = self._needs(transition, vector)
            after = applied(transition.update, vector) & ~self.monotone
            target = None if transition.target == ENDING else (transition.target, after)
            if needs is not None and (target is None or self._is_reached(target, transition, vector)):
                self.exact = self.exact and needs != ()
                yield RegressionEdge(number, needs, target)

    def _is_reached(self, target: Discrete, transition: GuardedTransition, vector: int) -> bool:
        """Whether a discrete part is reachable. A deed that only gives monotone bits may lead to one that the maximal
        states are not in, since they have done it before: after it the player has not *just arrived* any more. That
        makes no difference to what follows, but to routes."""
        if target not in self._reachable and transition.move.kind == "deed" and target[1] == vector:
            self._reachable.add(target)
            self._waiting.append(target)
        return target in self._reachable

    def _needs(self, transition: GuardedTransition, vector: int) -> tuple[int, ...] | None:
        """The minimal sets of monotone bits with which a transition is enabled in a discrete part with the vector;
        empty where these are not a few sets; None where it is never enabled."""
        guard, monotone = transition.guard, self.monotone
        if isinstance(guard, Cubes):
            fitting = (cube for cube in guard.cubes if (vector ^ cube[1]) & cube[0] & ~monotone == 0)
            return tuple(value & monotone for _, value in fitting) or None
        # guards are monotone here, so evaluating them with no bit and with every bit decides *always* and *never*
        if guard.holds(vector):
            return (0,)
        move = transition.move
        spent = self.system.layout.spent.get((move.level, move.thing), 0) if move.kind == "deed" else 0
        return () if guard.holds(vector | monotone & ~spent) else None

    def endings(self) -> Iterator[Subgoal]:
        """What is needed for going into an ending."""
        for discrete, edges in self.edges.items():
            for edge in edges:
                if edge.target is None:
                    yield from ((discrete, bits) for bits in edge.needs)

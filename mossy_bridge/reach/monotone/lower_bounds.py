"""Lower bounds: for each discrete part the monotone bits that every state with it surely has, and what follows from
them.

A bound is what all transitions into a discrete part have in common: the greatest fixpoint, computed by a worklist. The
state with exactly that much need not be reachable. But whatever can be done from it can be done from every state above
it (:mod:`mossy_bridge.reach.monotone.monotonicity`); so if an ending is reachable from each lower bound, nobody is
stuck. The answers here are *no* with this proof, or not known.
"""

from collections import deque
from collections.abc import Iterable, Iterator
from functools import cached_property
from heapq import heappop, heappush
from itertools import count

from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.monotone.antichain import MaximalSets
from mossy_bridge.reach.monotone.antichain_search import Discrete, MaximalStates, monotone_gains
from mossy_bridge.reach.monotone.monotonicity import MonotoneParts
from mossy_bridge.reach.monotone.pseudo_boolean import Tallies
from mossy_bridge.reach.system.program_graph import Stopper
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition
from mossy_bridge.reach.system.updates import applied

Successor = tuple[int, Discrete | None]
"""A transition, and the discrete part that it leads to; None for an ending."""


class LowerBounds:
    """The lower bounds of one flow, and what follows from them."""

    def __init__(self, system: QuotientGraph, parts: MonotoneParts, maximal: MaximalStates, stop: Stopper):
        self.system, self.parts, self.maximal, self.stop = system, parts, maximal, stop
        self._transitions, self._tallies = system.transitions, Tallies(system, parts.bits)
        self.done_bits = sum(bit for deed, bit in system.layout.spent.items() if deed in parts.deeds)
        """The bits that say that a monotone deed has been done."""
        self._successors: dict[Discrete, list[Successor]] = {}
        """The transitions used in some maximal state, so perhaps in others too."""
        self.bound: dict[Discrete, int] = {}
        self._forced: dict[Discrete, Discrete] = {}
        self._sure: dict[Discrete, list[Successor]] = {}
        """The transitions that every state with the discrete part can take, or has taken already to the same effect."""
        self._sure_before: dict[Discrete, list[Discrete]] = {}
        self.complete = maximal.complete and self._find_successors() and self._find_bounds()

    # -- bounds ----------------------------------------------------------------------------------------

    def _find_successors(self) -> bool:
        """Finds the transitions used in maximal states; False if stopped."""
        antichains = self.maximal.antichains
        for number, (discrete, antichain) in enumerate(antichains.items()):
            if number % 64 == 0 and self.stop():
                return False
            # with every deed undone, for a lesser state may still do those that the maximal ones have done
            all_of_them = (one for bits in antichain for one in self._enabled(discrete, bits & ~self.done_bits))
            found = [one for one in dict.fromkeys(all_of_them) if one[1] is None or one[1] in antichains]
            for transition, target in found:
                if target is not None and self._transitions[transition].forced:
                    self._forced[discrete] = target
            self._successors[discrete] = found
        return True

    def _enabled(self, discrete: Discrete, bits: int) -> Iterator[Successor]:
        for transition, location, vector in self.system.moves(discrete[0], discrete[1] | bits):
            yield transition, None if location == ENDING else (location, vector & ~self.parts.bits)

    def _find_bounds(self) -> bool:
        """The greatest sets that agree with every transition: a fixpoint from above; False if stopped."""
        start = self.system.start
        if start is None:
            return False
        discrete, bits = self.maximal.split(*start)
        self.bound = {discrete: bits}
        waiting = deque([discrete])
        expanded = 0
        while waiting:
            expanded += 1
            if expanded % 64 == 0 and self.stop():
                return False
            here = waiting.popleft()
            for transition, target in self._successors.get(here, ()):
                if target is None:
                    continue
                # the transition is only taken where its guard holds
                required = self._transitions[transition].guard.required() & self.parts.bits
                after = applied(self._transitions[transition].update, here[1] | self.bound[here] | required)
                known = self.bound.get(target)
                new = after & self.parts.bits if known is None else known & after
                if new != known:
                    self.bound[target] = new
                    waiting.append(target)
        self._find_sure_transitions()
        return True

    def _find_sure_transitions(self) -> None:
        for discrete, bits in self.bound.items():
            self._sure[discrete] = list(self._enabled(discrete, bits))
            for transition, target in self._sure[discrete]:
                if target is not None and not self._transitions[transition].restarts:
                    self._sure_before.setdefault(target, []).append(discrete)

    # -- what follows ----------------------------------------------------------------------------------

    def in_play(self) -> Iterable[Discrete]:
        """The discrete parts in play levels."""
        return (discrete for discrete in self.bound if self.system.in_play(discrete[0]))

    @cached_property
    def sure_to_end(self) -> set[Discrete]:
        """The discrete parts from which, as the lower bound shows, an ending is reachable in the same run."""
        if not self.complete:
            return set()
        ending = {discrete for discrete, found in self._sure.items() if any(target is None for _, target in found)}
        found = self.backward_reachable(ending)
        tries = iter(range(self.system.limits.lower_bound_moves))
        for discrete in self.last_first():
            if discrete not in found and self._leads_to(discrete, found, tries):
                found |= self.backward_reachable({discrete})
        return found

    def last_first(self) -> Iterator[Discrete]:
        """The discrete parts: the start, to which many lead back; then those reached last, mostly nearest to an
        ending."""
        yield next(iter(self.bound))
        yield from reversed(self.bound)

    def _leads_to(self, discrete: Discrete, goals: set[Discrete], tries: Iterator[int]) -> bool:
        """Whether from the lower bound, gaining what it can, an ending or one of the goals is reached."""
        for _, (here, step) in zip(tries, self.reachable_from(discrete, self.bound[discrete]), strict=False):
            if here in goals or (step is not None and step[1] is None):
                return True
        return False

    def no_dead_screen(self) -> bool:
        """Whether it is proved that no state on a screen or board is a deadlock."""
        return self.complete and not any(map(self._may_be_dead, self.bound))

    def _may_be_dead(self, discrete: Discrete) -> bool:
        """Whether some state with the discrete part may be a deadlock on a screen or board."""
        lasting = any(not self._may_be_spent(self._transitions[number]) for number, _ in self._sure[discrete])
        if lasting or self.system.lasting[discrete[0]] or self.system.in_play(discrete[0]):
            return False
        (location,) = self.system.members[discrete[0]]
        least = self.system.program.state(location, discrete[1] | self.bound[discrete])
        return not self.system.rules.resume_open(least)

    def _may_be_spent(self, transition: GuardedTransition) -> bool:
        """Whether a transition from a lower bound may be a deed that a greater state has done already."""
        move = transition.move
        return move.kind == "deed" and (move.level, move.thing) in self.parts.deeds

    def backward_reachable(self, goals: set[Discrete]) -> set[Discrete]:
        """Every discrete part from which sure transitions lead to one of the goals in the same run."""
        found, waiting = set(goals), list(goals)
        while waiting:
            for discrete in self._sure_before.get(waiting.pop(), ()):
                if discrete not in found:
                    found.add(discrete)
                    waiting.append(discrete)
        return found

    def reachable_from(self, discrete: Discrete, bits: int) -> Iterator[tuple[Discrete, Successor | None]]:
        """Everything reachable from a discrete part in the same run with some monotone bits at least: the discrete
        parts reached, and the transitions taken. Bits that only deeds can set are left out at the start unless the
        deeds are among them."""
        begun = self._tallies.consistent(discrete[1] | bits) & self.parts.bits
        antichains: dict[Discrete, MaximalSets] = {}
        order = count()
        waiting: list[tuple[int, int, int, Discrete]] = []
        """The greatest first, so that most lesser ones are never touched."""

        def offer(there: Discrete, bits: int) -> None:
            if antichains.setdefault(there, MaximalSets()).add(bits):
                heappush(waiting, (-bits.bit_count(), next(order), bits, there))

        offer(discrete, begun)
        expanded = 0
        while waiting:
            expanded += 1
            if expanded % 64 == 0 and self.stop():
                return
            _, _, bits, here = heappop(waiting)
            if bits not in antichains[here].elements:
                continue
            yield here, None
            state = here[0], here[1] | bits
            moves = self.system.moves(*state)
            gains = monotone_gains(self.system, self.parts.bits, state, moves)
            for transition, _ in gains:
                yield here, (transition, here)
            if gains:
                offer(here, gains[-1][1] & self.parts.bits)
                continue
            for transition, target, after in moves:
                if target == ENDING:
                    yield here, (transition, None)
                elif not self._transitions[transition].restarts:
                    there, more = self.maximal.split(target, after)
                    yield here, (transition, there)
                    offer(there, more)

    def nothing_loops(self) -> bool:
        """Whether it is shown that forced moves never form a cycle."""
        if not self.complete:
            return False
        finished: set[Discrete] = set()
        for start in self._forced:
            trail: set[Discrete] = set()
            here: Discrete | None = start
            while here is not None and here not in finished:
                if here in trail:
                    return False
                trail.add(here)
                here = self._forced.get(here)
            finished |= trail
        return True

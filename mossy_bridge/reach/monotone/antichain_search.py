"""What is reachable at all, from the maximal states alone: forward search with subsumption.

Where two states differ only in monotone parts (:mod:`mossy_bridge.reach.monotone.monotonicity`) and one has at least as
much of them, whatever can be reached from the lesser can be reached from the greater. So of the states that agree in
all else only the maximal ones need to be expanded: for each discrete part an antichain of sets of monotone bits (De
Wulf, Doyen, Henzinger and Raskin 2006, after Finkel and Schnoebelen's well-structured transition systems, 2001). Moves
that only gain monotone parts are made first of all, and greater states are expanded before lesser ones, so that these
are mostly never touched. The search runs on the quotient (:mod:`mossy_bridge.reach.abstraction.quotient_graph`).
When nothing is left to expand, what was not reached is unreachable: an exact *no*. What was reached has a route that
can be replayed; it need not be a shortest one.
"""

import heapq
from collections.abc import Iterable
from dataclasses import dataclass, field

from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.monotone.antichain import MaximalSets
from mossy_bridge.reach.system.program_graph import PackedState, Stopper
from mossy_bridge.reach.system.routes import read_back
from mossy_bridge.reach.system.transitions import ENDING
from mossy_bridge.reach.system.updates import applied

MOVES_BETWEEN_STOPS = 2_000
"""How many moves are made before asking again whether to stop."""
Discrete = tuple[int, int]
"""The discrete part of a state, all that is not monotone: its location (in the quotient, its component), and its vector
without the monotone bits."""


@dataclass
class MaximalStates:
    """What the search found: every state it kept, its parent, and the first in which each transition was used."""

    system: QuotientGraph
    monotone: int
    """The monotone bits."""
    antichains: dict[Discrete, MaximalSets] = field(default_factory=dict)
    """For each discrete part the maximal sets of monotone bits found with it."""
    states: list[PackedState] = field(default_factory=list)
    parents: list[tuple[int, int] | None] = field(default_factory=list)
    """The state before, and the transition from it; None for the start."""
    entered: dict[int, int] = field(default_factory=dict)
    """The first state in each component."""
    used: dict[int, int] = field(default_factory=dict)
    """For each transition that was used the first state in which it was."""
    restarted: dict[PackedState, tuple[int, int]] = field(default_factory=dict)
    """The states in which new runs begin, each with the state before it and the transition."""
    complete: bool = True

    def split(self, location: int, vector: int) -> tuple[Discrete, int]:
        """The discrete part of a state, and its monotone bits."""
        return (location, vector & ~self.monotone), vector & self.monotone

    def transitions_to(self, number: int) -> list[int]:
        """The transitions by which a state was reached."""
        return read_back(number, self.parents.__getitem__)


def maximal_states(
    system: QuotientGraph, monotone: int, stop: Stopper, starts: Iterable[PackedState], without: int = 0
) -> MaximalStates:
    """Searches from the starts, the greatest states first, among equals the nearest; states with any of the bits
    ``without`` are left out. ``O(places x monotone parts x moves)`` where no choice shuts out another; exponential at
    worst, as the problem is."""
    limits = system.limits
    most = limits.antichain_moves + limits.antichain_moves_per_transition * len(system.transitions)
    search = _Search(system, monotone, without)
    for location, vector in starts:
        search.offer(location, vector, None, 0)
    checked = 0
    while search.waiting:
        if search.made - checked >= MOVES_BETWEEN_STOPS:
            checked = search.made
            if stop() or search.made > most:
                search.found.complete = False
                break
        _, depth, number = heapq.heappop(search.waiting)
        search.expand(number, depth)
    return search.found


class _Search:
    """A search for the maximal states, as far as it has got."""

    def __init__(self, system: QuotientGraph, monotone: int, without: int):
        self.found = MaximalStates(system, monotone)
        self.waiting: list[tuple[int, int, int]] = []
        """States to expand: the negative count of monotone bits, the depth, and their numbers."""
        self.made = 0
        """How many moves were made."""
        self._system, self._monotone, self._without = system, monotone, without

    def offer(self, location: int, vector: int, parent: tuple[int, int] | None, depth: int) -> None:
        """Keeps a state, unless it is subsumed; what it subsumes is not expanded any more."""
        found, bits = self.found, vector & self._monotone
        if vector & self._without:
            return
        discrete = (location, vector ^ bits)
        antichain = found.antichains.get(discrete)
        first = antichain is None
        if antichain is None:
            antichain = found.antichains[discrete] = MaximalSets()
        if not antichain.add(bits):
            return
        number = self._add((location, vector), parent)
        if first:
            found.entered.setdefault(location, number)
        heapq.heappush(self.waiting, (-bits.bit_count(), depth, number))

    def _add(self, state: PackedState, parent: tuple[int, int] | None) -> int:
        self.found.states.append(state)
        self.found.parents.append(parent)
        return len(self.found.states) - 1

    def expand(self, number: int, depth: int) -> None:
        """Makes all moves of a state, unless it has been subsumed since; if some only gain, these alone."""
        found, transitions, used = self.found, self._system.transitions, self.found.used
        location, vector = found.states[number]
        if vector & self._monotone not in found.antichains[location, vector & ~self._monotone].elements:
            return
        moves = self._system.moves(location, vector)
        self.made += len(moves)
        gains = monotone_gains(self._system, self._monotone & ~self._without, (location, vector), moves)
        for transition, after in gains[:-1]:
            used.setdefault(transition, number)
            number, depth = self._add((location, after), (number, transition)), depth + 1
        for transition, after in gains[-1:]:
            used.setdefault(transition, number)
            self.offer(location, after, (number, transition), depth + 1)
        for transition, target, after in moves if not gains else ():
            if transition not in used:
                used[transition] = number
            if target == ENDING:
                continue
            if transitions[transition].restarts:
                found.restarted.setdefault((target, after), (number, transition))
            self.offer(target, after, (number, transition), depth + 1)


def monotone_gains(
    system: QuotientGraph, monotone: int, state: PackedState, moves: Iterable[tuple[int, int, int]]
) -> list[tuple[int, int]]:
    """Those of the moves of a state that stay where it is and only gain monotone parts, one after the other, with the
    vectors after each. There is no reason to do anything else before: the state after them is greater, and allows as
    much."""
    location, vector = state
    found: list[tuple[int, int]] = []
    for transition, target, after in moves:
        if target != location or after == vector:
            continue
        if found:
            if not system.transitions[transition].guard.holds(vector):
                continue  # it is a deed that has just been done
            after = applied(system.transitions[transition].update, vector)
        gained = after ^ vector
        if gained and not gained & ~(after & monotone) and not system.transitions[transition].restarts:
            found.append((transition, after))
            vector = after
    return found

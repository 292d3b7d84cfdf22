"""What can be come to at all, settled by the richest states alone.

Where two states differ only in growing parts (see :mod:`mossy_bridge.reach.growing`) and one is at least as rich,
whatever can be come to from the poorer can be come to from the richer. So of the states that agree in all else only
those that no other surpasses need to be gone on from: for every place the largest sets, incomparable to one another
(an antichain). Moves that only gain growing parts are made first of all, and richer states are gone on from before
poorer ones, so that these are mostly never touched. Places joined there and back (:mod:`mossy_bridge.reach.joining`)
are one.
When nothing is left to go on from, what was not come to cannot be: an exact *no*. What was come to has a route that
can be replayed; it need not be a shortest one.
"""

import heapq
from collections.abc import Iterable
from dataclasses import dataclass, field

from mossy_bridge.reach.effects import done
from mossy_bridge.reach.joining import Joined
from mossy_bridge.reach.machine import ENDING, Stopper

ASKS_EACH = 2_000
"""After so many moves it is asked whether to stop."""
Rest = tuple[int, int]
"""Everything of a state that does not grow: its group (or, elsewhere, its control), and its word without the growing
bits."""


@dataclass
class Richest:
    """What the search found: every kept state, how it was come to, and the first that each row was used in.
    ``best`` holds for each rest of a state the largest sets of growing bits found with it."""

    machine: Joined
    grows: int
    """The bits that grow."""
    best: dict[Rest, list[int]] = field(default_factory=dict)
    states: list[tuple[int, int]] = field(default_factory=list)
    came: list[tuple[int, int] | None] = field(default_factory=list)
    """The state before, and the row of the move from it; None for the start."""
    entered: dict[int, int] = field(default_factory=dict)
    """The first state in each group."""
    used: dict[int, int] = field(default_factory=dict)
    anew: dict[tuple[int, int], tuple[int, int]] = field(default_factory=dict)
    """The states in which new runs begin, each with the state before it and the row."""
    complete: bool = True

    def split(self, control: int, word: int) -> tuple[Rest, int]:
        """Everything that does not grow, and the growing bits: more bits, richer."""
        return (control, word & ~self.grows), word & self.grows

    def rows_to(self, number: int) -> list[int]:
        """The rows by which a state was come to."""
        found: list[int] = []
        step = self.came[number]
        while step:
            found.append(step[1])
            step = self.came[step[0]]
        return found[::-1]


def richest(machine: Joined, grows: int, stop: Stopper, starts: Iterable[tuple[int, int]], without: int = 0) -> Richest:
    """Searches from the starts, the richest states first, among equals the nearest; states with any of the bits
    ``without`` are left out. ``O(places × growing parts × moves)`` where no choice shuts out another; exponential at
    worst, as the problem is."""
    limits = machine.limits
    most = limits.antichain_moves + limits.antichain_moves_per_transition * len(machine.rows)
    search = _Search(machine, grows, without)
    for control, word in starts:
        search.offer(control, word, None, 0)
    asked = 0
    while search.waiting:
        if search.made - asked >= ASKS_EACH:
            asked = search.made
            if stop() or search.made > most:
                search.found.complete = False
                break
        _, depth, number = heapq.heappop(search.waiting)
        search.go_on(number, depth)
    return search.found


class _Search:
    """The search for the richest states, as far as it has got."""

    def __init__(self, machine: Joined, grows: int, without: int):
        self.found = Richest(machine, grows)
        self.waiting: list[tuple[int, int, int]] = []
        """States to go on from: the negative count of growing bits, how far it is to them, and their numbers."""
        self.made = 0
        self._machine, self._grows, self._without = machine, grows, without

    def offer(self, control: int, word: int, came: tuple[int, int] | None, depth: int) -> None:
        """Keeps a state, if none at least as rich is known; what it surpasses is not gone on from any more."""
        found, bits = self.found, word & self._grows
        rest = (control, word ^ bits)
        kept = found.best.get(rest)
        if word & self._without or (kept and _surpassed(bits, kept)):
            return
        found.best[rest] = [*(other for other in kept if other | bits != bits), bits] if kept else [bits]
        number = self._add((control, word), came)
        if not kept:
            found.entered.setdefault(control, number)
        heapq.heappush(self.waiting, (-bits.bit_count(), depth, number))

    def _add(self, state: tuple[int, int], came: tuple[int, int] | None) -> int:
        self.found.states.append(state)
        self.found.came.append(came)
        return len(self.found.states) - 1

    def go_on(self, number: int, depth: int) -> None:
        """Makes all moves of a state, unless a richer one has been found since; if some only gain, these alone."""
        found, rows, used = self.found, self._machine.rows, self.found.used
        control, word = found.states[number]
        if word & self._grows not in found.best[control, word & ~self._grows]:
            return
        moves = self._machine.moves(control, word)
        self.made += len(moves)
        gains = gaining(self._machine, self._grows & ~self._without, (control, word), moves)
        for row, after in gains[:-1]:
            used.setdefault(row, number)
            number, depth = self._add((control, after), (number, row)), depth + 1
        for row, after in gains[-1:]:
            used.setdefault(row, number)
            self.offer(control, after, (number, row), depth + 1)
        for row, target, after in moves if not gains else ():
            if row not in used:
                used[row] = number
            if target == ENDING:
                continue
            if rows[row].fresh:
                found.anew.setdefault((target, after), (number, row))
            self.offer(target, after, (number, row), depth + 1)


def gaining(
    machine: Joined, grows: int, state: tuple[int, int], moves: Iterable[tuple[int, int, int]]
) -> list[tuple[int, int]]:
    """Those of the moves of a state that stay where it is and only gain growing parts, one after the other, with the
    words after each. Nobody who wants to be richest has a reason to do anything else before."""
    control, word = state
    found: list[tuple[int, int]] = []
    for row, target, after in moves:
        if target != control or after == word:
            continue
        if found:
            if not machine.rows[row].asks.holds(word):
                continue  # it is a deed that has just been done
            after = done(machine.rows[row].does, word)
        gained = after ^ word
        if gained and not gained & ~(after & grows) and not machine.rows[row].fresh:
            found.append((row, after))
            word = after
    return found


def _surpassed(bits: int, others: Iterable[int]) -> bool:
    """Whether one of the others is at least as rich."""
    for other in others:  # noqa: SIM110 - asked very often
        if bits | other == other:
            return True
    return False

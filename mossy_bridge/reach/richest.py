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

MOST, MOST_EACH = 200_000, 20
"""So many moves, and so many for each row, are made: where it takes more, there is much that does not grow, and states
are better searched whole frontiers at a time."""
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
    found = Richest(machine, grows)
    best, used, states, rows = found.best, found.used, found.states, machine.rows
    waiting: list[tuple[int, int, int]] = []

    def add(state: tuple[int, int], came: tuple[int, int] | None) -> int:
        states.append(state)
        found.came.append(came)
        return len(states) - 1

    def take(rest: Rest, bits: int, came: tuple[int, int] | None, depth: int) -> None:
        kept = best.get(rest)
        best[rest] = [*(other for other in kept if other | bits != bits), bits] if kept else [bits]
        number = add((rest[0], rest[1] | bits), came)
        if not kept:
            found.entered.setdefault(rest[0], number)
        heapq.heappush(waiting, (-bits.bit_count(), depth, number))

    for control, word in starts:
        rest, bits = found.split(control, word)
        if not word & without and not _surpassed(bits, best.get(rest, ())):
            take(rest, bits, None, 0)
    looked_at = made = 0
    while waiting:
        looked_at += 1
        if looked_at % 256 == 0 and (stop() or made > MOST + MOST_EACH * len(rows)):
            found.complete = False
            break
        _, depth, number = heapq.heappop(waiting)
        control, word = states[number]
        if word & grows not in best[control, word & ~grows]:
            continue  # a richer one has been found since
        moves = machine.moves(control, word)
        made += len(moves)
        gains = gaining(machine, grows & ~without, (control, word), moves)
        for row, after in gains[:-1]:
            used.setdefault(row, number)
            number, depth = add((control, after), (number, row)), depth + 1
        for row, after in gains[-1:]:
            used.setdefault(row, number)
            take((control, after & ~grows), after & grows, (number, row), depth + 1)
        for row, target, after in moves if not gains else ():
            if row not in used:
                used[row] = number
            if target == ENDING:
                continue
            if rows[row].fresh:
                found.anew.setdefault((target, after), (number, row))
            bits = after & grows
            rest = (target, after ^ bits)
            if not after & without and not (rest in best and _surpassed(bits, best[rest])):
                take(rest, bits, (number, row), depth + 1)
    return found


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

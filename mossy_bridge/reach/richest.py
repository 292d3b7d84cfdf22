"""What can be come to at all, settled by the richest states alone.

Where two states differ only in growing parts (see :mod:`mossy_bridge.reach.growing`) and one is at least as rich,
whatever can be come to from the poorer can be come to from the richer. So of the states that agree in all else only
those that no other surpasses need to be gone on from: for every place the largest sets, incomparable to one another
(an antichain). Richer states are gone on from first, so that poorer ones found before are mostly never touched.
When nothing is left to go on from, what was not come to cannot be: an exact *no*. What was come to has a route that
can be replayed; it need not be a shortest one.
"""

import heapq
from collections.abc import Hashable
from dataclasses import dataclass, field

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State
from mossy_bridge.reach.graph import Stopper
from mossy_bridge.reach.growing import Growing
from mossy_bridge.reach.tracking import Tracking


@dataclass
class Richest:
    """What the search found: every kept state, how it was come to, and the first that each thing was done in."""

    states: list[State] = field(default_factory=list)
    came: list[tuple[int, Move] | None] = field(default_factory=list)
    entered: dict[str, int] = field(default_factory=dict)
    moved: dict[Move, int] = field(default_factory=dict)
    ended: dict[str, tuple[int, Move]] = field(default_factory=dict)
    complete: bool = True

    def route(self, number: int) -> list[Move]:
        """The moves by which a state was come to."""
        moves = []
        came = self.came[number]
        while came:
            moves.append(came[1])
            came = self.came[came[0]]
        return moves[::-1]


class Splitting:
    """Splits a state into what is compared for being equal and what for being richer."""

    def __init__(self, rules: Rules, parts: Growing):
        flow = rules.flow
        self._parts = parts
        self._first = tuple(fact.first for fact in flow.facts)
        self._grow = [(index, fact) for index, fact in enumerate(flow.facts) if fact.id in parts.facts]
        self._bits: dict[Hashable, int] = {}

    def split(self, state: State) -> tuple[Hashable, int]:
        """Everything that does not grow, and the growing parts as bits: more bits, richer."""
        parts, facts, bits = self._parts, list(state.facts), 0
        for index, fact in self._grow:
            value = facts[index]
            facts[index] = self._first[index]
            if fact.kind == "flag":
                bits |= self._bit(("fact", fact.id)) if value else 0
            else:
                for number in range(min(int(value), parts.most.get(fact.id, 0))):
                    bits |= self._bit(("count", fact.id, number))
        rest: list[Hashable] = [state.place, state.zone, state.respawn, state.origin, state.arrived, tuple(facts)]
        for what, held, grown in (("seen", state.seen, parts.seen), ("done", state.done, parts.done),
                                  ("spent", state.spent, parts.deeds)):  # fmt: skip
            for thing in held & grown:
                bits |= self._bit((what, thing))
            rest.append(held - grown)
        return tuple(rest), bits

    def _bit(self, name: Hashable) -> int:
        found = self._bits.get(name)
        if found is None:
            found = self._bits[name] = 1 << len(self._bits)
        return found


def richest(rules: Rules, tracking: Tracking, parts: Growing, stop: Stopper) -> Richest:
    """Searches from the start, the richest states first, among equals the nearest."""
    found, splitting = Richest(), Splitting(rules, parts)
    best: dict[Hashable, list[int]] = {}
    waiting: list[tuple[int, int, int, Hashable, int]] = []

    def take(state: State, came: tuple[int, Move] | None, depth: int) -> None:
        state = tracking.blanked(state)
        rest, bits = splitting.split(state)
        others = best.setdefault(rest, [])
        if any(bits | other == other for other in others):
            return
        best[rest] = [other for other in others if other | bits != bits] + [bits]
        number = len(found.states)
        found.states.append(state)
        found.came.append(came)
        found.entered.setdefault(state.place, number)
        heapq.heappush(waiting, (-bits.bit_count(), depth, number, rest, bits))

    start = rules.begin()
    if start:
        take(start, None, 0)
    looked_at = 0
    while waiting:
        looked_at += 1
        if looked_at % 64 == 0 and stop():
            found.complete = False
            break
        _, depth, number, rest, bits = heapq.heappop(waiting)
        if bits not in best[rest]:
            continue  # a richer one has been found since
        for move, after in rules.moves(found.states[number]):
            found.moved.setdefault(move, number)
            if isinstance(after, Ended):
                found.ended.setdefault(after.ending, (number, move))
            else:
                take(after, (number, move), depth + 1)
    return found

"""What can be come to at all, settled by the richest states alone.

Where two states differ only in growing parts (see :mod:`mossy_bridge.reach.growing`) and one is at least as rich,
whatever can be come to from the poorer can be come to from the richer. So of the states that agree in all else only
those that no other surpasses need to be gone on from: for every place the largest sets, incomparable to one another
(an antichain). Richer states are gone on from first, so that poorer ones found before are mostly never touched.
When nothing is left to go on from, what was not come to cannot be: an exact *no*. What was come to has a route that
can be replayed; it need not be a shortest one.
"""

import heapq
from dataclasses import dataclass, field
from functools import reduce
from operator import and_, or_
from typing import Any

from mossy_bridge.language import tree as t
from mossy_bridge.language.parsing import parse_condition
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State
from mossy_bridge.reach.graph import Stopper
from mossy_bridge.reach.growing import Growing
from mossy_bridge.reach.retracing import traced_back
from mossy_bridge.reach.tracking import Tracking

Rest = tuple[Any, ...]
"""Everything of a state that does not grow."""


@dataclass
class Richest:
    """What the search found: every kept state, how it was come to, and the first that each thing was done in.
    ``best`` holds for each rest of a state the largest sets of growing parts found with it."""

    splitting: "Splitting"
    best: dict[Rest, list[int]] = field(default_factory=dict)
    states: list[State] = field(default_factory=list)
    came: list[tuple[int, Move] | None] = field(default_factory=list)
    entered: dict[str, int] = field(default_factory=dict)
    moved: dict[Move, int] = field(default_factory=dict)
    ended: dict[str, tuple[int, Move]] = field(default_factory=dict)
    complete: bool = True

    def route(self, number: int) -> list[Move]:
        """The moves by which a state was come to."""
        return traced_back(self.came, number)


class Splitting:
    """Splits a state into what is compared for being equal and what for being richer."""

    def __init__(self, rules: Rules, parts: Growing):
        flow = rules.flow
        self.parts = parts
        self._first = tuple(fact.first for fact in flow.facts)
        self._grow = [(index, fact) for index, fact in enumerate(flow.facts) if fact.id in parts.facts]
        self._bits: dict[tuple[Any, ...], int] = {}
        self._names: list[tuple[Any, ...]] = []

    def split(self, state: State) -> tuple[Rest, int]:
        """Everything that does not grow, and the growing parts as bits: more bits, richer."""
        parts, facts, bits = self.parts, list(state.facts), 0
        for index, fact in self._grow:
            value = facts[index]
            facts[index] = self._first[index]
            if fact.kind == "flag":
                bits |= self._bit(("fact", fact.id)) if value else 0
            else:
                for number in range(min(int(value), parts.most.get(fact.id, 0))):
                    bits |= self._bit(("count", fact.id, number))
        rest: list[Any] = [state.place, state.zone, state.respawn, state.origin, state.arrived, tuple(facts)]
        for what, held, grown in (("seen", state.seen, parts.seen), ("done", state.done, parts.done),
                                  ("spent", state.spent, parts.deeds)):  # fmt: skip
            for thing in held & grown:
                bits |= self._bit((what, thing))
            rest.append(held - grown)
        return tuple(rest), bits

    def _bit(self, name: tuple[Any, ...]) -> int:
        found = self._bits.get(name)
        if found is None:
            found = self._bits[name] = 1 << len(self._names)
            self._names.append(name)
        return found

    def surely(self, condition: str) -> int:
        """The growing parts that every state has in which a condition holds, as far as they are simply told."""
        return self._surely(parse_condition(condition))

    def _surely(self, tree: t.Condition) -> int:
        parts = self.parts
        match tree:
            case t.Has(fact, True) if fact in parts.facts:
                return self._bit(("fact", fact))
            case t.Count("at least", number, fact) if fact in parts.facts:
                return reduce(or_, (self._bit(("count", fact, n)) for n in range(number)), 0)
            case t.Visited(what, level) if level in (parts.seen if what == "seen" else parts.done):
                return self._bit((what, level))
            case t.All(inner):
                return reduce(or_, map(self._surely, inner), 0)
            case t.AnyOf(inner):
                return reduce(and_, map(self._surely, inner))
        return 0

    def joined(self, rest: Rest, bits: int) -> State:
        """The state with exactly these growing parts."""
        place, zone, respawn, origin, arrived, facts, seen, done, spent = rest
        values = list(facts)
        for index, fact in self._grow:
            if fact.kind == "flag":
                values[index] = False
            elif self.parts.most.get(fact.id, 0):
                values[index] = fact.low
        index_of = {fact.id: index for index, fact in self._grow}
        held: dict[str, set[Any]] = {"seen": set(seen), "done": set(done), "spent": set(spent)}
        for position in range(bits.bit_length()):
            if not bits >> position & 1:
                continue
            what, name, *more = self._names[position]
            if what == "fact":
                values[index_of[name]] = True
            elif what == "count":
                values[index_of[name]] = max(values[index_of[name]], more[0] + 1)
            else:
                held[what].add(name)
        return State(
            place, zone, tuple(values), frozenset(held["seen"]), frozenset(held["done"]), frozenset(held["spent"]),
            respawn, origin, arrived,
        )  # fmt: skip


def richest(rules: Rules, tracking: Tracking, parts: Growing, stop: Stopper) -> Richest:
    """Searches from the start, the richest states first, among equals the nearest. ``O(places × growing parts ×
    moves)`` where no choice shuts out another; exponential at worst, as the problem is."""
    splitting = Splitting(rules, parts)
    found = Richest(splitting)
    best = found.best
    waiting: list[tuple[int, int, int, Rest, int]] = []

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

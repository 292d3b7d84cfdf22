"""What can be said of a flow whose states are too many to look at each: what is come to at all, by the richest
states, and that nobody gets stuck, nothing is missed and nothing loops, by the poorest bounds."""

from collections.abc import Iterator
from functools import cached_property
from typing import Any

from mossy_bridge.model.flow import Promise
from mossy_bridge.play.state import Move
from mossy_bridge.reach.growing import growing
from mossy_bridge.reach.machine import Machine, Stopper, first_uses
from mossy_bridge.reach.missing import Thing
from mossy_bridge.reach.poorest import Poorest
from mossy_bridge.reach.richest import richest

Route = tuple[Move, ...]


class Proofs:
    """Answers without looking at every state. Where ``complete``, what has no route here can not be come to."""

    def __init__(self, machine: Machine, stop: Stopper):
        self.machine = machine
        self._parts = growing(machine)
        self._found = richest(machine, self._parts.bits, stop)
        self.complete = self._found.complete
        poorest = Poorest(machine, self._parts, self._found, stop)
        self.nobody_stuck = poorest.nobody_stuck(any(machine.rows[row].ending for row in self._found.used))
        self.nothing_loops = poorest.nothing_loops()
        self.never_missed: set[Thing] = poorest.never_missed()

    @property
    def states(self) -> int:
        """How many states were kept."""
        return len(self._found.states)

    @cached_property
    def _kept(self) -> dict[str, list[int]]:
        """The states of each level that no other surpasses."""
        kept: dict[str, list[int]] = {}
        for number, (control, word) in enumerate(self._found.states):
            rest, bits = self._found.split(control, word)
            if bits in self._found.best[rest]:
                kept.setdefault(self.machine.controls[control].place, []).append(number)
        return kept

    def _holding(self, level: str, condition: str) -> Iterator[int]:
        holds = self.machine.formulas.of(condition).holds
        return (number for number in self._kept.get(level, ()) if holds(self._found.states[number][1]))

    @property
    def used(self) -> dict[int, int]:
        """The rows that can be used, each with a state in which it is."""
        return self._found.used

    def routes(self) -> Iterator[tuple[str, Any, Route]]:
        """Everything that can be come to: its kind (also level and ending) and place, and a route there."""
        first: dict[str, int] = {}
        for control, number in self._found.entered.items():
            place = self.machine.controls[control].place
            first[place] = min(number, first.get(place, number))
        for place, number in first.items():
            yield "level", place, self._found.route(number)
        for (kind, key), (number, row) in first_uses(self.machine.rows, self.used).items():
            yield kind, key, self._found.route(number, row.move)

    def holds_somewhere(self, level: str, condition: str) -> bool:
        """Whether a condition written in some level holds in a state of this level. Exact where complete, for
        such conditions only ever ask for what grows."""
        return any(True for _ in self._holding(level, condition))

    def promised(self, promise: Promise) -> Route | bool | None:
        """For promises about what can be come to: a route there, None where there is none; False where this
        cannot be said."""
        if promise.kind not in ("can", "never") or promise.avoiding or not self._parts.asks_for(promise.when):
            return False
        number = next(self._holding(promise.level, promise.when), None)
        if number is not None:
            return self._found.route(number)
        return False if promise.ending else None

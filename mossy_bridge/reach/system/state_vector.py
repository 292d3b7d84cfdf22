"""The layout of state vectors: one integer for all that is tracked of a state, a field of bits for each part.

Compact state vectors are as in explicit-state model checkers (Holzmann, *The SPIN Model Checker*, 2003, chapter 9).

A flag, a level seen or completed and a deed spent take one bit. A count takes as many bits as it has steps, the lowest
ones set (unary, so that *at least 3* asks for one bit), or, where it has many, its number in binary. A choice takes one
bit for each value (one-hot), or its position in binary, where it has many values or that makes the vector short (short
vectors index a table directly). A count that nothing takes from is cut just above the largest number that is asked of
it. No field crosses a border of 64 bits, so that vectors can be kept as columns of machine words.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping
from collections.abc import Set as AbstractSet
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.language import tree as t
from mossy_bridge.language.evaluation import Facts, FactValue
from mossy_bridge.language.parsing import parse_condition, parse_effect
from mossy_bridge.model.flow import Fact, Flow
from mossy_bridge.play.state import DeedPlace, RewindPoint
from mossy_bridge.reach.limits import Limits
from mossy_bridge.reach.system.cone_of_influence import ConeOfInfluence

BITS = 64
"""Bits of a machine word."""

Coding = Literal["bit", "unary", "one-hot", "binary"]


class Field(Struct, frozen=True):
    """The bits of one fact. For counts, ``low`` is the number that no bits stand for, and ``top`` the highest told
    apart."""

    coding: Coding
    offset: int
    width: int
    low: int = 0
    top: int = 0
    values: tuple[str, ...] = ()

    @property
    def mask(self) -> int:
        """All bits of the field."""
        return ((1 << self.width) - 1) << self.offset

    @property
    def codes(self) -> int:
        """How many values there can be."""
        if self.coding == "bit":
            return 2
        return len(self.values) or self.top - self.low + 1

    def bits(self, value: FactValue) -> int:
        """The value as bits in their place."""
        match self.coding:
            case "bit":
                code = int(bool(value))
            case "unary":
                code = (1 << self._steps(value)) - 1
            case "one-hot":
                code = 1 << self.values.index(str(value))
            case "binary":
                code = self.values.index(str(value)) if self.values else self._steps(value)
        return code << self.offset

    def _steps(self, value: FactValue) -> int:
        return min(int(value), self.top) - self.low

    def value(self, vector: int) -> FactValue:
        """The value in a vector; of a count that is cut, the highest told apart."""
        code = (vector & self.mask) >> self.offset
        match self.coding:
            case "bit":
                return bool(code)
            case "unary":
                return self.low + code.bit_count()
            case "one-hot":
                return self.values[code.bit_length() - 1]
            case "binary":
                return self.values[code] if self.values else self.low + code


CopyName = Literal["now", "point", "origin"]
"""The copies of the facts that rewind: as they are, at the rewind point, and at that of the origin."""


class RewindCopy(Struct, frozen=True):
    """The bits of one copy of the facts that rewind and of the deeds that are redone with them."""

    facts: dict[str, Field]
    spent: dict[DeedPlace, int]

    @property
    def mask(self) -> int:
        """All bits of the copy."""
        return sum(field.mask for field in self.facts.values()) + sum(self.spent.values())

    def masks(self) -> list[int]:
        """The bits of each fact and deed, in the same order for each copy."""
        return [*(field.mask for field in self.facts.values()), *self.spent.values()]


class VectorLayout:
    """Where the facts, levels and deeds of one flow lie in its state vectors."""

    def __init__(self, flow: Flow, cone: ConeOfInfluence, limits: Limits):
        self._all_facts, self._limits = flow.facts, limits
        asked, taken = _numbers_asked(cone.conditions), _taken_from(cone)
        tracked = [fact for fact in flow.facts if fact.id in cone.facts]
        most = {f.id: None if f.id in taken else max(asked[f.id], default=0) + 1 for f in tracked}
        self._lay_out(tracked, most, limits.longest_unary)
        short = limits.short_vector - len(cone.seen) - len(cone.done) - len(cone.spent)
        if self._used > short:
            self._lay_out(tracked, most, 1)
            if self._used > short:
                self._lay_out(tracked, most, limits.longest_unary)
        self.seen = {level: self._bit() for level in _in_order(flow, cone.seen)}
        self.done = {level: self._bit() for level in _in_order(flow, cone.done)}
        self.spent: dict[DeedPlace, int] = {place: self._bit() for place in cone.spent}
        self.copies: dict[CopyName, RewindCopy] = self._copies(flow, cone) if cone.points.any else {}
        self.width = max(1, -(-self._used // BITS))
        """How many machine words a vector takes."""
        self.spare = self.width * BITS - self._used
        """Unused bits at the top of the last of them."""

    def __eq__(self, other: object) -> bool:
        """Whether every bit means the same."""
        return isinstance(other, VectorLayout) and vars(self) == vars(other)

    __hash__ = None  # type: ignore[assignment]

    @property
    def possible_vectors(self) -> int:
        """How many state vectors there can be."""
        found: int = 1 << len(self.seen) + len(self.done) + len(self.spent)
        for field in self.facts.values():
            found *= field.codes
        for name, copy in self.copies.items():
            if name != "now":
                found *= 1 << len(copy.spent)
                for field in copy.facts.values():
                    found *= field.codes
        return found

    def _copies(self, flow: Flow, cone: ConeOfInfluence) -> dict[CopyName, RewindCopy]:
        points = cone.points
        now = RewindCopy(
            {fact.id: self.facts[fact.id] for fact in flow.facts if fact.id in points.facts},
            {deed: bit for deed, bit in self.spent.items() if deed in points.redone},
        )
        found: dict[CopyName, RewindCopy] = {"now": now}
        in_play = {level.id for level in flow.levels if level.kind == "play"}
        if points.kept_in:
            found["point"] = self._copy(now)
        if points.going_back and (points.held_in_play or in_play - points.steady):
            found["origin"] = self._copy(now)
        return found

    def _copy(self, now: RewindCopy) -> RewindCopy:
        facts = {name: replace(field, offset=self._take(field.width)) for name, field in now.facts.items()}
        return RewindCopy(facts, {deed: self._bit() for deed in now.spent})

    def remembered(self, name: CopyName, point: RewindPoint) -> int:
        """A rewind point as the bits of a copy."""
        copy, found = self.copies[name], 0
        rewinding = (fact.id for fact in self._all_facts if fact.rewinds)
        for fact, value in zip(rewinding, point.facts, strict=True):
            if fact in copy.facts:
                found |= copy.facts[fact].bits(value)
        for deed in point.spent:
            found |= copy.spent.get(deed, 0)
        return found

    def rewind_point(self, name: CopyName, vector: int) -> RewindPoint:
        """The rewind point that a copy holds; a fact that is not tracked has its first value."""
        copy = self.copies[name]
        rewinding = [fact for fact in self._all_facts if fact.rewinds]
        values = (copy.facts[f.id].value(vector) if f.id in copy.facts else f.first for f in rewinding)
        return RewindPoint(tuple(values), frozenset(deed for deed, bit in copy.spent.items() if vector & bit))

    def _lay_out(self, facts: Iterable[Fact], most: Mapping[str, int | None], longest: int) -> None:
        """Gives each fact its field, choices of up to so many values with a bit for each."""
        self._used = 0
        self.facts = {fact.id: self._field(fact, most[fact.id], longest) for fact in facts}

    def _take(self, width: int) -> int:
        if self._used // BITS != (self._used + width - 1) // BITS:
            self._used += -self._used % BITS
        self._used += width
        return self._used - width

    def _bit(self) -> int:
        return 1 << self._take(1)

    def _field(self, fact: Fact, most: int | None, longest: int) -> Field:
        if fact.kind == "flag":
            return Field("bit", self._take(1), 1)
        if fact.kind == "choice":
            count = len(fact.values)
            if count <= longest:
                return Field("one-hot", self._take(count), count, values=fact.values)
            width = (count - 1).bit_length()
            return Field("binary", self._take(width), width, values=fact.values)
        top = fact.high if most is None else max(min(fact.high, most), fact.low)
        steps = top - fact.low
        coding: Coding = "unary" if steps <= self._limits.longest_unary else "binary"
        width = steps if coding == "unary" else steps.bit_length()
        return Field(coding, self._take(width), width, fact.low, top)

    def vector(
        self, facts: Facts, seen: Iterable[str] = (), done: Iterable[str] = (), spent: Iterable[DeedPlace] = ()
    ) -> int:
        """The vector of a state with these parts."""
        found = 0
        for fact, value in zip(self._all_facts, facts, strict=True):
            if fact.id in self.facts:
                found |= self.facts[fact.id].bits(value)
        for levels, bits in ((seen, self.seen), (done, self.done)):
            for level in levels:
                found |= bits.get(level, 0)
        for deed in spent:
            found |= self.spent.get(deed, 0)
        return found

    def values(self, vector: int) -> Facts:
        """The value of every fact; of one that is not tracked, the first."""
        return tuple(
            self.facts[fact.id].value(vector) if fact.id in self.facts else fact.first for fact in self._all_facts
        )


def _numbers_asked(conditions: Iterable[str]) -> dict[str, set[int]]:
    found: dict[str, set[int]] = defaultdict(set)
    for text in conditions:
        for atom in t.atoms(parse_condition(text)):
            if isinstance(atom, t.Count):
                found[atom.fact].add(atom.number)
    return found


def _in_order(flow: Flow, names: AbstractSet[str]) -> list[str]:
    """Those of some names that levels of the flow have, in its order."""
    return [level.id for level in flow.levels if level.id in names] if names else []


def _taken_from(cone: ConeOfInfluence) -> set[str]:
    effects = (parse_effect(text) for texts in cone.effects.values() for text in texts)
    return {effect.fact for effect in effects if effect.verb == "take"}

"""Counts that only deeds done once add to: how far such a *tally* is, the deeds done say alone.

So a state in which a deed is done has its share of the tally already, and does not get it twice. What is needed of a
tally before such a deed is less by its share, *that deed not counted*: a need names thresholds, and deeds that do not
count towards them because they come later. A need that names less of both is easier to meet. (Who needs three bells
after ringing one needs two others before; whoever has rung that one already must have three.)

A set of sure parts, put together from several states, may tell of a higher tally than of deeds; :meth:`Tallies.told`
makes of it a state that there might be.
"""

from collections.abc import Iterator
from itertools import combinations

from msgspec import Struct

from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.reach.effects import Assign, Effect, Shift
from mossy_bridge.reach.joining import Joined
from mossy_bridge.reach.layout import BITS, Field
from mossy_bridge.reach.machine import Machine


class Share(Struct, frozen=True):
    """What a deed adds to a tally: the bit of its having been done, the steps, and the bit that says in a need that
    the deed does not count; 0 if its having been done does not grow."""

    deed: int
    steps: int
    apart: int


class Tally(Struct, frozen=True):
    """A count that only deeds done once add to, the steps it begins with, and the shares of deeds."""

    field: Field
    begun: int
    shares: tuple[Share, ...]

    @property
    def apart(self) -> int:
        """All bits of deeds that do not count."""
        return sum(share.apart for share in self.shares)

    def bits(self, word: int, apart: int = 0) -> int:
        """Its bits, as the deeds in a word tell, those ``apart`` not counted."""
        return self._steps(self.begun + sum(s.steps for s in self.shares if word & s.deed and not apart & s.apart))

    def _steps(self, steps: int) -> int:
        return ((1 << min(steps, self.field.width)) - 1) << self.field.offset

    def without(self, word: int, wanted: int, apart: int, most: int) -> list[int] | None:
        """The smallest sets of deeds not done in a word without any of which it does not get as far as is wanted; None
        if that is not found out by trying so many (``most``)."""
        left = [share for share in self.shares if share.apart and not share.apart & apart and not share.deed & word]
        had = self.begun + sum(s.steps for s in self.shares if word & s.deed and not apart & s.apart)
        found: list[int] = []
        tried = 0
        for size in range(len(left) + 1):
            if not wanted & ~self._steps(had + sum(sorted(share.steps for share in left)[: len(left) - size])):
                continue  # not even without those that add most
            for chosen in combinations(left, size):
                tried += 1
                if tried > most:
                    return None
                deeds = sum(share.deed for share in chosen)
                others = had + sum(share.steps for share in left if not share.deed & deeds)
                if wanted & ~self._steps(others) and not any(deeds & other == other for other in found):
                    found.append(deeds)
        return found


class Tallies:
    """The tallies among the growing bits of a flow, and what they are needed for."""

    def __init__(self, machine: Machine | Joined, grows: int):
        self._layout, self._rows, self._grows = machine.layout, machine.rows, grows
        self._most = machine.limits.deed_sets
        flow, layout = machine.rules.flow, machine.layout
        fields = {name: field for name, field in layout.facts.items() if field.mask & grows and field.coding == "climb"}
        shares: dict[str, dict[int, int]] = {}
        for level in flow.levels:
            for deed in level.deeds if fields else ():
                spent = layout.spent.get((level.id, deed.id), 0) if deed.repeats == "run" else 0
                for effect in map(parse_effect, deed.effects) if spent else ():
                    if effect.verb == "add" and effect.fact in fields:
                        steps = shares.setdefault(effect.fact, {})
                        steps[spent] = steps.get(spent, 0) + effect.number
        free = layout.columns * BITS
        self._all: list[Tally] = []
        for fact in flow.facts:
            found = []
            for spent, adds in shares.get(fact.id, {}).items():
                found.append(Share(spent, adds, 1 << free if spent & grows else 0))
                free += 1
            if found:
                field = fields[fact.id]
                self._all.append(Tally(field, field.bits(fact.first).bit_count(), tuple(found)))
        self.apart = sum(tally.apart for tally in self._all)
        """All bits that say in a need that a deed does not count; they lie above all others."""

    def told(self, word: int) -> int:
        """The word with every tally as the deeds in it tell."""
        word &= ~self.apart
        for tally in self._all:
            word = word & ~tally.field.mask | tally.bits(word)
        return word

    def meets(self, word: int, need: int) -> bool:
        """Whether a word meets a need."""
        if need & self.apart:
            for tally in self._all:
                if need & tally.apart:
                    word = word & ~tally.field.mask | tally.bits(word, need)
        return not need & ~self.apart & ~word

    def lacking(self, word: int, need: int) -> list[int] | None:
        """The smallest sets of growing bits without any of which whoever has the bits of a word does not meet a need;
        none if that is met anyway; None where there are too many to tell."""
        if self.meets(word, need):
            return []
        found = []
        for tally in self._all if need & self.apart else ():
            wanted = need & tally.field.mask if need & tally.apart else 0
            need &= ~wanted
            if wanted & ~tally.bits(word, need):
                more = tally.without(word, wanted, need, self._most)
                if more is None:
                    return None
                found += more
        return found + list(single(need & ~self.apart & ~word))

    def before(self, row: int, need: int) -> int | None:
        """What is needed before a move for something to be met after it; None where it cannot be."""
        does = self._rows[row].does
        if not self._all:
            return wanted_before(does, need)
        deed = self._deed(row)
        kept = need & self.apart
        need &= ~self.apart
        for tally in self._all if deed & self._grows else ():
            for share in tally.shares:
                if share.deed == deed:
                    wanted = need & tally.field.mask
                    need &= ~wanted
                    if not kept & share.apart:
                        wanted = wanted >> share.steps & tally.field.mask
                        kept |= share.apart
                    kept |= wanted
        left = wanted_before(does, need)
        return None if left is None else self._possible(left | kept)

    def _deed(self, row: int) -> int:
        move = self._rows[row].move
        return self._layout.spent.get((move.level, move.thing), 0) if move.kind == "deed" else 0

    def _possible(self, need: int) -> int | None:
        """The need, without deeds not counted for tallies of which nothing is wanted; None if all others together do
        not meet it."""
        for tally in self._all if need & self.apart else ():
            if not need & tally.field.mask:
                need &= ~tally.apart
            elif need & tally.apart and need & tally.field.mask & ~tally.bits(-1, need):
                return None
        return need


def single(bits: int) -> Iterator[int]:
    """Each of the bits by itself, the lowest first."""
    while bits:
        lowest = bits & -bits
        yield lowest
        bits ^= lowest


def wanted_before(effect: Effect, bits: int) -> int | None:
    """The bits that must be had before an effect for some to be had after it; None where it takes one. For a deed
    that is done once and adds to a count see :meth:`Tallies.before`."""
    for part in reversed(effect):
        if isinstance(part, Assign):
            bits &= ~part.set
            if bits & part.clear:
                return None
        elif isinstance(part, Shift):
            mask = part.field.mask
            bits = bits & ~mask | (bits & mask) >> max(part.by, 0) & mask
    return bits

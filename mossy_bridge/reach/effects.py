"""What moves do to words: bits cleared and set, and counts that climb and fall."""

from collections.abc import Iterable
from functools import reduce

import numpy as np
from msgspec import Struct

from mossy_bridge.language import tree as t
from mossy_bridge.reach.arrays import Words
from mossy_bridge.reach.formulas import columns_of
from mossy_bridge.reach.layout import BITS, Field


class Assign(Struct, frozen=True):
    """Clears some bits, then sets some."""

    clear: int = 0
    set: int = 0

    def then(self, other: "Assign") -> "Assign":
        """Both, one after the other."""
        return Assign(self.clear | other.clear, (self.set & ~other.clear) | other.set)

    def done(self, word: int) -> int:
        """The word after it."""
        return (word & ~self.clear) | self.set

    def apply(self, words: Words) -> None:
        """Does it to every row, in place."""
        clears, sets = columns_of(self.clear, words.shape[1]), columns_of(self.set, words.shape[1])
        for column, (clear, more) in enumerate(zip(clears, sets, strict=True)):
            if clear:
                words[:, column] &= ~np.uint64(clear)
            if more:
                words[:, column] |= np.uint64(more)


class Shift(Struct, frozen=True):
    """Adds to, or takes from, a count; it stops at its ends."""

    field: Field
    by: int

    def done(self, word: int) -> int:
        """The word after it."""
        field = self.field
        code = (word & field.mask) >> field.offset
        full = (1 << field.width) - 1
        if field.coding == "binary":
            code = min(max(code + self.by, 0), field.top - field.low)
        elif self.by > 0:
            code = (code << self.by | ((1 << self.by) - 1)) & full
        else:
            code >>= -self.by
        return word & ~field.mask | code << field.offset

    def apply(self, words: Words) -> None:
        """Does it to every row, in place."""
        field = self.field
        column = words[:, field.offset // BITS]
        offset, full = np.uint64(field.offset % BITS), np.uint64((1 << field.width) - 1)
        code = (column >> offset) & full
        if field.coding == "binary":
            code = np.clip(code.astype(np.int64) + self.by, 0, field.top - field.low).astype(np.uint64)
        elif self.by > 0:
            by = min(self.by, field.width)
            code = (code << np.uint64(by) | np.uint64((1 << by) - 1)) & full
        else:
            code = code >> np.uint64(min(-self.by, field.width))
        column &= ~(full << offset)
        column |= code << offset


class Bound(Struct, frozen=True):
    """Raises a count in binary to a number at least, or lowers it to one at most."""

    field: Field
    steps: int
    raising: bool

    def done(self, word: int) -> int:
        """The word after it."""
        field = self.field
        code = (word & field.mask) >> field.offset
        code = max(code, self.steps) if self.raising else min(code, self.steps)
        return word & ~field.mask | code << field.offset

    def apply(self, words: Words) -> None:
        """Does it to every row, in place."""
        column = words[:, self.field.offset // BITS]
        offset, full = np.uint64(self.field.offset % BITS), np.uint64((1 << self.field.width) - 1)
        code = (column >> offset) & full
        code = (np.maximum if self.raising else np.minimum)(code, np.uint64(self.steps))
        column &= ~(full << offset)
        column |= code << offset


Part = Assign | Shift | Bound
Effect = tuple[Part, ...]
"""Parts in order; no two assignments follow each other."""


def joined(parts: Iterable[Part]) -> Effect:
    """The parts in order, with assignments that follow each other made one."""
    found: list[Part] = []
    for part in parts:
        last = found[-1] if found else None
        if isinstance(part, Assign) and isinstance(last, Assign):
            found[-1] = last.then(part)
        elif part != Assign():
            found.append(part)
    return tuple(found)


def done(effect: Effect, word: int) -> int:
    """The word after an effect."""
    return reduce(lambda now, part: part.done(now), effect, word)


def part_of(effect: t.Effect, field: Field, first: int) -> Part:
    """One effect whose names are known, on its field. ``first`` are the bits that its fact starts with."""
    number = effect.number
    lowest, highest = field.low, field.top
    steps = min(max(number, lowest), highest) - lowest
    match effect.verb:
        case "gain":
            return Assign(0, field.mask)
        case "lose":
            return Assign(field.mask, 0)
        case "turn":
            return Assign(field.mask, field.bits(effect.value))
        case "clear":
            return Assign(field.mask, first)
        case "set":
            return Assign(field.mask, field.bits(lowest + steps))
        case "add" | "take":
            by = min(number, highest - lowest)
            return Shift(field, by if effect.verb == "add" else -by)
        case "raise" | "lower":
            raising = effect.verb == "raise"
            if field.coding == "binary":
                return Bound(field, steps, raising)
            reached = field.bits(lowest + steps)
            return Assign(0, reached) if raising else Assign(field.mask & ~reached, 0)

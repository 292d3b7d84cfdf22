"""Updates: what transitions do to state vectors, forwards, and what must be set before for bits to be set after.

The latter is Dijkstra's weakest precondition (1975), for conjunctions of set bits.
"""

from collections.abc import Iterable, Iterator
from functools import reduce

import numpy as np
from msgspec import Struct

from mossy_bridge.language import tree as t
from mossy_bridge.reach.arrays import Vectors
from mossy_bridge.reach.system.guards import machine_words
from mossy_bridge.reach.system.state_vector import BITS, Field


class Assign(Struct, frozen=True):
    """Clears some bits, then sets some."""

    clear: int = 0
    set: int = 0

    def then(self, other: "Assign") -> "Assign":
        """Both, one after the other."""
        return Assign(self.clear | other.clear, (self.set & ~other.clear) | other.set)

    def applied(self, vector: int) -> int:
        """The vector after it."""
        return (vector & ~self.clear) | self.set

    def apply(self, vectors: Vectors) -> None:
        """Applies it to every row, in place."""
        clears, sets = machine_words(self.clear, vectors.shape[1]), machine_words(self.set, vectors.shape[1])
        for column, (clear, more) in enumerate(zip(clears, sets, strict=True)):
            if clear:
                vectors[:, column] &= ~np.uint64(clear)
            if more:
                vectors[:, column] |= np.uint64(more)


class Shift(Struct, frozen=True):
    """Adds to a count, or takes from it, within its ends."""

    field: Field
    by: int

    def applied(self, vector: int) -> int:
        """The vector after it."""
        field = self.field
        code = (vector & field.mask) >> field.offset
        full = (1 << field.width) - 1
        if field.coding == "binary":
            code = min(max(code + self.by, 0), field.top - field.low)
        elif self.by > 0:
            code = (code << self.by | ((1 << self.by) - 1)) & full
        else:
            code >>= -self.by
        return vector & ~field.mask | code << field.offset

    def apply(self, vectors: Vectors) -> None:
        """Applies it to every row, in place."""
        field = self.field
        column = vectors[:, field.offset // BITS]
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

    def applied(self, vector: int) -> int:
        """The vector after it."""
        field = self.field
        code = (vector & field.mask) >> field.offset
        code = max(code, self.steps) if self.raising else min(code, self.steps)
        return vector & ~field.mask | code << field.offset

    def apply(self, vectors: Vectors) -> None:
        """Applies it to every row, in place."""
        column = vectors[:, self.field.offset // BITS]
        offset, full = np.uint64(self.field.offset % BITS), np.uint64((1 << self.field.width) - 1)
        code = (column >> offset) & full
        code = (np.maximum if self.raising else np.minimum)(code, np.uint64(self.steps))
        column &= ~(full << offset)
        column |= code << offset


class Copy(Struct, frozen=True):
    """Copies bits to other places, all at once: what is copied is what was there before. ``moves`` are masks of bits,
    each with how many places up they go; ``targets`` all the bits that are overwritten."""

    moves: tuple[tuple[int, int], ...]
    targets: int

    def applied(self, vector: int) -> int:
        """The vector after it."""
        found = vector & ~self.targets
        for mask, up in self.moves:
            found |= shifted(vector & mask, up)
        return found

    def apply(self, vectors: Vectors) -> None:
        """Applies it to every row, in place."""
        before, count = vectors.copy(), vectors.shape[1]
        Assign(self.targets, 0).apply(vectors)
        for mask, up in self.moves:
            for column, bits in enumerate(machine_words(mask, count)):
                above, offset = divmod(column * BITS + up, BITS)
                low, high = bits & ((1 << (BITS - offset)) - 1), bits >> (BITS - offset) << (BITS - offset)
                if low:
                    vectors[:, above] |= (before[:, column] & np.uint64(low)) << np.uint64(offset)
                if high:
                    vectors[:, above + 1] |= (before[:, column] & np.uint64(high)) >> np.uint64(BITS - offset)

    def copied_from(self, bits: int) -> int:
        """The bits that some bits are copied from, together with those of them that nothing is copied to."""
        found = bits & ~self.targets
        for mask, up in self.moves:
            found |= shifted(bits, -up) & mask
        return found


def shifted(bits: int, up: int) -> int:
    """Bits moved up by so many places, or down."""
    return bits << up if up >= 0 else bits >> -up


UpdatePart = Assign | Shift | Bound | Copy
Update = tuple[UpdatePart, ...]
"""Parts in order; no two assignments are adjacent."""


_NOTHING: tuple[UpdatePart, ...] = (Assign(), Copy((), 0))


def sequence(parts: Iterable[UpdatePart]) -> Update:
    """The parts in order, adjacent assignments merged."""
    found: list[UpdatePart] = []
    for part in parts:
        last = found[-1] if found else None
        if isinstance(part, Assign) and isinstance(last, Assign):
            found[-1] = last.then(part)
        elif part not in _NOTHING:
            found.append(part)
    return tuple(found)


def applied(update: Update, vector: int) -> int:
    """The vector after an update."""
    return reduce(lambda now, part: part.applied(now), update, vector)


def weakest_precondition(update: Update, bits: int) -> int | None:
    """The bits that must be set before an update for some to be set after it; None where it clears one of them. For a
    deed that is done once and adds to a count see :mod:`mossy_bridge.reach.monotone.pseudo_boolean`."""
    for part in reversed(update):
        if isinstance(part, Assign):
            bits &= ~part.set
            if bits & part.clear:
                return None
        elif isinstance(part, Shift):
            mask = part.field.mask
            bits = bits & ~mask | (bits & mask) >> max(part.by, 0) & mask
        elif isinstance(part, Copy):
            bits = part.copied_from(bits)
    return bits


def single_bits(bits: int) -> Iterator[int]:
    """Each of the bits by itself, the lowest first."""
    while bits:
        lowest = bits & -bits
        yield lowest
        bits ^= lowest


def update_part(update: t.Effect, field: Field, first: int) -> UpdatePart:
    """One effect whose names are known, on its field. ``first`` are the bits that its fact starts with."""
    number = update.number
    lowest, highest = field.low, field.top
    steps = min(max(number, lowest), highest) - lowest
    match update.verb:
        case "gain":
            return Assign(0, field.mask)
        case "lose":
            return Assign(field.mask, 0)
        case "turn":
            return Assign(field.mask, field.bits(update.value))
        case "clear":
            return Assign(field.mask, first)
        case "set":
            return Assign(field.mask, field.bits(lowest + steps))
        case "add" | "take":
            by = min(number, highest - lowest)
            return Shift(field, by if update.verb == "add" else -by)
        case "raise" | "lower":
            raising = update.verb == "raise"
            if field.coding == "binary":
                return Bound(field, steps, raising)
            reached = field.bits(lowest + steps)
            return Assign(0, reached) if raising else Assign(field.mask & ~reached, 0)

"""Conditions as questions about words, asked of one word or of a whole column of them.

A condition becomes a list of *cubes*: each a mask of bits and the values they must have; it holds where one of them
fits. Where that would take too many, it is kept as a combination of others.
"""

from collections.abc import Iterable, Mapping, Sequence
from functools import lru_cache
from itertools import combinations
from math import comb
from typing import Literal, Protocol

import numpy as np
from msgspec import Struct

from mossy_bridge.language import tree as t
from mossy_bridge.language.evaluation import Vocabulary, unknown_in_condition
from mossy_bridge.language.parsing import parse_condition
from mossy_bridge.model.flow import Level
from mossy_bridge.play.cursor import first_tile, tiles_in_reach
from mossy_bridge.reach.arrays import Bools, Words
from mossy_bridge.reach.layout import BITS, Field, Layout
from mossy_bridge.reach.limits import Limits

Cube = tuple[int, int]
"""A mask, and the values of its bits."""


class Formula(Protocol):
    """A question about a word."""

    def holds(self, word: int) -> bool:
        """The answer for one word."""
        ...

    def fits(self, words: Words) -> Bools:
        """The answer for each of many words."""
        ...

    def sure(self) -> int:
        """Bits that are set in every word for which the answer is yes; perhaps not all of them."""
        ...


class Cubes(Struct, frozen=True):
    """True where one of the cubes fits."""

    cubes: tuple[Cube, ...]

    def holds(self, word: int) -> bool:
        return any(word & mask == value for mask, value in self.cubes)

    def fits(self, words: Words) -> Bools:
        found = np.zeros(len(words), dtype=np.bool_)
        for mask, value in self.cubes:
            found |= cube_fits(words, mask, value)
        return found

    def sure(self) -> int:
        bits = self.cubes[0][1] if self.cubes else 0
        for _, value in self.cubes:
            bits &= value
        return bits


ALWAYS, NEVER = Cubes(((0, 0),)), Cubes(())


class Combined(Struct, frozen=True):
    """True where all, none, or the right number of the parts are true."""

    how: Literal["all", "none", "at least", "at most", "exactly"]
    number: int
    parts: tuple[Formula, ...]

    def holds(self, word: int) -> bool:
        if self.how == "all":
            return all(part.holds(word) for part in self.parts)
        count = sum(part.holds(word) for part in self.parts)
        return count == 0 if self.how == "none" else t.within_bound(self.how, count, self.number)

    def fits(self, words: Words) -> Bools:
        count = np.zeros(len(words), dtype=np.int64)
        for part in self.parts:
            count += part.fits(words)
        wanted = {"all": len(self.parts), "none": 0}.get(self.how, self.number)
        if self.how == "at least":
            return count >= wanted
        return count <= wanted if self.how == "at most" else count == wanted

    def sure(self) -> int:
        bits = 0
        for part in self.parts if self.how == "all" else ():
            bits |= part.sure()
        return bits


class InReach:
    """Whether the cursor of a board gets to a tile, over open ones."""

    def __init__(self, board: Level, tile: str, opens: dict[str, Formula]):
        self._board, self._tile, self._opens = board, tile, opens

    def holds(self, word: int) -> bool:
        unlocked = frozenset(tile for tile, formula in self._opens.items() if formula.holds(word))
        return self._tile in tiles_in_reach(self._board, unlocked)

    def fits(self, words: Words) -> Bools:
        tiles = list(self._opens)
        opened = np.column_stack([self._opens[tile].fits(words) for tile in tiles])
        patterns, which = np.unique(opened, axis=0, return_inverse=True)
        reached = [
            self._tile in tiles_in_reach(self._board, frozenset(np.array(tiles)[pattern])) for pattern in patterns
        ]
        return np.array(reached, dtype=np.bool_)[which.reshape(-1)]

    def sure(self) -> int:
        return 0


def in_reach(
    board: Level, tile: str, opens: dict[str, Formula], neighbours: Mapping[str, Sequence[str]], limits: Limits
) -> Formula:
    """Whether the cursor of a board gets to a tile that is open, over open ones: by one of few ways, where there are
    few."""
    ways: list[Formula] = []
    first = first_tile(board)
    waiting: list[tuple[str, ...]] = [(first,)]
    while waiting:
        way = waiting.pop()
        if way[-1] == tile:
            ways.append(every((opens[name] for name in way[1:]), limits))
            continue
        waiting += [(*way, name) for name in neighbours[way[-1]] if name in opens and name not in way]
        if len(ways) + len(waiting) > limits.board_paths:
            return InReach(board, tile, opens)
    return either(list(dict.fromkeys(ways)), limits)


def columns_of(word: int, count: int) -> list[int]:
    """The machine words of a word."""
    return [(word >> (BITS * column)) & ((1 << BITS) - 1) for column in range(count)]


def as_columns(words: Iterable[int], count: int) -> Words:
    """Words as rows of machine words."""
    return np.array([columns_of(word, count) for word in words], dtype=np.uint64).reshape(-1, count)


def as_word(columns: Iterable[np.integer]) -> int:
    """A row of machine words as a word."""
    return sum(int(part) << (BITS * place) for place, part in enumerate(columns))


def cube_fits(words: Words, mask: int, value: int) -> Bools:
    """Where a cube fits."""
    found = None
    for column, (bits, wanted) in enumerate(
        zip(columns_of(mask, words.shape[1]), columns_of(value, words.shape[1]), strict=True)
    ):
        if bits:
            here = (words[:, column] & np.uint64(bits)) == np.uint64(wanted)
            found = here if found is None else found & here
    return np.ones(len(words), dtype=np.bool_) if found is None else found


def every(formulas: Iterable[Formula], limits: Limits) -> Formula:
    """True where all are."""
    parts = [formula for formula in formulas if formula is not ALWAYS]
    if not parts:
        return ALWAYS
    if len(parts) == 1:
        return parts[0]
    whole: list[Cube] = [(0, 0)]
    for part in parts:
        if not isinstance(part, Cubes) or len(whole) * len(part.cubes) > limits.cubes:
            return Combined("all", 0, tuple(parts))
        whole = _product(whole, part.cubes)
    return Cubes(tuple(whole)) if whole else NEVER


def either(parts: Sequence[Formula], limits: Limits) -> Formula:
    """True where one is."""
    cubes = [cube for part in parts if isinstance(part, Cubes) for cube in part.cubes]
    if all(isinstance(part, Cubes) for part in parts) and len(cubes) <= limits.cubes:
        return Cubes(tuple(dict.fromkeys(cubes))) if cubes else NEVER
    return Combined("at least", 1, tuple(parts))


def _product(one: Iterable[Cube], other: Iterable[Cube]) -> list[Cube]:
    found: dict[Cube, None] = {}
    others = list(other)
    for mask, value in one:
        for more, wanted in others:
            if not (value ^ wanted) & mask & more:
                found[mask | more, value | wanted] = None
    return list(found)


class Formulas:
    """Makes formulas from the conditions of one flow."""

    def __init__(self, layout: Layout, words: Vocabulary, limits: Limits):
        self._layout, self._words, self._limits = layout, words, limits
        self._of = lru_cache(maxsize=None)(self._made)

    def of(self, condition: str) -> Formula:
        """The condition as a formula. One that names something unknown never holds, as a whole. Raises KeyError
        where it asks for something that is not tracked."""
        return ALWAYS if condition == "always" else self._of(condition)

    def _made(self, condition: str) -> Formula:
        tree = parse_condition(condition)
        return NEVER if unknown_in_condition(tree, self._words) else self._formula(tree, True)

    def _formula(self, tree: t.Condition, wanted: bool) -> Formula:
        layout = self._layout
        match tree:
            case t.Constant(constant):
                return ALWAYS if constant == wanted else NEVER
            case t.Has(fact, held):
                return _bit(layout.facts[fact].mask, held == wanted)
            case t.Visited(what, level):
                return _bit((layout.seen if what == "seen" else layout.done)[level], wanted)
            case t.Is(fact, value, held):
                return _is(layout.facts[fact], layout.facts[fact].bits(value), held == wanted)
            case t.Count(bound, number, fact):
                return _count(layout.facts[fact], bound, number, wanted, self._limits)
            case t.Not(part):
                return self._formula(part, not wanted)
            case t.All(parts) | t.AnyOf(parts):
                inner = [self._formula(part, wanted) for part in parts]
                whole = every if isinstance(tree, t.All) == wanted else either
                return whole(inner, self._limits)
            case t.SomeOf(bound, number, parts):
                return self._some(bound, number, parts, wanted)

    def _some(self, bound: t.Bound, number: int, parts: tuple[t.Condition, ...], wanted: bool) -> Formula:
        if not wanted:
            if bound == "exactly":
                return Combined("none", 0, (self._some(bound, number, parts, True),))
            flipped: t.Bound = "at most" if bound == "at least" else "at least"
            return self._some(flipped, number - 1 if bound == "at least" else number + 1, parts, True)
        if bound == "at most":  # at least all but so many are not so
            return self._of_any(len(parts) - number, [self._formula(part, False) for part in parts])
        if bound == "at least":
            return self._of_any(number, [self._formula(part, True) for part in parts])
        return Combined(bound, number, tuple(self._formula(part, True) for part in parts))

    def _of_any(self, number: int, parts: list[Formula]) -> Formula:
        if number <= 0 or number > len(parts):
            return ALWAYS if number <= 0 else NEVER
        if comb(len(parts), number) > self._limits.cubes:
            return Combined("at least", number, tuple(parts))
        limits = self._limits
        return either([every(chosen, limits) for chosen in combinations(parts, number)], limits)


def _bit(bit: int, wanted: bool) -> Formula:
    return Cubes(((bit, bit if wanted else 0),))


def _is(field: Field, bits: int, wanted: bool) -> Formula:
    if field.coding == "one of":
        return _bit(bits, wanted)
    if wanted:
        return Cubes(((field.mask, bits),))
    single = [1 << (field.offset + place) for place in range(field.width)]
    return Cubes(tuple((bit, ~bits & bit) for bit in single))


def _count(field: Field, bound: t.Bound, number: int, wanted: bool, limits: Limits) -> Formula:
    least, most = field.low, field.top
    if bound == "at least":
        bounds = [(number, most)] if wanted else [(least, number - 1)]
    elif bound == "at most":
        bounds = [(least, number)] if wanted else [(number + 1, most)]
    else:
        bounds = [(number, number)] if wanted else [(least, number - 1), (number + 1, most)]
    return either([_between(field, max(low, least), min(high, most), limits) for low, high in bounds], limits)


def _between(field: Field, low: int, high: int, limits: Limits) -> Formula:
    """Whether a count is from ``low`` to ``high``, both within what the field can say."""
    if low > high:
        return NEVER
    return every([_at_least(field, low), _not_above(field, high)], limits)


def _at_least(field: Field, number: int) -> Formula:
    steps = number - field.low
    if steps <= 0:
        return ALWAYS
    if field.coding == "climb":
        return _bit(1 << (field.offset + steps - 1), True)
    cubes = [(field.mask & ~((1 << field.offset) - 1), steps << field.offset)]
    for place in range(field.width):  # greater: equal above some bit that is 0 in the number and 1 here
        if not steps >> place & 1:
            cubes.append(_prefix(field, steps, place, 1))
    return Cubes(tuple(cubes))


def _not_above(field: Field, number: int) -> Formula:
    steps = number - field.low
    if number >= field.top:
        return ALWAYS
    if field.coding == "climb":
        return _bit(1 << (field.offset + steps), False)
    cubes = [(field.mask, steps << field.offset)]
    for place in range(field.width):
        if steps >> place & 1:
            cubes.append(_prefix(field, steps, place, 0))
    return Cubes(tuple(cubes))


def _prefix(field: Field, steps: int, place: int, bit: int) -> Cube:
    above = (steps >> (place + 1)) << (place + 1)
    mask = ((1 << field.width) - 1) & ~((1 << place) - 1)
    return mask << field.offset, (above | bit << place) << field.offset

"""Guards: conditions compiled to predicates on state vectors, evaluated on one or on a whole array of them.

A condition becomes a disjunction of *cubes* (conjunctions of literals): each a mask of bits and the values they must
have. Where that would take too many cubes, it is kept as a combination of other guards.
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
from mossy_bridge.play.board_cursor import first_tile, tiles_in_reach
from mossy_bridge.reach.arrays import Bools, Vectors
from mossy_bridge.reach.limits import Limits
from mossy_bridge.reach.system.state_vector import BITS, Field, VectorLayout

Cube = tuple[int, int]
"""A mask, and the values of its bits."""


class Guard(Protocol):
    """A predicate on state vectors."""

    def holds(self, vector: int) -> bool:
        """Whether it holds for one vector."""
        ...

    def fits(self, vectors: Vectors) -> Bools:
        """Whether it holds for each vector; of shape (n,) for ``vectors`` of shape (n, machine words)."""
        ...

    def required(self) -> int:
        """Bits that are set in every vector for which it holds; perhaps not all of them."""
        ...


class Cubes(Struct, frozen=True):
    """Holds where one of the cubes does."""

    cubes: tuple[Cube, ...]

    def holds(self, vector: int) -> bool:
        return any(vector & mask == value for mask, value in self.cubes)

    def fits(self, vectors: Vectors) -> Bools:
        found = np.zeros(len(vectors), dtype=np.bool_)
        for mask, value in self.cubes:
            found |= cube_fits(vectors, mask, value)
        return found

    def required(self) -> int:
        bits = self.cubes[0][1] if self.cubes else 0
        for _, value in self.cubes:
            bits &= value
        return bits


ALWAYS, NEVER = Cubes(((0, 0),)), Cubes(())


class Combined(Struct, frozen=True):
    """Holds where all, none, or the right number of the parts do."""

    how: Literal["all", "none", "at least", "at most", "exactly"]
    number: int
    parts: tuple[Guard, ...]

    def holds(self, vector: int) -> bool:
        if self.how == "all":
            return all(part.holds(vector) for part in self.parts)
        count = sum(part.holds(vector) for part in self.parts)
        return count == 0 if self.how == "none" else t.within_bound(self.how, count, self.number)

    def fits(self, vectors: Vectors) -> Bools:
        count = np.zeros(len(vectors), dtype=np.int64)
        for part in self.parts:
            count += part.fits(vectors)
        wanted = {"all": len(self.parts), "none": 0}.get(self.how, self.number)
        if self.how == "at least":
            return count >= wanted
        return count <= wanted if self.how == "at most" else count == wanted

    def required(self) -> int:
        bits = 0
        for part in self.parts if self.how == "all" else ():
            bits |= part.required()
        return bits


class TileInReach:
    """Holds where the cursor of a board can reach a tile over unlocked ones."""

    def __init__(self, board: Level, tile: str, opens: dict[str, Guard]):
        self._board, self._tile, self._opens = board, tile, opens

    def holds(self, vector: int) -> bool:
        unlocked = frozenset(tile for tile, guard in self._opens.items() if guard.holds(vector))
        return self._tile in tiles_in_reach(self._board, unlocked)

    def fits(self, vectors: Vectors) -> Bools:
        tiles = list(self._opens)
        opened = np.column_stack([self._opens[tile].fits(vectors) for tile in tiles])
        patterns, which = np.unique(opened, axis=0, return_inverse=True)
        reached = [
            self._tile in tiles_in_reach(self._board, frozenset(np.array(tiles)[pattern])) for pattern in patterns
        ]
        return np.array(reached, dtype=np.bool_)[which.reshape(-1)]

    def required(self) -> int:
        return 0


def tile_in_reach(
    board: Level, tile: str, opens: dict[str, Guard], neighbours: Mapping[str, Sequence[str]], limits: Limits
) -> Guard:
    """A guard for the cursor of a board reaching an unlocked tile over unlocked ones: a disjunction over the paths
    there, where these are few."""
    paths: list[Guard] = []
    first = first_tile(board)
    waiting: list[tuple[str, ...]] = [(first,)]
    while waiting:
        path = waiting.pop()
        if path[-1] == tile:
            paths.append(conjunction((opens[name] for name in path[1:]), limits))
            continue
        waiting += [(*path, name) for name in neighbours[path[-1]] if name in opens and name not in path]
        if len(paths) + len(waiting) > limits.board_paths:
            return TileInReach(board, tile, opens)
    return disjunction(list(dict.fromkeys(paths)), limits)


def machine_words(vector: int, count: int) -> list[int]:
    """The 64-bit machine words of a vector, the lowest first."""
    return [(vector >> (BITS * column)) & ((1 << BITS) - 1) for column in range(count)]


def packed_vectors(vectors: Iterable[int], count: int) -> Vectors:
    """Vectors as rows of machine words, of shape (n, count)."""
    return np.array([machine_words(vector, count) for vector in vectors], dtype=np.uint64).reshape(-1, count)


def unpacked(columns: Iterable[np.integer]) -> int:
    """The vector of a row of machine words."""
    return sum(int(part) << (BITS * place) for place, part in enumerate(columns))


def cube_fits(vectors: Vectors, mask: int, value: int) -> Bools:
    """Whether a cube holds for each vector."""
    found = None
    for column, (bits, wanted) in enumerate(
        zip(machine_words(mask, vectors.shape[1]), machine_words(value, vectors.shape[1]), strict=True)
    ):
        if bits:
            here = (vectors[:, column] & np.uint64(bits)) == np.uint64(wanted)
            found = here if found is None else found & here
    return np.ones(len(vectors), dtype=np.bool_) if found is None else found


def conjunction(guards: Iterable[Guard], limits: Limits) -> Guard:
    """Holds where all do."""
    parts = [guard for guard in guards if guard is not ALWAYS]
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


def disjunction(parts: Sequence[Guard], limits: Limits) -> Guard:
    """Holds where one does."""
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


class Guards:
    """Compiles the conditions of one flow to guards, each once."""

    def __init__(self, layout: VectorLayout, vocabulary: Vocabulary, limits: Limits):
        self._layout, self._vocabulary, self._limits = layout, vocabulary, limits
        self._of = lru_cache(maxsize=None)(self._made)
        self.of_all = lru_cache(maxsize=None)(self._made_of_all)
        """The guard of several conditions, all of which must hold."""

    def of(self, condition: str) -> Guard:
        """The guard of a condition. One that names something unknown never holds, as a whole. Raises KeyError where it
        asks for something that is not tracked."""
        return ALWAYS if condition == "always" else self._of(condition)

    def _made_of_all(self, conditions: tuple[str, ...]) -> Guard:
        return conjunction(map(self.of, conditions), self._limits)

    def _made(self, condition: str) -> Guard:
        tree = parse_condition(condition)
        return NEVER if unknown_in_condition(tree, self._vocabulary) else self._compiled(tree, True)

    def _compiled(self, tree: t.Condition, wanted: bool) -> Guard:
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
                return self._compiled(part, not wanted)
            case t.All(parts) | t.AnyOf(parts):
                inner = [self._compiled(part, wanted) for part in parts]
                whole = conjunction if isinstance(tree, t.All) == wanted else disjunction
                return whole(inner, self._limits)
            case t.SomeOf(bound, number, parts):
                return self._some(bound, number, parts, wanted)

    def _some(self, bound: t.Bound, number: int, parts: tuple[t.Condition, ...], wanted: bool) -> Guard:
        if not wanted:
            if bound == "exactly":
                return Combined("none", 0, (self._some(bound, number, parts, True),))
            flipped: t.Bound = "at most" if bound == "at least" else "at least"
            return self._some(flipped, number - 1 if bound == "at least" else number + 1, parts, True)
        if bound == "at most":  # at least all but so many are not so
            return self._of_any(len(parts) - number, [self._compiled(part, False) for part in parts])
        if bound == "at least":
            return self._of_any(number, [self._compiled(part, True) for part in parts])
        return Combined(bound, number, tuple(self._compiled(part, True) for part in parts))

    def _of_any(self, number: int, parts: list[Guard]) -> Guard:
        if number <= 0 or number > len(parts):
            return ALWAYS if number <= 0 else NEVER
        if comb(len(parts), number) > self._limits.cubes:
            return Combined("at least", number, tuple(parts))
        limits = self._limits
        return disjunction([conjunction(chosen, limits) for chosen in combinations(parts, number)], limits)


def _bit(bit: int, wanted: bool) -> Guard:
    return Cubes(((bit, bit if wanted else 0),))


def _is(field: Field, bits: int, wanted: bool) -> Guard:
    if field.coding == "one-hot":
        return _bit(bits, wanted)
    if wanted:
        return Cubes(((field.mask, bits),))
    single = [1 << (field.offset + place) for place in range(field.width)]
    return Cubes(tuple((bit, ~bits & bit) for bit in single))


def _count(field: Field, bound: t.Bound, number: int, wanted: bool, limits: Limits) -> Guard:
    least, most = field.low, field.top
    if bound == "at least":
        bounds = [(number, most)] if wanted else [(least, number - 1)]
    elif bound == "at most":
        bounds = [(least, number)] if wanted else [(number + 1, most)]
    else:
        bounds = [(number, number)] if wanted else [(least, number - 1), (number + 1, most)]
    return disjunction([_between(field, max(low, least), min(high, most), limits) for low, high in bounds], limits)


def _between(field: Field, low: int, high: int, limits: Limits) -> Guard:
    """Whether a count is from ``low`` to ``high``, both within what the field can say."""
    if low > high:
        return NEVER
    return conjunction([_at_least(field, low), _not_above(field, high)], limits)


def _at_least(field: Field, number: int) -> Guard:
    steps = number - field.low
    if steps <= 0:
        return ALWAYS
    if field.coding == "unary":
        return _bit(1 << (field.offset + steps - 1), True)
    cubes = [(field.mask & ~((1 << field.offset) - 1), steps << field.offset)]
    for place in range(field.width):  # greater: equal above some bit that is 0 in the number and 1 here
        if not steps >> place & 1:
            cubes.append(_prefix(field, steps, place, 1))
    return Cubes(tuple(cubes))


def _not_above(field: Field, number: int) -> Guard:
    steps = number - field.low
    if number >= field.top:
        return ALWAYS
    if field.coding == "unary":
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

"""The order of levels within columns, such that crossings drawn between columns cross one another seldom.

Barycentres and exchanges by turns, with a stand-in in every column that a line passes (Sugiyama, Tagawa, Toda, *Methods
for visual understanding of hierarchical system structures*, 1981). The best order found is kept, the designer's own if
none is better.
"""

from bisect import bisect_right, insort
from collections.abc import Iterable, Sequence
from random import Random
from typing import NamedTuple


class Pass(NamedTuple):
    """Where a line passes a column between its own: below how many levels, and its rank among all that passes."""

    above: int
    rank: int


class ColumnOrder(NamedTuple):
    """The levels of each column, and for each line, by its levels from left to right, where it passes the columns
    between them."""

    columns: tuple[tuple[str, ...], ...]
    passes: dict[tuple[str, str], tuple[Pass, ...]]
    turns_left: frozenset[tuple[str, str]] = frozenset()
    """The lines between two levels of one column, in either direction, that had best run left of it."""


Node = str | tuple[int, int]
"""A level, or the stand-in of a line (its number) in a column that it passes."""
Edge = tuple[Node, Node]
ROUNDS, PATIENCE = 12, 3
"""At most so many rounds, and so many in a row that find no better order."""
STARTS, MOST_STARTED = 12, 800
"""It is begun so many times, the first time from the designer's order; less often where there are more lines than this
divided by the starts."""
MOST_WORK = 3_000
"""Of more lines than this divided by the rounds there are fewer rounds, at least two."""
LONGEST = 12
"""Lines over more columns do not count: they are drawn around them all."""
MOST_LINES = 2_500
"""With more lines than this the designer's order stays: such a map is seen from afar."""


def ordered(columns: Sequence[Sequence[str]], lines: Iterable[tuple[str, str]]) -> ColumnOrder:
    """The columns, each in an order in which lines between levels, in whichever direction, cross seldom."""
    at = {level: number for number, column in enumerate(columns) for level in column}
    pairs = list(lines)
    wanted = sorted({(a, b) if at[a] < at[b] else (b, a) for a, b in pairs if a in at and b in at and at[a] != at[b]})
    short = [(one, other) for one, other in wanted if at[other] - at[one] <= LONGEST]
    if not short or len(short) > MOST_LINES:
        return ColumnOrder(tuple(tuple(column) for column in columns), {})
    layers, edges = _with_stand_ins(columns, short, at)
    best, fewest = layers, _crossings(layers, edges)
    pick = Random(0)
    for start in range(max(1, min(STARTS, MOST_STARTED // len(short)))):
        begun = [list(layer) if start == 0 else pick.sample(layer, len(layer)) for layer in layers]
        found, count = _improved(begun, edges, max(2, min(ROUNDS, MOST_WORK // len(short))))
        if count < fewest:
            best, fewest = found, count
        if not fewest:
            break
    inside = [(one, other) for one, other in pairs if at.get(one, -1) == at.get(other, -2) and one != other]
    return ColumnOrder(
        tuple(tuple(node for node in layer if isinstance(node, str)) for layer in best),
        _passes(best, short),
        _turning_left(best, edges, inside),
    )


def _turning_left(
    layers: Sequence[Sequence[Node]], edges: Sequence[Sequence[Edge]], lines: Sequence[tuple[str, str]]
) -> frozenset[tuple[str, str]]:
    """Of the lines within a column those that cross fewer others left of it: the others are those of whatever stands
    between their levels."""
    found = set()
    where = {node: (column, row) for column, layer in enumerate(layers) for row, node in enumerate(layer)}
    for one, other in lines:
        column, low, high = where[one][0], *sorted((where[one][1], where[other][1]))
        between = {node for node in layers[column][low + 1 : high]}
        right = sum(node in between for node, _ in edges[column])
        left = sum(node in between for _, node in edges[column - 1]) if column else 0
        if left < right:
            found |= {(one, other), (other, one)}
    return frozenset(found)


def _improved(layers: list[list[Node]], edges: list[list[Edge]], rounds: int) -> tuple[list[list[Node]], int]:
    """The best order that sweeps and exchanges find from one to begin with, and how often lines cross in it."""
    best, fewest, in_vain = [list(layer) for layer in layers], _crossings(layers, edges), 0
    for number in range(rounds):
        if not fewest or in_vain == PATIENCE:
            break
        in_vain += 1
        _sweep(layers, edges, down=number % 2 == 0)
        _exchange(layers, edges)
        found = _crossings(layers, edges)
        if found < fewest:
            best, fewest, in_vain = [list(layer) for layer in layers], found, 0
    return best, fewest


def _passes(
    layers: Sequence[Sequence[Node]], lines: Sequence[tuple[str, str]]
) -> dict[tuple[str, str], tuple[Pass, ...]]:
    found: dict[tuple[str, str], list[Pass]] = {}
    for layer in layers:
        above = 0
        for rank, node in enumerate(layer):
            if isinstance(node, str):
                above += 1
            else:
                found.setdefault(lines[node[0]], []).append(Pass(above, rank))
    return {line: tuple(passes) for line, passes in found.items()}


def _with_stand_ins(
    columns: Sequence[Sequence[str]], lines: Sequence[tuple[str, str]], at: dict[str, int]
) -> tuple[list[list[Node]], list[list[Edge]]]:
    """The layers with stand-ins, each put where the line would pass, and the edges from each layer to the next."""
    layers: list[list[Node]] = [list(column) for column in columns]
    edges: list[list[Edge]] = [[] for _ in columns]
    place = {level: _height(number, len(column)) for column in columns for number, level in enumerate(column)}
    passing: list[list[tuple[float, Node]]] = [[] for _ in columns]
    for number, (one, other) in enumerate(lines):
        before: Node = one
        for column in range(at[one] + 1, at[other] + 1):
            node: Node = other if column == at[other] else (number, column)
            edges[column - 1].append((before, node))
            if node != other:
                share = (column - at[one]) / (at[other] - at[one])
                passing[column].append((place[one] + (place[other] - place[one]) * share, node))
            before = node
    for column, extra in enumerate(passing):
        heights = [(place[level], level) for level in columns[column]]
        layers[column] = [node for _, node in sorted([*heights, *extra], key=lambda pair: (pair[0], str(pair[1])))]
    return layers, edges


def _height(number: int, count: int) -> float:
    """Where the one of so many lies: columns are centred."""
    return number - (count - 1) / 2


def _sweep(layers: list[list[Node]], edges: list[list[Edge]], down: bool) -> None:
    """Orders each layer by where its neighbours in the one before lie in the mean."""
    order = range(1, len(layers)) if down else range(len(layers) - 2, -1, -1)
    for column in order:
        other = layers[column - 1] if down else layers[column + 1]
        heights = {node: _height(number, len(other)) for number, node in enumerate(other)}
        beside: dict[Node, list[float]] = {}
        for one, two in edges[column - 1] if down else edges[column]:
            node, neighbour = (two, one) if down else (one, two)
            beside.setdefault(node, []).append(heights[neighbour])
        layer = layers[column]
        own = {node: _height(number, len(layer)) for number, node in enumerate(layer)}
        mean = {node: sum(found) / len(found) for node, found in beside.items()}
        layer.sort(key=lambda node: (mean.get(node, own[node]), own[node]))


def _exchange(layers: list[list[Node]], edges: list[list[Edge]]) -> None:
    """Exchanges neighbours as long as fewer lines cross by it."""
    for column, layer in enumerate(layers):
        sides = []
        for other, pairs in ((column - 1, edges[column - 1] if column else []), (column + 1, edges[column])):
            if 0 <= other < len(layers):
                at = {node: number for number, node in enumerate(layers[other])}
                beside: dict[Node, list[int]] = {}
                for one, two in pairs:
                    node, neighbour = (two, one) if other < column else (one, two)
                    insort(beside.setdefault(node, []), at[neighbour])
                sides.append(beside)
        for _ in layer:
            swapped = False
            for number in range(len(layer) - 1):
                one, two = layer[number], layer[number + 1]
                if sum(_gain(side.get(one), side.get(two)) for side in sides) > 0:
                    layer[number], layer[number + 1] = two, one
                    swapped = True
            if not swapped:
                break


def _gain(upper: Sequence[int] | None, lower: Sequence[int] | None) -> int:
    """How many lines fewer cross if two nodes are exchanged, by their neighbours at one side, ascending."""
    if not upper or not lower:
        return 0
    if upper[-1] < lower[0]:
        return -len(upper) * len(lower)
    return _over(upper, lower) - _over(lower, upper)


def _over(upper: Sequence[int], lower: Sequence[int]) -> int:
    """How often the lines of two nodes cross, the one above the other; both lists ascending."""
    return sum(len(upper) - bisect_right(upper, place) for place in lower)


def _crossings(layers: Sequence[Sequence[Node]], edges: Sequence[Sequence[Edge]]) -> int:
    """How often lines cross between the layers."""
    found = 0
    for column, pairs in enumerate(edges[: len(layers) - 1]):
        left = {node: number for number, node in enumerate(layers[column])}
        right = {node: number for number, node in enumerate(layers[column + 1])}
        seen: list[int] = []
        for _, place in sorted((left[one], right[two]) for one, two in pairs):
            found += len(seen) - bisect_right(seen, place)
            insort(seen, place)
    return found

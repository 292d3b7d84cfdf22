"""By which gutters and gaps a way goes from card to card: its course, whatever other ways there are."""

from collections.abc import Generator, Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

GUTTER = 62.0
"""How wide the gutters before the first column and after the last are taken to be."""
CLEAR = 7.0
"""How far bridges keep from cards."""
HEADING = 32.0
"""The room above all cards that headings have."""
RIM = 12
"""Ways across so many columns run along the rim."""


Gap = tuple[float, float, int]
"""The heights between which a column can be crossed, and how many of its cards are above."""


class Footprint(NamedTuple):
    """A card, with all that belongs to it."""

    left: float
    top: float
    right: float
    bottom: float


class End(NamedTuple):
    """Where a way begins or ends: a point on a card. With ``at_edge`` nothing is to be drawn over the card, so that it
    begins at the card's side unless the point lies there."""

    card: str
    x: float
    y: float
    at_edge: bool = False


class Connection(NamedTuple):
    """What is to be joined. A ``faint`` way may share its lane with others; ``label`` is the width of what is to be
    written beside it, 0 for nothing."""

    start: End
    end: End
    faint: bool = False
    label: float = 0.0
    passes: tuple[tuple[int, int], ...] = ()
    """Where it had best pass the columns between its cards: below how many cards, and its rank in that column."""
    turns_left: bool | None = None
    """Between two cards of one column, whether it had best run left of it; None where nothing is known."""


@dataclass(frozen=True)
class Course:
    """A way in steps: the gutter it leaves into, the columns it crosses with the gap of each (-1 for the rim), and the
    gutter it arrives from."""

    first: int
    passes: tuple[tuple[int, int], ...]
    last: int
    heights: tuple[float, ...]
    """About where it crosses each column."""
    ranks: tuple[int, ...]
    """Its rank among all that crosses each."""

    @cached_property
    def gutters(self) -> list[int]:
        """All gutters in which it may turn, in order: along the rim it goes straight on."""
        if self.is_long:
            return [self.first, self.last]
        step = 1 if self.last > self.first else -1
        return list(range(self.first, self.last + step, step)) if self.first != self.last else [self.first]

    @cached_property
    def is_long(self) -> bool:
        """Whether it runs along the rim."""
        return any(gap < 0 for _, gap in self.passes)


class ColumnGrid(NamedTuple):
    """The cards of a map in their columns, and what is free between them."""

    columns: tuple[Mapping[str, Footprint], ...]
    column_of: Mapping[str, int]
    gaps: tuple[tuple[Gap, ...], ...]
    """For each column the heights at which it can be crossed."""
    sides: tuple[tuple[float, float], ...]
    """Where the cards of each column begin and end across; of one without cards, somewhere behind the one before."""

    def footprint(self, card: str) -> Footprint:
        """Where a card lies."""
        return self.columns[self.column_of[card]][card]

    def bounds(self, gutter: int) -> tuple[float, float]:
        """Where a gutter begins and ends across; each has the number of the column to the right of it."""
        left = self.sides[gutter - 1][1] if gutter else self.sides[0][0] - GUTTER
        return left, self.sides[gutter][0] if gutter < len(self.sides) else left + GUTTER


def measuring(columns: Iterable[Mapping[str, Footprint]], before: ColumnGrid) -> Generator[None, None, ColumnGrid]:
    """The grid of some columns, worked out column by column; of the grid ``before`` is used what still holds."""
    all_columns, gaps, sides = [], [], []
    behind = 0.0
    for number, column in enumerate(columns):
        yield
        all_columns.append(column)
        if number < len(before.columns) and column and column is before.columns[number]:
            gaps.append(before.gaps[number])
            sides.append(before.sides[number])
        else:
            left = min((box.left for box in column.values()), default=behind)
            gaps.append(_gaps(column))
            sides.append((left, max((box.right for box in column.values()), default=left)))
        behind = sides[-1][1] + GUTTER
    at = {card: number for number, column in enumerate(all_columns) for card in column}
    return ColumnGrid(tuple(all_columns), at, tuple(gaps), tuple(sides))


def course_of(grid: ColumnGrid, way: Connection) -> Course:
    """The course of a way; it may touch no card but its own two."""
    one, other = grid.column_of[way.start.card], grid.column_of[way.end.card]
    if one == other:
        gutter = one + _turns_right(grid, way)
        return Course(gutter, (), gutter, (), ())
    first, last = (one + 1, other) if one < other else (one, other + 1)
    columns = list(range(first, last) if first <= last else range(first - 1, last - 1, -1))
    if len(columns) >= RIM:
        count = len(columns)
        return Course(first, tuple((column, -1) for column in columns), last, (0.0,) * count, (0,) * count)
    hints = way.passes if one < other else way.passes[::-1]
    passes, heights, ranks = [], [], []
    for number, column in enumerate(columns):
        aimed = way.start.y + (way.end.y - way.start.y) * (number + 1) / (len(columns) + 1)
        above, rank = hints[number] if len(hints) == len(columns) else (None, 0)
        gap, height = _nearest_gap(grid, column, aimed, above)
        passes.append((column, gap))
        heights.append(height)
        ranks.append(rank)
    return Course(first, tuple(passes), last, tuple(heights), tuple(ranks))


def _turns_right(grid: ColumnGrid, way: Connection) -> bool:
    """Whether a way between two cards of one column runs right of them; where nothing is known, if its doors are nearer
    to there."""
    if way.turns_left is not None:
        return not way.turns_left
    box = grid.footprint(way.start.card)
    return (way.start.x + way.end.x) / 2 >= (box.left + box.right) / 2


def _nearest_gap(grid: ColumnGrid, column: int, aimed: float, above: int | None) -> tuple[int, float]:
    """The gap of a column below some cards, or else the nearest to a height; and the nearest height in it."""
    near = [(abs(aimed - min(max(aimed, low), high)), at, min(max(aimed, low), high))
            for at, (low, high, cards) in enumerate(grid.gaps[column])
            if above is None or cards == above]  # fmt: skip
    if not near:
        return _nearest_gap(grid, column, aimed, None)
    _, gap, height = min(near)
    return gap, height


def _gaps(column: Mapping[str, Footprint]) -> tuple[Gap, ...]:
    """The heights at which a column can be crossed: above its cards, between them, and below, each with some room; and
    how many cards are above."""
    boxes = sorted(column.values(), key=lambda box: box.top)
    found: list[Gap] = []
    low = HEADING
    for above, box in enumerate(boxes):
        if box.top - CLEAR >= low:
            found.append((low, box.top - CLEAR, above))
        low = max(low, box.bottom + CLEAR)
    return (*found, (low, 1e7, len(boxes)))

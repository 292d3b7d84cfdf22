"""Where lines that run side by side keep apart: heights at the side of a card, lanes in a gutter between two columns,
and the rim below the columns. Plain numbers, in map units.

A gutter is a channel of classical channel routing (Hashimoto, Stevens, *Wire routing by optimizing channel assignment
within large apertures*, 1971): every line has one vertical stretch in it, and two of them that overlap have two lanes.
Their order is improved by exchanging neighbours, as the crossings of a layered drawing are (Sugiyama, Tagawa, Toda,
*Methods for visual understanding of hierarchical system structures*, 1981).
"""

from collections.abc import Sequence
from typing import NamedTuple

APART = 10.0
"""Between the middles of two bridges side by side."""
MOST_ORDERED = 60
"""In a gutter with more lines than this their order is not improved by exchanging."""
MOST_LANES = 200
"""More lines than this share the width evenly, whether they overlap or not."""
STRAIGHT = 0.5
"""A line whose ends differ by no more in height has no vertical stretch."""


class Run(NamedTuple):
    """A line's way through a gutter: it comes in at one height and goes out at another, each at one side."""

    height: float
    from_right: bool
    leaves: float
    to_right: bool

    @property
    def low(self) -> float:
        """The upper end of the vertical stretch."""
        return min(self.height, self.leaves)

    @property
    def high(self) -> float:
        """The lower end of the vertical stretch."""
        return max(self.height, self.leaves)

    @property
    def is_straight(self) -> bool:
        """Whether it goes straight across."""
        return self.high - self.low <= STRAIGHT and self.from_right != self.to_right


def spread(wanted: Sequence[float], low: float, high: float, apart: float = APART) -> list[float]:
    """Positions in the order of those wanted, ascending, as near to them as can be (least squares): between ``low`` and
    ``high``, and ``apart``, or less where there is no room for so many."""
    if not wanted:
        return []
    apart = min(apart, (high - low) / max(1, len(wanted) - 1))
    blocks: list[tuple[float, int]] = []  # means of what must move together, with how many (pool adjacent violators)
    for number, value in enumerate(wanted):
        mean, count = value - number * apart, 1
        while blocks and blocks[-1][0] > mean:
            before, many = blocks.pop()
            mean, count = (before * many + mean * count) / (many + count), many + count
        blocks.append((mean, count))
    last = high - (len(wanted) - 1) * apart
    flat = [min(max(mean, low), last) for mean, count in blocks for _ in range(count)]
    return [value + number * apart for number, value in enumerate(flat)]


def crossings_of(left: Run, right: Run) -> int:
    """How often two lines cross if the stretch of one lies left of the other's."""
    found = 0
    for height, at_right in ((left.height, left.from_right), (left.leaves, left.to_right)):
        found += at_right and right.low < height < right.high
    for height, at_right in ((right.height, right.from_right), (right.leaves, right.to_right)):
        found += not at_right and left.low < height < left.high
    return found


def in_order(runs: Sequence[Run]) -> list[int]:
    """The numbers of the runs from left to right, so that they cross seldom."""
    order = sorted(range(len(runs)), key=lambda number: _rank(runs[number]))
    if len(order) > MOST_ORDERED:
        return order
    for _ in order:
        swapped = False
        for at in range(len(order) - 1):
            one, other = runs[order[at]], runs[order[at + 1]]
            if crossings_of(other, one) < crossings_of(one, other):
                order[at], order[at + 1] = order[at + 1], order[at]
                swapped = True
        if not swapped:
            break
    return order


def _rank(run: Run) -> tuple[bool, float, float]:
    """Of lines that go down to the right the upper one turns later, of those that go up the lower one."""
    start, end = (run.leaves, run.height) if run.from_right and not run.to_right else (run.height, run.leaves)
    return (True, -start, -end) if start <= end else (False, start, end)


def lanes(runs: Sequence[Run], left: float, right: float) -> list[float]:
    """Where across a gutter each run has its vertical stretch. Those that overlap lie apart; as many as lie beside one
    another anywhere share the width."""
    order = [number for number in in_order(runs) if not runs[number].is_straight]
    if len(order) > MOST_LANES:
        step = (right - left) / len(order)
        places = {number: left + (at + 0.5) * step for at, number in enumerate(order)}
        return [places.get(number, left) for number in range(len(runs))]
    lane, group = dict[int, int](), dict[int, int]()
    for at, number in enumerate(order):
        before = [other for other in order[:at] if _overlap(runs[number], runs[other])]
        lane[number] = max((lane[other] + 1 for other in before), default=0)
        joined = {group[other] for other in before}
        group[number] = min(joined, default=number)
        for other in order[:at] if len(joined) > 1 else ():
            group[other] = group[number] if group[other] in joined else group[other]
    most = dict[int, int]()
    for number in order:
        most[group[number]] = max(most.get(group[number], 0), lane[number] + 1)
    middle = (left + right) / 2
    found = [middle] * len(runs)
    for number in order:
        count = most[group[number]]
        step = min(APART, (right - left) / count)
        found[number] = middle + (lane[number] - (count - 1) / 2) * step
    return found


def _overlap(one: Run, other: Run) -> bool:
    return one.low < other.high + APART and other.low < one.high + APART


class Long(NamedTuple):
    """A long line: the first and the last of the columns below which it runs."""

    first: int
    last: int


def rim_heights(lines: Sequence[Long], floors: Sequence[float]) -> list[float]:
    """How low each long line runs: below the floors of all its columns and clear of the others, the shorter inside."""
    floor, found = list(floors), [0.0] * len(lines)
    for number in sorted(range(len(lines)), key=lambda n: (lines[n].last - lines[n].first, n)):
        line = lines[number]
        found[number] = max(floor[line.first : line.last + 1]) + APART
        for column in range(line.first, line.last + 1):
            floor[column] = found[number]
    return found

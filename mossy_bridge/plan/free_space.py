"""Where a body can get to on a plan if nothing but solids holds it back.

The configuration space of a rectangle among rectangles (Lozano-Perez, *Spatial planning*, 1983): each solid grows by
the size of the body, so that the body becomes a point, its lower left corner. The edges of the grown solids cut the
space into cells, some of them lines and points, along which a body passes that just fits. ``O(solids^2)`` cells.
"""

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from mossy_bridge.model.flow import Plan, Walker
from mossy_bridge.plan.bodies import ROUNDING
from mossy_bridge.plan.boxes import Box, Stones, box, whole

MOST_SOLIDS = 160
"""Of plans with more solids nothing is said."""

Cells = NDArray[np.bool_]


def plainly_joined(stones: Stones, body: Box, goal: Box) -> bool:
    """Whether a body surely gets to where it shares room with a goal: straight up, straight across and straight down
    again, each free of solids and inside the plan. Of most plans nothing else need be asked."""
    if body.shares(goal):
        return not any(map(body.shares, stones.spanning(body)))
    width, height = body.right - body.left, body.high - body.low
    left = min(max(goal.middle - width / 2, stones.room.left), stones.room.right - width)
    low = min(max(goal.low, stones.room.low), stones.room.high - height)
    there = Box(left, left + width, low, low + height)
    if not there.shares(goal):
        return False
    least, hull = max(body.low, low), _hull(body, there)
    near = stones.spanning(hull)

    def is_free(part: Box) -> bool:
        return part.inside(stones.room) and not any(map(part.shares, near))

    if is_free(hull):
        return True  # as mostly
    if any(body.shares(one) or there.shares(one) for one in near):
        return False  # every way begins with the one and ends with the other
    for level in (least, *sorted(one.high for one in near if one.high > least)):
        up = Box(body.left, body.right, body.low, level + height)
        down = Box(there.left, there.right, low, level + height)
        across = Box(min(body.left, left), max(body.right, there.right), level, level + height)
        if is_free(across) and (level == body.low or is_free(up)) and (level == low or is_free(down)):
            return True  # where it begins or ends at that height, up or down is a part of across
    return False


def _hull(one: Box, other: Box) -> Box:
    return Box(
        min(one.left, other.left), max(one.right, other.right), min(one.low, other.low), max(one.high, other.high)
    )


class FreeSpace:
    """The places where the body is free of solids and inside the plan; ``known`` is false where there are too many
    solids, or no room for the body at all."""

    def __init__(self, plan: Plan, walker: Walker, y_down: bool):
        self._room, self._width, self._height = whole(plan, y_down), walker.width, walker.height
        solids = [box(solid, y_down) for solid in plan.solids]
        right, top = self._room.right - self._width, self._room.high - self._height
        self.known = len(solids) <= MOST_SOLIDS and right >= self._room.left and top >= self._room.low
        if not self.known:
            return
        grown = [self._grown(solid) for solid in solids]
        self._across = _cuts(self._room.left, right, [x for one in grown for x in (one.left, one.right)])
        self._along = _cuts(self._room.low, top, [y for one in grown for y in (one.low, one.high)])
        free = np.ones((2 * len(self._across) - 1, 2 * len(self._along) - 1), dtype=np.bool_)
        for one in grown:
            free[self._inside(one)] = False
        self._free = free
        self._floods: dict[frozenset[tuple[int, int]], Cells] = {}

    def joined(self, bodies: Iterable[Box], goal: Box) -> bool | None:
        """Whether one of the bodies, where it stands, can get to where it shares room with the goal; None where none of
        them is free of solids."""
        begun = frozenset(cell for body in bodies if self._free[cell := self._cell(body)])
        if not begun:
            return None
        if begun not in self._floods:
            self._floods[begun] = _flooded(self._free, begun)
        return bool(self._floods[begun][self._inside(self._grown(goal))].any())

    def _grown(self, solid: Box) -> Box:
        """Where the corner of a body is that shares room with a solid: all strictly between these bounds."""
        return Box(solid.left - self._width, solid.right, solid.low - self._height, solid.high)

    def _cell(self, body: Box) -> tuple[int, int]:
        """The cell of a body's corner; of one that sticks out of the plan, the nearest."""
        return _cell_of(self._across, body.left), _cell_of(self._along, body.low)

    def _inside(self, grown: Box) -> tuple[slice, slice]:
        """The cells strictly inside some bounds."""
        return _between(self._across, grown.left, grown.right), _between(self._along, grown.low, grown.high)


def _cuts(first: float, last: float, values: list[float]) -> NDArray[np.float64]:
    """The values from first to last, ascending; such as differ only by rounding are one."""
    inside = sorted(value for value in values if first < value < last)
    found = [first]
    for value in [*inside, last]:
        if value - found[-1] > ROUNDING:
            found.append(value)
    return np.array(found)


def _cell_of(cuts: NDArray[np.float64], value: float) -> int:
    """Even cells are the cuts themselves, odd ones what lies between two."""
    at = int(np.searchsorted(cuts, value - ROUNDING))
    if at == len(cuts):
        return 2 * len(cuts) - 2
    return 2 * at if abs(cuts[at] - value) <= ROUNDING or at == 0 else 2 * at - 1


def _between(cuts: NDArray[np.float64], low: float, high: float) -> slice:
    """The cells that lie strictly between two values."""
    first = int(np.searchsorted(cuts, low + ROUNDING))  # the first cut above low
    last = int(np.searchsorted(cuts, high - ROUNDING)) - 1  # the last cut below high
    return slice(max(0, 2 * first - 1), 2 * last + 2)


def _flooded(free: Cells, begun: Iterable[tuple[int, int]]) -> Cells:
    """The free cells that are joined to some, side by side: in each round all that lie beside those found before."""
    found = np.zeros_like(free)
    for cell in begun:
        found[cell] = True
    count = 0
    while count != (count := int(found.sum())):
        wider = found.copy()
        wider[1:] |= found[:-1]
        wider[:-1] |= found[1:]
        wider[:, 1:] |= found[:, :-1]
        wider[:, :-1] |= found[:, 1:]
        found = wider & free
    return found

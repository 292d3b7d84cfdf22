"""Bodies and areas as rectangles in plan units."""

from collections.abc import Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from mossy_bridge.model.flow import Rect, Spawn, Walker

MANY = 48
"""More bodies than this are looked through all at once."""

ROUNDING = 1e-9
"""Plan units; what sums of decimal fractions may be off by, so that bodies that just touch do not overlap."""


def body_at(spawn: Spawn, walker: Walker, y_down: bool) -> Rect:
    """The walker standing on a spawn point: centred on its x, feet at its y. The rectangle's corner is the
    one with the smallest x and y, whichever way y grows."""
    top = spawn.y - walker.height if y_down else spawn.y
    return (spawn.x - walker.width / 2, top, walker.width, walker.height)


def overlap(a: Rect, b: Rect) -> bool:
    """Whether two rectangles share an area above zero."""
    x, y, width, height = a
    left, low, wide, tall = b
    end, last = x + width, left + wide  # min and max take three times as long
    if (end if end < last else last) - (x if x > left else left) <= ROUNDING:
        return False
    end, last = y + height, low + tall
    return (end if end < last else last) - (y if y > low else low) > ROUNDING


class Bodies:
    """The walker standing on each of some spawn points."""

    def __init__(self, spawns: Sequence[Spawn], walker: Walker, y_down: bool):
        self._spawns, self._walker, self._y_down = spawns, walker, y_down

    def _body(self, spawn: Spawn) -> Rect:
        return body_at(spawn, self._walker, self._y_down)

    @cached_property
    def _corners(self) -> NDArray[np.float64]:
        return np.array([self._body(spawn) for spawn in self._spawns])

    def _beside(self, area: Rect) -> list[Spawn]:
        """The spawn points that are not clearly to the left or right of an area: of most areas none."""
        half = self._walker.width / 2
        begin, end = area[0] - half, area[0] + area[2] + half
        return [spawn for spawn in self._spawns if begin <= spawn.x <= end]

    def in_area(self, area: Rect) -> frozenset[str]:
        """The spawn points at which the body overlaps an area."""
        if len(self._spawns) <= MANY:
            return frozenset([spawn.id for spawn in self._beside(area) if overlap(self._body(spawn), area)])
        (x, y, width, height), (left, top, wide, tall) = self._corners.T, area
        across = np.minimum(x + width, left + wide) - np.maximum(x, left)
        along = np.minimum(y + height, top + tall) - np.maximum(y, top)
        found = np.flatnonzero((across > ROUNDING) & (along > ROUNDING))
        return frozenset(self._spawns[at].id for at in found.tolist())

"""Whether rectangles cover the same region, however it is cut up."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from mossy_bridge.model.flow import Rect

ALIKE = 0.01
"""Lengths that differ by no more than so many units are the same."""
MOST_CELLS = 20_000_000
"""More cells than this are not compared one by one."""


def cover_the_same(one: Sequence[Rect], other: Sequence[Rect]) -> bool:
    """Whether the unions of two lists of rectangles are the same, up to :data:`ALIKE`: their edges cut the plane into
    cells, each of which both cover, or neither. ``O(n^3)`` for ``n`` rectangles."""
    if tuple(one) == tuple(other) or _sorted(one) == _sorted(other):
        return True
    both = [*one, *other]
    across = _cuts([x for x, _, width, _ in both for x in (x, x + width)])
    along = _cuts([y for _, y, _, height in both for y in (y, y + height)])
    if len(across) * len(along) > MOST_CELLS:
        return False
    return bool((_covered(one, across, along) == _covered(other, across, along)).all())


def _sorted(rects: Sequence[Rect]) -> list[tuple[float, ...]]:
    return sorted(tuple(map(float, rect)) for rect in rects)


def _cuts(values: list[float]) -> NDArray[np.float64]:
    """The values, ascending; of such as lie close together the first stands for all."""
    found: list[float] = []
    for value in sorted(values):
        if not found or value - found[-1] > ALIKE:
            found.append(value)
    return np.array(found)


def _covered(rects: Sequence[Rect], across: NDArray[np.float64], along: NDArray[np.float64]) -> NDArray[np.bool_]:
    found = np.zeros((len(across), len(along)), dtype=np.bool_)
    for x, y, width, height in rects:
        left, right = np.searchsorted(across, (x, x + width), side="right") - 1
        low, high = np.searchsorted(along, (y, y + height), side="right") - 1
        found[left:right, low:high] = True
    return found

"""Where a thing that is dragged comes to lie: on the grid, or on the edges of what is near. Plan units."""

import math
from collections.abc import Iterable

from mossy_bridge.model.flow import Rect, Walker
from mossy_bridge.plan.laying import neat


def grid_step(walker: Walker) -> float:
    """A grid that suits the flow: the largest power of two that is no wider than the walker."""
    return 2.0 ** math.floor(math.log2(walker.width)) if walker.width > 0 else 1.0


def snapped(value: float, step: float, lines: Iterable[float], reach: float) -> float:
    """The nearest line within reach, or else the nearest multiple of the step (0: the value itself)."""
    near = min(lines, key=lambda line: abs(line - value), default=None)
    if near is not None and abs(near - value) <= reach:
        return near
    return neat(round(value / step) * step) if step else value


def shift(
    rect: Rect, by: tuple[float, float], step: float, others: Iterable[Rect], reach: float
) -> tuple[float, float]:
    """The distance a dragged rectangle really moves: so that one of its edges meets another's, or else its
    corner the grid."""
    others = list(others)
    return (_along(0, rect, by[0], step, others, reach), _along(1, rect, by[1], step, others, reach))


def _along(axis: int, rect: Rect, by: float, step: float, others: list[Rect], reach: float) -> float:
    low, high = rect[axis] + by, rect[axis] + rect[axis + 2] + by
    edges = [line for other in others for line in (other[axis], other[axis] + other[axis + 2])]
    misses = [line - end for line in edges for end in (low, high) if abs(line - end) <= reach]
    if misses:
        return neat(by + min(misses, key=abs))
    return neat(round(low / step) * step - rect[axis]) if step else by

"""Bodies and areas as rectangles in plan units."""

from mossy_bridge.model.flow import Rect, Spawn, Walker

ROUNDING = 1e-9
"""Plan units; what sums of decimal fractions may be off by, so that bodies that just touch do not overlap."""


def body_at(spawn: Spawn, walker: Walker, y_down: bool) -> Rect:
    """The walker standing on a spawn point: centred on its x, feet at its y. The rectangle's corner is the
    one with the smallest x and y, whichever way y grows."""
    top = spawn.y - walker.height if y_down else spawn.y
    return (spawn.x - walker.width / 2, top, walker.width, walker.height)


def overlap(a: Rect, b: Rect) -> bool:
    """Whether two rectangles share an area above zero."""
    across = min(a[0] + a[2], b[0] + b[2]) - max(a[0], b[0])
    along = min(a[1] + a[3], b[1] + b[3]) - max(a[1], b[1])
    return across > ROUNDING and along > ROUNDING

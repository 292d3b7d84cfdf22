"""Areas, bodies and solids as boxes whose heights grow upwards, whichever way y grows in the flow.

All lengths are in plan units, times in seconds. The geometry of a single plan is a handful of rectangles, so it
is worked out in plain numbers.
"""

import math
from collections.abc import Sequence
from functools import lru_cache

from msgspec import Struct

from mossy_bridge.model.flow import Plan, Rect, Walker
from mossy_bridge.plan.bodies import ROUNDING

REMEMBERED = 50_000
"""So many answers about plans are remembered: most plans are the same after an edit."""


class Box(Struct, frozen=True):
    """A rectangle; ``low`` and ``high`` are heights."""

    left: float
    right: float
    low: float
    high: float

    @property
    def middle(self) -> float:
        """Half way across."""
        return (self.left + self.right) / 2

    def spans(self, other: "Box") -> bool:
        """Whether the boxes lie above one another, at least in part."""
        return min(self.right, other.right) - max(self.left, other.left) > ROUNDING

    def shares(self, other: "Box") -> bool:
        """Whether the boxes share an area above zero."""
        return self.spans(other) and min(self.high, other.high) - max(self.low, other.low) > ROUNDING

    def inside(self, other: "Box") -> bool:
        """Whether the box lies wholly in the other."""
        return (
            self.left >= other.left - ROUNDING
            and self.right <= other.right + ROUNDING
            and self.low >= other.low - ROUNDING
            and self.high <= other.high + ROUNDING
        )

    def distance(self, x: float, height: float) -> float:
        """From a point to the nearest point of the box (Euclidean)."""
        across = max(self.left - x, x - self.right, 0.0)
        along = max(self.low - height, height - self.high, 0.0)
        return math.hypot(across, along)


def box(rect: Rect, y_down: bool) -> Box:
    """The rectangle of a plan as a box."""
    x, y, width, height = rect
    return Box(x, x + width, -(y + height), -y) if y_down else Box(x, x + width, y, y + height)


def height_of(y: float, y_down: bool) -> float:
    """The height of a plan's y."""
    return -y if y_down else y


def whole(plan: Plan, y_down: bool) -> Box:
    """The plan itself."""
    return box((0, 0, plan.width, plan.height), y_down)


def solids(plan: Plan, y_down: bool) -> list[Box]:
    """What cannot be walked through."""
    return [box(solid, y_down) for solid in plan.solids]


def ground_under(area: Box, stones: Sequence[Box]) -> float | None:
    """The highest solid top at or below the area's foot, under its middle; None where there is none."""
    below = [s.high for s in stones if s.left <= area.middle <= s.right and s.high <= area.low + ROUNDING]
    return max(below, default=None)


@lru_cache(maxsize=REMEMBERED)
def ground_beside(plan: Plan, area: Rect, walker: Walker, y_down: bool) -> float | None:
    """The height of the ground on which the walker can run past an area of the plan, if there is such."""
    across, stones = box(area, y_down), solids(plan, y_down)
    ground = ground_under(across, stones)
    if ground is None or not can_run_past(across, ground, walker, whole(plan, y_down), stones):
        return None
    return ground


@lru_cache(maxsize=REMEMBERED)
def in_solid(plan: Plan, body: Rect, y_down: bool) -> bool:
    """Whether a body in the plan shares room with something solid."""
    inside = box(body, y_down)
    return any(inside.shares(stone) for stone in solids(plan, y_down))


@lru_cache(maxsize=REMEMBERED)
def above_ground(plan: Plan, body: Rect, y_down: bool) -> bool:
    """Whether there is something solid anywhere below a body in the plan."""
    standing = box(body, y_down)
    return any(stone.low < standing.low - ROUNDING and stone.spans(standing) for stone in solids(plan, y_down))


def can_run_past(area: Box, ground: float, walker: Walker, room: Box, stones: Sequence[Box]) -> bool:
    """Whether at both sides of the area a body stands on that ground, free of solids and inside the plan."""
    return all(
        _stands(Box(left, left + walker.width, ground, ground + walker.height), room, stones)
        for left in (area.left - walker.width, area.right)
    )


def _stands(body: Box, room: Box, stones: Sequence[Box]) -> bool:
    free = body.inside(room) and not any(body.shares(stone) for stone in stones)
    return free and any(abs(stone.high - body.low) <= ROUNDING and stone.spans(body) for stone in stones)


def jump_length(walker: Walker) -> float:
    """How far the walker gets in a jump on level ground: speed times the time in the air, ``2 √(2 h / g)``,
    the rise and the fall of a throw that reaches the height h (uniform acceleration)."""
    return walker.speed * 2 * math.sqrt(2 * walker.jump_height / walker.gravity) if walker.gravity > 0 else math.inf


def step_length(walker: Walker) -> float:
    """How far the walker moves in one tick."""
    return walker.speed * walker.tick

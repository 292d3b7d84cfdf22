"""Areas, bodies and solids as boxes whose heights grow upwards, whichever way y grows in the flow.

All lengths are in plan units, times in seconds. The geometry of a single plan is mostly a handful of rectangles, so it
is worked out in plain numbers; of thousands those that matter are picked out in columns first.
"""

import math
from collections.abc import Callable, Sequence
from typing import TypeVar, cast

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.model.flow import Plan, Rect, Walker
from mossy_bridge.plan.bodies import ROUNDING

T = TypeVar("T")
MANY = 48
"""More stones than this are looked through all at once."""
REMEMBERED = 20_000
"""So many answers about a plan are remembered."""
MOST_PLANS = 25_000
"""The stones of so many plans are kept."""


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
        right = self.right if self.right < other.right else other.right  # min and max take three times as long
        return right - (self.left if self.left > other.left else other.left) > ROUNDING

    def shares(self, other: "Box") -> bool:
        """Whether the boxes share an area above zero."""
        high = self.high if self.high < other.high else other.high
        right = self.right if self.right < other.right else other.right
        return (
            high - (self.low if self.low > other.low else other.low) > ROUNDING
            and right - (self.left if self.left > other.left else other.left) > ROUNDING
        )

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


class Stones:
    """What cannot be walked through on one plan. Questions are answered from the few stones that lie above or below
    what is asked about, and remembered: most plans are the same after an edit."""

    def __init__(self, plan: Plan, y_down: bool):
        self.room = whole(plan, y_down)
        self.all: list[Box] = [box(solid, y_down) for solid in plan.solids]
        self._sides = np.array([(one.left, one.right) for one in self.all]) if len(self.all) > MANY else None
        self._known: dict[tuple[object, ...], object] = {}

    def spanning(self, body: Box) -> Sequence[Box]:
        """The stones that lie above or below a box, or in it; perhaps some more where they are few."""
        if self._sides is None:
            return self.all
        shared = np.minimum(self._sides[:, 1], body.right) - np.maximum(self._sides[:, 0], body.left)
        return [self.all[at] for at in np.flatnonzero(shared > -ROUNDING).tolist()]

    def share(self, body: Box) -> bool:
        """Whether a body shares room with a stone."""
        if self._sides is None:
            return any(map(body.shares, self.all))  # of a few stones sooner told than remembered
        return self._remembered(("share", body), lambda: any(map(body.shares, self.spanning(body))))

    def below(self, body: Box) -> bool:
        """Whether there is a stone anywhere below a body."""

        def found() -> bool:
            return any(one.low < body.low - ROUNDING and one.spans(body) for one in self.spanning(body))

        return self._remembered(("below", body), found)

    def carry(self, body: Box) -> bool:
        """Whether a body stands on a stone."""
        return any(abs(one.high - body.low) <= ROUNDING and one.spans(body) for one in self.spanning(body))

    def ground_under(self, area: Box) -> float | None:
        """The highest top of a stone at or below the area's foot, under its middle; None where there is none."""
        near = self.spanning(replace(area, left=area.middle, right=area.middle))
        below = [s.high for s in near if s.left <= area.middle <= s.right and s.high <= area.low + ROUNDING]
        return max(below, default=None)

    def ground_beside(self, area: Box, walker: Walker) -> float | None:
        """The height of the ground on which the walker can run past an area, if there is such."""

        def found() -> float | None:
            ground = self.ground_under(area)
            return ground if ground is not None and self._can_run_past(area, ground, walker) else None

        return self._remembered(("beside", area, walker), found)

    def _can_run_past(self, area: Box, ground: float, walker: Walker) -> bool:
        """Whether at both sides of the area a body stands on that ground, free of stones and inside the plan."""
        sides = (area.left - walker.width, area.right)
        bodies = [Box(left, left + walker.width, ground, ground + walker.height) for left in sides]
        return all(body.inside(self.room) and not self.share(body) and self.carry(body) for body in bodies)

    def _remembered(self, question: tuple[object, ...], answer: Callable[[], T]) -> T:
        if question not in self._known:
            if len(self._known) > REMEMBERED:
                self._known.clear()
            self._known[question] = answer()
        return cast(T, self._known[question])


def stones_of(plan: Plan, y_down: bool) -> Stones:
    """The stones of a plan; those of plans asked about before are known by the plans themselves."""
    key = id(plan), y_down
    known = _STONES.get(key)
    if known is None or known[0] is not plan:
        if len(_STONES) > MOST_PLANS:
            _STONES.clear()
        known = _STONES[key] = plan, Stones(plan, y_down)
    return known[1]


_STONES: dict[tuple[int, bool], tuple[Plan, Stones]] = {}


def jump_length(walker: Walker) -> float:
    """How far the walker gets in a jump on level ground: speed times the time in the air, ``2 √(2 h / g)``,
    the rise and the fall of a throw that reaches the height h (uniform acceleration)."""
    return walker.speed * 2 * math.sqrt(2 * walker.jump_height / walker.gravity) if walker.gravity > 0 else math.inf


def step_length(walker: Walker) -> float:
    """How far the walker moves in one tick."""
    return walker.speed * walker.tick

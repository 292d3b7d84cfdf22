"""How the walker moves on a plan: runs, jumps and falls seen from the side, or walks in all directions seen from above.

Heights grow upwards here, whichever way y grows in the table; lengths are plan units, times seconds.
"""

import math
from typing import NamedTuple

from mossy_bridge.standin.engine import TINY, Table

LONGEST_STEP = 0.2
"""A body is moved no further than this at once, so that it goes through nothing."""


class Box(NamedTuple):
    """A rectangle; ``low`` and ``high`` are heights."""

    left: float
    right: float
    low: float
    high: float

    def meets(self, other: "Box") -> bool:
        """Whether they share more than an edge."""
        across = min(self.right, other.right) - max(self.left, other.left)
        return across > TINY and min(self.high, other.high) - max(self.low, other.low) > TINY


class Body(NamedTuple):
    """The walker: the middle of the feet, and how fast it goes."""

    x: float
    height: float
    across: float = 0.0
    upwards: float = 0.0
    stands: bool = False


class Will(NamedTuple):
    """What the player wants: -1 to 1 across and upwards, and to jump."""

    across: float = 0.0
    upwards: float = 0.0
    jumps: bool = False


class Ground:
    """One plan, and how a walker moves on it."""

    def __init__(self, plan: Table, walker: Table, y_down: bool):
        self.width, self.height = float(plan["width"]), float(plan["height"])
        self._walker, self._y_down = walker, y_down
        self._solids = [self.box(solid) for solid in plan["solids"]]

    def box(self, area: list[float]) -> Box:
        """An area of the table as a box."""
        x, y, width, height = area
        low = self.height - y - height if self._y_down else y
        return Box(x, x + width, low, low + height)

    def height_of(self, y: float) -> float:
        """A y of the table as a height."""
        return self.height - y if self._y_down else y

    def y_of(self, height: float) -> float:
        """A height as a y of the table."""
        return self.height - height if self._y_down else height

    def body_box(self, body: Body) -> Box:
        """Where a body is."""
        half = self._walker["width"] / 2
        return Box(body.x - half, body.x + half, body.height, body.height + self._walker["height"])

    def moved(self, body: Body, will: Will, seconds: float) -> Body:
        """The body after so many seconds."""
        speed = self._walker["speed"]
        if self._walker["view"] == "top":
            body = body._replace(across=speed * will.across, upwards=speed * will.upwards)
        else:
            upwards = body.upwards - self._walker["gravity"] * seconds
            if will.jumps and body.stands:
                upwards = math.sqrt(2 * self._walker["gravity"] * self._walker["jump_height"])
            body = body._replace(across=speed * will.across, upwards=upwards)
        far = max(abs(body.across), abs(body.upwards)) * seconds
        count = max(1, math.ceil(far / LONGEST_STEP))
        body = body._replace(stands=False)
        for _ in range(count):
            body = self._stepped(body, seconds / count)
        return body

    def _stepped(self, body: Body, seconds: float) -> Body:
        half = self._walker["width"] / 2
        wanted = min(max(body.x + body.across * seconds, half), max(self.width - half, half))
        if self._is_free(body._replace(x=wanted)) or not self._is_free(body):  # one that was put into a wall gets out
            body = body._replace(x=wanted)
        height = body.height + body.upwards * seconds
        kept = min(max(height, 0.0), max(self.height - self._walker["height"], 0.0))
        if self._is_free(body._replace(height=kept)) and kept == height:
            return body._replace(height=kept)
        stands = body.upwards <= 0
        landed = self._landed(body, kept) if stands else body.height
        return body._replace(height=landed, upwards=0.0, stands=stands)

    def _landed(self, body: Body, height: float) -> float:
        """The height at which a body that falls to another comes to stand."""
        falls = self.body_box(body._replace(height=height))._replace(high=self.body_box(body).high)
        below = [solid.high for solid in self._solids if solid.meets(falls) and solid.high <= body.height + TINY]
        return max([height, *below]) if self._is_free(body._replace(height=max([height, *below]))) else body.height

    def _is_free(self, body: Body) -> bool:
        """Whether a body is in nothing solid."""
        place = self.body_box(body)
        return not any(solid.meets(place) for solid in self._solids)

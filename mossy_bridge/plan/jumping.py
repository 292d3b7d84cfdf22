"""Where a walker may get to by running, jumping and falling: an upper bound, seen from the side.

Tops of solids are ledges. From one the walker may reach all that a throw with its speed and jump may touch, whatever
stands in between; a tenth higher and further is granted. So what is not reached so cannot be reached by these means;
ladders, lifts and springs a plan does not tell of.
"""

import math
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

from msgspec import Struct

from mossy_bridge.model.flow import Plan, Walker
from mossy_bridge.plan.bodies import ROUNDING
from mossy_bridge.plan.boxes import Box, box, whole

GRANTED = 1.1
"""How much higher and further than set the walker is taken to jump."""


class _Ledge(Struct, frozen=True):
    left: float
    right: float
    height: float


class Jumps:
    """The ledges of a plan and what is in reach of each."""

    def __init__(self, plan: Plan, walker: Walker, y_down: bool):
        self._plan, self._walker, self._y_down = plan, walker, y_down

    @cached_property
    def _ledges(self) -> list[_Ledge]:
        room = whole(self._plan, self._y_down)
        floor = _Ledge(room.left, room.right, room.low)
        solids = [box(solid, self._y_down) for solid in self._plan.solids]
        tops = [floor, *(_Ledge(one.left, one.right, one.high) for one in solids)]
        return [ledge for top in tops for ledge in _bare(top, solids)]

    def may_reach(self, bodies: Iterable[Box], goal: Box) -> bool:
        """Whether a walker that begins as one of the bodies may come to share room with the goal."""
        low = goal.low - self._walker.height
        begun = [_Ledge(body.left, body.right, body.low) for body in bodies]
        if any(self._in_reach(ledge, goal.left, goal.right, low) for ledge in begun):
            return True  # as on most plans, whose ledges need not be known then
        reached, waiting = set(begun), begun
        while waiting:
            ledge = waiting.pop()
            if self._in_reach(ledge, goal.left, goal.right, low):
                return True
            for other in self._ledges:
                if other not in reached and self._in_reach(ledge, other.left, other.right, other.height):
                    reached.add(other)
                    waiting.append(other)
        return False

    def _in_reach(self, ledge: _Ledge, left: float, right: float, height: float) -> bool:
        """Whether the feet may get to some height above or below a ledge, somewhere between two sides."""
        rise = height - ledge.height
        tall = GRANTED * self._walker.jump_height
        if rise > tall + ROUNDING:
            return False
        gap = max(left - ledge.right, ledge.left - right, 0.0) - self._walker.width
        if gap <= ROUNDING:
            return True  # as mostly
        return gap <= GRANTED * self._walker.speed * _time_in_air(tall, rise, self._walker.gravity) + ROUNDING


def _bare(top: _Ledge, solids: Sequence[Box]) -> Iterator[_Ledge]:
    """The parts of a top on which no solid lies."""
    left = top.left
    on_top = (one for one in solids if one.low <= top.height + ROUNDING < one.high - ROUNDING)
    for one in sorted(on_top, key=lambda one: one.left):
        if one.left > left + ROUNDING:
            yield _Ledge(left, min(one.left, top.right), top.height)
        left = max(left, one.right)
        if left >= top.right - ROUNDING:
            return
    yield _Ledge(left, top.right, top.height)


def _time_in_air(tall: float, rise: float, gravity: float) -> float:
    """Seconds from a jump of some height until its fall has come to ``rise``: up ``√(2h/g)``, down
    ``√(2(h - rise)/g)`` (uniform acceleration)."""
    return math.sqrt(2 * tall / gravity) + math.sqrt(2 * max(0.0, tall - rise) / gravity)

"""The walker moving through one plan: by a fixed time step, so that the same keys always lead the same way.

From the side the walker falls, jumps and is stopped by solids; from above it goes where it is steered. A plan's edges
stop it at both sides; who falls out of the plan below is gone. Heights grow upwards here, whichever way y grows in the
flow. Lengths are plan units, times seconds.
"""

import math
from collections.abc import Sequence

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.model.flow import Walker
from mossy_bridge.plan.bodies import ROUNDING
from mossy_bridge.plan.boxes import Box


class Keys(Struct, frozen=True):
    """The keys held down during one tick. ``act`` presses doors and does deeds."""

    left: bool = False
    right: bool = False
    up: bool = False
    down: bool = False
    jump: bool = False
    act: bool = False


class Body(Struct, frozen=True):
    """Where the walker's feet are, how fast it goes, and whether it stands."""

    x: float
    height: float
    across: float = 0.0
    along: float = 0.0
    stands: bool = False

    def box(self, walker: Walker) -> Box:
        """The room it takes."""
        return Box(self.x - walker.width / 2, self.x + walker.width / 2, self.height, self.height + walker.height)


def moved(body: Body, keys: Keys, walker: Walker, room: Box, stones: Sequence[Box]) -> Body:
    """The body one tick later. Speeds first, then the way, across and along one after the other, each stopped by the
    first solid (semi-implicit Euler)."""
    across = walker.speed * (keys.right - keys.left)
    if walker.view == "top":
        along = walker.speed * (keys.up - keys.down)
    else:
        along = body.along - walker.gravity * walker.tick
        if body.stands and keys.jump:
            along = jump_speed(walker)
    body = replace(body, across=across, along=along)
    return _along(_across(body, walker, room, stones), walker, room, stones)


def jump_speed(walker: Walker) -> float:
    """The speed of a jump that just reaches the walker's jump height ``h`` by steps of a tick ``t``: with the speed
    lowered by ``g t`` at each, the feet rise to ``v² / 2g + v t / 2``, or ``g t² / 8`` less where the highest point
    lies between two ticks; solved for ``v``, with that little more."""
    half_fall = walker.gravity * walker.tick / 2
    height = walker.jump_height + walker.gravity * walker.tick**2 / 8
    return math.sqrt(half_fall**2 + 2 * walker.gravity * height) - half_fall


def _across(body: Body, walker: Walker, room: Box, stones: Sequence[Box]) -> Body:
    way = body.across * walker.tick
    half = walker.width / 2
    x = min(max(body.x + way, room.left + half), room.right - half)
    there = replace(body, x=x).box(walker)
    here = body.box(walker)
    for stone in stones:
        if stone.shares(there) and not stone.shares(here):
            x = stone.left - half if way > 0 else stone.right + half
            there = replace(body, x=x).box(walker)
    return replace(body, x=x)


def _along(body: Body, walker: Walker, room: Box, stones: Sequence[Box]) -> Body:
    way = body.along * walker.tick
    here = body.box(walker)
    height, speed, stands = body.height + way, body.along, False
    if walker.view == "top":
        height = min(max(height, room.low), room.high - walker.height)
    for stone in stones:
        if not stone.spans(here):
            continue
        if way <= 0 and here.low >= stone.high - ROUNDING and height <= stone.high + ROUNDING:
            height, speed, stands = stone.high, 0.0, True
        elif way > 0 and here.high <= stone.low + ROUNDING and height + walker.height > stone.low:
            height, speed = stone.low - walker.height, 0.0
    return replace(body, height=height, along=speed, stands=stands)

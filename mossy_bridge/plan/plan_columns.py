"""What is drawn on the plans of many levels, as columns.

Whether a few rectangles lie in one another is told in plain numbers, plan by plan. Of thousands of plans hardly any
has a fault, so those worth a look are picked out of all at once: each question names the levels in which something may
be so, and all in which it is.
"""

import math
from collections.abc import Sequence
from functools import cached_property
from itertools import chain, compress
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from mossy_bridge.model.flow import Exit, Level, Rect, Walker
from mossy_bridge.plan.bodies import ROUNDING, body_at
from mossy_bridge.plan.jumping import GRANTED

MOST, MOST_OF_ALL = 256, 3_000_000
"""A level with more combinations of a spawn point, an area or another spawn point, and a solid than this is always
named: its own plan is soon looked through, all these combinations of many such levels are not. Of a hundred thousand
levels those with fewer are, so that all combinations together take no more room than a few hundred megabytes."""

Numbers = NDArray[np.int64]
Bools = NDArray[np.bool_]
Lengths = NDArray[np.float64]


class Boxes(NamedTuple):
    """Rectangles on plans, those of one plan after those of another. Heights grow upwards."""

    plan: Numbers
    """The place of its level."""
    left: Lengths
    right: Lengths
    low: Lengths
    high: Lengths

    def taken(self, at: Numbers | Bools) -> "Boxes":
        """Some of them."""
        return Boxes(self.plan[at], self.left[at], self.right[at], self.low[at], self.high[at])

    def span(self, other: "Boxes") -> Bools:
        """For each whether it lies above or below the other at its place, or in it."""
        spanning: Bools = np.minimum(self.right, other.right) - np.maximum(self.left, other.left) > ROUNDING
        return spanning

    def share(self, other: "Boxes") -> Bools:
        """For each whether it shares an area above zero with the other at its place."""
        return self.span(other) & (np.minimum(self.high, other.high) - np.maximum(self.low, other.low) > ROUNDING)

    def inside(self, other: "Boxes") -> Bools:
        """For each whether it lies wholly in the other at its place."""
        across = (self.left >= other.left - ROUNDING) & (self.right <= other.right + ROUNDING)
        return across & (self.low >= other.low - ROUNDING) & (self.high <= other.high + ROUNDING)

    def hull(self, other: "Boxes") -> "Boxes":
        """Around each and the other at its place."""
        left, low = np.minimum(self.left, other.left), np.minimum(self.low, other.low)
        return Boxes(self.plan, left, np.maximum(self.right, other.right), low, np.maximum(self.high, other.high))


class PlanColumns:
    """The bodies at spawn points, the areas of exits by touch or key, and the solids of some levels."""

    def __init__(self, levels: Sequence[Level], walker: Walker, y_down: bool):
        self.levels, self._walker, self._y_down = levels, walker, y_down

    # -- questions ---------------------------------------------------------------------------------------

    def spawn_in_solid(self) -> list[Level]:
        """Where a body at a spawn point shares room with a solid."""
        body, solid = self._with_solids(self._bodies)
        return self._named(body.plan[body.share(solid)])

    def spawn_outside(self) -> list[Level]:
        """Where a spawn point does not lie within the plan, or at its very edge."""
        bodies, rooms = self._bodies, self._room_of(self._bodies)
        middle, rest = (bodies.left + bodies.right) / 2, ROUNDING  # of summing up
        across = (middle > rooms.left + rest) & (middle < rooms.right - rest)
        within = across & (bodies.low > rooms.low + rest) & (bodies.low < rooms.high - rest)
        return self._named(bodies.plan[~within])

    def spawn_in_air(self) -> list[Level]:
        """Where no solid lies below a body at a spawn point."""
        at, solid = _pairs(self._bodies, self._solids)
        body, below = self._bodies.taken(at), self._solids.taken(solid)
        held = np.zeros(len(self._bodies.plan), dtype=np.bool_)
        held[at[(below.low < body.low - ROUNDING) & below.span(body)]] = True
        return self._named(self._bodies.plan[~held])

    def area_outside(self) -> list[Level]:
        """Where an area shares nothing with the plan."""
        return self._named(self._areas.plan[~self._areas.share(self._room_of(self._areas))])

    def area_in_solid(self) -> list[Level]:
        """Where an area shares room with a solid."""
        area, solid = self._with_solids(self._areas)
        return self._named(area.plan[area.share(solid)])

    def touch_passed_by(self) -> list[Level]:
        """Where at both sides of the area of an exit by touch a body has room in the plan."""
        areas, width = self._areas.taken(self._by_touch), self._walker.width
        rooms = self._room_of(areas)
        passed = (areas.left - width >= rooms.left - ROUNDING) & (areas.right + width <= rooms.right + ROUNDING)
        return self._named(areas.plan[passed])

    def area_hard_to_reach(self) -> list[Level]:
        """Where it is not plain that the player gets to each area from some spawn point."""
        reached = self._surely_reached(self._areas, *_pairs(self._areas, self._bodies))
        return self._named(self._areas.plan[~reached])

    def spawns_joined(self) -> set[tuple[str, str]]:
        """The spawn points, by level and id, of which it is plain that the player gets there from another."""
        goal, begun = _pairs(self._bodies, self._bodies)
        reached = self._surely_reached(self._bodies, goal[goal != begun], begun[goal != begun])
        spawns = [(level.id, spawn.id) for _, level in self._drawn for spawn in level.spawns]
        return set(compress(spawns, reached.tolist()))

    # -- what they are answered from ---------------------------------------------------------------------

    def _surely_reached(self, goals: Boxes, at: Numbers, begun: Numbers) -> Bools:
        """Of which goals it is plain that they are reached from the bodies that begin at their places (``at``): nothing
        lies between one of these and the goal, and from one of them it takes no more than a run or a jump. With zones
        not every body counts, so there it is of none."""
        goal, body = goals.taken(at), self._bodies.taken(begun)
        hull, free = self._way(body, goal)
        easy = np.zeros((2, len(goals.plan)), dtype=np.bool_)
        easy[0, at[free]] = True
        easy[1, at[self._in_reach(body, goal, hull, free)]] = True
        zoned = np.zeros(len(self.levels), dtype=np.bool_)
        zoned[[at for at, level in self._drawn if level.zones]] = True
        reached: Bools = easy.all(axis=0) & ~zoned[goals.plan]
        return reached

    def _way(self, body: Boxes, goal: Boxes) -> tuple[Boxes, Bools]:
        """What lies around each body and where it shares room with the goal at its place; whether that is free."""
        room, width, height = self._room_of(body), body.right - body.left, body.high - body.low
        left = np.minimum(np.maximum((goal.left + goal.right) / 2 - width / 2, room.left), room.right - width)
        low = np.minimum(np.maximum(goal.low, room.low), room.high - height)
        there = Boxes(body.plan, left, left + width, low, low + height)
        hull = body.hull(there)
        free: Bools = there.share(goal) & hull.inside(room)
        at, solid = _pairs(hull, self._solids)
        free[at[hull.taken(at).share(self._solids.taken(solid))]] = False
        return hull, free

    def _in_reach(self, body: Boxes, goal: Boxes, hull: Boxes, free: Bools) -> Bools:
        """For each body whether it surely gets to the goal at its place by one jump, as far as that is granted, or by
        running along what carries it all the way."""
        walker = self._walker
        if walker.view == "top":
            return np.ones(len(free), dtype=np.bool_)
        tall = GRANTED * walker.jump_height
        far = GRANTED * walker.speed * math.sqrt(2 * tall / walker.gravity)  # till it falls again
        gap = np.maximum(goal.left - body.right, body.left - goal.right) - walker.width
        runs = np.abs(self._room_of(hull).low - hull.low) <= ROUNDING
        at, solid = _pairs(hull, self._solids)
        way, ground = hull.taken(at), self._solids.taken(solid)
        carrying = (np.abs(ground.high - way.low) <= ROUNDING) & (ground.left <= way.left) & (ground.right >= way.right)
        runs[at[carrying]] = True
        runs &= free & (body.low <= hull.low + ROUNDING)
        reached: Bools = (goal.low - walker.height - body.low <= tall) & (runs | (gap <= far))
        return reached

    def _with_solids(self, boxes: Boxes) -> tuple[Boxes, Boxes]:
        """Each box with each solid of its plan."""
        at, solid = _pairs(boxes, self._solids)
        return boxes.taken(at), self._solids.taken(solid)

    def _named(self, places: Numbers) -> list[Level]:
        """The levels at some places, and those that are always named, in their order."""
        named = np.array(self._sizes) > self._most
        named[places] = True
        return [self.levels[at] for at in np.flatnonzero(named).tolist()]

    @property
    def _most(self) -> int:
        return min(MOST, MOST_OF_ALL // max(1, len(self.levels)))

    @cached_property
    def _sizes(self) -> list[int]:
        return [_combinations(level) for level in self.levels]

    @cached_property
    def _drawn(self) -> list[tuple[int, Level]]:
        """The levels that are looked at in columns, with their places."""
        return [(at, self.levels[at]) for at, size in enumerate(self._sizes) if 0 <= size <= self._most]

    @cached_property
    def _rooms(self) -> tuple[Numbers, Boxes]:
        """For the place of each level where its plan is, and the plans."""
        rects = [[(0.0, 0.0, level.plan.width, level.plan.height)] if level.plan else [] for _, level in self._drawn]
        rooms = self._boxes(rects)
        place = np.zeros(len(self.levels), dtype=np.int64)
        place[rooms.plan] = np.arange(len(rooms.plan))
        return place, rooms

    def _room_of(self, boxes: Boxes) -> Boxes:
        place, rooms = self._rooms
        return rooms.taken(place[boxes.plan])

    @cached_property
    def _solids(self) -> Boxes:
        return self._boxes([level.plan.solids if level.plan else () for _, level in self._drawn])

    @cached_property
    def _bodies(self) -> Boxes:
        walker, y_down = self._walker, self._y_down
        return self._boxes([[body_at(one, walker, y_down) for one in level.spawns] for _, level in self._drawn])

    @cached_property
    def _areas(self) -> Boxes:
        return self._boxes([[exit_.area for exit_ in _with_area(level)] for _, level in self._drawn])

    @cached_property
    def _by_touch(self) -> Bools:
        """For each area whether its exit is one by touch."""
        return np.array(
            [one.trigger.kind == "touch" for _, level in self._drawn for one in _with_area(level)], np.bool_
        )

    def _boxes(self, rects: Sequence[Sequence[Rect]]) -> Boxes:
        """The rectangles of each drawn level."""
        count = [len(some) for some in rects]
        plan = np.repeat(np.array([at for at, _ in self._drawn], dtype=np.int64), np.array(count, dtype=np.int64))
        numbers = np.fromiter(chain.from_iterable(chain.from_iterable(rects)), np.float64, 4 * len(plan))
        x, y, width, height = numbers.reshape(-1, 4).T
        low, high = (-(y + height), -y) if self._y_down else (y, y + height)
        return Boxes(plan, x, x + width, low, high)


def _combinations(level: Level) -> int:
    """Of a spawn point, an exit or another spawn point, and a solid; -1 without a plan."""
    if level.plan is None:
        return -1
    spawns = len(level.spawns)
    return max(1, spawns) * max(1, spawns, len(level.exits)) * max(1, len(level.plan.solids))


def _with_area(level: Level) -> list[Exit]:
    """The exits by touch or key whose area has any size."""
    kinds = ("touch", "press")
    return [one for one in level.exits if one.trigger.kind in kinds and one.area[2] > 0 and one.area[3] > 0]


def _pairs(ones: Boxes, others: Boxes) -> tuple[Numbers, Numbers]:
    """The places of each box and each other on the same plan."""
    first = np.searchsorted(others.plan, ones.plan, "left")
    count = np.searchsorted(others.plan, ones.plan, "right") - first
    at = np.repeat(np.arange(len(ones.plan)), count)
    begun = np.cumsum(count) - count
    return at, np.arange(len(at)) + (first - begun)[at]

"""Whether the player can get to the areas of exits and to deeds, and cannot get past them."""

from collections.abc import Iterator, Sequence

import numpy as np
from msgspec.structs import replace

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.geometry.triggers import has_size, placed, reshaped, reshaping, with_area, y_down
from mossy_bridge.checks.inspection import LocalInspection, Setting
from mossy_bridge.checks.registry import local_check
from mossy_bridge.model.flow import Exit, Level, Plan, Spawn
from mossy_bridge.plan.bodies import ROUNDING, body_at
from mossy_bridge.plan.boxes import Box, box, stones_of, whole
from mossy_bridge.plan.doors import free_door
from mossy_bridge.plan.free_space import FreeSpace, plainly_joined
from mossy_bridge.plan.jumping import Jumps

WIDEST = 1.5
"""A passage longer than its area by more than this is a room with a door in it, not a passage."""


@local_check("exit-narrow", "warning", "places", "The player walks past it and is where nobody should be.")
def exit_narrow(here: LocalInspection) -> Iterator[Found]:
    """Seen from above: the area leaves a gap in the passage it stands in, wide enough for the body.

    Example: A gate of two tiles in a lane of three.
    To mend: Let the area fill the passage; the repair does.
    """
    if here.flow.walker.view != "top":
        return
    for level, exit_, at in with_area(here.levels, "touch"):
        if not level.plan or not has_size(exit_):
            continue
        area = box(exit_.area, y_down(here))
        flat = area.right - area.left >= area.high - area.low
        passage = _passage(level.plan, area, flat, y_down(here))
        if passage is None:
            continue
        low, high = passage
        begin, end = (area.left, area.right) if flat else (area.low, area.high)
        body = here.flow.walker.width if flat else here.flow.walker.height
        gap = max(begin - low, high - end)
        if high - low <= WIDEST * (end - begin) + ROUNDING and gap >= body - ROUNDING:
            filled = replace(area, left=low, right=high) if flat else replace(area, low=low, high=high)
            repair = reshaping(here, level, exit_, [reshaped(here, filled)], "Let it fill the passage")
            message = f"{here.title(at)} leaves a gap of {gap:g} in the passage it stands in, as wide as the body."
            yield Found((at,), message, repair=repair)


def _passage(plan: Plan, area: Box, flat: bool, y_down: bool) -> tuple[float, float] | None:
    """The free space between solids along an area's longer side; None where a solid lies in the area, or none bounds
    that space."""
    room = whole(plan, y_down)
    low, high = (room.left, room.right) if flat else (room.low, room.high)
    bounded = False
    for solid in stones_of(plan, y_down).all:
        first, last, begin, end = _along(solid, area, flat)
        if first is None:
            continue
        if last <= begin + ROUNDING:
            low, bounded = max(low, last), True
        elif first >= end - ROUNDING:
            high, bounded = min(high, first), True
        else:
            return None
    return (low, high) if bounded else None


def _along(solid: Box, area: Box, flat: bool) -> tuple[float | None, float, float, float]:
    """Where a solid begins and ends along the longer side, and the area; a begin of None where it lies beside."""
    if flat:
        beside = min(solid.high, area.high) - max(solid.low, area.low) <= ROUNDING
        return None if beside else solid.left, solid.right, area.left, area.right
    beside = min(solid.right, area.right) - max(solid.left, area.left) <= ROUNDING
    return None if beside else solid.low, solid.high, area.low, area.high


@local_check("exit-buried", "error", "places", "Nobody can touch what lies in solid ground.")
def exit_buried(here: LocalInspection) -> Iterator[Found]:
    """All of the area that lies in the plan is covered by solids.

    Example: The raft's landing was drawn into the quay.
    To mend: Put the area where a door has room.
    """
    for level, exit_, at in with_area(here.plans.area_in_solid(), "touch", "press"):
        if level.plan and has_size(exit_) and _covered(level.plan, box(exit_.area, y_down(here)), y_down(here)):
            message = f"The area of {here.title(at)} lies in solid ground, all of it."
            yield Found((at,), message, repair=placed(here, level, exit_))


def _covered(plan: Plan, area: Box, y_down: bool) -> bool:
    """Whether some of an area lies in the plan, and solids cover all of that."""
    stones = stones_of(plan, y_down)
    room, near = stones.room, [solid for solid in stones.spanning(area) if solid.shares(area)]
    if not near or not area.shares(room):
        return False
    inside = Box(
        max(area.left, room.left), min(area.right, room.right), max(area.low, room.low), min(area.high, room.high)
    )
    near = [solid for solid in near if solid.shares(inside)]
    if sum(map(_size, near)) < _size(inside) - ROUNDING:
        return False
    across = _cuts(inside.left, inside.right, [x for one in near for x in (one.left, one.right)])
    along = _cuts(inside.low, inside.high, [y for one in near for y in (one.low, one.high)])
    covered = np.zeros((len(across) - 1, len(along) - 1), dtype=np.bool_)
    for one in near:
        columns = (across[:-1] >= one.left - ROUNDING) & (across[1:] <= one.right + ROUNDING)
        rows = (along[:-1] >= one.low - ROUNDING) & (along[1:] <= one.high + ROUNDING)
        covered |= columns[:, None] & rows[None, :]
    return bool(covered.all())


def _size(one: Box) -> float:
    return (one.right - one.left) * (one.high - one.low)


def _cuts(first: float, last: float, values: Sequence[float]) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    return np.array(sorted({first, last, *(value for value in values if first < value < last)}))


@local_check("exit-walled-off", "warning", "places", "The player never gets to where the exit is.")
def exit_walled_off(here: LocalInspection) -> Iterator[Found]:
    """No free way leads from any spawn point of its zone to the area; or, as a hint, none by run, jump and fall as
    the walker is set.

    Example: A wall without a gap stands between the landing and the gate.
    To mend: Open the wall, move the exit, or let the walker jump higher.
    """
    for level in here.plans.area_hard_to_reach():
        ways = _Ways(here, level)
        for exit_ in level.exits if level.plan and level.spawns else ():
            if exit_.trigger.kind in ("touch", "press") and has_size(exit_):
                area = box(exit_.area, y_down(here))
                if area.shares(whole(ways.plan, y_down(here))):
                    at = f"{level.id}.{exit_.id}"
                    for found in ways.found(at, area, exit_.zone):
                        yield found if found.severity else replace(found, repair=ways.nearer(exit_))


@local_check("deed-walled-off", "warning", "places", "The player never gets to where it is to be done.")
def deed_walled_off(here: LocalInspection) -> Iterator[Found]:
    """No free way leads from any spawn point of its zone to where the deed is done; or, as a hint, none by run, jump
    and fall.

    Example: The clapper lies on rafters that nobody can jump to.
    To mend: Move the deed, or build a way up.
    """
    for level in here.levels:
        ways = _Ways(here, level)
        for deed in level.deeds if level.plan and level.spawns else ():
            if deed.x or deed.y:  # else it has not been placed
                body = body_at(Spawn(id="deed", x=deed.x, y=deed.y), here.flow.walker, y_down(here))
                at = f"{level.id}.{deed.id}"
                yield from ways.found(at, box(body, y_down(here)), deed.zone)


def walls_off(here: Setting, level: Level, after: Level) -> bool:
    """Whether something is walled off once a level has been changed that was not said to be before."""
    if level.plan is None or not level.plan.solids:
        return False
    now = len(_walled_off(here, after))
    return now > 0 and now > len(_walled_off(here, level))


def _walled_off(here: Setting, level: Level) -> list[Found]:
    ways = _Ways(here, level)
    return [found for goal, zone in _goals(here, level) for found in ways.found("", goal, zone)]


def _goals(here: Setting, level: Level) -> Iterator[tuple[Box, str]]:
    """Where the player is to get to in a level, and in which zone."""
    for exit_ in level.exits:
        if exit_.trigger.kind in ("touch", "press") and has_size(exit_):
            yield box(exit_.area, y_down(here)), exit_.zone
    for deed in level.deeds:
        body = body_at(Spawn(id="deed", x=deed.x, y=deed.y), here.flow.walker, y_down(here))
        yield box(body, y_down(here)), deed.zone


def walled_off_without(here: Setting, level: Level, spawn: Spawn) -> bool:
    """Whether an area or a deed could be got to from one spawn point of a level only."""
    if level.plan is None or not level.plan.solids:
        return False
    ways = _Ways(here, replace(level, spawns=tuple(other for other in level.spawns if other.id != spawn.id)))
    if ways.lead_to(spawn):
        return False
    return any(True for goal, zone in _goals(here, level) for _ in ways.found("", goal, zone))


class _Ways:
    """Whether there is a way, in one level, from the spawn points of a zone."""

    def __init__(self, here: Setting, level: Level):
        self._here, self._level = here, level
        self.plan = level.plan or Plan()
        self._space: FreeSpace | None = None
        self._jumps: Jumps | None = None
        self._bodies_in: dict[str, list[Box]] = {}

    def found(self, at: str, goal: Box, zone: str) -> Iterator[Found]:
        """What is wrong with the ways to a goal in a zone, at a place of the flow."""
        walker = self._here.flow.walker
        bodies = self._bodies(zone)
        anywhere_by_paths = not zone and bool(self._level.paths)
        if not self.plan.solids or not bodies or anywhere_by_paths:
            return
        joined = self._joined(bodies, goal)
        if joined is False:
            title = self._here.title(at)
            yield Found((at,), f"{title} is walled off: no free way leads there from any spawn point.")
        elif joined and walker.view == "side" and not self._level.paths and not self._may_reach(bodies, goal):
            title = self._here.title(at)
            message = f"{title} is out of reach by run, jump and fall from any spawn point, as the walker is set."
            yield Found((at,), message, severity="hint")

    def lead_to(self, spawn: Spawn) -> bool:
        """Whether another spawn point of its zone surely leads to one, and so wherever that leads."""
        bodies = self._bodies(spawn.zone)
        place = box(body_at(spawn, self._here.flow.walker, y_down(self._here)), y_down(self._here))
        stones = stones_of(self.plan, y_down(self._here))
        joined = any(plainly_joined(stones, body, place) for body in bodies)
        return joined and (self._here.flow.walker.view == "top" or self._may_reach(bodies, place))

    def _joined(self, bodies: list[Box], goal: Box) -> bool | None:
        """Whether a free way leads there from one of the bodies; None where that is not known."""
        stones = stones_of(self.plan, y_down(self._here))
        if any(plainly_joined(stones, body, goal) for body in bodies):
            return True
        if self._space is None:
            self._space = FreeSpace(self.plan, self._here.flow.walker, y_down(self._here))
        return self._space.joined(bodies, goal) if self._space.known else None

    def _may_reach(self, bodies: list[Box], goal: Box) -> bool:
        if self._jumps is None:
            self._jumps = Jumps(self.plan, self._here.flow.walker, y_down(self._here))
        return self._jumps.may_reach(bodies, goal)

    def _bodies(self, zone: str) -> list[Box]:
        if zone not in self._bodies_in:
            self._bodies_in[zone] = self._bodies_beginning_in(zone)
        return self._bodies_in[zone]

    def _bodies_beginning_in(self, zone: str) -> list[Box]:
        zones = {one.id for one in self._level.zones}
        anywhere = not zones or not zone
        down = y_down(self._here)
        return [
            box(body_at(spawn, self._here.flow.walker, down), down)
            for spawn in self._level.spawns
            if anywhere or (spawn.zone if spawn.zone in zones else self._level.zones[0].id) == zone
        ]

    def nearer(self, exit_: Exit) -> Repair | None:
        """The door put where a free one fits, if that is elsewhere."""
        area = free_door(self._here.flow, self._level)
        if area is None:
            return None
        bodies, door = self._bodies(exit_.zone), box(area, y_down(self._here))
        seen_from_side = self._here.flow.walker.view == "side"
        if not self._joined(bodies, door) or (seen_from_side and not self._may_reach(bodies, door)):
            return None
        return placed(self._here, self._level, exit_)

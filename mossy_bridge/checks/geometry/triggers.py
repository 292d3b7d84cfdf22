"""Areas of exits: whether the player, and only the player, surely sets them off."""

import math
from collections.abc import Callable, Iterable, Iterator
from itertools import combinations
from typing import Any

from msgspec.structs import replace

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.inspection import Inspection, LocalInspection, Setting
from mossy_bridge.checks.registry import check, local_check
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import PLAYER, Exit, Flow, Level, Rect, Walker
from mossy_bridge.plan.bodies import ROUNDING, body_at, overlap
from mossy_bridge.plan.boxes import Box, box, jump_length, step_length, stones_of
from mossy_bridge.plan.doors import free_door
from mossy_bridge.reach.queries.open_exits import can_be_open_together


def has_size(exit_: Exit) -> bool:
    """Whether the exit's area has any size."""
    return exit_.area[2] > 0 and exit_.area[3] > 0


def y_down(here: Setting) -> bool:
    """Whether y grows downwards in the flow."""
    return here.flow.units.y == "down"


def with_area(levels: Iterable[Level], *kinds: str) -> Iterator[tuple[Level, Exit, str]]:
    """The exits with some kinds of trigger, with their levels and places."""
    for level in levels:
        for exit_ in level.exits:
            if exit_.trigger.kind in kinds:
                yield level, exit_, f"{level.id}.{exit_.id}"


def setting(level: Level, exit_: Exit, **values: Any) -> Callable[[Flow], Flow]:
    """The edit that sets fields of an exit."""
    return lambda flow: edits.set_exit(flow, level.id, exit_.id, **values)


@local_check("trigger-by-anyone", "warning", "places", "The level ends without the player having done anything.")
def trigger_by_anyone(here: LocalInspection) -> Iterator[Found]:
    """A touch exit can be set off by an actor other than the player, and such an actor roams the level.

    Example: A crab of the marsh crawls into the East gate, and Bell Sands is over.
    To mend: Let only the player set the exit off, or keep the actor out of the level.
    """
    for level, exit_, at in with_area(here.levels, "touch"):
        others = [name for name in exit_.trigger.by if name != PLAYER and name in level.cast]
        if others:
            repair = Repair(
                "Let only the player set it off",
                setting(level, exit_, trigger=replace(exit_.trigger, by=(PLAYER,))),
            )
            message = f"{here.title(at)} can be set off by {', '.join(others)}, roaming there."
            yield Found((at,), message, repair=repair)


@local_check("trigger-empty", "error", "places", "Nobody can touch what has no size.")
def trigger_empty(here: LocalInspection) -> Iterator[Found]:
    """An exit by touch or key has an area without any size, in a level that has a plan.

    Example: The gate of Mud Flats is 0 wide: nobody ever stands in it.
    To mend: Draw the area where the door is to be, or let the exit be set off in another way.
    """
    empty = (level for level in here.levels if level.plan and not all(map(has_size, level.exits)))
    for level, exit_, at in with_area(empty, "touch", "press"):
        if not has_size(exit_):
            yield Found((at,), f"{here.title(at)} has an area of no size.", repair=placed(here, level, exit_))


def placed(here: Setting, level: Level, exit_: Exit) -> Repair | None:
    """An area at the edge of the plan, if one is free there."""
    area = free_door(here.flow, level)
    bodies = [body_at(spawn, here.flow.walker, y_down(here)) for spawn in level.spawns]
    taken = [*bodies, *(other.area for other in level.exits if other.id != exit_.id)]
    if area is None or level.plan is None or any(overlap(area, other) for other in taken):
        return None
    if stones_of(level.plan, y_down(here)).share(box(area, y_down(here))):
        return None
    return Repair("Put its area where a door has room", setting(level, exit_, area=area))


@local_check("trigger-outside", "error", "places", "Nobody can get to what lies outside the plan.")
def trigger_outside(here: LocalInspection) -> Iterator[Found]:
    """The area of an exit by touch or key shares nothing with the plan.

    Example: After the plan of Pan Row was made shorter, its gate lies behind the last wall.
    To mend: Move the area onto the plan, or make the plan larger.
    """
    for level, exit_, at in with_area(here.plans.area_outside(), "touch", "press"):
        if level.plan and has_size(exit_) and not overlap(exit_.area, (0, 0, level.plan.width, level.plan.height)):
            message = f"The area of {here.title(at)} lies outside the plan."
            yield Found((at,), message, repair=placed(here, level, exit_) if level.plan.width else None)


@local_check("trigger-slips-through", "warning", "places", "A fast player passes it between two ticks.")
def trigger_slips_through(here: LocalInspection) -> Iterator[Found]:
    """The area is so thin that a walker of this speed is in front of it at one tick and behind it at the next:
    thickness and body together are less than a tick's way.

    Example: A gate a tenth of a tile wide, and a runner who makes half a tile a tick.
    To mend: Make the area thicker; the repair takes the least that surely holds.
    """
    walker = here.flow.walker
    step = step_length(walker)
    for level, exit_, at in with_area(here.levels, "touch"):
        if not has_size(exit_):
            continue
        x, y, width, height = exit_.area
        upright, thickness, body = _across(walker, exit_.area)
        if thickness + body < step - ROUNDING:
            enough = math.ceil((step - body) * 1000) / 1000
            more = enough - thickness
            inwards = ((x, y, enough, height), (x - more, y, enough, height))
            if not upright:
                inwards = ((x, y, width, enough), (x, y - more, width, enough))
            told = f"{thickness:g} and the body's {body:g} together are thinner than a tick's {step:g}"
            areas = [area for area in inwards if sum(_across(walker, area)[1:]) >= step - ROUNDING]
            repair = reshaping(here, level, exit_, areas, f"Make it {enough:g} thick")
            yield Found((at,), f"{here.title(at)} can be missed at full speed: {told}.", repair=repair)


def _across(walker: Walker, area: Rect) -> tuple[bool, float, float]:
    """Whether an area is passed from side to side, its thickness in that direction, and the body's."""
    upright = walker.view == "side" or area[2] <= area[3]
    return (True, area[2], walker.width) if upright else (False, area[3], walker.height)


def reshaping(
    here: Setting, level: Level, exit_: Exit, areas: Iterable[Rect], label: str, inside: bool = True
) -> Repair | None:
    """The first of some areas that is in nobody's way: no body at a spawn point, no other area to touch or press; and,
    if it must be, inside the plan."""
    plan = level.plan
    taken = [body_at(spawn, here.flow.walker, y_down(here)) for spawn in level.spawns]
    taken += [other.area for other in level.exits if other.id != exit_.id and other.trigger.kind in ("touch", "press")]
    for x, y, width, height in areas:
        within = plan is None or (x >= 0 and x + width <= plan.width and y >= 0 and y + height <= plan.height)
        if (within or not inside) and not any(overlap((x, y, width, height), other) for other in taken):
            return Repair(label, setting(level, exit_, area=(x, y, width, height)))
    return None


def _on_ground(here: LocalInspection) -> Iterator[tuple[Level, Exit, str, Box, float]]:
    """Touch exits of side views above ground on which the walker can run past them."""
    walker = here.flow.walker
    if walker.view != "side":
        return
    for level, exit_, at in with_area(here.plans.touch_passed_by(), "touch"):
        if not level.plan or not has_size(exit_):
            continue
        ground = stones_of(level.plan, y_down(here)).ground_beside(box(exit_.area, y_down(here)), walker)
        if ground is not None:
            yield level, exit_, at, box(exit_.area, y_down(here)), ground


def reshaped(here: Setting, area: Box) -> Rect:
    """A box as an area of the flow."""
    y = -area.high if y_down(here) else area.low
    return (area.left, y, area.right - area.left, area.high - area.low)


@local_check("trigger-jumped-over", "warning", "places", "Whoever jumps goes past it and is where nobody should be.")
def trigger_jumped_over(here: LocalInspection) -> Iterator[Found]:
    """Seen from the side: the area is lower than ground and jump height together, no longer than a jump, and one can
    run on behind it.

    Example: A knee-high gate on a wide beach.
    To mend: Make the area higher than a jump, or put a wall behind it.
    """
    walker = here.flow.walker
    for level, exit_, at, area, ground in _on_ground(here):
        short = ground + walker.jump_height - area.high
        if short > ROUNDING and area.right - area.left <= jump_length(walker) + ROUNDING:
            taller = replace(area, high=ground + walker.jump_height)
            areas = [reshaped(here, taller)]
            repair = reshaping(here, level, exit_, areas, "Make it as high as a jump", inside=False)
            message = f"{here.title(at)} can be jumped over: it is {short:g} lower than a jump reaches."
            yield Found((at,), message, repair=repair)


@local_check("trigger-run-under", "warning", "places", "Whoever runs goes past it and is where nobody should be.")
def trigger_run_under(here: LocalInspection) -> Iterator[Found]:
    """Seen from the side: the area hangs higher above the ground than the walker is tall, and one can run on below
    it.

    Example: A gate that begins at head height.
    To mend: Let the area reach the ground.
    """
    for level, exit_, at, area, ground in _on_ground(here):
        gap = area.low - ground
        if gap > here.flow.walker.height + ROUNDING:
            lower = replace(area, low=ground)
            repair = reshaping(here, level, exit_, [reshaped(here, lower)], "Let it reach the ground", inside=False)
            message = f"{here.title(at)} can be run under: it hangs {gap:g} above the ground."
            yield Found((at,), message, repair=repair)


@check("triggers-overlap", "warning", "places", "Which of the two fires is a matter of chance.")
def triggers_overlap(here: Inspection) -> Iterator[Found]:
    """Two exits with different destinations share a part of their areas, and both can be open.

    Example: The stair and the raft of Bell Foundry lie over one another.
    To mend: Move one of them, or give them conditions that exclude each other.
    """
    for level in here.level_results.where("overlapping exits", lambda level: any(_overlapping(level))):
        ready = {exit_.source.id: exit_ for exit_ in here.survey.rules.levels[level.id].exits}
        for one, other in _overlapping(level):
            if can_be_open_together(here.survey, level.id, ready[one.id], ready[other.id]):
                at = (f"{level.id}.{one.id}", f"{level.id}.{other.id}")
                message = f"{here.title(at[0])} and {here.title(at[1])} share an area and can be open together."
                yield Found(at, message)


def _overlapping(level: Level) -> Iterator[tuple[Exit, Exit]]:
    """The pairs of exits with different destinations that share a part of their areas."""
    solid = [exit_ for exit_ in level.exits if exit_.trigger.kind in ("touch", "press") and has_size(exit_)]
    for one, other in combinations(solid, 2):
        if one.to != other.to and overlap(one.area, other.area):
            yield one, other

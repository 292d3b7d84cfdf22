"""Where a new door and its spawn point fit on a plan, and doors there and back. Lengths in plan units."""

import math

from msgspec.structs import replace

from mossy_bridge.model.edits.levels import CannotEdit, add_exit, add_thing, connect, existing, whole
from mossy_bridge.model.flow import Exit, Flow, Level, Plan, Rect, Spawn, Trigger, Walker
from mossy_bridge.plan.bodies import ROUNDING, body_at, overlap
from mossy_bridge.plan.boxes import box, step_length, stones_of

MOST_ACROSS, MOST_FEET = 400, 24
"""So many places are tried, across and along, for somewhere to stand."""


def has_area(exit_: Exit) -> bool:
    """Whether the exit lies somewhere on the plan."""
    return exit_.trigger.kind in ("touch", "press") and exit_.area[2] > 0 and exit_.area[3] > 0


def door_size(walker: Walker) -> tuple[float, float]:
    """Width and height of a new door: wider than the body and than what a tick may pass over, and as tall as a jump, so
    that nobody slips through or jumps over it."""
    tall = max(1.5 * walker.height, walker.jump_height if walker.view == "side" else 0)
    step = step_length(walker)
    if walker.view == "top":
        tall = max(tall, step - walker.height)
    return math.ceil(max(1.5 * walker.width, step - walker.width)), math.ceil(tall)


def free_door(flow: Flow, level: Level, side: str = "right") -> Rect | None:
    """An area for a new door as near to a side (``left``, ``right``) of the plan as one is free, standing on
    the ground there; None where the level has no plan."""
    plan = level.plan
    if plan is None or plan.width <= 0 or plan.height <= 0:
        return None
    width, height = door_size(flow.walker)
    size = (min(width, plan.width), min(height, plan.height))
    taken = [exit_.area for exit_ in level.exits] + [
        body_at(spawn, flow.walker, flow.units.y == "down") for spawn in level.spawns
    ]
    room = flow.walker.width
    index, first = 0, None
    while index * size[0] + size[0] <= plan.width or first is None:
        x = plan.width - size[0] * (index + 1) if side == "right" else size[0] * index
        place = (x, _foot(flow, plan, x, size), *size)
        first = first or place
        blocking = [other for other in taken if overlap(_grown(place, room), other)]
        if not blocking:
            return place
        index = max(index + 1, *(_index_past(other, room, plan.width, size[0], side) for other in blocking))
    return first


def _grown(rect: Rect, by: float) -> Rect:
    return (rect[0] - by, rect[1], rect[2] + 2 * by, rect[3])


def _index_past(other: Rect, room: float, plan_width: float, width: float, side: str) -> int:
    """The number, from the side, of the first place that is clear of something by some room."""
    past = plan_width - other[0] + room if side == "right" else other[0] + other[2] + room
    return math.ceil(min(past, plan_width) / width - ROUNDING)


def _foot(flow: Flow, plan: Plan, x: float, size: tuple[float, float]) -> float:
    """The area's smallest y: on the lowest ground with room above it, else in the middle (seen from above) or
    at the bottom of the plan."""
    y_down, (width, height) = flow.units.y == "down", size
    bottom = plan.height - height if y_down else 0.0
    if flow.walker.view == "top":
        return (plan.height - height) / 2
    near = stones_of(plan, y_down).spanning(box((x, 0, width, height), y_down))
    for stone in sorted(near, key=lambda stone: stone.high):
        y = -stone.high - height if y_down else stone.high
        here = box((x, y, width, height), y_down)
        under = min(stone.right, x + width) - max(stone.left, x) >= width - ROUNDING
        inside = -ROUNDING <= y <= plan.height - height + ROUNDING
        if under and inside and not any(here.shares(other) for other in near):
            return y
    return bottom


def landing_beside(flow: Flow, level: Level, door: Rect) -> Spawn:
    """An unnamed spawn point on the door's ground, a body's width clear of the door and facing away from it;
    on the side towards the middle of the plan, if there is room."""
    y_down, walker = flow.units.y == "down", flow.walker
    plan = level.plan or Plan()
    foot = door[1] + door[3] if y_down else door[1]
    if walker.view == "top":
        foot = door[1] + door[3] / 2 + (walker.height / 2 if y_down else -walker.height / 2)
    gap = max(1.5 * walker.width, 0.5)
    right = Spawn(id="landing", x=_neat(door[0] + door[2] + gap), y=foot, faces="right")
    left = Spawn(id="landing", x=_neat(door[0] - gap), y=foot, faces="left")
    inwards = (right, left) if door[0] + door[2] / 2 < plan.width / 2 else (left, right)
    return next((spawn for spawn in inwards if _stands_free(flow, plan, spawn)), inwards[0])


def free_landing(flow: Flow, level: Level, door: Rect) -> Spawn | None:
    """A landing beside a door where the walker stands free and clear of areas to walk into; the nearest place to stand
    where there is none right beside it, None where the plan has none."""
    beside = landing_beside(flow, level, door)
    place = standing_place(flow, level, beside.x, beside.y)
    if place is None:
        return None
    return replace(beside, x=place[0], y=place[1], faces="right" if place[0] > door[0] + door[2] / 2 else "left")


def _neat(value: float) -> float:
    return round(value, 3)


def _stands_free(flow: Flow, plan: Plan, spawn: Spawn) -> bool:
    y_down = flow.units.y == "down"
    body, stones = box(body_at(spawn, flow.walker, y_down), y_down), stones_of(plan, y_down)
    return body.inside(stones.room) and not stones.share(body)


def there_and_back(flow: Flow, one: str, other: str) -> tuple[Flow, str, str]:
    """The flow with two levels joined there and back: a door in each, and beside it the spawn point that the
    other's door leads to. Returns the two exits' ids as well."""
    if one == other:
        raise CannotEdit("choose two different levels to join there and back")
    flow, out, landing_out = _side_of(flow, one, other, "right")
    flow, home, landing_home = _side_of(flow, other, one, "left")
    flow = connect(flow, one, out, other, landing_home)
    flow = connect(flow, other, home, one, landing_out)
    return flow, out, home


def _side_of(flow: Flow, here: str, there: str, side: str) -> tuple[Flow, str, str]:
    existing(flow, here)
    title = existing(flow, there).title
    level = whole(flow, here) or Level(id=here)
    area = free_door(flow, level, side)
    door = Exit(id="exit", name=f"To {title}", trigger=Trigger(kind="choose"))
    landing = Spawn(id="spawn", name=f"From {title}")
    if area:
        door = replace(door, area=area, trigger=Trigger())
        beside = free_landing(flow, level, area) or landing_beside(flow, level, area)
        landing = replace(beside, id="spawn", name=landing.name)
    if level.kind == "play" or area:
        flow, spawn_id = add_thing(flow, here, "spawns", landing)
    else:
        spawn_id = ""
    flow, exit_id = add_thing(flow, here, "exits", door)
    return flow, exit_id, spawn_id


def standing_place(flow: Flow, level: Level, x: float, y: float) -> tuple[float, float] | None:
    """The place nearest to a point where the walker stands free: on ground, inside the plan, in nothing solid
    and clear of areas to walk into. Seen from above, ground is not asked for. None where there is no such place."""
    plan, walker, y_down = level.plan, flow.walker, flow.units.y == "down"
    if plan is None or plan.width < walker.width or plan.height < walker.height:
        return None
    areas = [exit_.area for exit_ in level.exits if exit_.trigger.kind == "touch"]
    feet = {stone[1] if y_down else stone[1] + stone[3] for stone in plan.solids} | {plan.height if y_down else 0.0}
    if walker.view == "top":
        feet = {_neat(min(max(y, walker.height), plan.height)), *(plan.height * i / 8 for i in range(1, 9))}
    places = [(math.hypot(place - x, foot - y), place, foot)
              for foot in sorted(feet, key=lambda foot: abs(foot - y))[:MOST_FEET]
              for place in _across(plan, walker, x)]  # fmt: skip
    for _, exact, foot in sorted(places):
        place = _neat(exact)
        spawn = Spawn(id="here", x=place, y=foot)
        clear = not any(overlap(body_at(spawn, walker, y_down), area) for area in areas)
        if clear and _stands_free(flow, plan, spawn) and (walker.view == "top" or _on_ground(flow, plan, spawn)):
            return place, foot
    return None


FINEST = 1e-6
"""Units between places to stand: a walker may be of next to no width."""


def _across(plan: Plan, walker: Walker, x: float) -> list[float]:
    """Where the middle of a body may stand, across: half a body apart, near to a place where a plan is very wide."""
    half = max(walker.width / 2, FINEST)
    middle = min(max(x, half), plan.width - half)
    count = min(MOST_ACROSS, int((plan.width - walker.width) / half) + 1)
    first = max(0, min(int((middle - half) / half) - count // 2, int((plan.width - walker.width) / half) + 1 - count))
    return [half + half * (first + i) for i in range(count)] + [middle]


def _on_ground(flow: Flow, plan: Plan, spawn: Spawn) -> bool:
    """Whether something solid begins right below the feet (or the plan ends there, where it has no solids)."""
    y_down = flow.units.y == "down"
    if not plan.solids:
        return spawn.y == (plan.height if y_down else 0)
    return stones_of(plan, y_down).carry(box(body_at(spawn, flow.walker, y_down), y_down))


def way_back(flow: Flow, level_id: str, exit_id: str, target_id: str) -> Flow:
    """The flow with a door in the target that leads back, to a landing beside the exit's own door."""
    level = whole(flow, level_id)
    exit_ = level.exit(exit_id) if level else None
    if level is None or exit_ is None:
        raise CannotEdit("the exit is no longer there")
    landing = Spawn(id="spawn", name=f"From {existing(flow, target_id).title}")
    if level.plan and exit_.area[2] and exit_.area[3]:
        beside = free_landing(flow, level, exit_.area) or landing_beside(flow, level, exit_.area)
        landing = replace(beside, name=landing.name)
    flow, spawn = add_thing(flow, level_id, "spawns", landing)
    target = existing(flow, target_id)
    area = free_door(flow, whole(flow, target_id) or target, "left")
    flow, back = add_exit(flow, target_id, f"Back to {level.title}", area=area)
    return connect(flow, target_id, back, level_id, spawn)

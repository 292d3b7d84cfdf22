"""Where a new door and its spawn point fit on a plan, and doors there and back. Lengths in plan units."""

import math
from collections.abc import Iterator

from msgspec.structs import replace

from mossy_bridge.model.edits import CannotEdit, add_exit, add_thing, connect, existing, whole
from mossy_bridge.model.flow import Exit, Flow, Level, Plan, Rect, Spawn, Trigger, Walker
from mossy_bridge.plan.bodies import ROUNDING, body_at, overlap
from mossy_bridge.plan.boxes import box, solids


def door_size(walker: Walker) -> tuple[float, float]:
    """Width and height of a new door: wider than the body, and as tall as a jump, so that nobody slips
    through or jumps over it."""
    tall = max(1.5 * walker.height, walker.jump_height if walker.view == "side" else 0)
    return math.ceil(1.5 * walker.width), math.ceil(tall)


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
    places = list(_places(flow, plan, size, side))
    room = flow.walker.width
    free = (place for place in places if not any(overlap(_grown(place, room), other) for other in taken))
    return next(free, places[0])


def _grown(rect: Rect, by: float) -> Rect:
    return (rect[0] - by, rect[1], rect[2] + 2 * by, rect[3])


def _places(flow: Flow, plan: Plan, size: tuple[float, float], side: str) -> Iterator[Rect]:
    """Areas from the side inwards; where there is ground, standing on it."""
    count = max(1, int(plan.width // size[0]))
    for index in range(count):
        x = plan.width - size[0] * (index + 1) if side == "right" else size[0] * index
        yield (x, _foot(flow, plan, x, size), *size)


def _foot(flow: Flow, plan: Plan, x: float, size: tuple[float, float]) -> float:
    """The area's smallest y: on the lowest ground with room above it, else in the middle (seen from above) or
    at the bottom of the plan."""
    y_down, (width, height) = flow.units.y == "down", size
    bottom = plan.height - height if y_down else 0.0
    if flow.walker.view == "top":
        return (plan.height - height) / 2
    for stone in sorted(solids(plan, y_down), key=lambda stone: stone.high):
        y = -stone.high - height if y_down else stone.high
        here = (x, y, width, height)
        under = min(stone.right, x + width) - max(stone.left, x) >= width - ROUNDING
        inside = -ROUNDING <= y <= plan.height - height + ROUNDING
        if under and inside and not any(overlap(here, other) for other in plan.solids):
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


def _neat(value: float) -> float:
    return round(value, 3)


def _stands_free(flow: Flow, plan: Plan, spawn: Spawn) -> bool:
    y_down = flow.units.y == "down"
    body = body_at(spawn, flow.walker, y_down)
    inside = box(body, y_down).inside(box((0, 0, plan.width, plan.height), y_down))
    return inside and not any(overlap(body, solid) for solid in plan.solids)


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
        landing = replace(landing_beside(flow, level, area), name=landing.name)
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
    half = walker.width / 2
    count = min(400, int((plan.width - walker.width) / half) + 1)
    across = [half + half * i for i in range(count)] + [min(max(x, half), plan.width - half)]
    found: list[tuple[float, float, float]] = []
    for foot in feet:
        for place in across:
            spawn = Spawn(id="here", x=_neat(place), y=foot)
            body = body_at(spawn, walker, y_down)
            clear = not any(overlap(body, area) for area in areas)
            if (
                clear
                and _stands_free(flow, plan, spawn)
                and (walker.view == "top" or _on_ground(plan, body, foot, y_down))
            ):
                found.append((math.hypot(place - x, foot - y), spawn.x, foot))
    return min(found)[1:] if found else None


def _on_ground(plan: Plan, body: Rect, foot: float, y_down: bool) -> bool:
    """Whether something solid begins right below the feet (or the plan ends there, where it has no solids)."""
    if not plan.solids:
        return foot == (plan.height if y_down else 0)
    tops = [s for s in plan.solids if abs((s[1] if y_down else s[1] + s[3]) - foot) <= ROUNDING]
    return any(min(s[0] + s[2], body[0] + body[2]) - max(s[0], body[0]) > ROUNDING for s in tops)


def way_back(flow: Flow, level_id: str, exit_id: str, target_id: str) -> Flow:
    """The flow with a door in the target that leads back, to a landing beside the exit's own door."""
    level = whole(flow, level_id)
    exit_ = level.exit(exit_id) if level else None
    if level is None or exit_ is None:
        raise CannotEdit("the exit is no longer there")
    landing = Spawn(id="spawn", name=f"From {existing(flow, target_id).title}")
    if level.plan and exit_.area[2] and exit_.area[3]:
        landing = replace(landing_beside(flow, level, exit_.area), name=landing.name)
    flow, spawn = add_thing(flow, level_id, "spawns", landing)
    target = existing(flow, target_id)
    area = free_door(flow, whole(flow, target_id) or target, "left")
    flow, back = add_exit(flow, target_id, f"Back to {level.title}", area=area)
    return connect(flow, target_id, back, level_id, spawn)

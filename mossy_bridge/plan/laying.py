"""Laying out a plan: moving, stretching, lining up and removing what lies on it. Lengths in plan units."""

from collections.abc import Callable, Collection, Iterable
from functools import partial
from typing import Any, Literal, NamedTuple, cast

from msgspec.structs import replace

from mossy_bridge.model.edits.boards import remove_tiles
from mossy_bridge.model.edits.levels import CannotEdit, change_thing, existing, remove_thing, set_level, whole
from mossy_bridge.model.flow import Flow, Level, Plan, Rect
from mossy_bridge.plan.bodies import body_at

Edge = Literal["left", "right", "top", "bottom", "centre", "middle"]
"""``centre`` lines up across, ``middle`` along; ``top`` is the side of the smaller y."""


class Part(NamedTuple):
    """Something of a level: ``exits``, ``spawns``, ``deeds``, ``zones`` or ``tiles`` and the id, ``solids`` and the
    number from 0."""

    group: str
    name: str


def part_of(level: Level, part: Part) -> Any:
    """The exit, spawn point, deed, zone or solid, or None."""
    if part.group == "solids":
        found = level.plan.solids if level.plan else ()
        return found[int(part.name)] if int(part.name) < len(found) else None
    return next((thing for thing in getattr(level, part.group) if thing.id == part.name), None)


def bounds_of(flow: Flow, level: Level, part: Part) -> Rect | None:
    """The rectangle a part takes on the plan: an area, a solid, the body at a spawn point, a deed's point; None
    for what has no place."""
    thing = part_of(level, part)
    if thing is None or part.group in ("zones", "tiles"):
        return None
    if part.group == "solids":
        return cast(Rect, thing)
    if part.group == "exits":
        return thing.area if thing.area[2] > 0 and thing.area[3] > 0 else None
    if part.group == "spawns":
        return body_at(thing, flow.walker, flow.units.y == "down")
    return (thing.x, thing.y, 0, 0)


def moved(flow: Flow, level_id: str, parts: Iterable[Part], across: float, along: float) -> Flow:
    """The flow with parts moved by a distance; tiles of a board by columns and rows."""
    for part in parts:
        flow = _changed(flow, level_id, part, partial(_shifted, part, across, along))
    return flow


def _shifted(part: Part, across: float, along: float, thing: Any) -> Any:
    if part.group == "solids":
        return _rect(thing[0] + across, thing[1] + along, thing[2], thing[3])
    if part.group == "exits":
        x, y, width, height = thing.area
        if not (width and height):
            return thing  # it lies nowhere yet
        return replace(thing, area=_rect(x + across, y + along, width, height))
    if part.group == "zones":
        return thing
    if part.group == "tiles":
        return replace(thing, col=neat(thing.col + across), row=neat(thing.row + along))
    return replace(thing, x=neat(thing.x + across), y=neat(thing.y + along))


def neat(value: float) -> float:
    """The value without the dust of adding fractions; a whole one as a whole number."""
    value = round(float(value), 4)
    return int(value) if value.is_integer() else value


def _rect(x: float, y: float, width: float, height: float) -> Rect:
    return (neat(x), neat(y), neat(max(width, 0)), neat(max(height, 0)))


def stretched(flow: Flow, level_id: str, part: Part, rect: Rect) -> Flow:
    """The flow with an exit's area or a solid given another rectangle."""
    if part.group not in ("exits", "solids"):
        raise CannotEdit("only areas and solids can be stretched")
    new = _rect(*rect)
    return _changed(flow, level_id, part, lambda thing: new if part.group == "solids" else replace(thing, area=new))


def _changed(flow: Flow, level_id: str, part: Part, change: Callable[[Any], Any]) -> Flow:
    if part.group != "solids":
        return change_thing(flow, level_id, part.group, part.name, change)
    plan = _plan(flow, level_id)
    index = int(part.name)
    if index >= len(plan.solids):
        raise CannotEdit("that solid is no longer there")
    changed = tuple(change(solid) if number == index else solid for number, solid in enumerate(plan.solids))
    return set_level(flow, level_id, plan=replace(plan, solids=changed))


def _plan(flow: Flow, level_id: str) -> Plan:
    existing(flow, level_id)
    level = whole(flow, level_id)
    return (level.plan if level else None) or Plan()


def with_solid(flow: Flow, level_id: str, rect: Rect) -> tuple[Flow, Part]:
    """The flow with one more solid, and which it is."""
    plan = _plan(flow, level_id)
    changed = set_level(flow, level_id, plan=replace(plan, solids=(*plan.solids, _rect(*rect))))
    return changed, Part("solids", str(len(plan.solids)))


def with_plan(flow: Flow, level_id: str, **values: Any) -> Flow:
    """The flow with the size or the picture of a level's plan set; a level without a plan gets one."""
    return set_level(flow, level_id, plan=replace(_plan(flow, level_id), **values))


def removed(flow: Flow, level_id: str, parts: Collection[Part]) -> Flow:
    """The flow without the parts. What referred to them stays and dangles, but for links between tiles."""
    tiles = {part.name for part in parts if part.group == "tiles"}
    flow = remove_tiles(flow, level_id, tiles) if tiles else flow
    gone = {int(part.name) for part in parts if part.group == "solids"}
    for part in parts:
        if part.group not in ("solids", "tiles"):
            flow = remove_thing(flow, level_id, part.group, part.name)
    if gone:
        plan = _plan(flow, level_id)
        kept = tuple(solid for number, solid in enumerate(plan.solids) if number not in gone)
        flow = set_level(flow, level_id, plan=replace(plan, solids=kept))
    return flow


def aligned(flow: Flow, level_id: str, parts: Collection[Part], edge: Edge) -> Flow:
    """The flow with parts moved so that an edge of each (or its middle) lies where that of the outermost does;
    middles meet half way between the outermost edges."""
    level = whole(flow, level_id)
    places = {part: rect for part in parts if level and (rect := bounds_of(flow, level, part))}
    if len(places) < 2:
        raise CannotEdit("choose at least two things on the plan to line them up")
    axis = 0 if edge in ("left", "right", "centre") else 1
    low = min(rect[axis] for rect in places.values())
    high = max(rect[axis] + rect[axis + 2] for rect in places.values())
    portion = {"left": 0.0, "top": 0.0, "right": 1.0, "bottom": 1.0}.get(edge, 0.5)
    target = low + (high - low) * portion
    for part, rect in places.items():
        by = target - (rect[axis] + rect[axis + 2] * portion)
        flow = moved(flow, level_id, [part], by if axis == 0 else 0, by if axis == 1 else 0)
    return flow


def outlines(flow: Flow, level: Level, proposed: Flow | None, level_id: str) -> list[Rect]:
    """The rectangles of a level's exits, spawn points, deeds and solids that an edit would put there or elsewhere."""
    after = whole(proposed, level_id) if proposed else None
    if proposed is None or after is None:
        return []

    def rects(now: Flow, one: Level) -> dict[Part, Rect | None]:
        solids = [Part("solids", str(number)) for number in range(len(one.plan.solids) if one.plan else 0)]
        things = [Part(group, thing.id) for group in ("exits", "spawns", "deeds") for thing in getattr(one, group)]
        return {part: bounds_of(now, one, part) for part in (*things, *solids)}

    before = rects(flow, level)
    return [rect for part, rect in rects(proposed, after).items() if rect and before.get(part) != rect]

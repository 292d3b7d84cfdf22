"""Spawn points: whether the player can appear there, and comes back to where the way back is."""

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping
from functools import partial

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.geometry.passages import walled_off_without, walls_off
from mossy_bridge.checks.geometry.triggers import has_size, y_down
from mossy_bridge.checks.inspection import Inspection, LocalInspection, NearbyInspection, Setting, exits_of
from mossy_bridge.checks.registry import check, level_check, local_check, nearby_check
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Exit, Flow, Level, Plan, Spawn
from mossy_bridge.model.sequence import STEPS, neighbour
from mossy_bridge.plan.bodies import ROUNDING, body_at, overlap
from mossy_bridge.plan.boxes import Box, box, height_of, stones_of
from mossy_bridge.plan.doors import free_door, free_landing, standing_place, way_back


def _spawns(levels: Iterable[Level]) -> Iterator[tuple[Level, Plan, Spawn, str]]:
    """The spawn points of levels with a plan."""
    for level in levels:
        if level.plan is not None:
            for spawn in level.spawns:
                yield level, level.plan, spawn, f"{level.id}.{spawn.id}"


def _body(here: Setting, spawn: Spawn) -> Box:
    return box(body_at(spawn, here.flow.walker, y_down(here)), y_down(here))


def _unplaced(spawn: Spawn) -> bool:
    return spawn.x == 0 and spawn.y == 0


@check("spawn-in-exit", "warning", "places", "The player is carried off again on appearing.")
def spawn_in_exit(here: Inspection) -> Iterator[Found]:
    """The body at a spawn point stands in the area of a touch exit that is armed on arrival.

    Example: West end lies inside the West gate: one is led back at once.
    To mend: Move the spawn point beside the area, or let the exit fire only when the player walks into it.
    """
    rules = here.survey.rules

    def covered(level: Level) -> bool:
        return any(exit_.armed_at for exit_ in rules.levels[level.id].exits)

    for level in here.level_results.where("exits that cover a spawn point", covered):
        for exit_ in rules.levels[level.id].exits:
            for spawn in level.spawns:
                if spawn.id in exit_.armed_at:
                    at = (f"{level.id}.{spawn.id}", f"{level.id}.{exit_.source.id}")
                    message = f"{here.title(at[0])} lies in the area of {exit_.source.name or exit_.source.id}."
                    yield Found(at, message, repair=_moved_clear(here, level, spawn, exit_.source))


def _moved_clear(here: Setting, level: Level, spawn: Spawn, exit_: Exit) -> Repair | None:
    """Where there is room to stand, nearest to the side of the area on which the plan has more room."""
    x, _, width, _ = exit_.area
    if level.plan is None:
        return None
    body = here.flow.walker.width
    clear = x - body if x > level.plan.width - (x + width) else x + width + body
    return _put(here, level, spawn, standing_place(here.flow, level, clear, spawn.y), "Move it clear of the area")


def _put(here: Setting, level: Level, spawn: Spawn, place: tuple[float, float] | None, label: str) -> Repair | None:
    """The spawn point put elsewhere, if that is where somebody can get to."""
    if place is None:
        return None
    x, y = place
    if walls_off(here, level, _with_spawn(level, replace(spawn, x=x, y=y))):
        return None

    def edit(flow: Flow) -> Flow:
        return edits.change_thing(flow, level.id, "spawns", spawn.id, lambda old: replace(old, x=x, y=y))

    return Repair(label, edit)


@nearby_check("doors-ping-pong", "error", "places", "The player goes to and fro for ever.")
def doors_ping_pong(here: NearbyInspection) -> Iterator[Found]:
    """The doors of two levels drop the player into each other's areas, and both are armed on arrival.

    Example: Bell Sands and Gull Stair throw the apprentice to and fro.
    To mend: Move one of the two landings out of the door.
    """
    springing = (level for level in here.levels if here.rules.levels[level.id].armed_at)
    for level, exit_ in exits_of(springing):
        one = level.id, exit_.id
        for door in _thrown_into(here, level, exit_):
            other = exit_.to.level if exit_.to else "", door.id
            back = here.flow.level(other[0])
            if one < other and back and exit_ in _thrown_into(here, back, door):
                at = (".".join(one), ".".join(other))
                message = f"{here.title(at[0])} and {here.title(at[1])} drop the player into each other."
                yield Found(at, message, repair=_landing_clear(here, one, other))


def _thrown_into(here: NearbyInspection, level: Level, exit_: Exit) -> list[Exit]:
    """The exits of another level that go off where an exit that is armed on arrival lands there."""
    to = exit_.to
    target = here.flow.level(to.level) if to and to.kind == "level" and to.level != level.id else None
    armed = exit_.trigger.kind == "touch" and exit_.trigger.armed_on_arrival
    spawn = target.spawn(to.spawn) if armed and target and to else None
    if spawn is None or target is None:
        return []
    return [door.source for door in here.rules.levels[target.id].exits if spawn.id in door.armed_at]


def _landing_clear(here: NearbyInspection, one: tuple[str, str], other: tuple[str, str]) -> Repair | None:
    """The landing of the one moved clear of the other's area."""
    level, target = here.flow.level(one[0]), here.flow.level(other[0])
    exit_, door = level.exit(one[1]) if level else None, target.exit(other[1]) if target else None
    spawn = target.spawn(exit_.to.spawn) if target and exit_ and exit_.to else None
    return _moved_clear(here, target, spawn, door) if target and spawn and door else None


def _with_spawn(level: Level, spawn: Spawn) -> Level:
    """The level with one more spawn point, or another one of that id."""
    kept = tuple(other for other in level.spawns if other.id != spawn.id)
    return replace(level, spawns=(*kept, spawn))


def _stood_up(here: Setting, level: Level, spawn: Spawn) -> Repair | None:
    """The spawn point on the nearest ground where the body has room."""
    place = standing_place(here.flow, level, spawn.x, spawn.y)
    label = f"Stand it where there is room, at {place[0]:g}, {place[1]:g}" if place else ""
    return _put(here, level, spawn, place, label)


@local_check("spawn-outside", "error", "places", "The player appears where there is nothing.")
def spawn_outside(here: LocalInspection) -> Iterator[Found]:
    """The spawn point lies outside the plan.

    Example: A level was cut shorter, and its East end is now in the sea.
    To mend: Move the spawn point onto the plan.
    """
    for level, plan, spawn, at in _spawns(here.plans.spawn_outside()):
        inside = 0 <= spawn.x <= plan.width and 0 <= spawn.y <= plan.height
        if not inside and not _unplaced(spawn):
            yield Found((at,), f"{here.title(at)} lies outside the plan.", repair=_stood_up(here, level, spawn))


@local_check("spawn-in-solid", "error", "places", "The player appears inside a wall.")
def spawn_in_solid(here: LocalInspection) -> Iterator[Found]:
    """The body at the spawn point overlaps a solid.

    Example: The apprentice appears waist-deep in the quay.
    To mend: Move the spawn point to free ground; the repair finds the nearest.
    """
    for level, plan, spawn, at in _spawns(here.plans.spawn_in_solid()):
        if stones_of(plan, y_down(here)).share(_body(here, spawn)):
            message = f"At {here.title(at)} the body stands in something solid."
            yield Found((at,), message, repair=_stood_up(here, level, spawn))


@local_check("spawn-in-air", "hint", "places", "The player falls out of the plan.")
def spawn_in_air(here: LocalInspection) -> Iterator[Found]:
    """Seen from the side: below no part of the body is there any solid, though the plan has some.

    Example: A landing over the open water.
    To mend: Move the spawn point over ground, or draw the ground that is missing.
    """
    if here.flow.walker.view != "side":
        return
    for level, plan, spawn, at in _spawns(here.plans.spawn_in_air()):
        if not plan.solids or _unplaced(spawn):
            continue
        if not stones_of(plan, y_down(here)).below(_body(here, spawn)):
            message = f"Below {here.title(at)} there is no ground."
            yield Found((at,), message, repair=_stood_up(here, level, spawn))


@local_check("spawn-unplaced", "hint", "places", "Nobody has said yet where the player appears.")
def spawn_unplaced(here: LocalInspection) -> Iterator[Found]:
    """The spawn point is still at 0, 0, although the level has a plan.

    Example: By the sluice stair was named, but never put anywhere.
    To mend: Drag it to its place on the plan.
    """
    for level, _, spawn, at in _spawns(here.plans.spawn_outside()):
        if _unplaced(spawn):
            yield Found((at,), f"{here.title(at)} is still at 0, 0.", repair=_stood_up(here, level, spawn))


@nearby_check("spawn-unused", "hint", "places", "It may have been meant for a way in that is missing.")
def spawn_unused(here: NearbyInspection) -> Iterator[Found]:
    """It is not the level's first, and no start, exit, tile or checkpoint names it.

    Example: A landing by the raft, while no raft leads here.
    To mend: Lead a way in to it, or remove it.
    """
    joined = here.plans.spawns_joined()
    for level in here.levels:
        landings = here.landings(level) if len(level.spawns) > 1 else {}
        for spawn in level.spawns[1:]:
            if spawn.id not in landings:
                at = f"{level.id}.{spawn.id}"
                own = here.written.level(level.id)
                mine = own is not None and any(other.id == spawn.id for other in own.spawns)
                idle = mine and ((level.id, spawn.id) in joined or not walled_off_without(here, level, spawn))
                repair = Repair("Remove it", _without(level.id, spawn.id)) if idle else None
                yield Found((at,), f"Nothing leads to {here.title(at)}.", repair=repair)


def _without(level_id: str, spawn_id: str) -> Callable[[Flow], Flow]:
    return lambda flow: edits.remove_thing(flow, level_id, "spawns", spawn_id)


@level_check("return-far-away", "hint", "places", "The player turns round and does not find the way back.")
def return_far_away(here: Inspection, levels: tuple[Level, ...]) -> Iterator[Found]:
    """Of two levels joined there and back, the landing lies further from the door that leads back than the flow's
    limit.

    Example: One comes in by the stair and stands at the other end of the marsh.
    To mend: Put the landing beside the door, or accept it where it is meant.
    """
    for level, exit_ in exits_of(levels):
        to = exit_.to
        target = here.flow.level(to.level) if to and to.kind == "level" and to.level != level.id else None
        spawn = target.spawn(to.spawn) if target and to else None
        ways_back = _areas_leading(target, level.id) if target else []
        if not spawn or not target or not ways_back:
            continue
        feet = height_of(spawn.y, y_down(here))
        far, back = min((box(e.area, y_down(here)).distance(spawn.x, feet), e.id) for e in ways_back)
        if far > here.flow.limits.return_distance + ROUNDING:
            at = (f"{level.id}.{exit_.id}", f"{target.id}.{back}")
            unit = here.flow.units.name
            message = f"{here.title(at[0])} lands {far:.1f} {unit}s from {here.title(at[1])}, which leads back."
            door = target.exit(back)
            yield Found(at, message, repair=_beside(here, (level, exit_), target, spawn, door) if door else None)


def _beside(here: Inspection, way: tuple[Level, Exit], target: Level, spawn: Spawn, door: Exit) -> Repair | None:
    """The landing beside the door that leads back; where others land there as well, a landing of its own."""
    place = free_landing(here.flow, target, door.area)
    to = way[1].to
    if place is None or to is None:
        return None
    far = box(door.area, y_down(here)).distance(place.x, height_of(place.y, y_down(here)))
    if far > here.flow.limits.return_distance or walls_off(here, target, _with_spawn(target, place)):
        return None
    if target.spawns[0].id == spawn.id or here.nearby(()).landings(target)[spawn.id] != 1:
        landing = replace(place, name=f"From {way[0].title}")

        def led(flow: Flow) -> Flow:
            flow, new = edits.add_thing(flow, target.id, "spawns", landing)
            return edits.set_exit(flow, way[0].id, way[1].id, to=replace(to, spawn=new))

        return Repair(f"Give it a landing of its own beside {door.name or door.id}", led)

    def edit(flow: Flow) -> Flow:
        def moved(old: Spawn) -> Spawn:
            return replace(old, x=place.x, y=place.y, faces=place.faces)

        return edits.change_thing(flow, target.id, "spawns", spawn.id, moved)

    return Repair(f"Move it beside {door.name or door.id}", edit)


def _areas_leading(level: Level, target: str) -> list[Exit]:
    return [
        exit_
        for exit_ in level.exits
        if exit_.trigger.kind in ("touch", "press")
        and has_size(exit_)
        and exit_.to
        and exit_.to.kind == "level"
        and exit_.to.level == target
    ]


@check("two-way-one-sided", "hint", "places", "Most ways here can be gone both ways; this one cannot.")
def two_way_one_sided(here: Inspection) -> Iterator[Found]:
    """A touch exit leads from one level to another and none leads back, although most joined levels of the region are
    joined both ways.

    Example: Into Drip Cave, and never out again.
    To mend: Make the way back, or accept it as a one-way.
    """
    known: dict[str, dict[str, str]] = {}

    def walked_to(level: Level) -> dict[str, str]:
        if level.id not in known:
            known[level.id] = _walked_to(here.flow, level)
        return known[level.id]

    joined = here.level_results.each("joined levels", partial(_joined, here.nearby(()), walked_to), "beside")
    regions, both = Counter[str](), Counter[str]()
    for level, one in joined:
        regions[level.region] += one.pairs
        both[level.region] += one.both_ways
    for level, one in joined:
        for exit_id, other in one.one_sided if both[level.region] * 2 > regions[level.region] else ():
            at = f"{level.id}.{exit_id}"
            message = f"{here.title(at)} leads to {here.title(other)}, but nothing leads back."
            edit = partial(way_back, level_id=level.id, exit_id=exit_id, target_id=other)
            target = here.flow.level(other)
            fits = here.would_open(other, level.id) and _room_for_way_back(here, level, exit_id, target)
            repair = Repair("Connect the way back", edit) if fits else None
            yield Found((at,), message, repair=repair)


class _Joined(Struct, frozen=True):
    """How a level is joined with others of its region by exits that the player walks into."""

    pairs: int
    """With how many levels whose ids sort behind its own."""
    both_ways: int
    """With how many of these there and back."""
    one_sided: tuple[tuple[str, str], ...]
    """The touch exits, with where they lead, from where nothing leads back."""


def _joined(here: NearbyInspection, walked_to: Callable[[Level], Mapping[str, str]], level: Level) -> _Joined | None:
    led_to = walked_to(level)
    naming = map(here.flow.level, here.links.naming(level.id))
    leading = {one.id for one in naming if one and level.id in walked_to(one)}
    behind = [name for name in {*led_to, *leading} if name > level.id]
    both = sum(1 for name in behind if name in led_to and name in leading)
    one_way = [(exit_, to) for to, exit_ in led_to.items() if exit_ and to not in leading]
    sided = tuple((exit_, to) for exit_, to in one_way if not _leads_back(here, to, level.id))
    return _Joined(len(behind), both, sided) if led_to or leading else None


def _walked_to(flow: Flow, level: Level) -> dict[str, str]:
    """The other levels of its region to which exits of a level lead by touch or key, each with the first of them by
    touch, or ""."""
    found: dict[str, str] = {}
    for exit_ in level.exits:
        target = flow.level(exit_.to.level) if exit_.to and exit_.to.kind == "level" else None
        if target and target.id != level.id and target.region == level.region:
            if exit_.trigger.kind == "touch":
                found[target.id] = found.get(target.id) or exit_.id
            elif exit_.trigger.kind == "press":
                found.setdefault(target.id, "")
    return found


def _leads_back(here: Setting, level_id: str, before: str) -> bool:
    """Whether the player can get straight back by any exit, walked into or chosen."""
    level = here.flow.level(level_id)
    exits = [exit_ for exit_ in level.exits if exit_.trigger.kind != "fail"] if level else []
    for to in (to for exit_ in exits for to in exit_.destinations):
        step = STEPS.get(to.kind, 0)
        beside = neighbour(here.flow, level_id, step) if step else None
        if to.kind == "back" or (to.kind == "level" and to.level == before) or (beside and beside.id == before):
            return True
    return False


def _room_for_way_back(here: Inspection, level: Level | None, exit_id: str, target: Level | None) -> bool:
    """Whether the target has room for a door, with a place to land beside the exit that led there, no further from it
    than a way back should be."""
    exit_ = level.exit(exit_id) if level else None
    if level is None or target is None or exit_ is None or exit_.to is None or not has_size(exit_):
        return False
    door, landing, arrival = free_door(here.flow, target, "left"), free_landing(here.flow, level, exit_.area), None
    if exit_.to.kind == "level":
        arrival = target.spawn(exit_.to.spawn)
    if door is None or landing is None or arrival is None or target.plan is None:
        return False
    areas = (other.area for other in target.exits)
    bodies = (body_at(spawn, here.flow.walker, y_down(here)) for spawn in target.spawns)
    blocked = any(overlap(door, other) for other in (*areas, *bodies))
    buried = stones_of(target.plan, y_down(here)).share(box(door, y_down(here)))
    far = box(door, y_down(here)).distance(arrival.x, height_of(arrival.y, y_down(here)))
    return not blocked and not buried and far <= here.flow.limits.return_distance

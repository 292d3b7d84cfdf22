"""Edits: pure functions from flow to flow. One that cannot be done raises :class:`CannotEdit` and changes
nothing; what an edit does not touch is shared with the flow before."""

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace

from mossy_bridge.model.flow import Destination, Exit, Flow, Level, MapPlace, Rect, Spawn, Start, Waiver
from mossy_bridge.model.names import id_from
from mossy_bridge.model.patterns import NEVER_TAKEN, resolved


class CannotEdit(ValueError):  # noqa: N818 - named for what the user reads
    """The edit is impossible; the message is a sentence for the user."""


def change_level(flow: Flow, level_id: str, change: Callable[[Level], Level]) -> Flow:
    """The flow with one level changed."""
    if flow.level(level_id) is None:
        raise CannotEdit(f"there is no level “{level_id}”")
    return replace(flow, levels=tuple(change(lv) if lv.id == level_id else lv for lv in flow.levels))


def set_level(flow: Flow, level_id: str, **values: Any) -> Flow:
    """The flow with fields of a level set. A level with a pattern from now on sets them itself."""

    def change(level: Level) -> Level:
        own = level.set_here | (set(values) - NEVER_TAKEN) if level.pattern else level.set_here
        return replace(level, set_here=own, **values)

    return change_level(flow, level_id, change)


def change_thing(flow: Flow, level_id: str, group: str, thing_id: str, change: Callable[[Any], Any]) -> Flow:
    """The flow with one spawn, deed, exit, tile or zone of a level changed; ``group`` is the field's name.
    A thing that the level takes from its pattern becomes its own."""
    level = flow.level(level_id)
    whole = resolved(flow).level(level_id)
    if level is None or whole is None:
        raise CannotEdit(f"there is no level “{level_id}”")
    thing = next((item for item in getattr(whole, group) if item.id == thing_id), None)
    if thing is None:
        raise CannotEdit(f"{level.title} has no “{thing_id}” any more")
    own = getattr(level, group)
    changed = change(thing)
    if any(item.id == thing_id for item in own):
        things = tuple(changed if item.id == thing_id else item for item in own)
    else:
        things = (*own, changed)
    return set_level(flow, level_id, **{group: things})


def set_exit(flow: Flow, level_id: str, exit_id: str, **values: Any) -> Flow:
    """The flow with fields of an exit set."""
    return change_thing(flow, level_id, "exits", exit_id, lambda exit_: replace(exit_, **values))


def connect(flow: Flow, level_id: str, exit_id: str, level: str, spawn: str = "") -> Flow:
    """The flow with an exit leading to a level's spawn point; an ``otherwise`` it had is kept."""

    def change(exit_: Exit) -> Exit:
        before = exit_.to.otherwise if exit_.to else None
        return replace(exit_, to=Destination(kind="level", level=level, spawn=spawn, otherwise=before))

    if flow.level(level) is None:
        raise CannotEdit(f"there is no level “{level}” to lead to")
    return change_thing(flow, level_id, "exits", exit_id, change)


def add_level(flow: Flow, name: str, after: str = "", kind: str = "play") -> tuple[Flow, str]:
    """The flow with a new level behind another (or at the end), and the new level's id. A play level gets a
    first spawn point, since it cannot be entered without one."""
    new_id = id_from(name, {level.id for level in flow.levels})
    index = next((i + 1 for i, level in enumerate(flow.levels) if level.id == after), len(flow.levels))
    region = flow.levels[index - 1].region if index and after else ""
    spawns = (Spawn(id="start_point", name="Start point"),) if kind == "play" else ()
    level = Level(id=new_id, name=name, kind=kind, region=region, spawns=spawns)  # type: ignore[arg-type]
    levels = (*flow.levels[:index], level, *flow.levels[index:])
    start = flow.start if flow.start.level else Start(level=new_id)
    return replace(flow, levels=levels, start=start), new_id


def add_exit(flow: Flow, level_id: str, name: str, to: Destination | None = None) -> tuple[Flow, str]:
    """The flow with a new exit in a level, and its id. It is chosen, where there is no plan to touch it on."""
    whole = resolved(flow).level(level_id)
    level = flow.level(level_id)
    if level is None or whole is None:
        raise CannotEdit(f"there is no level “{level_id}”")
    new_id = id_from(name, {exit_.id for exit_ in whole.exits}, "exit")
    new = Exit(id=new_id, name=name, to=to)
    if whole.plan is not None and whole.plan.width and whole.kind == "play":
        new = replace(new, area=_free_area(whole, flow.units.y == "down"))
    else:
        new = replace(new, trigger=replace(new.trigger, kind="choose"))
    return set_level(flow, level_id, exits=(*level.exits, new)), new_id


def _free_area(level: Level, y_down: bool) -> Rect:
    """An area two units wide at the far side of the plan, standing on the highest ground there is there."""
    plan = level.plan
    assert plan is not None
    width, height = min(2.0, plan.width), min(3.0, plan.height)
    x = plan.width - width
    below = [solid for solid in plan.solids if solid[0] < plan.width and solid[0] + solid[2] > x]
    if y_down:
        floor = min((top for _, top, _, _ in below), default=plan.height)
        return (x, max(floor - height, 0), width, height)
    floor = max((bottom + tall for _, bottom, _, tall in below), default=0)
    return (x, min(floor, plan.height - height), width, height)


def remove_level(flow: Flow, level_id: str) -> Flow:
    """The flow without the level. What referred to it stays and dangles, so that the survey can say so."""
    if flow.level(level_id) is None:
        raise CannotEdit(f"there is no level “{level_id}”")
    places = {name: place for name, place in flow.map.items() if name != level_id}
    return replace(flow, levels=tuple(lv for lv in flow.levels if lv.id != level_id), map=places)


def remove_thing(flow: Flow, level_id: str, group: str, thing_id: str) -> Flow:
    """The flow without one of a level's own spawns, deeds, exits or tiles."""
    level = flow.level(level_id)
    own = getattr(level, group) if level else ()
    kept = tuple(item for item in own if item.id != thing_id)
    if len(kept) == len(own):
        raise CannotEdit(f"“{thing_id}” belongs to the level's pattern and is removed there")
    return set_level(flow, level_id, **{group: kept})


def place_card(flow: Flow, level_id: str, x: float, y: float) -> Flow:
    """The flow with a level's card standing where the designer put it."""
    return replace(flow, map={**flow.map, level_id: MapPlace(x=round(x), y=round(y))})


def set_start(flow: Flow, level_id: str, spawn: str = "") -> Flow:
    """The flow starting somewhere else."""
    return replace(flow, start=Start(level=level_id, spawn=spawn))


def accept(flow: Flow, check: str, at: str, why: str) -> Flow:
    """The flow with a finding accepted, for a reason."""
    return replace(flow, waivers=(*flow.waivers, Waiver(check=check, at=at, why=why)))


def withdraw(flow: Flow, check: str, at: str) -> Flow:
    """The flow with an acceptance taken back."""
    kept = tuple(waiver for waiver in flow.waivers if (waiver.check, waiver.at) != (check, at))
    return replace(flow, waivers=kept)

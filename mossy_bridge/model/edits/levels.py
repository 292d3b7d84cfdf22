"""Edits: pure functions from flow to flow. One that cannot be done raises :class:`CannotEdit` and changes
nothing; what an edit does not touch is shared with the flow before."""

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from functools import partial
from typing import Any

from msgspec.structs import replace

from mossy_bridge.model.flow import Destination, Exit, Flow, Level, LevelKind, MapPlace, Rect, Spawn, Start, Waiver
from mossy_bridge.model.ids import id_from
from mossy_bridge.model.patterns import resolved_level


class CannotEdit(ValueError):  # noqa: N818 - named for what the user reads
    """The edit is impossible; the message is a sentence for the user."""


PATTERN = "pattern:"
"""Stands before the id of a pattern wherever an edit could mean a level or a pattern. Ids have no colon."""


def owner(flow: Flow, key: str) -> Level | None:
    """The level with that id as it is written; with ``pattern:`` before the id, the pattern."""
    if key.startswith(PATTERN):
        return next((pattern for pattern in flow.patterns if pattern.id == key.removeprefix(PATTERN)), None)
    return flow.level(key)


def whole(flow: Flow, key: str) -> Level | None:
    """The same level with what it takes from its pattern filled in."""
    level = owner(flow, key)
    return filled_in(flow, level) if level else None


def filled_in(flow: Flow, level: Level) -> Level:
    """A level with what it takes from its pattern filled in."""
    pattern = owner(flow, PATTERN + level.pattern) if level.pattern else None
    return resolved_level(level, pattern) if pattern else level


def existing(flow: Flow, key: str) -> Level:
    """The level or pattern as it is written. Raises :class:`CannotEdit` where there is none."""
    level = owner(flow, key)
    if level is None:
        raise CannotEdit(f"there is no {'pattern' if key.startswith(PATTERN) else 'level'} “{key}” any more")
    return level


def change_level(flow: Flow, key: str, change: Callable[[Level], Level]) -> Flow:
    """The flow with one level or pattern changed."""
    return change_levels(flow, {key: change})


def change_levels(flow: Flow, changes: Mapping[str, Callable[[Level], Level]]) -> Flow:
    """The flow with some levels or patterns changed, all in one pass. Raises :class:`CannotEdit` where one is gone."""
    levels, patterns = list(flow.levels), list(flow.patterns)
    for key, change in changes.items():
        level = existing(flow, key)
        if key.startswith(PATTERN):
            patterns[flow.patterns.index(level)] = change(level)
        else:
            levels[flow.place_of(key) or 0] = change(level)
    if not any(key.startswith(PATTERN) for key in changes):
        return replace(flow, levels=tuple(levels))
    return replace(flow, levels=tuple(levels), patterns=tuple(patterns))


def set_level(flow: Flow, level_id: str, **values: Any) -> Flow:
    """The flow with fields of a level set. A level with a pattern from now on sets them itself."""
    return change_level(flow, level_id, partial(_set, values=values))


def set_each(flow: Flow, values: Mapping[str, Mapping[str, Any]]) -> Flow:
    """The flow with fields of several levels set, each its own; those that it does not have are passed over."""
    return change_levels(flow, {key: partial(_set, values=own) for key, own in values.items() if owner(flow, key)})


def set_levels(flow: Flow, level_ids: Collection[str], **values: Any) -> Flow:
    """The flow with the same fields set in several levels."""
    return change_levels(flow, dict.fromkeys(level_ids, partial(_set, values=values)))


def _set(level: Level, values: Mapping[str, Any]) -> Level:
    return replace(level, set_here=level.set_here | set(values) if level.pattern else level.set_here, **values)


def change_thing(flow: Flow, level_id: str, group: str, thing_id: str, change: Callable[[Any], Any]) -> Flow:
    """The flow with one spawn, deed, exit, tile or zone of a level changed; ``group`` is the field's name.
    A thing that the level takes from its pattern becomes its own. What was to be looked at in a copy has been,
    once it is changed."""
    return change_level(flow, level_id, lambda level: _with_changed(flow, level, group, thing_id, change))


def _with_changed(flow: Flow, level: Level, group: str, thing_id: str, change: Callable[[Any], Any]) -> Level:
    filled = filled_in(flow, level)
    thing = next((item for item in getattr(filled, group) if item.id == thing_id), None)
    if thing is None:
        raise CannotEdit(f"{level.title} has no “{thing_id}” any more")
    own = getattr(level, group)
    changed = change(thing)
    if any(item.id == thing_id for item in own):
        things = tuple(changed if item.id == thing_id else item for item in own)
    else:
        things = (*own, changed)
    left = _left_to_look_at(level, f"{group.removesuffix('s')} {thing_id}")
    return _set(level, {group: things, **left})


def looked_at(flow: Flow, level_id: str, part: str = "") -> Flow:
    """The flow with one part of a copy (``exit east_gate``) no longer waiting to be looked at, or all of it."""
    left = _left_to_look_at(existing(flow, level_id), part)
    return set_level(flow, level_id, **left) if left else flow


def _left_to_look_at(level: Level, part: str) -> dict[str, tuple[str, ...]]:
    """The field of a copy that says what waits to be looked at, without one part, or empty; nothing where it is so."""
    rest = tuple(other for other in level.unreviewed if part and other != part)
    return {} if rest == level.unreviewed else {"unreviewed": rest}


def set_exit(flow: Flow, level_id: str, exit_id: str, **values: Any) -> Flow:
    """The flow with fields of an exit set."""
    return change_thing(flow, level_id, "exits", exit_id, lambda exit_: replace(exit_, **values))


def set_exits(flow: Flow, places: Iterable[tuple[str, str]], **values: Any) -> Flow:
    """The flow with the same fields set in several exits, given as level and exit."""
    exits: dict[str, list[str]] = {}
    for level_id, exit_id in places:
        exits.setdefault(level_id, []).append(exit_id)

    def change(level: Level, exit_ids: Iterable[str]) -> Level:
        for exit_id in exit_ids:
            level = _with_changed(flow, level, "exits", exit_id, lambda exit_: replace(exit_, **values))
        return level

    return change_levels(flow, {key: partial(change, exit_ids=exit_ids) for key, exit_ids in exits.items()})


def connect(flow: Flow, level_id: str, exit_id: str, level: str, spawn: str = "") -> Flow:
    """The flow with an exit leading to a level's spawn point; an ``otherwise`` it had is kept."""

    def change(exit_: Exit) -> Exit:
        before = exit_.to.otherwise if exit_.to else None
        return replace(exit_, to=Destination(kind="level", level=level, spawn=spawn, otherwise=before))

    if flow.level(level) is None:
        raise CannotEdit(f"there is no level “{level}” to lead to")
    return change_thing(flow, level_id, "exits", exit_id, change)


def insert_level(flow: Flow, level: Level, after: str = "", first: bool = False) -> Flow:
    """The flow with a level put behind another, at the end, or at the very beginning."""
    return insert_levels(flow, (level,), after, first)


def insert_levels(flow: Flow, levels: Sequence[Level], after: str = "", first: bool = False) -> Flow:
    """The flow with levels put one behind the other, the first of them where a single one would be put."""
    index = next((i + 1 for i, other in enumerate(flow.levels) if other.id == after), len(flow.levels))
    index = 0 if first else index
    start = flow.start if flow.start.level or not levels else Start(level=levels[0].id)
    return replace(flow, levels=(*flow.levels[:index], *levels, *flow.levels[index:]), start=start)


def add_level(flow: Flow, name: str, after: str = "", kind: LevelKind = "play", **values: Any) -> tuple[Flow, str]:
    """The flow with a new level behind another (or at the end), and the new level's id. A play level gets a
    first spawn point, since it cannot be entered without one."""
    new_id = id_from(name, {level.id for level in flow.levels})
    before = flow.level(after)
    spawns = (Spawn(id="start_point", name="Start point"),) if kind == "play" else ()
    values = {"region": before.region if before else "", "spawns": spawns, **values}
    return insert_level(flow, Level(id=new_id, name=name, kind=kind, **values), after), new_id


def add_thing(flow: Flow, level_id: str, group: str, thing: Any) -> tuple[Flow, str]:
    """The flow with a spawn point, deed, exit, zone or tile added to a level, and its id, made from its name
    (or from the id it has) so that it is unlike the others."""
    level = existing(flow, level_id)
    taken = {other.id for other in getattr(whole(flow, level_id), group)}
    new_id = id_from(thing.name or thing.id, taken, group.removesuffix("s"))
    things = (*getattr(level, group), replace(thing, id=new_id))
    return set_level(flow, level_id, **{group: things}), new_id


def add_exit(
    flow: Flow, level_id: str, name: str, to: Destination | None = None, area: Rect | None = None
) -> tuple[Flow, str]:
    """The flow with a new exit in a level, and its id. Without an area to touch it is chosen."""
    new = Exit(id="exit", name=name, to=to, area=area or (0, 0, 0, 0))
    if area is None:
        new = replace(new, trigger=replace(new.trigger, kind="choose"))
    return add_thing(flow, level_id, "exits", new)


def insert_in_crossing(flow: Flow, level_id: str, exit_id: str, name: str, **values: Any) -> tuple[Flow, str]:
    """The flow with a new level put into a crossing, and its id: the exit leads there, and an exit of the new level
    on to where it led before."""
    existing(flow, level_id)
    level = whole(flow, level_id)
    exit_ = level.exit(exit_id) if level else None
    if exit_ is None or exit_.to is None:
        raise CannotEdit("choose an exit that leads somewhere, to put a level behind it")
    flow, new_id = add_level(flow, name, level_id, **values)
    flow, on = add_exit(flow, new_id, "On", exit_.to)
    flow = set_exit(flow, new_id, on, completes=True, transition=exit_.transition)
    return connect(flow, level_id, exit_id, new_id), new_id


def remove_levels(flow: Flow, level_ids: Collection[str]) -> Flow:
    """The flow without the levels. What referred to them stays and dangles, so that the survey can say so."""
    for level_id in level_ids:
        existing(flow, level_id)
    places = {name: place for name, place in flow.map.items() if name not in level_ids}
    return replace(flow, levels=tuple(level for level in flow.levels if level.id not in level_ids), map=places)


def remove_thing(flow: Flow, level_id: str, group: str, thing_id: str) -> Flow:
    """The flow without one of a level's own spawns, deeds, exits, zones or tiles."""
    own = getattr(existing(flow, level_id), group)
    kept = tuple(item for item in own if item.id != thing_id)
    if len(kept) == len(own):
        raise CannotEdit(f"“{thing_id}” belongs to the level's pattern and is removed there")
    return looked_at(set_level(flow, level_id, **{group: kept}), level_id, f"{group.removesuffix('s')} {thing_id}")


def place_card(flow: Flow, level_id: str, x: float, y: float) -> Flow:
    """The flow with a level's card standing where the designer put it."""
    return replace(flow, map={**flow.map, level_id: MapPlace(x=round(float(x), 0), y=round(float(y), 0))})


def let_card_go(flow: Flow, level_id: str) -> Flow:
    """The flow with a level's card standing where the map puts it."""
    return replace(flow, map={name: place for name, place in flow.map.items() if name != level_id})


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

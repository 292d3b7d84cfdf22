"""Edits of patterns: making one from a level, basing levels on it, and letting go of it."""

from collections.abc import Collection
from typing import Any

from msgspec.structs import replace

from mossy_bridge.model.edits.levels import PATTERN, CannotEdit, change_level, existing, owner, whole
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.ids import id_from
from mossy_bridge.model.patterns import MERGED, NEVER_TAKEN, marked

OWN = NEVER_TAKEN | {"ships", "status", "region", "copied_from", "ticked", "unreviewed", "notes"}
"""What stays the level's own business when a pattern is made of it."""


def make_pattern(flow: Flow, level_id: str, name: str) -> tuple[Flow, str]:
    """The flow with a pattern made from a level, and the pattern's id. The level is then based on it and
    takes everything from it but what is its own business."""
    level = whole(flow, level_id)
    if level is None or level_id.startswith(PATTERN):
        raise CannotEdit("choose a level to make a pattern from")
    new_id = id_from(name, {pattern.id for pattern in flow.patterns}, "pattern")
    blank = Level(id=new_id, name=name)
    kept = {name: getattr(level, name) for name in Level.__struct_fields__ if name not in OWN}
    flow = replace(flow, patterns=(*flow.patterns, replace(blank, **kept)))
    return _based(flow, level_id, new_id, replace(level, set_here=_set_apart(level))), new_id


def _set_apart(level: Level) -> frozenset[str]:
    """The fields of a level, outside those a pattern takes over, that are not at their default."""
    blank = Level(id=level.id)
    return frozenset(name for name in OWN - NEVER_TAKEN if getattr(level, name) != getattr(blank, name))


def base_on(flow: Flow, level_ids: Collection[str], pattern_id: str) -> Flow:
    """The flow with levels based on a pattern. Each keeps as its own whatever it has that differs from a
    blank level; the rest it takes from the pattern."""
    if owner(flow, PATTERN + pattern_id) is None:
        raise CannotEdit(f"there is no pattern “{pattern_id}”")
    for level_id in level_ids:
        level = whole(flow, level_id)
        if level is None or level_id.startswith(PATTERN):
            raise CannotEdit("only levels can be based on a pattern")
        blank = Level(id=level.id)
        names = [name for name in Level.__struct_fields__ if name not in NEVER_TAKEN]
        own = frozenset(name for name in names if getattr(level, name) != getattr(blank, name))
        flow = _based(flow, level_id, pattern_id, replace(level, set_here=own))
    return flow


def _based(flow: Flow, level_id: str, pattern_id: str, level: Level) -> Flow:
    """The level based on the pattern, what it does not set itself at its default."""
    blank = Level(id=level.id)
    names = (name for name in Level.__struct_fields__ if name not in NEVER_TAKEN and name not in level.set_here)
    level = replace(level, pattern=pattern_id, **{name: getattr(blank, name) for name in names})
    return change_level(flow, level_id, lambda _: marked(level))


def detach(flow: Flow, level_id: str) -> Flow:
    """The flow with a level standing on its own again, just as it is now."""
    level = whole(flow, level_id)
    if level is None or not level.pattern:
        raise CannotEdit("this level is based on no pattern")
    return change_level(flow, level_id, lambda _: replace(level, pattern="", set_here=frozenset()))


def take_back(flow: Flow, level_id: str, field_name: str, thing_id: str = "") -> Flow:
    """The flow with a level taking a field (or one thing of it) from its pattern again."""
    level = existing(flow, level_id)
    if not thing_id:
        blank = getattr(Level(id=level.id), field_name)
        return change_level(
            flow, level_id, lambda lv: replace(lv, set_here=lv.set_here - {field_name}, **{field_name: blank})
        )
    kept = tuple(thing for thing in getattr(level, field_name) if thing.id != thing_id)
    if not kept:
        return take_back(flow, level_id, field_name)
    return change_level(flow, level_id, lambda lv: replace(lv, **{field_name: kept}))


def remove_pattern(flow: Flow, pattern_id: str) -> Flow:
    """The flow without a pattern; the levels based on it stand on their own, just as they were."""
    existing(flow, PATTERN + pattern_id)
    for level in flow.levels:
        if level.pattern == pattern_id:
            flow = detach(flow, level.id)
    return replace(flow, patterns=tuple(pattern for pattern in flow.patterns if pattern.id != pattern_id))


def overridden(flow: Flow, level_id: str) -> tuple[tuple[str, str], ...]:
    """What a level with a pattern sets itself: fields, and for lists each thing that replaces the pattern's or
    is added, as field and id ("" for the whole field)."""
    level = existing(flow, level_id)
    pattern = owner(flow, PATTERN + level.pattern) if level.pattern else None
    if pattern is None:
        return ()
    found: list[tuple[str, str]] = []
    for name in Level.__struct_fields__:
        if name in NEVER_TAKEN or name not in level.set_here:
            continue
        things: tuple[Any, ...] = getattr(level, name) if name in MERGED and name != "paths" else ()
        found += [(name, thing.id) for thing in things] or [(name, "")]
    return tuple(found)

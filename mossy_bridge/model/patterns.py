"""Patterns: what a level takes from its model level."""

from collections.abc import Mapping
from typing import Any

from msgspec.structs import replace

from mossy_bridge.model.flow import Flow, Level, Path

NEVER_TAKEN = frozenset({"id", "code", "name", "file", "pattern", "set_here"})
MERGED = ("zones", "paths", "spawns", "deeds", "exits", "tiles")


_KEPT = "resolved"
"""Under this name a flow keeps itself with its patterns filled in."""


def resolved(flow: Flow) -> Flow:
    """The flow with every level as it really is: fields and things of its pattern filled in. Worked out once for each
    flow, so that whoever asks about the same one has the very same levels.

    A level whose pattern does not exist stands as it is written.
    """
    return _resolved(flow, None)


def resolve_like(flow: Flow, before: Flow) -> None:
    """Fills in the patterns of an edited flow, if those of the flow ``before`` have been; a level that has not changed,
    nor its pattern, stays the very same."""
    if _KEPT in before.__dict__:
        _resolved(flow, before)


def _resolved(flow: Flow, before: Flow | None) -> Flow:
    patterns = {pattern.id: pattern for pattern in flow.patterns}
    if not patterns or not any(level.pattern in patterns for level in flow.levels):
        return flow
    kept: dict[str, Flow] = flow.__dict__
    if _KEPT not in kept:
        known = _still_so(before, patterns) if before else {}
        levels = tuple(known.get(id(level)) or _filled_in(level, patterns) for level in flow.levels)
        kept.setdefault(_KEPT, replace(flow, levels=levels))  # another thread may have been sooner
    return kept[_KEPT]


def _still_so(before: Flow, patterns: Mapping[str, Level]) -> dict[int, Level]:
    """The levels of an earlier flow whose patterns are the same, filled in, by the identity of each as written."""
    old = {pattern.id: pattern for pattern in before.patterns}
    pairs = zip(before.levels, resolved(before).levels, strict=True)
    return {id(level): filled for level, filled in pairs if old.get(level.pattern) is patterns.get(level.pattern)}


def _filled_in(level: Level, patterns: Mapping[str, Level]) -> Level:
    return resolved_level(level, patterns[level.pattern]) if level.pattern in patterns else level


def resolved_level(level: Level, pattern: Level) -> Level:
    """The level with what it leaves out taken from the pattern."""
    taken = {
        name: getattr(pattern, name)
        for name in Level.__struct_fields__
        if name not in level.set_here and name not in NEVER_TAKEN
    }
    for name in MERGED:
        if name in level.set_here:
            taken[name] = merged(getattr(pattern, name), getattr(level, name))
    return replace(level, **taken)


def marked(level: Level) -> Level:
    """The level with everything it names itself by counted as set here, as it is when read from its file."""
    own = {name for name in NEVER_TAKEN - {"id", "set_here"} if getattr(level, name)}
    return replace(level, set_here=level.set_here | own) if level.pattern else level


def merged(model: tuple[Any, ...], own: tuple[Any, ...]) -> tuple[Any, ...]:
    """The pattern's things in its order, each replaced whole by the level's own, then the level's others."""
    mine = {_key(thing): thing for thing in own}
    theirs = {_key(thing) for thing in model}
    return tuple(mine.get(_key(thing), thing) for thing in model) + tuple(
        thing for thing in own if _key(thing) not in theirs
    )


def _key(thing: Any) -> object:
    return (thing.start, thing.end) if isinstance(thing, Path) else thing.id

"""Patterns: what a level takes from its model level."""

from typing import Any

from msgspec.structs import replace

from mossy_bridge.model.flow import Flow, Level, Path

NEVER_TAKEN = frozenset({"id", "code", "name", "file", "pattern", "set_here"})
MERGED = ("zones", "paths", "spawns", "deeds", "exits", "tiles")


def resolved(flow: Flow) -> Flow:
    """The flow with every level as it really is: fields and things of its pattern filled in.

    A level whose pattern does not exist stands as it is written.
    """
    patterns = {pattern.id: pattern for pattern in flow.patterns}
    if not patterns or not any(level.pattern in patterns for level in flow.levels):
        return flow
    levels = tuple(
        resolved_level(level, patterns[level.pattern]) if level.pattern in patterns else level for level in flow.levels
    )
    return replace(flow, levels=levels)


class Resolver:
    """Fills in patterns flow after flow; a level that has not changed, nor its pattern, stays the very same."""

    def __init__(self) -> None:
        self._cache: dict[str, tuple[Level, Level, Level]] = {}

    def resolved(self, flow: Flow) -> Flow:
        """:func:`resolved`, with what was worked out for an earlier flow used again."""
        patterns = {pattern.id: pattern for pattern in flow.patterns}
        if not patterns or not any(level.pattern in patterns for level in flow.levels):
            return flow
        return replace(flow, levels=tuple(self._level(level, patterns.get(level.pattern)) for level in flow.levels))

    def _level(self, level: Level, pattern: Level | None) -> Level:
        if pattern is None:
            return level
        cached = self._cache.get(level.id)
        if cached is None or cached[0] is not level or cached[1] is not pattern:
            cached = self._cache[level.id] = (level, pattern, resolved_level(level, pattern))
        return cached[2]


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

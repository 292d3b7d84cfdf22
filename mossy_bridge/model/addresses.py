"""Places in a flow: the short ones that findings use (``slipway.east_gate``), and the long ones of test-only
values (``levels.slipway.exits.east_gate.trigger.when``)."""

import re
from functools import cache
from typing import Any

from msgspec.structs import fields

from mossy_bridge.model.flow import Flow, Level, Tile, Value


def place_exists(flow: Flow, place: str) -> bool:
    """Whether a value stands at the long place. Parts without an id are named by their number, from 0."""
    return _walked(flow, place)[0]


def value_at(flow: Flow, place: str) -> Any:
    """The value that stands at the long place. Raises ``KeyError`` where none does."""
    known, value = _walked(flow, place)
    if not known:
        raise KeyError(place)
    return value


def _walked(flow: Flow, place: str) -> tuple[bool, Any]:
    here: Any = flow
    for step in place.split("."):
        known, here = _inside(here, step)
        if not known:
            return False, None
    return True, here


def _inside(value: Any, step: str) -> tuple[bool, Any]:
    if isinstance(value, Value):
        names = _names(type(value))
        return (True, getattr(value, names[step])) if step in names else (False, None)
    if isinstance(value, tuple):
        for part in value:
            if getattr(part, "id", None) == step:
                return True, part
        number = _index(step)
        if number is not None and number < len(value):
            return True, value[number]
    if isinstance(value, dict) and step in value:
        return True, value[step]
    return False, None


def _index(step: str) -> int | None:
    """A step of a place as an index. One of thousands of digits is none."""
    return int(step) if step.isdecimal() and len(step) < 10 else None


@cache
def _names(cls: type[Value]) -> dict[str, str]:
    """The fields of a class by their names in files."""
    return {info.encode_name: info.name for info in fields(cls) if info.name != "set_here"}


def things_of(level: Level) -> dict[str, Any]:
    """Everything in a level that a short place can name, by id. Of things of different kinds that share an
    id the exit comes first, then the deed, the spawn point and the tile."""
    found: dict[str, Any] = {}
    things: tuple[Any, ...] = (*level.exits, *level.deeds, *level.spawns, *level.tiles)
    for thing in things:
        found.setdefault(thing.id, thing)
    return found


def short_places(flow: Flow) -> set[str]:
    """Every place a finding can be at, but for files."""
    named: tuple[Any, ...] = (*flow.facts, *flow.endings, *flow.promises, *flow.walks, *flow.transitions)
    found = {thing.id for thing in (*named, *flow.levels)}
    for level in flow.levels:
        found |= {f"{level.id}.{name}" for name in things_of(level)}
        found |= {f"{level.id}.{path.start}.{path.end}" for path in level.paths}
    return found


def title_of(flow: Flow, place: str) -> str:
    """The short place in the designer's words: “The Slipway: East gate”."""
    level_id, _, thing_id = place.partition(".")
    level = flow.level(level_id)
    if level is None:
        others: tuple[Any, ...] = (*flow.facts, *flow.endings, *flow.promises, *flow.walks, *flow.transitions)
        return next((other.name or other.id for other in others if other.id == place), place)
    if not thing_id:
        return level.title
    thing = things_of(level).get(thing_id)
    if isinstance(thing, Tile):
        target = flow.level(thing.level)
        return f"{level.title}: the tile to {target.title}" if target else f"{level.title}: the tile {thing_id}"
    return f"{level.title}: {getattr(thing, 'name', '') or thing_id}"


def long_title(flow: Flow, place: str) -> str:
    """The long place in the designer's words: “The Slipway: East gate › trigger › when”."""
    steps = place.split(".")
    level = flow.level(steps[1]) if steps[0] == "levels" and len(steps) > 1 else None
    if level is None:
        return place
    rest = steps[2:]
    if len(rest) > 1 and rest[0] in ("exits", "spawns", "deeds"):
        thing = next((t for t in getattr(level, rest[0]) if t.id == rest[1]), None)
        rest = [(thing.name or thing.id) if thing else rest[1], *rest[2:]]
    return f"{level.title}: {' › '.join(rest)}"


def place_words(flow: Flow, place: str) -> str:
    """A place as reading names it (``levels[4].exits[1].trigger.kind``) in the designer's words: “The Slipway › East
    gate › trigger › kind”."""
    here: Any = flow
    words: list[str] = []
    for step in re.findall(r"[^.\[\]]+", place):
        number = _index(step) if isinstance(here, tuple) else None
        if number is not None:
            here = here[number] if number < len(here) else None
            named = getattr(here, "name", "") or getattr(here, "code", "") or getattr(here, "id", "") or str(number + 1)
            words[-1:] = [named] if hasattr(here, "id") else [words[-1], named]
        else:
            here = _inside(here, step)[1]
            words.append(step.replace("_", " "))
    return " › ".join(word if len(word) <= 60 else f"{word[:57]}…" for word in words)

"""All that a survey tells of, in the order of the flow: what can be reached, and what can be missed for good."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.level_changes import differing_parts
from mossy_bridge.play.state import Thing

Name = tuple[str, ...]
"""An exit, deed or tile as ``(level, id)``; a path as ``(level, from, to)``."""
KINDS = ("level", "exit", "deed", "tile", "path", "ending")
"""What can be reached."""
Numbering = Mapping[Any, int]
"""Names with their numbers, which ascend from 0."""


@dataclass(frozen=True, eq=False)
class Things:
    """The things of one flow, each once."""

    flow: Flow
    numbers: Mapping[str, Numbering]
    """Everything that may be reachable, by kind: a level or ending by its id, anything else by its :data:`Name`."""
    missable: Mapping[Thing, int]
    """Everything that it may be possible to miss."""


def things_of(flow: Flow, before: Things | None = None) -> Things:
    """The things of a flow, with the very numbers of those ``before`` if they are the same."""
    if before and _alike(flow, before.flow):
        return replace(before, flow=flow)
    levels = flow.levels
    numbers = {
        "level": _numbered(level.id for level in levels),
        "exit": _numbered((level.id, exit_.id) for level in levels for exit_ in level.exits),
        "deed": _numbered((level.id, deed.id) for level in levels for deed in level.deeds),
        "tile": _numbered((level.id, tile.id) for level in levels for tile in level.tiles),
        "path": _numbered((level.id, path.start, path.end) for level in levels for path in level.paths),
        "ending": _numbered(ending.id for ending in flow.endings),
    }
    return Things(flow, numbers, _numbered(missable_things(flow)))


def missable_things(flow: Flow) -> list[Thing]:
    """Every level, and every deed that is done once a run."""
    deeds = [(level.id, deed.id) for level in flow.levels for deed in level.deeds if deed.repeats == "run"]
    return [*(level.id for level in flow.levels), *deeds]


def _numbered(names: Iterable[Any]) -> dict[Any, int]:
    """Names, each once, with their numbers."""
    return {name: number for number, name in enumerate(dict.fromkeys(names))}


def _alike(flow: Flow, other: Flow) -> bool:
    """Whether the things of two flows are the same."""
    now, was = differing_parts(flow.levels, other.levels)
    same = list(map(_names_in, flow.levels[now])) == list(map(_names_in, other.levels[was]))
    return same and flow.endings == other.endings


def _names_in(level: Level) -> tuple[object, ...]:
    """All of a level that its things depend on."""
    exits, tiles = ([one.id for one in things] for things in (level.exits, level.tiles))
    deeds = [(deed.id, deed.repeats) for deed in level.deeds]
    return level.id, exits, tiles, deeds, [(path.start, path.end) for path in level.paths]

"""What a survey is asked of a flow: what of it is reachable, and what can be missed for good."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.play.state import Thing
from mossy_bridge.reach.explicit.missable import missable_things

Name = tuple[str, ...]
"""An exit, deed or tile as ``(level, id)``; a path as ``(level, from, to)``."""
KINDS = ("level", "exit", "deed", "tile", "path", "ending")
"""What can be reached."""


@dataclass(frozen=True, eq=False)
class Questions:
    """The questions about one flow, each once, in its order."""

    flow: Flow
    """The flow that they were first asked about."""
    names: Mapping[str, Mapping[Any, None]]
    """Everything that may be reachable, by kind: a level or ending by its id, anything else by its :data:`Name`."""
    missable: Mapping[Thing, None]
    """Everything that it may be possible to miss."""


def questions_about(flow: Flow, before: Questions | None = None) -> Questions:
    """The questions about a flow: those ``before``, if they are the same."""
    if before and _asked_alike(flow, before.flow):
        return before
    levels = flow.levels
    names: dict[str, list[Any]] = {
        "level": [level.id for level in levels],
        "exit": [(level.id, exit_.id) for level in levels for exit_ in level.exits],
        "deed": [(level.id, deed.id) for level in levels for deed in level.deeds],
        "tile": [(level.id, tile.id) for level in levels for tile in level.tiles],
        "path": [(level.id, path.start, path.end) for level in levels for path in level.paths],
        "ending": [ending.id for ending in flow.endings],
    }
    by_kind = {kind: dict.fromkeys(found) for kind, found in names.items()}
    return Questions(flow, by_kind, dict.fromkeys(missable_things(flow)))


def _asked_alike(flow: Flow, other: Flow) -> bool:
    """Whether the questions about two flows are the same."""
    if len(flow.levels) != len(other.levels) or flow.endings != other.endings:
        return False
    pairs = zip(flow.levels, other.levels, strict=True)
    return all(level is before or _asked_of(level) == _asked_of(before) for level, before in pairs)


def _asked_of(level: Level) -> tuple[object, ...]:
    """All of a level that the questions about it depend on."""
    exits, tiles = ([one.id for one in things] for things in (level.exits, level.tiles))
    deeds = [(deed.id, deed.repeats) for deed in level.deeds]
    return level.id, exits, tiles, deeds, [(path.start, path.end) for path in level.paths]

"""Which crossings the map shows, worked out level by level; painted by ``bridges``."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from mossy_bridge.model.flow import Exit, Level
from mossy_bridge.reach.queries.crossing_columns import FEW, Leads

Kind = Literal["fixed", "both_ways", "depends", "broken", "quiet"]
"""``quiet``: failing, and whatever leads back to many levels; shown with a level that it concerns."""

NOWHERE: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Crossing:
    """A crossing to draw: from an exit to a level's spawn point; ``back`` is the exit that leads back."""

    kind: Kind
    level: str
    exit: str
    target: str = ""
    spawn: str = ""
    lock: str = ""
    back: str = ""


def crossings_from(level: Level, levels: Mapping[str, Level], leads: Leads) -> list[Crossing]:
    """The crossings drawn for a level's exits. Two there and back are one, drawn for the level whose id comes
    first; so what is drawn for a level depends only on it and on the levels it leads to."""
    found: list[Crossing] = []
    for exit_ in level.exits:
        to = exit_.to
        if to is None or (to.kind == "level" and to.level not in levels):
            found.append(Crossing("broken", level.id, exit_.id))
        elif to.kind != "level":
            targets = leads.get((level.id, exit_.id), NOWHERE)
            kind: Kind = "depends" if len(targets) <= FEW else "quiet"
            lock = lock_text(exit_)
            found += [Crossing(kind, level.id, exit_.id, t, "", lock) for t in sorted(targets) if t != level.id]
        else:
            target = levels[to.level]
            twin = _twin(level, exit_, target)
            if twin is None or level.id < target.id:
                found.append(_fixed(level, exit_, target, twin))
    return found


def _fixed(level: Level, exit_: Exit, target: Level, twin: Exit | None) -> Crossing:
    kind: Kind = "quiet" if exit_.trigger.kind == "fail" else "both_ways" if twin else "fixed"
    spawn = exit_.to.spawn if exit_.to else ""
    lock = lock_text(exit_, target)
    return Crossing(kind, level.id, exit_.id, target.id, spawn, lock, twin.id if twin else "")


def _twin(level: Level, exit_: Exit, target: Level) -> Exit | None:
    """The exit of the target that leads back beside this one: the first to the first, the second to the second."""
    if target.id == level.id or exit_.trigger.kind not in ("touch", "press"):
        return None
    place = [other.id for other in level.exits if _walks_to(other, target.id)].index(exit_.id)
    back = [other for other in target.exits if _walks_to(other, level.id)]
    return back[place] if place < len(back) else None


def _walks_to(exit_: Exit, level_id: str) -> bool:
    to = exit_.to
    walked = exit_.trigger.kind in ("touch", "press")
    return walked and to is not None and to.kind == "level" and to.level == level_id


def lock_text(exit_: Exit, target: Level | None = None) -> str:
    """The conditions on the crossing, in short; "" where there are none."""
    texts = (exit_.trigger.when, exit_.opens, target.opens if target else "always")
    return " and ".join(text for text in texts if text != "always")

"""Which crossings the map shows, worked out from the flow; painted by ``bridges``."""

from dataclasses import dataclass
from typing import Literal

from mossy_bridge.model.flow import Exit, Flow, Level

Kind = Literal["fixed", "both_ways", "depends", "broken", "quiet"]
"""``quiet``: failing, and whatever leads back to many levels; shown with a level that it concerns."""

MANY = 4


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


def crossings_of(flow: Flow, leads: dict[tuple[str, str], frozenset[str]]) -> list[Crossing]:
    """Every crossing of the flow; two there and back are one."""
    by_id = {level.id: level for level in flow.levels}
    fixed = {
        (level.id, exit_.id): exit_.to.level
        for level in flow.levels
        for exit_ in level.exits
        if exit_.to and exit_.to.kind == "level" and exit_.to.level in by_id
    }
    found: list[Crossing] = []
    drawn: set[tuple[str, str]] = set()
    for level in flow.levels:
        for exit_ in level.exits:
            if (level.id, exit_.id) in drawn:
                continue
            drawn.add((level.id, exit_.id))
            found += _drawn(level, exit_, by_id, fixed, leads, drawn)
    return found


def _drawn(
    level: Level,
    exit_: Exit,
    by_id: dict[str, Level],
    fixed: dict[tuple[str, str], str],
    leads: dict[tuple[str, str], frozenset[str]],
    drawn: set[tuple[str, str]],
) -> list[Crossing]:
    to = exit_.to
    if to is None or (to.kind == "level" and to.level not in by_id):
        return [Crossing("broken", level.id, exit_.id)]
    if to.kind != "level":
        targets = leads.get((level.id, exit_.id), frozenset())
        kind: Kind = "depends" if len(targets) <= MANY else "quiet"
        return [
            Crossing(kind, level.id, exit_.id, target, lock=lock_text(exit_))
            for target in sorted(targets)
            if target != level.id
        ]
    target = by_id[to.level]
    back = _way_back(level, target, fixed, drawn) if exit_.trigger.kind in ("touch", "press") else ""
    if back:
        drawn.add((target.id, back))
    quiet = exit_.trigger.kind == "fail"
    kind = "quiet" if quiet else "both_ways" if back else "fixed"
    return [Crossing(kind, level.id, exit_.id, target.id, to.spawn, lock_text(exit_, target), back)]


def _way_back(level: Level, target: Level, fixed: dict[tuple[str, str], str], drawn: set[tuple[str, str]]) -> str:
    for exit_ in target.exits:
        key = (target.id, exit_.id)
        touched = exit_.trigger.kind in ("touch", "press")
        if touched and fixed.get(key) == level.id and key not in drawn and target.id != level.id:
            return exit_.id
    return ""


def lock_text(exit_: Exit, target: Level | None = None) -> str:
    """The conditions on the crossing, in short; "" where there are none."""
    texts = (exit_.trigger.when, exit_.opens, target.opens if target else "always")
    return " and ".join(text for text in texts if text != "always")

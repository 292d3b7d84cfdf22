"""Every way into every level: where it lands, what stands out about the landing, and the way back."""

from collections.abc import Iterator
from typing import Literal

from msgspec import Struct

from mossy_bridge.model.flow import Exit, Flow, Level, Spawn
from mossy_bridge.model.sequence import neighbours
from mossy_bridge.plan.boxes import box, height_of
from mossy_bridge.plan.doors import has_area

EDGE = 0.25
"""The share of a plan, from either end, that counts as a side."""
Sides = tuple[int, int]
"""Across and along: -1 in the first quarter of the plan, 1 in the last, 0 between."""
How = Literal["start", "exit", "next", "tile", "unused"]


class Arrival(Struct, frozen=True):
    """One way into a level, or a spawn point that has none (``how`` is ``unused``). ``source`` and ``thing`` are the
    level it comes from and its exit or tile, "" for the start of the game; ``spawn`` is where it lands, "" where there
    is nowhere; ``by_default`` if no spawn point is named. ``back`` is the exit that leads straight back, "" if there is
    none, and ``distance`` how far that is in plan units; None where that cannot be told. ``shared`` if somebody who
    comes from another side lands on the same spot."""

    level: str
    how: How
    source: str = ""
    thing: str = ""
    spawn: str = ""
    by_default: bool = False
    back: str = ""
    distance: float | None = None
    shared: bool = False


def sides_of(level: Level, exit_: Exit) -> Sides:
    """On which sides of its plan an exit's area lies."""
    if level.plan is None or not has_area(exit_):
        return (0, 0)
    x, y, width, height = exit_.area
    return _side(x + width / 2, level.plan.width), _side(y + height / 2, level.plan.height)


def _side(middle: float, length: float) -> int:
    return -1 if middle < EDGE * length else 1 if middle > (1 - EDGE) * length else 0


def opposite(one: Sides, other: Sides) -> bool:
    """Whether two exits lie on different sides of their plans."""
    return any(mine * theirs == -1 for mine, theirs in zip(one, other, strict=True))


def arrivals(flow: Flow) -> list[Arrival]:
    """Every way into the levels of a flow, patterns filled in, in their order; behind each level's ways the spawn
    points that nothing leads to."""
    found: dict[str, list[Arrival]] = {level.id: [] for level in flow.levels}
    for arrival in _ways(flow):
        if arrival.level in found:
            found[arrival.level].append(arrival)
    levels = {level.id: level for level in flow.levels}
    return [one for name, ways in found.items() for one in _told(levels, levels[name], ways)]


def _ways(flow: Flow) -> Iterator[Arrival]:
    levels = {level.id: level for level in flow.levels}
    following, before = neighbours(flow, 1), neighbours(flow, -1)
    if flow.start.level in levels:
        yield _landed(levels, Arrival(flow.start.level, "start", by_default=not flow.start.spawn), flow.start.spawn)
    for level in flow.levels:
        for exit_ in level.exits:
            for to in exit_.destinations:
                if to.kind == "level" and to.level in levels:
                    way = Arrival(to.level, "exit", level.id, exit_.id, by_default=not to.spawn)
                    yield _landed(levels, way, to.spawn)
                elif to.kind in ("next", "previous") and level.kind == "play":
                    found = (following if to.kind == "next" else before).get(level.id)
                    if found:
                        yield _landed(levels, Arrival(found.id, "next", level.id, exit_.id, by_default=True), "")
        for tile in level.tiles:
            if tile.level in levels:
                way = Arrival(tile.level, "tile", level.id, tile.id, by_default=not tile.spawn)
                yield _landed(levels, way, tile.spawn)


def _landed(levels: dict[str, Level], way: Arrival, spawn: str) -> Arrival:
    point = levels[way.level].spawn(spawn)
    return Arrival(way.level, way.how, way.source, way.thing, point.id if point else "", way.by_default)


def _told(levels: dict[str, Level], level: Level, ways: list[Arrival]) -> Iterator[Arrival]:
    """The ways into one level, with what stands out, and its unused spawn points."""
    sides = [_sides_of_way(levels, way) for way in ways]
    for at, way in enumerate(ways):
        back = [exit_ for exit_ in level.exits if way.source and _leads_to(exit_, way.source)]
        spot = level.spawn(way.spawn) if way.spawn else None
        others = (sides[n] for n, other in enumerate(ways) if n != at and other.spawn == way.spawn)
        distance, door = _nearest(level, spot, back)
        yield Arrival(
            way.level, way.how, way.source, way.thing, way.spawn, way.by_default, door, distance,
            shared=bool(spot) and any(opposite(sides[at], one) for one in others),
        )  # fmt: skip
    used = {way.spawn for way in ways} | {deed.checkpoint for deed in level.deeds}
    for spawn in level.spawns:
        if spawn.id not in used:
            yield Arrival(level.id, "unused", spawn=spawn.id)


def _sides_of_way(levels: dict[str, Level], way: Arrival) -> Sides:
    source = levels.get(way.source)
    exit_ = source.exit(way.thing) if source and way.how in ("exit", "next") else None
    return sides_of(source, exit_) if source and exit_ else (0, 0)


def _leads_to(exit_: Exit, level: str) -> bool:
    return any(to.kind == "level" and to.level == level for to in exit_.destinations)


def _nearest(level: Level, spot: Spawn | None, back: list[Exit]) -> tuple[float | None, str]:
    """How far the nearest of some exits is from a spawn point, and which it is."""
    placed = [exit_ for exit_ in back if has_area(exit_)]
    if spot is None or level.plan is None or not placed:
        return None, back[0].id if back else ""
    # whichever way y grows, distances are the same
    near = ((box(one.area, True).distance(spot.x, height_of(spot.y, True)), one.id) for one in placed)
    distance, name = min(near)
    return round(distance, 1), name

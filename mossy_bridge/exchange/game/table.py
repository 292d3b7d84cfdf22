"""The game table: all that a game needs to follow a flow, things addressed by their place in their list.

Patterns are filled in, values for testing replaced by those that ship. What can never be, such as levels that do not
ship and exits that lead nowhere, is left out and named.
"""

from collections.abc import Iterable
from typing import Any

from msgspec import to_builtins
from msgspec.json import decode, encode, format

from mossy_bridge.exchange.game.conditions import Places
from mossy_bridge.model.flow import PLAYER, Deed, Destination, Exit, Fact, Flow, Level, Path, Tile, Transition
from mossy_bridge.model.patterns import resolved
from mossy_bridge.model.sequence import neighbour

VERSION = 1
NONE = -1
"""The place of what is not there."""


def game_table(flow: Flow) -> dict[str, Any]:
    """The table of a flow as it is delivered (see :mod:`mossy_bridge.exchange.shipping_values`), as plain values."""
    plain: dict[str, Any] = decode(encode(_TableBuilder(resolved(flow)).whole()))  # lists throughout, not tuples
    return plain


def table_bytes(table: dict[str, Any]) -> bytes:
    """A table as the game reads it: JSON in UTF-8."""
    return format(encode(table), indent=1) + b"\n"


class _TableBuilder:
    """Builds the table of one flow, with its patterns filled in."""

    def __init__(self, flow: Flow):
        self._flow = flow
        self._levels = [level for level in flow.levels if level.ships]
        self._place = {level.id: at for at, level in enumerate(self._levels)}
        self._endings = {ending.id: at for at, ending in enumerate(flow.endings)}
        self._transitions = {one.id: at for at, one in enumerate(flow.transitions)}
        self._say = Places(flow, self._place)
        self._left_out: list[str] = []

    def whole(self) -> dict[str, Any]:
        flow = self._flow
        self._left_out = [level.id for level in flow.levels if not level.ships]
        levels = [self._level(level) for level in self._levels]
        return {
            "mossy_bridge_table": VERSION,
            "title": flow.title,
            "progress": flow.progress,
            "saving": flow.saving,
            "walker": to_builtins(flow.walker),
            "units": to_builtins(flow.units),
            "start": self._start(),
            "facts": [_fact(fact) for fact in flow.facts],
            "endings": [{"id": ending.id, "name": ending.name} for ending in flow.endings],
            "transitions": [_transition(one) for one in flow.transitions],
            "levels": levels,
            "left_out": self._left_out,
        }

    def _start(self) -> dict[str, int]:
        landing = self._landing(self._flow.start.level, self._flow.start.spawn)
        level, spawn = landing or (NONE, NONE)
        return {"level": level, "spawn": spawn}

    def _landing(self, level_id: str, spawn_id: str) -> tuple[int, int] | None:
        """The places of a level and of the spawn point that an arrival there is at; None where there can be none."""
        place = self._place.get(level_id)
        if place is None:
            return None
        spawns = self._levels[place].spawns
        names = [spawn.id for spawn in spawns]
        if spawn_id:
            return (place, names.index(spawn_id)) if spawn_id in names else None
        if spawns:
            return place, 0
        return None if self._levels[place].kind == "play" else (place, NONE)

    # -- levels ----------------------------------------------------------------------------------------

    def _level(self, level: Level) -> dict[str, Any]:
        zones = [zone.id for zone in level.zones]
        spawns = [spawn.id for spawn in level.spawns]
        plays = level.kind == "play"
        return {
            "id": level.id,
            "code": level.code,
            "name": level.name,
            "kind": level.kind,
            "region": level.region,
            "file": level.file,
            "plan": to_builtins(level.plan) if level.plan else None,
            "next": self._beside(level, 1) if plays else NONE,
            "previous": self._beside(level, -1) if plays else NONE,
            "opens": self._say.condition(level.opens),
            "on_arrival": self._say.effects(level.on_arrival),
            "zones": zones,
            "paths": [self._path(path, zones) for path in level.paths if self._keeps_path(level, path, zones)],
            "spawns": [
                {"id": one.id, "name": one.name, "x": one.x, "y": one.y, "faces": one.faces,
                 "zone": _zone_of_arrival(one.zone, zones)}
                for one in level.spawns
            ],
            "deeds": [self._deed(deed, zones, spawns) for deed in level.deeds if self._keeps_deed(level, deed, zones)],
            "exits": [self._exit(one, level, zones) for one in level.exits if self._keeps_exit(level, one, zones)],
            "tiles": self._tiles(level) if level.kind == "board" else [],
            "first_tile": _index([tile.id for tile in level.tiles], level.first_tile),
            "cursor": level.cursor,
        }  # fmt: skip

    def _beside(self, level: Level, step: int) -> int:
        found = neighbour(self._flow, level.id, step)
        return self._place[found.id] if found else NONE

    def _keeps(self, place: str, whether: bool) -> bool:
        if not whether:
            self._left_out.append(place)
        return whether

    def _keeps_path(self, level: Level, path: Path, zones: list[str]) -> bool:
        return self._keeps(f"{level.id}.{path.start}.{path.end}", path.start in zones and path.end in zones)

    def _path(self, path: Path, zones: list[str]) -> dict[str, Any]:
        return {"from": zones.index(path.start), "to": zones.index(path.end), "both_ways": path.both_ways,
                "when": self._say.condition(path.when)}  # fmt: skip

    def _keeps_deed(self, level: Level, deed: Deed, zones: list[str]) -> bool:
        return self._keeps(f"{level.id}.{deed.id}", _zone_known(deed.zone, zones))

    def _deed(self, deed: Deed, zones: list[str], spawns: list[str]) -> dict[str, Any]:
        return {"id": deed.id, "name": deed.name, "x": deed.x, "y": deed.y, "zone": _index(zones, deed.zone),
                "when": self._say.condition(deed.when), "effects": self._say.effects(deed.effects),
                "repeats": deed.repeats, "checkpoint": _index(spawns, deed.checkpoint),
                "saves": deed.saves}  # fmt: skip

    def _keeps_exit(self, level: Level, exit_: Exit, zones: list[str]) -> bool:
        at_hand = exit_.trigger.kind not in ("touch", "press") or _zone_known(exit_.zone, zones)
        return self._keeps(f"{level.id}.{exit_.id}", at_hand and self._destination(exit_.to, level) is not None)

    def _exit(self, exit_: Exit, level: Level, zones: list[str]) -> dict[str, Any]:
        trigger = exit_.trigger
        by_player = trigger.kind not in ("touch", "press") or PLAYER in trigger.by
        return {"id": exit_.id, "name": exit_.name, "area": list(exit_.area), "zone": _index(zones, exit_.zone),
                "trigger": trigger.kind, "by_player": by_player, "when": self._say.condition(trigger.when),
                "seconds": trigger.seconds, "armed_on_arrival": trigger.armed_on_arrival,
                "opens": self._say.condition(exit_.opens), "completes": exit_.completes, "fresh": exit_.fresh,
                "effects": self._say.effects(exit_.effects),
                "transition": self._transitions.get(exit_.transition, NONE),
                "to": self._destination(exit_.to, level)}  # fmt: skip

    def _destination(self, to: Destination | None, level: Level) -> dict[str, Any] | None:
        """Where an exit of a level leads; None where it is broken."""
        if to is None:
            return None
        match to.kind:
            case "level":
                landing = self._landing(to.level, to.spawn)
                return {"kind": "level", "level": landing[0], "spawn": landing[1]} if landing else None
            case "end":
                known = to.ending in self._endings
                return {"kind": "end", "ending": self._endings[to.ending]} if known else None
            case "again":
                return {"kind": "again"} if level.kind == "play" else None
            case _:
                return {"kind": to.kind, "otherwise": self._destination(to.otherwise, level)}

    def _tiles(self, level: Level) -> list[dict[str, Any]]:
        names = [tile.id for tile in level.tiles]
        return [self._tile(tile, names) for tile in level.tiles]

    def _tile(self, tile: Tile, names: list[str]) -> dict[str, Any]:
        place, spawn = self._landing(tile.level, tile.spawn) or (NONE, NONE)
        ways = {way: _index(names, getattr(tile, way)) for way in ("left", "right", "up", "down")}
        return {"id": tile.id, "level": place, "spawn": spawn, "col": tile.col, "row": tile.row, **ways,
                "locked": tile.locked}  # fmt: skip


def _fact(fact: Fact) -> dict[str, Any]:
    shown: dict[str, Any] = {"id": fact.id, "name": fact.name, "kind": fact.kind, "lifetime": fact.lifetime,
                             "rewinds": fact.rewinds}  # fmt: skip
    if fact.kind == "choice":
        values = list(fact.values)
        return {**shown, "low": 0, "high": len(values) - 1, "initial": values.index(str(fact.first)), "values": values}
    if fact.kind == "flag":
        return {**shown, "low": 0, "high": 1, "initial": int(fact.first)}
    return {**shown, "low": fact.low, "high": fact.high, "initial": int(fact.first)}


def _transition(one: Transition) -> dict[str, Any]:
    seconds = max((step.at + step.lasts for step in one.steps), default=0.0)
    return {"id": one.id, "name": one.name, "seconds": seconds, "steps": [to_builtins(step) for step in one.steps]}


def _zone_known(zone: str, zones: Iterable[str]) -> bool:
    return not zones or not zone or zone in zones


def _zone_of_arrival(zone: str, zones: list[str]) -> int:
    """The zone that a spawn point names, else the first; -1 in a level without."""
    return zones.index(zone) if zone in zones else 0 if zones else NONE


def _index(names: list[str], name: str) -> int:
    return names.index(name) if name in names else NONE

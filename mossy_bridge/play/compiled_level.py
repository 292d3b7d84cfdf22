"""One level made ready for play: its conditions and effects as functions, its bodies already measured.

Nothing here decides anything; the rules do.
"""

from msgspec import Struct

from mossy_bridge.language.evaluation import Change, Test, Vocabulary
from mossy_bridge.model.flow import PLAYER, Deed, Exit, Flow, Level, Tile
from mossy_bridge.plan.bodies import Bodies
from mossy_bridge.play.rewinding import lasting_effects


class ReadyExit(Struct, frozen=True):
    """An exit, ready for play. ``armed_at`` are the spawn points at which an arrival sets it off."""

    source: Exit
    when: Test
    opens: Test
    changes: tuple[Change, ...]
    armed_at: frozenset[str]
    zone_known: bool

    @property
    def by_player(self) -> bool:
        """Whether the player can set it off: asked of touch and press only."""
        trigger = self.source.trigger
        return trigger.kind not in ("touch", "press") or PLAYER in trigger.by


class ReadyDeed(Struct, frozen=True):
    """A deed, ready for play."""

    source: Deed
    when: Test
    changes: tuple[Change, ...]
    checkpoint: str
    """"" too where the deed names a spawn point that the level lacks."""


class Way(Struct, frozen=True):
    """One direction of a path."""

    start: str
    end: str
    when: Test


class ReadyLevel(Struct, frozen=True):
    """A level, ready for play."""

    source: Level
    opens: Test
    on_arrival: tuple[Change, ...]
    on_restart: tuple[Change, ...]
    """Those of them that a restart makes too: all but the changes of facts that rewind."""
    exits: tuple[ReadyExit, ...]
    forcing: tuple[ReadyExit, ...]
    """Those of them that may be sprung: by themselves, or by an arrival."""
    deeds: tuple[ReadyDeed, ...]
    ways: tuple[Way, ...]
    tiles: dict[str, Tile]
    zone_at: dict[str, str]
    """The zone of an arrival at each spawn point, and of one without: the level's first where none is named
    that exists, "" in a level without zones."""
    armed_at: frozenset[str]
    """The spawn points at which an arrival may set off an exit by touch."""
    zones: bool
    """Whether the level has zones."""


def ready_level(flow: Flow, level: Level, words: Vocabulary) -> ReadyLevel:
    """The level, ready for play."""
    zones = {zone.id for zone in level.zones}
    bodies = Bodies(level.spawns, flow.walker, flow.units.y == "down")
    exits = tuple([_ready_exit(exit_, words, bodies, zones) for exit_ in level.exits])
    return ReadyLevel(
        source=level,
        opens=words.test(level.opens),
        on_arrival=words.changes(level.on_arrival),
        on_restart=words.changes(lasting_effects(flow.facts, level.on_arrival)),
        exits=exits,
        forcing=tuple([exit_ for exit_ in exits if exit_.armed_at or exit_.source.trigger.kind == "auto"]),
        deeds=tuple([_ready_deed(level, deed, words) for deed in level.deeds if _zone_known(deed.zone, zones)]),
        ways=tuple([way for way in _ways(level, words) if {way.start, way.end} <= zones]),
        tiles={tile.id: tile for tile in level.tiles} if level.kind == "board" else {},
        zone_at=_zones_of_arrivals(level),
        armed_at=frozenset[str]().union(*[exit_.armed_at for exit_ in exits]),
        zones=bool(zones),
    )


def _zones_of_arrivals(level: Level) -> dict[str, str]:
    if not level.zones:
        return dict.fromkeys(["", *[spawn.id for spawn in level.spawns]], "")
    names = [zone.id for zone in level.zones]
    first = names[0]
    return {"": first} | {spawn.id: spawn.zone if spawn.zone in names else first for spawn in level.spawns}


def _zone_known(zone: str, zones: set[str]) -> bool:
    return not zones or not zone or zone in zones


def _ready_exit(exit_: Exit, words: Vocabulary, bodies: Bodies, zones: set[str]) -> ReadyExit:
    trigger = exit_.trigger
    armed = trigger.kind == "touch" and trigger.armed_on_arrival
    return ReadyExit(
        source=exit_,
        when=words.test(trigger.when),
        opens=words.test(exit_.opens),
        changes=words.changes(exit_.effects) if exit_.effects else (),
        armed_at=bodies.in_area(exit_.area) if armed else frozenset(),
        zone_known=not zones or _zone_known(exit_.zone, zones),
    )


def _ready_deed(level: Level, deed: Deed, words: Vocabulary) -> ReadyDeed:
    checkpoint = deed.checkpoint if deed.checkpoint and level.spawn(deed.checkpoint) else ""
    return ReadyDeed(deed, words.test(deed.when), words.changes(deed.effects), checkpoint)


def _ways(level: Level, words: Vocabulary) -> list[Way]:
    ways = []
    for path in level.paths:
        test = words.test(path.when)
        ways.append(Way(path.start, path.end, test))
        if path.both_ways:
            ways.append(Way(path.end, path.start, test))
    return ways

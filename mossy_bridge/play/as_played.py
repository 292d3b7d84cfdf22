"""What the rules of play read of a level: all else at its default, so that two that play alike are equal."""

from functools import lru_cache

from msgspec.structs import replace

from mossy_bridge.model.flow import Deed, Exit, Flow, Level, Spawn, Tile, Zone


@lru_cache(maxsize=256)
def as_played(level: Level) -> Level:
    """The level with everything at its default that no rule of play reads. Where bodies and areas are is left out too:
    it matters only by the exits that an arrival sets off."""
    return replace(
        level, code="", name="", region="", pattern="", status="draft", file="", copied_from="", ticked=(),
        unreviewed=(), minutes=0, difficulty=0, notes="", plan=None, cast=(), set_here=frozenset(),
        zones=tuple(Zone(id=zone.id) for zone in level.zones),
        spawns=tuple(Spawn(id=spawn.id, zone=spawn.zone) for spawn in level.spawns),
        deeds=tuple(map(_deed, level.deeds)),
        exits=tuple(map(_exit, level.exits)),
        tiles=tuple(map(_tile, level.tiles)),
    )  # fmt: skip


def surely_play_alike(one: Flow, two: Flow) -> bool:
    """Whether two flows surely play alike, told from what is written, quickly where they share most levels."""
    whole = (one.start, one.endings, one.facts, one.progress, one.saving, one.walker, one.units, one.patterns)
    if whole != (two.start, two.endings, two.facts, two.progress, two.saving, two.walker, two.units, two.patterns):
        return False
    if len(one.levels) != len(two.levels):
        return False
    return all(a is b or _levels_play_alike(a, b) for a, b in zip(one.levels, two.levels, strict=True))


def _levels_play_alike(one: Level, two: Level) -> bool:
    if (one.pattern, one.set_here) != (two.pattern, two.set_here) or as_played(one) != as_played(two):
        return False
    moved = one.spawns != two.spawns or [e.area for e in one.exits] != [e.area for e in two.exits]
    return not moved or not any(exit_.trigger.armed_on_arrival for exit_ in one.exits)


def _deed(deed: Deed) -> Deed:
    return replace(deed, name="", x=0, y=0)


def _exit(exit_: Exit) -> Exit:
    trigger = replace(exit_.trigger, seconds=0)
    return replace(exit_, name="", area=(0, 0, 0, 0), transition="", trigger=trigger)


def _tile(tile: Tile) -> Tile:
    return replace(tile, col=0, row=0, locked="shown")

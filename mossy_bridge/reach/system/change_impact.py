"""Change impact: whether an edit can change any verdict at all; most only move, name or describe things."""

from functools import lru_cache

from msgspec.structs import replace

from mossy_bridge.model.flow import Deed, Exit, Level, Spawn, Tile, Zone
from mossy_bridge.play.compiled_level import ReadyLevel
from mossy_bridge.play.rules import Rules


def plays_alike(rules: Rules, other: Rules) -> bool:
    """Whether two flows play alike: the same moves from the same states, under the same names, and the same
    promises."""
    one, two = rules.flow, other.flow
    whole = (one.start, one.endings, one.facts, one.progress, one.saving, one.promises)
    if whole != (two.start, two.endings, two.facts, two.progress, two.saving, two.promises):
        return False
    if len(one.levels) != len(two.levels):
        return False
    pairs = zip(rules.levels.values(), other.levels.values(), strict=True)
    return all(ready is before or _what_rules_read(ready) == _what_rules_read(before) for ready, before in pairs)


def _what_rules_read(ready: ReadyLevel) -> tuple[Level, tuple[frozenset[str], ...]]:
    return _of_level(ready.source), tuple(exit_.armed_at for exit_ in ready.exits)


@lru_cache(maxsize=256)
def _of_level(level: Level) -> Level:
    """The level with everything at its default that no rule of play asks. Where bodies and areas are matters only by
    the exits that an arrival sets off."""
    return replace(
        level, code="", name="", region="", pattern="", status="draft", file="", copied_from="", ticked=(),
        unreviewed=(), minutes=0, difficulty=0, notes="", plan=None, cast=(), set_here=frozenset(),
        zones=tuple(Zone(id=zone.id) for zone in level.zones),
        spawns=tuple(Spawn(id=spawn.id, zone=spawn.zone) for spawn in level.spawns),
        deeds=tuple(map(_of_deed, level.deeds)),
        exits=tuple(map(_of_exit, level.exits)),
        tiles=tuple(_of_tile(tile) for tile in level.tiles),
    )  # fmt: skip


def _of_deed(deed: Deed) -> Deed:
    return replace(deed, name="", x=0, y=0)


def _of_exit(exit_: Exit) -> Exit:
    trigger = replace(exit_.trigger, seconds=0)
    return replace(exit_, name="", area=(0, 0, 0, 0), transition="", trigger=trigger)


def _of_tile(tile: Tile) -> Tile:
    return replace(tile, col=0, row=0)

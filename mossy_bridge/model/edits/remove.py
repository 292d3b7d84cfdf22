"""Removing levels without tearing the flow: what led in may lead on to where the level led."""

from collections.abc import Collection

from msgspec.structs import replace

from mossy_bridge.model.edits.levels import remove_levels
from mossy_bridge.model.flow import Destination, Exit, Flow, Level, Start, Tile
from mossy_bridge.model.patterns import resolved


def way_out(flow: Flow, level_id: str, gone: Collection[str] = ()) -> Destination | None:
    """Where a level leads on to: the first of its exits that leads to another level which stays, those that
    complete it before the others; None where there is none."""
    level = resolved(flow).level(level_id)
    exits = sorted(level.exits, key=lambda exit_: not exit_.completes) if level else []
    for exit_ in exits:
        to = exit_.to
        if exit_.trigger.kind == "fail" or to is None or to.kind != "level" or flow.level(to.level) is None:
            continue
        if to.level != level_id and to.level not in gone:
            return replace(to, otherwise=None)
    return None


def remove_and_reconnect(flow: Flow, level_ids: Collection[str]) -> Flow:
    """The flow without the levels, what led into one of them leading on to where it led. Ways in to a level
    that led nowhere else dangle, as they do when it is simply removed."""
    gone = set(level_ids)

    def on(name: str, asking: str) -> Destination | None:
        """Where a level that goes led, other than back to the one that asks."""
        return way_out(flow, name, gone | {asking}) if name in gone else None

    def led(to: Destination | None, asking: str) -> Destination | None:
        if to is None:
            return None
        behind = led(to.otherwise, asking)
        further = on(to.level, asking) if to.kind == "level" else None
        if further:
            return replace(further, otherwise=behind)
        return to if behind is to.otherwise else replace(to, otherwise=behind)

    def exit_led(exit_: Exit, asking: str) -> Exit:
        to = led(exit_.to, asking)
        return exit_ if to is exit_.to else replace(exit_, to=to)

    def tile_led(tile: Tile, asking: str) -> Tile:
        further = on(tile.level, asking)
        return replace(tile, level=further.level, spawn=further.spawn) if further else tile

    def level_led(level: Level) -> Level:
        exits = tuple(exit_led(exit_, level.id) for exit_ in level.exits)
        tiles = tuple(tile_led(tile, level.id) for tile in level.tiles)
        return level if exits == level.exits and tiles == level.tiles else replace(level, exits=exits, tiles=tiles)

    start, further = flow.start, on(flow.start.level, "")
    if further:
        start = Start(level=further.level, spawn=further.spawn)
    flow = replace(
        flow, start=start, levels=tuple(map(level_led, flow.levels)), patterns=tuple(map(level_led, flow.patterns))
    )
    return remove_levels(flow, level_ids)

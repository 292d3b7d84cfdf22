"""Edits of ways in: where exits, tiles and the start of the game land."""

from msgspec.structs import replace

from mossy_bridge.model.edits.levels import CannotEdit, add_thing, change_thing
from mossy_bridge.model.flow import Destination, Exit, Flow, Spawn


def landing_at(flow: Flow, level: str, source: str, thing: str, how: str, spawn: str) -> Flow:
    """The flow in which a way into a level lands at another of its spawn points: that of an exit or a tile of the
    level it comes from (``how`` is ``exit`` or ``tile``), or the start of the game."""
    if how == "start":
        return replace(flow, start=replace(flow.start, spawn=spawn))
    if how == "tile":
        return change_thing(flow, source, "tiles", thing, lambda tile: replace(tile, spawn=spawn))
    if how != "exit":
        raise CannotEdit("this way in always lands at the first spawn point")

    def led(exit_: Exit) -> Exit:
        return replace(exit_, to=_landing(exit_.to, level, spawn))

    return change_thing(flow, source, "exits", thing, led)


def _landing(to: Destination | None, level: str, spawn: str) -> Destination | None:
    """A destination with every way into the level landing there."""
    if to is None:
        return None
    spawn_here = spawn if to.kind == "level" and to.level == level else to.spawn
    return replace(to, spawn=spawn_here, otherwise=_landing(to.otherwise, level, spawn))


def landed_anew(flow: Flow, level: str, source: str, thing: str, how: str, spot: Spawn) -> Flow:
    """The flow in which a way into a level lands at a new spawn point of its own."""
    flow, spawn = add_thing(flow, level, "spawns", spot)
    return landing_at(flow, level, source, thing, how, spawn)

"""Actors: who can set things off besides the player. An actor's id is its name."""

from msgspec.structs import replace

from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.flow import PLAYER, Exit, Flow, Level
from mossy_bridge.model.ids import id_from


def add_actor(flow: Flow, name: str) -> Flow:
    """The flow with one more actor. Raises :class:`CannotEdit` where there is one of that name."""
    return replace(flow, actors=(*flow.actors, _new_id(flow, name)))


def rename_actor(flow: Flow, old: str, name: str) -> Flow:
    """The flow with an actor called otherwise, wherever it roams and whatever it sets off."""
    if old == PLAYER or old not in flow.actors:
        raise CannotEdit(f"there is no actor “{old}” to rename")
    new = _new_id(replace(flow, actors=tuple(one for one in flow.actors if one != old)), name)

    def renamed(names: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(new if one == old else one for one in names) if old in names else names

    def in_exit(exit_: Exit) -> Exit:
        by = renamed(exit_.trigger.by)
        return exit_ if by is exit_.trigger.by else replace(exit_, trigger=replace(exit_.trigger, by=by))

    def in_level(level: Level) -> Level:
        exits, cast = tuple(map(in_exit, level.exits)), renamed(level.cast)
        same = cast is level.cast and all(one is other for one, other in zip(exits, level.exits, strict=True))
        return level if same else replace(level, exits=exits, cast=cast)

    levels, patterns = tuple(map(in_level, flow.levels)), tuple(map(in_level, flow.patterns))
    return replace(flow, actors=renamed(flow.actors), levels=levels, patterns=patterns)


def _new_id(flow: Flow, name: str) -> str:
    new = id_from(name, set(), "actor")
    if new == PLAYER:
        raise CannotEdit("the player is always there; choose another name for an actor")
    if new in flow.actors:
        raise CannotEdit(f"there is an actor “{new}” already")
    return new

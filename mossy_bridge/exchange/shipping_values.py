"""The flow as it would be delivered: every test-only value replaced by the one it ships as."""

import re
from collections.abc import Iterable
from typing import Any

from msgspec.structs import replace

from mossy_bridge.exchange.reading import CannotRead, flow_from_tree
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.model.addresses import place_exists
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.edits.upkeep import not_for_testing
from mossy_bridge.model.flow import Flow, TrialSetting

AS_DELIVERED = "trial_settings: as delivered, "
_LEVEL = re.compile(r"^levels\[(\d+)\]")


def delivered(flow: Flow) -> Flow:
    """The flow with each test-only value replaced. Places that do not exist are left alone.

    Raises :class:`CannotRead` where a value cannot stand in its place.
    """
    return _shipped(flow, flow.trial_settings) if flow.trial_settings else flow


def undeliverable(flow: Flow) -> dict[str, str]:
    """The places whose value to deliver cannot stand there, each with why."""
    return _wrong(flow, flow.trial_settings)


def _wrong(flow: Flow, settings: tuple[TrialSetting, ...]) -> dict[str, str]:
    """Found by halving: a try of a whole flow takes about as long as reading it."""
    try:
        if settings:
            _shipped(flow, settings)
    except CannotRead as error:
        middle = len(settings) // 2
        halves = _wrong(flow, settings[:middle]) | _wrong(flow, settings[middle:]) if middle else {}
        return halves or {settings[-1].at: _reason(settings[-1].at, error.problems[0])}
    return {}


def _reason(at: str, problem: str) -> str:
    """A problem in words, its place only where it is another one."""
    problem = problem.removeprefix(AS_DELIVERED)
    place, _, reason = problem.partition(": ")
    return reason if place.endswith("." + at.rpartition(".")[2]) else problem


def put_back(flow: Flow, at: str) -> Flow:
    """The flow with the value to deliver put in its place at one spot, which is then no longer for testing.

    Raises :class:`CannotEdit` where the value cannot stand there.
    """
    mine = [setting for setting in flow.trial_settings if setting.at == at]
    try:
        flow = _shipped(flow, mine)
    except CannotRead as error:
        raise CannotEdit("; ".join(error.problems)) from error
    return not_for_testing(flow, at)


def _shipped(flow: Flow, settings: Iterable[TrialSetting]) -> Flow:
    """The flow with some values put in their places, by way of what reading makes of them; levels in which no value
    stands are not read again."""
    settings = [setting for setting in settings if place_exists(flow, setting.at)]
    concerned = sorted({at for setting in settings for at in _levels_read_for(flow, setting.at.split("."))})
    tree = tree_of(replace(flow, levels=tuple(flow.levels[at] for at in concerned)))
    for setting in settings:
        _put(tree, _by_id(flow, setting.at), setting.ships_as)
    try:
        read = flow_from_tree(tree)
    except CannotRead as error:
        problems = (_LEVEL.sub(lambda m: f"levels[{concerned[int(m[1])]}]", text) for text in error.problems)
        raise CannotRead([AS_DELIVERED + text for text in problems]) from error
    levels = read.levels
    if len(concerned) < len(flow.levels):
        again = dict(zip(concerned, read.levels, strict=True))
        levels = tuple(again.get(at, level) for at, level in enumerate(flow.levels))
    changed = {name: value for name in flow.__struct_fields__ if (value := getattr(read, name)) != getattr(flow, name)}
    return replace(flow, **(changed | {"levels": levels}))


def _levels_read_for(flow: Flow, place: list[str]) -> Iterable[int]:
    """The numbers of the levels that a value at a place may break: its own, or all if it may be an id."""
    if place[0] != "levels":
        return ()
    return range(len(flow.levels)) if len(place) < 3 or place[2] == "id" else [_number(flow, place[1])]


def _by_id(flow: Flow, place: str) -> str:
    """The place with its level named by the id, wherever it stands among those that are read."""
    first, *rest = place.split(".")
    if first != "levels" or not rest:
        return place
    return ".".join([first, flow.levels[_number(flow, rest[0])].id, *rest[1:]])


def _number(flow: Flow, level: str) -> int:
    """The number of a level that a place names by its id, or by its number."""
    at = flow.place_of(level)
    return int(level) if at is None else at


def _put(tree: Any, place: str, value: Any) -> None:
    *way, last = place.split(".")
    here = tree
    for step in way:
        # A part at its default is not in the tree yet, and comes into being with the first value put there.
        here = here.setdefault(step, {}) if isinstance(here, dict) else here[_index(here, step)]
    here[last if isinstance(here, dict) else _index(here, last)] = value


def _index(parts: list[Any], step: str) -> int:
    names = [part.get("id") if isinstance(part, dict) else None for part in parts]
    return names.index(step) if step in names else int(step)

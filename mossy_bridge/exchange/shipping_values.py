"""The flow as it would be delivered: every test-only value replaced by the one it ships as."""

from collections.abc import Iterable
from typing import Any

from mossy_bridge.exchange.reading import CannotRead, flow_from_tree
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.model.addresses import place_exists
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.edits.upkeep import not_for_testing
from mossy_bridge.model.flow import Flow, TrialSetting

AS_DELIVERED = "trial_settings: as delivered, "


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
    tree = tree_of(flow)
    for setting in settings:
        if place_exists(flow, setting.at):
            _put(tree, setting.at, setting.ships_as)
    try:
        return flow_from_tree(tree)
    except CannotRead as error:
        raise CannotRead([AS_DELIVERED + text for text in error.problems]) from error


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

"""The flow as it would be delivered: every test-only value replaced by the one it ships as."""

from typing import Any

from mossy_bridge.exchange.reading import CannotRead, flow_from_tree
from mossy_bridge.exchange.shape import Pairs
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.model.flow import Flow


def delivered(flow: Flow) -> Flow:
    """The flow with each test-only value replaced. Places that do not exist are left alone.

    Raises :class:`CannotRead` where a value cannot stand in its place.
    """
    if not flow.trial_settings:
        return flow
    tree = tree_of(flow)
    for setting in flow.trial_settings:
        put(tree, setting.at, setting.ships_as)
    try:
        return flow_from_tree(tree)
    except CannotRead as error:
        raise CannotRead([f"trial_settings: as delivered, {text}" for text in error.problems]) from error


def put(tree: Any, place: str, value: Any) -> bool:
    """Sets the value at a place written with ids; False where nothing is there."""
    *way, last = place.split(".")
    here = tree
    for step in way:
        here = _inside(here, step)
        if here is None:
            return False
    if isinstance(here, dict):
        here[last] = value
        return True
    index = _index(here, last)
    if index is None:
        return False
    here[index] = value
    return True


def _inside(tree: Any, step: str) -> Any:
    if isinstance(tree, dict):
        # A part at its default is not in the tree yet, and comes into being with the first value put there.
        return tree.setdefault(step, Pairs())
    index = _index(tree, step)
    return None if index is None else tree[index]


def _index(tree: Any, step: str) -> int | None:
    if not isinstance(tree, list):
        return None
    for index, part in enumerate(tree):
        if isinstance(part, dict) and part.get("id") == step:
            return index
    return int(step) if step.isdecimal() and int(step) < len(tree) else None

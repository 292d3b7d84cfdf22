"""Edits of what is kept for later: promises, recorded walks, the checklist, values for testing."""

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from mossy_bridge.model.addresses import place_exists
from mossy_bridge.model.edits.levels import CannotEdit, existing, set_level, whole
from mossy_bridge.model.flow import ChecklistItem, Flow, LevelKind, Promise, PromiseKind, TrialSetting, Walk
from mossy_bridge.model.ids import id_from


def add_promise(flow: Flow, kind: PromiseKind = "can", level: str = "") -> tuple[Flow, str]:
    """The flow with one more promise, about a level, and its id."""
    new_id = id_from(f"promise {len(flow.promises) + 1}", {promise.id for promise in flow.promises}, "promise")
    return replace(flow, promises=(*flow.promises, Promise(id=new_id, kind=kind, level=level))), new_id


def set_promise(flow: Flow, promise_id: str, **values: Any) -> Flow:
    """The flow with a promise changed."""
    return replace(flow, promises=tuple(replace(p, **values) if p.id == promise_id else p for p in flow.promises))


def remove_promise(flow: Flow, promise_id: str) -> Flow:
    """The flow without a promise."""
    return replace(flow, promises=tuple(promise for promise in flow.promises if promise.id != promise_id))


def add_walk(flow: Flow, name: str, moves: Sequence[str], expect: str = "works") -> tuple[Flow, str]:
    """The flow with one more recorded walk, and its id."""
    new_id = id_from(name, {walk.id for walk in flow.walks}, "walk")
    return replace(flow, walks=(*flow.walks, Walk(id=new_id, name=name, moves=tuple(moves), expect=expect))), new_id


def set_walk(flow: Flow, walk_id: str, **values: Any) -> Flow:
    """The flow with a recorded walk changed."""
    return replace(flow, walks=tuple(replace(w, **values) if w.id == walk_id else w for w in flow.walks))


def remove_walk(flow: Flow, walk_id: str) -> Flow:
    """The flow without a recorded walk."""
    return replace(flow, walks=tuple(walk for walk in flow.walks if walk.id != walk_id))


def add_item(flow: Flow, text: str, kinds: Sequence[LevelKind] = ("play",)) -> tuple[Flow, str]:
    """The flow with one more item on the checklist, and its id."""
    if not text.strip():
        raise CannotEdit("an item of the checklist needs a text")
    new_id = id_from(text, {item.id for item in flow.checklist}, "item")
    item = ChecklistItem(id=new_id, text=text.strip(), kinds=tuple(kinds))
    return replace(flow, checklist=(*flow.checklist, item)), new_id


def set_item(flow: Flow, item_id: str, **values: Any) -> Flow:
    """The flow with an item of the checklist changed."""
    return replace(flow, checklist=tuple(replace(i, **values) if i.id == item_id else i for i in flow.checklist))


def remove_item(flow: Flow, item_id: str) -> Flow:
    """The flow without an item of the checklist; no level has it ticked any more."""
    flow = replace(flow, checklist=tuple(item for item in flow.checklist if item.id != item_id))
    for level in flow.levels:
        if item_id in level.ticked:
            flow = set_level(flow, level.id, ticked=tuple(name for name in level.ticked if name != item_id))
    return flow


def tick(flow: Flow, level_id: str, item_id: str, on: bool) -> Flow:
    """The flow with an item ticked in a level, or no longer."""
    existing(flow, level_id)
    level = whole(flow, level_id)
    kept = [name for name in (level.ticked if level else ()) if name != item_id]
    order = [item.id for item in flow.checklist]
    ticked = [*kept, item_id] if on else kept
    ticked.sort(key=lambda name: order.index(name) if name in order else len(order))
    return set_level(flow, level_id, ticked=tuple(ticked))


def for_testing(flow: Flow, at: str, ships_as: Any, why: str = "") -> Flow:
    """The flow with the value at a long place marked as for testing only, and the one to deliver beside it."""
    if not place_exists(flow, at):
        raise CannotEdit(f"nothing stands at {at}")
    rest = tuple(setting for setting in flow.trial_settings if setting.at != at)
    return replace(flow, trial_settings=(*rest, TrialSetting(at=at, ships_as=ships_as, why=why)))


def not_for_testing(flow: Flow, at: str) -> Flow:
    """The flow with the mark taken off; the value in its place stays."""
    return replace(flow, trial_settings=tuple(setting for setting in flow.trial_settings if setting.at != at))

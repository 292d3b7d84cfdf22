"""What was changed from one version of a flow to another, and the same changes made again."""

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from typing import Any, Literal

from msgspec import Struct

from mossy_bridge.exchange.merging.flow_tree import ALWAYS, KEYED, Tree, by_id, is_keyed, is_object, joined

ChangeKind = Literal["added", "removed", "changed", "moved"]


class VersionChange(Struct, frozen=True):
    """One change. Of a thing added or removed ``new`` or ``old`` is all of it; of one moved both are the id of what it
    stands behind, "" for the first; of a field they are its values, None where it is left out."""

    kind: ChangeKind
    at: str
    """Its long place, with ids: ``levels.slipway.exits.east_gate.to``."""
    old: Any = None
    new: Any = None
    behind: str = ""
    """What a thing that was added stands behind."""


def changes(old: Tree, new: Tree, path: str = "") -> Iterator[VersionChange]:
    """What leads from one tree of a flow to another, the gravest of each thing first."""
    for name in dict.fromkeys((*new, *old)):
        missing: Tree | None = {} if name in ALWAYS else None
        before, after, at = old.get(name, missing), new.get(name, missing), joined(path, name)
        if before == after:
            continue
        if is_keyed(name, before) or is_keyed(name, after):
            yield from _of_things(before or [], after or [], at)
        elif isinstance(before, dict) and isinstance(after, dict) and is_object(name, path):
            yield from changes(before, after, at)
        else:
            yield VersionChange("changed", at, before, after)


def _of_things(old: list[Tree], new: list[Tree], path: str) -> Iterator[VersionChange]:
    before, after = by_id(old), by_id(new)
    for name in before:
        if name not in after:
            yield VersionChange("removed", joined(path, name), old=before[name])
    moved = _moved([name for name in before if name in after], list(after))
    places = {name: behind for name, behind in zip(after, ["", *after], strict=False)}
    places_before = {name: behind for name, behind in zip(before, ["", *before], strict=False)}
    for name, thing in after.items():
        at = joined(path, name)
        if name not in before:
            yield VersionChange("added", at, new=thing, behind=places[name])
            continue
        if name in moved:
            yield VersionChange("moved", at, places_before[name], places[name])
        yield from changes(before[name], thing, at)


def _moved(old: Sequence[str], new: Sequence[str]) -> set[str]:
    """As few things as must be moved to bring one order into the other: all but a longest run that keeps its order
    (Schensted 1961)."""
    places = {name: at for at, name in enumerate(old)}
    common = [name for name in new if name in places]
    ends: list[int] = []
    chains: list[tuple[str, ...]] = []
    for name in common:
        at = bisect_left(ends, places[name])
        chain = (*(chains[at - 1] if at else ()), name)
        ends[at : at + 1], chains[at : at + 1] = [places[name]], [chain]
    return set(common) - set(chains[-1] if chains else ())


def apply(tree: Tree, made: Sequence[VersionChange]) -> Tree:
    """The tree with changes made that lead from it to another."""
    inside: dict[str, list[VersionChange]] = {}
    for change in made:
        parts = change.at.split(".")
        for depth in range(len(parts)):
            inside.setdefault(".".join(parts[:depth]), []).append(change)
    return _applied(tree, inside, "")


Inside = dict[str, list[VersionChange]]
"""The changes by the places of all that they are made in."""


def _applied(tree: Tree, inside: Inside, path: str) -> Tree:
    found = dict(tree)
    for change in inside.get(path, ()):
        name = _step(change.at, path)
        at, value = joined(path, name), tree.get(name)
        if change.at != at:
            things = name in KEYED
            found[name] = _applied_things(value or [], inside, at) if things else _applied(value or {}, inside, at)
        elif change.new is None:
            found.pop(name, None)
        else:
            found[name] = change.new
    return found


def _applied_things(things: list[Tree], inside: Inside, path: str) -> list[Tree]:
    known = by_id(things)
    placed = [change for change in inside[path] if change.at == joined(path, _step(change.at, path))]
    gone = {_step(change.at, path) for change in placed}
    order = [name for name in known if name not in gone]
    for change in placed:
        name = _step(change.at, path)
        if change.kind == "added":
            known[name] = change.new
        if change.kind != "removed":
            behind = change.behind if change.kind == "added" else change.new
            order.insert(_place_behind(behind, order), name)
    return [_applied(known[name], inside, joined(path, name)) for name in order]


def _place_behind(behind: str, order: Sequence[str]) -> int:
    """Where something stands behind another; at the end where that is not there, as when one change alone is made."""
    if not behind:
        return 0
    return order.index(behind) + 1 if behind in order else len(order)


def _step(at: str, path: str) -> str:
    """The next part of a place below another."""
    return at[len(path) + 1 if path else 0 :].partition(".")[0]

"""Two versions of a flow brought together, of which both came from a third: by ids and fields, lists by their order."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from types import MappingProxyType
from typing import Any, Literal

from msgspec import Struct

from mossy_bridge.exchange.merging.flow_tree import ALWAYS, Tree, by_id, is_keyed, is_object, joined
from mossy_bridge.exchange.reading import CannotRead, flow_from_tree

Side = Literal["ours", "theirs"]
NOT_DECIDED: Mapping[str, Side] = MappingProxyType({})
NOTHING: Any = None
"""What stands where there is no value."""


class Conflict(Struct, frozen=True):
    """A place where both sides have changed something, each otherwise; None where there is nothing. Of an order the
    values are the ids."""

    at: str
    base: Any
    ours: Any
    theirs: Any


class Merged(Struct, frozen=True):
    """What both sides come to. Where they conflict, ``ours`` and ``theirs`` hold that side."""

    ours: Tree
    theirs: Tree
    conflicts: tuple[Conflict, ...] = ()
    problems: tuple[str, ...] = ()
    """Why what comes of it is no flow, though no two changes are in conflict."""


def merge(base: Tree, ours: Tree, theirs: Tree, decided: Mapping[str, Side] = NOT_DECIDED) -> Merged:
    """Brings two versions together; conflicts that are ``decided``, by their places, are none any more."""
    conflicts: list[Conflict] = []
    merged = _Merging(conflicts, "ours", decided).objects(base, ours, theirs, "")
    if conflicts:
        return Merged(merged, _Merging([], "theirs", decided).objects(base, ours, theirs, ""), tuple(conflicts))
    try:
        flow_from_tree(merged)
    except CannotRead as error:
        return Merged(merged, merged, problems=tuple(error.problems))
    return Merged(merged, merged)


class _Merging:
    """Merges once, with our side in the place of each conflict, or theirs."""

    def __init__(self, conflicts: list[Conflict], favours: Side, decided: Mapping[str, Side]):
        self._conflicts, self._favours, self._decided = conflicts, favours, decided

    def objects(self, base: Tree, ours: Tree, theirs: Tree, path: str) -> Tree:
        found: Tree = {}
        for name in dict.fromkeys((*ours, *theirs, *base)):
            none = {} if name in ALWAYS else NOTHING
            value = self._field(base.get(name, none), ours.get(name, none), theirs.get(name, none), path, name)
            if value != none:
                found[name] = value
        return found

    def _field(self, base: Any, ours: Any, theirs: Any, path: str, name: str) -> Any:
        at = joined(path, name)
        if ours == theirs or theirs == base:
            return ours
        if ours == base:
            return theirs
        sides = (ours, theirs)
        if any(is_keyed(name, side) for side in sides):
            return self._things(base or [], ours or [], theirs or [], at)
        if all(isinstance(side, dict) for side in sides) and is_object(name, path):
            return self.objects(base if isinstance(base, dict) else {}, ours, theirs, at)
        return self._conflict(at, base, ours, theirs)

    def _conflict(self, at: str, base: Any, ours: Any, theirs: Any) -> Any:
        side = self._decided.get(at)
        if side is None:
            self._conflicts.append(Conflict(at, base, ours, theirs))
        return ours if (side or self._favours) == "ours" else theirs

    def _things(self, base: list[Tree], ours: list[Tree], theirs: list[Tree], path: str) -> list[Tree]:
        """A list of things with ids."""
        before, here, there = by_id(base), by_id(ours), by_id(theirs)
        found: dict[str, Tree] = {}
        for name in dict.fromkeys((*before, *here, *there)):
            thing = self._thing(before.get(name), here.get(name), there.get(name), joined(path, name))
            if thing is not None:
                found[name] = thing
        return [found[name] for name in self._order(list(before), list(here), list(there), found, path)]

    def _thing(self, base: Tree | None, ours: Tree | None, theirs: Tree | None, at: str) -> Tree | None:
        if ours == theirs or theirs == base:
            return ours
        if ours == base:
            return theirs
        if ours is None or theirs is None:  # removed on one side, changed on the other
            chosen: Tree | None = self._conflict(at, base, ours, theirs)
            return chosen
        return self.objects(base or {}, ours, theirs, at)

    def _order(
        self, base: Sequence[str], ours: Sequence[str], theirs: Sequence[str], found: Iterable[str], path: str
    ) -> list[str]:
        """The order of what is left: that of the side that has changed it, and what is new behind what it stands behind
        there; where both have something new in one place, in the order of ids."""
        left = set(found)
        common = [name for name in base if name in left and name in set(ours) and name in set(theirs)]
        here, there = ([name for name in side if name in set(common)] for side in (ours, theirs))
        if here != there and common not in (here, there):
            here = self._conflict(joined(path, "order"), common, here, there)
        elif here == common:
            here = there
        order = list(here)
        runs = sorted(
            (*_runs(ours, set(here), left), *_runs(theirs, set(here), left)), key=lambda run: (run[1], run[0])
        )
        for behind, run in reversed(runs):
            new = [name for name in run if name not in order]
            at = order.index(behind) + 1 if behind else 0
            order[at:at] = new
        return order


def _runs(side: Sequence[str], anchors: set[str], left: set[str]) -> Iterator[tuple[str, list[str]]]:
    """What stands in a side between things that both have: each run with what it stands behind."""
    behind, run = "", list[str]()
    for name in side:
        if name in anchors:
            if run:
                yield behind, run
            behind, run = name, []
        elif name in left:
            run.append(name)
    if run:
        yield behind, run

"""The text of a merged flow with markers around what is in conflict, as git writes them."""

from collections.abc import Iterator
from difflib import SequenceMatcher
from typing import Any

from mossy_bridge.exchange.merging.flow_tree import Tree
from mossy_bridge.exchange.merging.three_way import Conflict, Merged
from mossy_bridge.exchange.reading import CannotRead, flow_from_tree
from mossy_bridge.exchange.writing import flow_text, json_text

OURS, BETWEEN, THEIRS = "<<<<<<< ours\n", "=======\n", ">>>>>>> theirs\n"


def marked_text(merged: Merged) -> str:
    """The text of both sides together; lines in which they differ stand twice, between markers."""
    ours, theirs = (_text(side).splitlines(keepends=True) for side in (merged.ours, merged.theirs))
    return "".join(_marked(ours, theirs))


def _marked(ours: list[str], theirs: list[str]) -> Iterator[str]:
    matcher = SequenceMatcher(None, ours, theirs, autojunk=False)
    for kind, first, last, start, end in matcher.get_opcodes():
        if kind == "equal":
            yield from ours[first:last]
        else:
            yield from (OURS, *ours[first:last], BETWEEN, *theirs[start:end], THEIRS)


def _text(tree: Tree) -> str:
    try:
        return flow_text(flow_from_tree(tree))
    except CannotRead:  # which is why there is a conflict
        return json_text(tree) + "\n"


def conflict_line(conflict: Conflict) -> str:
    """A conflict on one line: the place, and what base, ours and theirs have there."""
    values = (conflict.base, conflict.ours, conflict.theirs)
    return "\t".join((conflict.at, *map(_told, values)))


def _told(value: Any) -> str:
    return "-" if value is None else " ".join(json_text(value).split())

"""A flow as a tree of plain values: which lists hold things with ids, and what is one field and not looked into."""

from collections.abc import Sequence
from typing import Any, cast

Tree = dict[str, Any]
KEYED = frozenset(
    ["regions", "endings", "facts", "transitions", "patterns", "levels", "promises", "walks", "checklist", "readers",
     "zones", "spawns", "deeds", "exits", "tiles"]
)  # fmt: skip
"""Lists of things that have ids; every other list is one field."""
WHOLE = frozenset(["to", "trigger", "area", "start"])
"""Objects that are one field: their parts mean something together only."""

ALWAYS = frozenset(["units", "walker", "limits", "map"])
"""Objects that are always there: left out, all their fields are as usual."""


def is_keyed(name: str, value: Any) -> bool:
    """Whether a field of that name is a list of things with ids."""
    return name in KEYED and isinstance(value, list)


def is_object(name: str, parent: str) -> bool:
    """Whether a field that is an object is looked into; where a card stands on the map is one field."""
    return name not in WHOLE and parent != "map"


def by_id(things: Sequence[Any] | None) -> dict[str, Tree]:
    """Things with ids by these, in their order."""
    return {thing["id"]: cast(Tree, thing) for thing in things or ()}


def joined(path: str, name: str) -> str:
    """The place of a field, or of a thing, below another."""
    return f"{path}.{name}" if path else name


def last(path: str) -> str:
    """The last part of a place."""
    return path.rpartition(".")[2]

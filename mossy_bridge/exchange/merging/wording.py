"""Changes between versions in the designer's words."""

from collections.abc import Mapping
from typing import Any

from msgspec import NODEFAULT
from msgspec.structs import fields

from mossy_bridge.exchange.merging.changes import VersionChange
from mossy_bridge.exchange.merging.flow_tree import Tree, by_id
from mossy_bridge.exchange.writing import json_text, tree_of
from mossy_bridge.model.destination_words import BY_PLAY
from mossy_bridge.model.flow import (
    CheckLimits,
    ChecklistItem,
    Deed,
    Ending,
    Exit,
    Fact,
    Flow,
    Level,
    Plan,
    Promise,
    Reader,
    Region,
    Spawn,
    Tile,
    Transition,
    Units,
    Value,
    Walk,
    Walker,
    Zone,
)

THINGS: Mapping[str, tuple[str, type[Value]]] = {
    "regions": ("region", Region), "endings": ("ending", Ending), "facts": ("fact", Fact),
    "transitions": ("transition", Transition), "patterns": ("pattern", Level), "levels": ("level", Level),
    "promises": ("promise", Promise), "walks": ("recorded walk", Walk), "checklist": ("checklist item", ChecklistItem),
    "readers": ("reader", Reader), "zones": ("zone", Zone), "spawns": ("spawn point", Spawn), "deeds": ("deed", Deed),
    "exits": ("exit", Exit), "tiles": ("tile", Tile),
}  # fmt: skip
"""What is in each list, and the class that knows the fields."""
OBJECTS: Mapping[str, type[Value]] = {"units": Units, "walker": Walker, "limits": CheckLimits, "plan": Plan}
FIELDS = {
    "opens": "the condition to open", "on_arrival": "what happens on arrival", "cast": "who roams there",
    "low": "the least value", "high": "the greatest value", "initial": "the initial value", "faces": "the facing",
    "repeats": "how often it can be done", "when": "its condition", "area": "the area",
    "completes": "completing the level",
    "fresh": "beginning a new run", "trial_settings": "the values for testing", "waivers": "the accepted findings",
    "first_tile": "the first tile", "both_ways": "both ways", "ships": "shipping", "steps": "the steps",
    "rewinds": "going back when the player fails", "map": "the place on the map", "solids": "the solids",
}  # fmt: skip


class ChangeWording:
    """Words changes from one version to another."""

    def __init__(self, old: Tree, new: Tree):
        self._old, self._new = old, new

    def told(self, change: VersionChange) -> str:
        """A change as a sentence without its full stop."""
        if change.kind == "changed":
            return self._changed(change)
        *owner, group, name = change.at.split(".")
        word = THINGS[group][0]
        title = _named(change.new if change.kind == "added" else change.old if change.kind == "removed" else None, name)
        about = f"{self._title(owner)}: " if owner else ""
        if change.kind == "removed":
            return f"{about}{word} {title} removed"
        behind = change.behind if change.kind == "added" else change.new
        title = title if change.kind == "added" else _named(self._thing([*owner, group, name]), name)
        where = f"behind {_named(self._thing([*owner, group, behind]), behind)}" if behind else "to the beginning"
        if change.kind == "moved":
            return f"{about}{word} {title} moved {where}"
        return f"{about}{word} {title} added" + (f" {where}" if group == "levels" and behind else "")

    def conflict(self, at: str, value: Any) -> str:
        """What one side has at a place of conflict."""
        *owner, last = at.split(".")
        if last == "to":
            return self._destination(value)
        if owner and owner[-1] in THINGS:
            return "removed" if value is None else "changed"
        if isinstance(value, list) and last == "order":
            return ", ".join(_named(self._thing([*owner, name]), name) for name in value)
        return self._value(value, owner, last)

    def place(self, at: str) -> str:
        """What a place of conflict is called."""
        *owner, last = at.split(".")
        if owner and owner[-1] in THINGS:
            return self._title([*owner, last])
        field = (
            "the order"
            if last == "order"
            else "the name"
            if last == "name"
            else FIELDS.get(last, last.replace("_", " "))
        )
        if last == "order":
            return f"the order of {' in '.join([owner[-1], *([self._title(owner[:-1])] if owner[:-1] else [])])}"
        where = "where it leads" if last == "to" else field
        return f"{self._title(owner)}: {where}" if owner else where

    def _changed(self, change: VersionChange) -> str:
        parts = change.at.split(".")
        field, owner = parts[-1], parts[:-1]
        if owner == ["map"]:
            owner, field = ["levels", field], "map"
        about = f"{self._title(owner)}: " if owner else ""
        if field == "name" and len(owner) > 1:
            return self._renamed(change, owner)
        if field == "to":
            return f"{about}leads to {self._destination(change.new)} instead of {self._destination(change.old)}"
        old, new = (self._value(value, owner, field) for value in (change.old, change.new))
        return f"{about}{FIELDS.get(field, field.replace('_', ' '))} {new} instead of {old}"

    def _renamed(self, change: VersionChange, thing: list[str]) -> str:
        """Another name of a thing; it goes by its id where it has none."""
        *owner, group, name = thing
        about = f"{self._title(owner)}: " if owner else ""
        return f"{about}{THINGS[group][0]} {change.old or name} renamed to {change.new or name}"

    def _title(self, parts: list[str]) -> str:
        """What a thing is called, after the one that it is in."""
        titles = []
        for depth in range(0, len(parts), 2):
            if depth + 1 < len(parts) and parts[depth] in THINGS:
                thing = self._thing(parts[: depth + 2])
                titles.append(_named(thing, parts[depth + 1]))
            else:
                titles.append(parts[depth])
        return ": ".join(titles)

    def _thing(self, parts: list[str]) -> Tree | None:
        """A thing of the new version, or of the old one where that has it only."""
        for tree in (self._new, self._old):
            found: Any = tree
            for group, name in zip(parts[::2], parts[1::2], strict=False):
                found = by_id(found.get(group)).get(name) if found else None
            if found is not None and found is not tree:
                return dict(found)
        return None

    def _destination(self, to: Tree | None) -> str:
        if to is None:
            return "nothing"
        kind = to.get("kind", "level")
        told = BY_PLAY.get(kind, "")
        if kind == "end":
            told = f"the ending {_named(self._thing(['endings', to.get('ending', '')]), to.get('ending', ''))}"
        elif kind == "level":
            level = to.get("level", "")
            told = _named(self._thing(["levels", level]), level)
            spawn = to.get("spawn", "")
            told += f", {_named(self._thing(['levels', level, 'spawns', spawn]), spawn)}" if spawn else ""
        other = to.get("otherwise")
        return f"{told}, else {self._destination(other)}" if other else told

    def _value(self, value: Any, owner: list[str], field: str) -> str:
        if value is None:
            thing = self._thing(owner)
            if thing and thing.get("pattern") and len(owner) == 2 and owner[0] == "levels":
                return "as in its pattern"
            value = _default(owner, field)
        if value is None or value in ("", [], {}):
            return "nothing"
        if isinstance(value, bool):
            return "yes" if value else "no"
        if isinstance(value, str):
            return f"“{value}”"
        if isinstance(value, list) and all(isinstance(one, str) for one in value):
            return f"“{', '.join(value)}”"
        return " ".join(json_text(value).split())


def _named(thing: Tree | None, name: str) -> str:
    """What a thing is called."""
    title = (thing or {}).get("name") or (thing or {}).get("text") or name
    return str(title)


def _default(owner: list[str], field: str) -> Any:
    """What a field is where it is left out."""
    cls: type[Value] | None = Flow
    if owner and owner[-1] in OBJECTS:
        cls = OBJECTS[owner[-1]]
    elif owner:
        cls = THINGS[owner[-2]][1] if len(owner) > 1 and owner[-2] in THINGS else None
    for info in fields(cls) if cls else ():
        if info.encode_name == field:
            value = info.default_factory() if info.default_factory is not NODEFAULT else info.default
            return None if value is NODEFAULT else tree_of(value)
    return None

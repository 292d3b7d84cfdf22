"""Where the parts of a flow stand in the text of its file: line and column, however the file is laid out."""

import json
import re
from bisect import bisect_right
from collections.abc import Iterator
from typing import Any, NamedTuple

_SPACE = re.compile(r"[ \t\r\n]*")
_value_at = json.JSONDecoder().raw_decode
GROUPS = ("exits", "spawns", "deeds", "zones", "tiles")
"""The lists of a level whose things have short places, in the order in which they are looked through."""


class Position(NamedTuple):
    """A line and a column, both from 1; columns count characters."""

    line: int
    column: int


class _Node(NamedTuple):
    """A value in the text: where it begins, and what is in it."""

    start: int
    value: Any
    """Of an object its members by key, of a list its nodes, else the value."""


class Positions:
    """The positions in one text, which must be sound JSON."""

    def __init__(self, text: str):
        self._text = text
        self._lines = [0, *(found.end() for found in re.finditer("\n", text))]
        self._root, _ = self._read(self._skip(0))
        self._short = dict(reversed(list(self._short_places())))

    def of(self, place: str) -> Position:
        """Where a short or a long place stands; as far as it is there. The beginning of the file where nothing is."""
        start = self._short.get(place)
        if start is None:
            start = self._long(place)
        line = bisect_right(self._lines, start)
        return Position(line, start - self._lines[line - 1] + 1)

    def _short_places(self) -> Iterator[tuple[str, int]]:
        """Every short place, those that go before others of the same name first."""
        root = self._root.value if isinstance(self._root.value, dict) else {}
        levels = _things(root.get("levels"))
        yield from ((name, node.start) for name, node in levels)
        for name, level in levels:
            for group in GROUPS:
                yield from ((f"{name}.{thing}", node.start) for thing, node in _things(level.value.get(group)))
            for node in _nodes(level.value.get("paths")):
                ends = (node.value[key].value for key in ("from", "to") if key in node.value)
                yield ".".join((name, *map(str, ends))), node.start
        for group in root:
            yield from ((name, node.start) for name, node in _things(root[group]))

    def _long(self, place: str) -> int:
        """Where a long place begins, or the last part of it that is there."""
        here = self._root
        for step in place.split("."):
            inside = here.value
            found: _Node | None = None
            if isinstance(inside, dict):
                found = inside.get(step)
            elif isinstance(inside, list):
                found = dict(_things(here)).get(step) or (inside[int(step)] if _is_place(step, inside) else None)
            if found is None:
                break
            here = found
        return here.start

    # -- reading ---------------------------------------------------------------------------------------

    def _skip(self, at: int) -> int:
        found = _SPACE.match(self._text, at)
        return found.end() if found else at

    def _read(self, at: int) -> tuple[_Node, int]:
        """The value that begins there, and where what follows it begins."""
        sign = self._text[at : at + 1]
        if sign == "{":
            return self._object(at)
        if sign == "[":
            return self._list(at)
        value, end = _value_at(self._text, at)
        return _Node(at, value), self._skip(end)

    def _object(self, start: int) -> tuple[_Node, int]:
        members: dict[str, _Node] = {}
        at = self._skip(start + 1)
        while self._text[at] != "}":
            key, end = _value_at(self._text, at)
            members[key], at = self._read(self._skip(self._skip(end) + 1))
            at = self._skip(at + 1) if self._text[at] == "," else at
        return _Node(start, members), self._skip(at + 1)

    def _list(self, start: int) -> tuple[_Node, int]:
        parts: list[_Node] = []
        at = self._skip(start + 1)
        while self._text[at] != "]":
            part, at = self._read(at)
            parts.append(part)
            at = self._skip(at + 1) if self._text[at] == "," else at
        return _Node(start, parts), self._skip(at + 1)


def _nodes(node: _Node | None) -> list[_Node]:
    """The objects of a list."""
    inside = node.value if node else ()
    return [one for one in inside if isinstance(one.value, dict)] if isinstance(inside, list) else []


def _things(node: _Node | None) -> list[tuple[str, _Node]]:
    """The things of a list that have ids."""
    return [(one.value["id"].value, one) for one in _nodes(node) if "id" in one.value]


def _is_place(step: str, inside: list[_Node]) -> bool:
    return step.isdecimal() and int(step) < len(inside)

"""What words in level files are likely to mean: names of fields, and values by which things are told apart."""

import re
from collections.abc import Sequence

from mossy_bridge.model.flow import ThingKind

FACES = frozenset(["left", "right", "up", "down"])
TRIGGERS = frozenset(["touch", "press", "choose", "auto", "timer", "fail"])
_TRUTHS = frozenset(["true", "false", "yes", "no", "on", "off"])
SORTS = frozenset(["kind", "type", "class", "is", "category", "sort", "role", "what", "thing"])
"""Names of fields that say what a thing is."""
NAMES = frozenset(["name", "id", "label", "called", "layer", "title", "key"])
"""Names of fields that containers are called by."""
HOLDERS = frozenset(["layer", "group", "folder", "section", "set", "list"])
"""Containers that sort what they hold: the same in every file."""
DESTINATIONS = (
    "level", "to", "target", "leads", "destination", "goes", "goto", "next", "exit", "map", "scene", "room", "file",
    "dest",
)  # fmt: skip
MEANINGS: dict[str, tuple[str, ...]] = {
    "id": ("id", "name", "called", "key", "label", "title"),
    "name": ("name", "called", "title", "label", "caption"),
    "x": ("x", "left", "px", "posx", "xpos", "col", "column"),
    "y": ("y", "top", "py", "posy", "ypos", "row"),
    "width": ("width", "w", "wide", "across", "sizex", "columns", "cols"),
    "height": ("height", "h", "high", "tall", "up", "sizey", "rows"),
    "level": DESTINATIONS,
    "spawn": ("spawn", "at", "post", "by", "entry", "arrival", "start", "point", "landing", "entrance", "spot"),
    "gains": ("gains", "gives", "item", "holds", "contains", "grants", "what"),
    "picture": ("picture", "image", "background", "backdrop"),
}
"""The names, plainest first, of fields from which each value is likely to be taken."""
PLACES = ("x", "y", "width", "height")
_NUMBER = re.compile(r"[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d+)?")
_PREDICATE = re.compile(r"\[\??[@.\w]*\s*==?\s*(?P<quote>['\"])(?P<named>.*?)(?P=quote)\](/@?\w+|\.\w+)?$")
_LAST = re.compile(r"(?P<word>\w*)(?:\[(?P<at>\d+)\])?$")


def is_number(text: str) -> bool:
    """Whether a text is a number."""
    return _NUMBER.fullmatch(text.strip()) is not None


def tells_no_sort(texts: Sequence[str]) -> bool:
    """Whether values are of those that a thing has, whatever it is: numbers, sides, yes and no, triggers."""
    lower = {text.strip().lower() for text in texts}
    return all(map(is_number, lower)) or any(lower <= known for known in (FACES, TRIGGERS, _TRUTHS))


def word_of(expression: str) -> tuple[str, int | None]:
    """The word that an expression ends with, and the place in a list behind it: ``prop[@key='to']/@value`` is *to*,
    ``$.box[2]`` is *box*, 2."""
    if named := _PREDICATE.search(expression):
        return _plain(named["named"]), None
    found = _LAST.search(expression.removesuffix("']"))
    if not found:
        return "", None
    return _plain(found["word"]), int(found["at"]) if found["at"] else None


def _plain(word: str) -> str:
    return re.sub("[^a-z0-9]", "", word.lower())


def rank(meaning: str, expression: str) -> int:
    """How plainly an expression is named for what is to be taken: 0 for the plainest, 99 where it is not."""
    word, at = word_of(expression)
    known = MEANINGS[meaning]
    return known.index(word) if at is None and word in known else 99


KIND_NAMES: dict[ThingKind, str] = {
    "exit": "Exits",
    "spawn": "Spawn points",
    "deed": "Pick-ups",
    "solid": "Walls",
    "plan": "The plan's size",
}
"""What each kind of thing is called where it is pointed at."""

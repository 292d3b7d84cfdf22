"""Whether a flow built of plain values surely has no problem, as nearly always: told in a small part of the time that
:mod:`mossy_bridge.exchange.validation` takes to look for what is wrong.

Kinds, bounds, lengths and names of fields were checked in building it. What is left are ids and the characters of
texts; of a large flow nearly all stand in levels, so everything else is validated with care. What passes here has no
problems there. The reverse need not be so.
"""

import re
from collections.abc import Iterable, Sequence
from typing import Any

import msgspec

from mossy_bridge.exchange.validation import DEEPEST, INTERNAL, LINE_BREAKS, problems
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.ids import KEYWORDS

_SUSPECT = (b"\x7f", *(f'"{name}":'.encode() for name in INTERNAL))
"""What may stand for a control character, or for a field that no file has."""
_CONTROL_ESCAPES = (b"\\u", b"\\b", b"\\f")
_LINE_BREAKS = (b"\\n", b"\\r", b"\\t")
_CONTROL_BEYOND_ASCII = re.compile(b"\xc2[\x80-\x9f]")


def surely_valid(flow: Flow, tree: dict[str, Any], text: bytes) -> bool:
    """Whether a flow is valid; ``tree`` are the plain values it was built of, ``text`` those as msgspec writes them."""
    rest = {key: value for key, value in tree.items() if key != "levels"}
    if problems(rest):
        return False
    levels = flow.levels
    return _are_plain_texts(text, rest, levels) and _are_ids(levels) and all(map(_is_valid, levels))


def surely_as_read(levels: tuple[Level, ...]) -> bool:
    """Whether levels surely are as reading them from a file would make them, but for their wordings and for ids that
    others have."""
    try:
        text = msgspec.json.encode(levels)
        same = msgspec.json.decode(text, type=tuple[Level, ...]) == levels
    except (ValueError, TypeError, OverflowError, RecursionError):
        return False
    text = text.replace(b'"set_here":[]', b"")  # in which nothing is noted
    valid = same and _are_plain_texts(text, {}, levels) and all(map(_is_valid, levels))
    return valid and KEYWORDS.isdisjoint(level.id for level in levels)


def _are_plain_texts(text: bytes, rest: dict[str, Any], levels: Iterable[Level]) -> bool:
    """Whether all texts of levels have one line only and no control characters, but for line breaks in notes."""
    text = _without_escaped_backslashes(text)
    if any(suspect in text for suspect in _SUSPECT):
        return False
    if not text.isascii() and _CONTROL_BEYOND_ASCII.search(text):
        return False
    if b"\\" not in text:
        return True  # as most often, told in a tenth of the time
    if any(escape in text for escape in _CONTROL_ESCAPES):
        return False
    breaks = _line_breaks(text)
    return not breaks or breaks == _line_breaks(_without_escaped_backslashes(msgspec.json.encode(rest))) + sum(
        level.notes.count(one) for level in levels for one in LINE_BREAKS if level.notes
    )


def _without_escaped_backslashes(text: bytes) -> bytes:
    """So that every backslash left begins an escape."""
    return text.replace(rb"\\", b"")


def _line_breaks(text: bytes) -> int:
    return sum(map(text.count, _LINE_BREAKS))


def _are_ids(things: Sequence[Any]) -> bool:
    """Whether the ids of some things, which have the form of ids, are no keywords, and each another one."""
    ids = {thing.id for thing in things}
    return len(ids) == len(things) and KEYWORDS.isdisjoint(ids)


def _is_valid(level: Level) -> bool:
    """Whether what stands in a level has ids of its own, and no destination too many others in it."""
    for things in (level.zones, level.spawns, level.deeds, level.exits, level.tiles):
        if things and not _are_ids(things):
            return False
    paths = {(path.start, path.end) for path in level.paths}
    nesting = [exit_.to for exit_ in level.exits if exit_.to and exit_.to.otherwise]
    return len(paths) == len(level.paths) and all(len(destination.chain()) < DEEPEST for destination in nesting)

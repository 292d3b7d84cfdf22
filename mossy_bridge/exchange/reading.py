"""Strict reading: bytes or a tree of plain values to a flow, or every problem with its place."""

import errno
import json
import math
import os
import re
import stat
from pathlib import Path
from typing import Any, NamedTuple, NoReturn

import msgspec
from msgspec.structs import replace

from mossy_bridge.exchange.quick_validation import surely_valid
from mossy_bridge.exchange.validation import Ambiguous, problems
from mossy_bridge.language.asked import conditions_of_level, effects_of_level
from mossy_bridge.language.parsing import WrongWording, canonical_condition, canonical_effect
from mossy_bridge.model.flow import FORMAT_VERSION, Deed, Exit, Fact, Flow, Level

LARGEST_FILE = 256 * 1024 * 1024
_DIGITS_ALIKE, _TWENTY_DIGITS = bytes.maketrans(b"123456789", b"000000000"), b"0" * 20
_SPACES = b" \t\r\n"
_MINUS_ZERO = re.compile(rb"-0(?<=[\s:\[,]-0)(\.0*)?[\s,\]}eE]")  # beginning with what is searched for quickly


class CannotRead(ValueError):  # noqa: N818 - named for what the user reads
    """The input is no flow. ``problems`` has one sentence for each thing wrong, with its place."""

    def __init__(self, problems: list[str]):
        super().__init__("\n".join(problems))
        self.problems = problems


def read_flow(path: str | Path) -> Flow:
    """The flow in the file. Raises :class:`CannotRead`; never changes the file."""
    return flow_from_bytes(file_bytes(path))


def file_bytes(path: str | Path) -> bytes:
    """What the file holds. Raises :class:`CannotRead` in plain words. Never waits: a pipe or device is refused."""
    try:
        with open(path, "rb", opener=_opened) as file:
            found = os.fstat(file.fileno())
            if not stat.S_ISREG(found.st_mode):
                what = "is a folder, not a flow file" if stat.S_ISDIR(found.st_mode) else "is no ordinary file"
                raise CannotRead([f"{path}: {what}"])
            data = file.read(LARGEST_FILE + 1) if found.st_size <= LARGEST_FILE else None
    except (OSError, ValueError) as error:
        if isinstance(error, CannotRead):
            raise
        raise CannotRead([f"{path}: {_reason(error)}"]) from error
    if data is None or len(data) > LARGEST_FILE:
        megabytes = LARGEST_FILE // 2**20
        raise CannotRead([f"{path}: is larger than {megabytes} MB, which no flow file is"])
    return data


def _opened(path: str, flags: int) -> int:
    return os.open(path, flags | os.O_NONBLOCK | os.O_CLOEXEC)


def _reason(error: OSError | ValueError) -> str:
    if not isinstance(error, OSError):
        return "no file can have such a name"
    if error.errno == errno.ELOOP:
        return "its links lead in a circle"
    if isinstance(error, FileNotFoundError):
        return "there is no such file"
    if isinstance(error, IsADirectoryError):
        return "is a folder, not a flow file"
    if isinstance(error, PermissionError):
        return "may not be read (permission denied)"
    return error.strerror or str(error)


def flow_from_bytes(data: bytes) -> Flow:
    """The flow that the bytes of a file hold. Raises :class:`CannotRead`."""
    text = _text(data)
    plain = _unambiguous(data)
    flow = _quickly_built(plain) if plain else None
    return flow or _built_with_care(_tree(text, unambiguous=plain is not None))


def flow_from_tree(tree: Any) -> Flow:
    """The flow that plain JSON values describe. Raises :class:`CannotRead`."""
    try:
        whole = _whole(tree)
        flow = _quickly_built(_Plain(whole, msgspec.json.encode(whole)))
    except (ValueError, TypeError, OverflowError, RecursionError):
        flow = None
    return flow or _built_with_care(tree)


def _quickly_built(plain: "_Plain") -> Flow | None:
    """The flow of plain values that surely are one; None where that is not sure."""
    tree = plain.tree
    if tree.__class__ is not dict:
        return None
    version = tree.get("mossy_bridge")
    if version != FORMAT_VERSION or version.__class__ is not int:
        return None
    try:
        flow = msgspec.convert(tree, Flow)
        return _tidied(flow, tree) if surely_valid(flow, tree, plain.text) else None
    except (msgspec.ValidationError, WrongWording, RecursionError):
        return None


def _built_with_care(tree: Any) -> Flow:
    """The flow of plain values, at each of which is looked first."""
    _refuse_foreign(tree)
    try:
        if found := problems(tree):
            raise CannotRead(found)
        tree = _whole(tree)
        return _tidied(msgspec.convert(tree, Flow), tree)
    except RecursionError:
        raise CannotRead(["the file: is nested too deeply to be a flow"]) from None


def _text(data: bytes) -> str:
    if not data.strip():
        raise CannotRead(['the file: is empty; a flow begins with {"mossy_bridge": 1, …}'])
    if data.startswith(b"\xef\xbb\xbf"):
        raise CannotRead(["line 1: begins with a byte order mark; save it as UTF-8 without one"])
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise CannotRead([f"line {line}: is not UTF-8 text"]) from error


def tree_from_text(text: str) -> Any:
    """The plain values that JSON text holds. Raises :class:`CannotRead`."""
    return _tree(text, unambiguous=False)


def _tree(text: str, unambiguous: bool) -> Any:
    """The same; ``unambiguous`` says that surely no key stands twice in an object."""
    hook = None if unambiguous else _object
    try:
        return json.loads(text, object_pairs_hook=hook, parse_constant=_no_constant, parse_float=_float, parse_int=_int)
    except json.JSONDecodeError as error:
        place = f"line {error.lineno}, column {error.colno}"
        raise CannotRead([f"{place}: is not valid JSON: {error.msg[:1].lower()}{error.msg[1:]}"]) from error
    except RecursionError:
        raise CannotRead(["the file: is nested too deeply to be a flow"]) from None


class _Plain(NamedTuple):
    """Plain values, and how msgspec writes them."""

    tree: Any
    text: bytes


def _unambiguous(data: bytes) -> _Plain | None:
    """The plain values of a text in which surely no key stands twice in an object, for as many are left as stand in it,
    and no number is huge; None if that is not so. To look at each object takes longer than all the rest of reading."""
    if b"\\u" in data or _TWENTY_DIGITS in data.translate(_DIGITS_ALIKE) or _MINUS_ZERO.search(data):
        return None  # a key may be spelled so that it is not counted, or a number reads otherwise
    try:
        tree = msgspec.json.decode(data)
        kept = msgspec.json.encode(tree)
        if tree.__class__ is dict and "trial_settings" in tree:  # the only ones that may be of any kind
            tree["trial_settings"] = _whole(tree["trial_settings"])
    except (ValueError, OverflowError, RecursionError):
        return None  # what is wrong is said with more care
    # Where a text in it looks like a key but for a space, the counts differ, and it is looked at with care.
    return _Plain(tree, kept) if kept.count(b'":') == data.translate(None, _SPACES).count(b'":') else None


def _object(items: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(items)
    return found if len(found) == len(items) else Ambiguous(items)


def _no_constant(name: str) -> NoReturn:
    raise CannotRead([f"the file: {name} is not a number that JSON knows"])


def _float(text: str) -> int | float:
    value = float(text)
    if value in (float("inf"), float("-inf")):
        raise CannotRead([f"the file: the number {text[:40]} is too large (it must fit in 64 bits)"])
    return int(value) if _is_whole(value) else value


def _int(text: str) -> int:
    # Python refuses to turn thousands of digits into a number; any 20 of them are already too many.
    return int(text[:24])


def _refuse_foreign(tree: Any) -> None:
    if not isinstance(tree, dict) or "mossy_bridge" not in tree:
        raise CannotRead(["the file: is not a flow: its object has no “mossy_bridge” key with the format version"])
    version = tree["mossy_bridge"]
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise CannotRead([f"mossy_bridge: the format version must be {FORMAT_VERSION}"])
    if version > FORMAT_VERSION:
        raise CannotRead(
            [f"mossy_bridge: the file has format {version}, made by a newer version; this one reads {FORMAT_VERSION}"]
        )


def _tidied(flow: Flow, tree: dict[str, Any]) -> Flow:
    """The flow with wordings and values as they are written; ``tree`` are the plain values that it was built of."""
    return replace(
        flow,
        facts=tuple(map(tidy_fact, flow.facts)),
        levels=_levels(flow.levels, tree.get("levels", [])),
        patterns=_levels(flow.patterns, tree.get("patterns", [])),
        promises=tuple(replace(p, when=canonical_condition(p.when)) for p in flow.promises),
    )


def _whole(value: Any) -> Any:
    """The tree with numbers such as 3.0 as whole ones, so that every spelling of a number reads the same. Raises
    ``ValueError`` for an ambiguous object, and for what is no number."""
    if isinstance(value, Ambiguous):
        raise ValueError("some key stands twice")
    if isinstance(value, dict):
        return {key: _whole(part) for key, part in value.items()}
    if isinstance(value, list):
        return [_whole(part) for part in value]
    if not isinstance(value, float):
        return value
    if not math.isfinite(value):
        raise ValueError("no number")
    return int(value) if _is_whole(value) else value


def _is_whole(value: float) -> bool:
    return value.is_integer() and abs(value) < 2**63


def tidy_fact(fact: Fact) -> Fact:
    """An initial value that the kind would have anyway is as good as none."""
    return replace(fact, initial=None) if fact.initial == replace(fact, initial=None).first else fact


def _levels(levels: tuple[Level, ...], trees: list[dict[str, Any]]) -> tuple[Level, ...]:
    tidied = map(tidy_level, levels)
    return tuple(
        replace(level, set_here=frozenset(_field_names(tree))) if level.pattern else level
        for level, tree in zip(tidied, trees, strict=True)
    )


def _field_names(tree: dict[str, Any]) -> list[str]:
    return [key for key in tree if key != "id"]


def tidy_level(level: Level) -> Level:
    """The level with its conditions and effects as the program writes them; what is so already stays the same."""
    conditions, effects = conditions_of_level(level), effects_of_level(level)
    if conditions == list(map(canonical_condition, conditions)) and effects == list(map(canonical_effect, effects)):
        return level
    return replace(
        level,
        opens=canonical_condition(level.opens),
        on_arrival=_effects(level.on_arrival),
        paths=tuple(replace(path, when=canonical_condition(path.when)) for path in level.paths),
        deeds=tuple(map(_tidy_deed, level.deeds)),
        exits=tuple(map(_tidy_exit, level.exits)),
    )


def _effects(effects: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(map(canonical_effect, effects))


def _tidy_deed(deed: Deed) -> Deed:
    return replace(deed, when=canonical_condition(deed.when), effects=_effects(deed.effects))


def _tidy_exit(exit_: Exit) -> Exit:
    return replace(
        exit_,
        opens=canonical_condition(exit_.opens),
        effects=_effects(exit_.effects),
        trigger=replace(exit_.trigger, when=canonical_condition(exit_.trigger.when)),
    )

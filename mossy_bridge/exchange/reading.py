"""Strict reading: bytes or a tree of plain values to a flow, or every problem with its place."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any, NoReturn

import msgspec
from msgspec.structs import replace

from mossy_bridge.exchange.shape import Pairs, problems
from mossy_bridge.language.parsing import canonical_condition, canonical_effect
from mossy_bridge.model.flow import FORMAT_VERSION, Fact, Flow, Level

LARGEST_FILE = 32 * 1024 * 1024


class CannotRead(ValueError):  # noqa: N818 - named for what the user reads
    """The input is no flow. ``problems`` has one sentence for each thing wrong, with its place."""

    def __init__(self, problems: list[str]):
        super().__init__("\n".join(problems))
        self.problems = problems


def read_flow(path: str | Path) -> Flow:
    """The flow in the file. Raises :class:`CannotRead`; never changes the file."""
    return flow_from_bytes(file_bytes(path))


def file_bytes(path: str | Path) -> bytes:
    """What the file holds. Raises :class:`CannotRead` in plain words."""
    try:
        with Path(path).open("rb") as file:
            data = file.read(LARGEST_FILE + 1)
    except OSError as error:
        raise CannotRead([f"{path}: {_reason(error)}"]) from error
    if len(data) > LARGEST_FILE:
        megabytes = LARGEST_FILE // 2**20
        raise CannotRead([f"{path}: is larger than {megabytes} MB, which no flow file is"])
    return data


def _reason(error: OSError) -> str:
    if isinstance(error, FileNotFoundError):
        return "there is no such file"
    if isinstance(error, IsADirectoryError):
        return "is a folder, not a flow file"
    if isinstance(error, PermissionError):
        return "may not be read (permission denied)"
    return error.strerror or str(error)


def flow_from_bytes(data: bytes) -> Flow:
    """The flow that the bytes of a file hold. Raises :class:`CannotRead`."""
    return flow_from_tree(_tree(_text(data)))


def flow_from_tree(tree: Any) -> Flow:
    """The flow that plain JSON values describe. Raises :class:`CannotRead`."""
    _refuse_foreign(tree)
    try:
        found = problems(tree)
        if found:
            raise CannotRead(found)
        flow = _built(tree)
    except RecursionError:
        raise CannotRead(["the file: is nested too deeply to be a flow"]) from None
    return flow


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


def _tree(text: str) -> Any:
    try:
        return json.loads(
            text, object_pairs_hook=_pairs, parse_constant=_no_constant, parse_float=_float, parse_int=_int
        )
    except json.JSONDecodeError as error:
        place = f"line {error.lineno}, column {error.colno}"
        raise CannotRead([f"{place}: is not valid JSON: {error.msg[:1].lower()}{error.msg[1:]}"]) from error
    except RecursionError:
        raise CannotRead(["the file: is nested too deeply to be a flow"]) from None


def _pairs(items: list[tuple[str, Any]]) -> Pairs:
    found = Pairs(items)
    if len(found) < len(items):
        keys = [key for key, _ in items]
        found.twice = tuple(sorted({key for key in keys if keys.count(key) > 1}))
    return found


def _no_constant(name: str) -> NoReturn:
    raise CannotRead([f"the file: {name} is not a number that JSON knows"])


def _float(text: str) -> float:
    value = float(text)
    if value in (float("inf"), float("-inf")):
        raise CannotRead([f"the file: the number {text[:40]} is too large (it must fit in 64 bits)"])
    return value


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


def _built(tree: dict[str, Any]) -> Flow:
    flow = msgspec.convert(_whole(tree), Flow)
    return replace(
        flow,
        facts=tuple(map(_tidy_fact, flow.facts)),
        levels=_levels(flow.levels, tree.get("levels", [])),
        patterns=_levels(flow.patterns, tree.get("patterns", [])),
        promises=tuple(replace(p, when=canonical_condition(p.when)) for p in flow.promises),
    )


def _whole(value: Any) -> Any:
    """The tree with numbers such as 3.0 as whole ones, so that every spelling of a number reads the same."""
    if isinstance(value, dict):
        return {key: _whole(part) for key, part in value.items()}
    if isinstance(value, list):
        return [_whole(part) for part in value]
    if isinstance(value, float) and value.is_integer() and abs(value) < 2**63:
        return int(value)
    return value


def _tidy_fact(fact: Fact) -> Fact:
    """An initial value that the kind would have anyway is as good as none."""
    return replace(fact, initial=None) if fact.initial == replace(fact, initial=None).first else fact


def _levels(levels: tuple[Level, ...], trees: list[dict[str, Any]]) -> tuple[Level, ...]:
    return tuple(
        replace(_tidy_level(level), set_here=frozenset(_field_names(tree)) if level.pattern else frozenset())
        for level, tree in zip(levels, trees, strict=True)
    )


def _field_names(tree: dict[str, Any]) -> list[str]:
    return [key for key in tree if key != "id"]


def _tidy_level(level: Level) -> Level:
    return replace(
        level,
        opens=canonical_condition(level.opens),
        on_arrival=tuple(map(canonical_effect, level.on_arrival)),
        paths=tuple(_each(level.paths, lambda p: replace(p, when=canonical_condition(p.when)))),
        deeds=tuple(_each(level.deeds, _tidy_deed)),
        exits=tuple(_each(level.exits, _tidy_exit)),
    )


def _each(things: tuple[Any, ...], tidy: Callable[[Any], Any]) -> list[Any]:
    return [tidy(thing) for thing in things]


def _tidy_deed(deed: Any) -> Any:
    effects = tuple(map(canonical_effect, deed.effects))
    return replace(deed, when=canonical_condition(deed.when), effects=effects)


def _tidy_exit(exit_: Any) -> Any:
    return replace(
        exit_,
        opens=canonical_condition(exit_.opens),
        effects=tuple(map(canonical_effect, exit_.effects)),
        trigger=replace(exit_.trigger, when=canonical_condition(exit_.trigger.when)),
    )

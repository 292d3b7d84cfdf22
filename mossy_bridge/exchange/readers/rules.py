"""One level file through the rules of its readers: bytes to things, with every fault and its place."""

import math
from collections.abc import Callable, Collection, Iterator, Sequence
from typing import Any

from msgspec.structs import replace

from mossy_bridge.exchange.readers.expressions import LITERAL, parsed
from mossy_bridge.exchange.readers.forms import SECONDS, Damaged, ParsedFile, WrongExpression
from mossy_bridge.level_files.contents import FileContents, FileFault, FileThing, made_id
from mossy_bridge.model.flow import FARTHEST, LONGEST_TEXT, Reader, Rule

MOST_THINGS = 20_000
"""A rule that finds more things than this in one file is given up."""
NUMBERS = frozenset(["x", "y", "width", "height"])
_POINTS = ("spawn", "deed")


def contents_of(
    data: bytes,
    readers: Sequence[Reader],
    begin: Callable[[int, int], None] = lambda _reader, _rule: None,
    given_up: Collection[tuple[int, int]] = (),
    numbered: bool = False,
) -> FileContents:
    """What readers find in the bytes of a file. Before each rule ``begin`` is told its reader's number and its own; -1
    while a file is parsed. Rules that have taken too long before are ``given_up``. Things are ``numbered`` for a sample
    in which they are to be shown."""
    things: list[FileThing] = []
    faults: list[FileFault] = []
    documents: dict[str, ParsedFile | Damaged] = {}
    for number, reader in enumerate(readers):
        begin(number, -1)
        if reader.form not in documents:
            documents[reader.form] = _parsed(reader, data)
        document = documents[reader.form]
        if isinstance(document, Damaged):
            faults.append(FileFault(str(document), document.line, document.column, reader.id))
            continue
        for place, rule in enumerate(reader.rules):
            if (number, place) in given_up:
                message = f"“{rule.each}” takes over {SECONDS:.0f} seconds here, and was given up"
                faults.append(FileFault(message, 0, 0, reader.id, place))
                continue
            begin(number, place)
            try:
                found = list(_by_rule(document, reader, place, rule, numbered))
            except _Failed as error:
                faults.append(error.fault)
                continue
            things += found
    return FileContents(tuple(things), (*faults, *_twice(things)))


def _parsed(reader: Reader, data: bytes) -> ParsedFile | Damaged:
    try:
        return parsed(reader.form, data)
    except Damaged as error:
        return error


class _Failed(Exception):  # noqa: N818 - no error of the program
    """A rule that fails on a file."""

    def __init__(self, fault: FileFault):
        super().__init__(fault.message)
        self.fault = fault


def _by_rule(document: ParsedFile, reader: Reader, place: int, rule: Rule, numbered: bool) -> Iterator[FileThing]:
    at = (0, 0)
    try:
        for number, thing in enumerate(document.things(rule.each)):
            if number == MOST_THINGS:
                raise WrongExpression(f"“{rule.each}” finds more than {MOST_THINGS:,} things")
            at = (0, 0)
            texts, numbers = {}, {}
            for key, expression in rule.take.items():
                text = _taken(document, thing, expression)
                if text is None:
                    continue
                if key in NUMBERS:
                    numbers[key] = _number(text, key, reader.scale)
                else:
                    texts[key] = text[:LONGEST_TEXT]
            at = document.place(thing) if rule.makes != "solid" and reader.form != "json" else at
            made = _made(rule, reader, place, texts, numbers, at)
            yield replace(made, node=document.number(thing)) if numbered else made
    except WrongExpression as error:
        raise _Failed(FileFault(str(error), 0, 0, reader.id, place)) from error
    except _WrongNumber as error:
        line, column = document.place(thing)
        raise _Failed(FileFault(str(error), line, column, reader.id, place)) from error


def _taken(document: ParsedFile, thing: Any, expression: str) -> str | None:
    if expression.startswith(LITERAL):
        return expression.removeprefix(LITERAL)
    return document.taken(thing, expression)


class _WrongNumber(ValueError):  # noqa: N818 - no error of the program
    """A text that should be a number."""


def _number(text: str, key: str, scale: float) -> float:
    try:
        found = float(text) * scale
    except ValueError:
        found = math.nan
    if not math.isfinite(found):
        raise _WrongNumber(f"{key} is “{text[:40]}”, which is no number")
    if abs(found) > FARTHEST:
        raise _WrongNumber(f"{key} is {text[:40]}, which is farther than {FARTHEST:,} plan units")
    if key in ("width", "height") and found < 0:
        raise _WrongNumber(f"{key} is {text[:40]}, which is negative")
    return found


def _made(
    rule: Rule, reader: Reader, place: int, texts: dict[str, str], numbers: dict[str, float], at: tuple[int, int]
) -> FileThing:
    line, column = at
    width, height = numbers.get("width"), numbers.get("height")
    size = (width, height) if width is not None and height is not None else None
    if rule.makes == "plan":
        return FileThing("plan", reader.id, place, texts, line, column, size=size)
    rect, point = None, None
    if "x" in numbers and "y" in numbers:
        corner = _corner(numbers["x"], numbers["y"], width or 0, height or 0, rule, reader)
        if rule.makes in _POINTS:
            down = height or 0 if reader.y == "down" else 0
            point = (corner[0] + (width or 0) / 2, corner[1] + down)
        elif size:
            rect = (*corner, *size)
    thing_id = made_id(rule.makes, texts)
    return FileThing(rule.makes, reader.id, place, texts, line, column, rect, point, id=thing_id)


def _corner(x: float, y: float, width: float, height: float, rule: Rule, reader: Reader) -> tuple[float, float]:
    """The corner with the smallest x and y of the file."""
    if rule.anchor == "corner":
        return x, y
    if rule.anchor == "centre":
        return x - width / 2, y - height / 2
    return x - width / 2, y - height if reader.y == "down" else y


def _twice(things: Sequence[FileThing]) -> Iterator[FileFault]:
    """Things of one kind and id that two readers found."""
    first: dict[tuple[str, str], FileThing] = {}
    for thing in things:
        if thing.id:
            before = first.setdefault((thing.kind, thing.id), thing)
            if before.reader != thing.reader:
                message = f"{thing.kind} “{thing.texts['id'][:60]}” is found by {before.reader} and by {thing.reader}"
                yield FileFault(message, thing.line, thing.column, thing.reader, thing.rule)

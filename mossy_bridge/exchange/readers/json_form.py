"""JSON level files, asked by JSONPath (RFC 9535)."""

import json
from collections.abc import Iterator
from functools import lru_cache
from json.decoder import scanstring  # type: ignore[attr-defined]
from typing import Any

from jsonpath_rfc9535 import JSONPathError, JSONPathNode, JSONPathQuery
from jsonpath_rfc9535 import compile as compile_query

from mossy_bridge.exchange.readers.forms import Damaged, WrongExpression
from mossy_bridge.level_files.pointing.sample import NodeKind, SampleNode

_SPACE = " \t\n\r"


class JsonDocument:
    """A parsed JSON file."""

    def __init__(self, text: str):
        self._text = text
        self._numbers: dict[tuple[int | str, ...], int] = {}
        try:
            self._tree = json.loads(text)
        except json.JSONDecodeError as error:
            message = f"is no valid JSON: {error.msg[:1].lower()}{error.msg[1:]}"
            raise Damaged(message, error.lineno, error.colno) from error
        except RecursionError:
            raise Damaged("is nested too deeply to be read") from None
        except ValueError as error:  # a number of thousands of digits
            raise Damaged("holds a number that is too long") from error

    def things(self, each: str) -> Iterator[JSONPathNode]:
        """The values that a path finds."""
        yield from _found(each, self._tree)

    def taken(self, thing: JSONPathNode, expression: str) -> str | None:
        """The text of what a path finds from a value."""
        found = next(iter(_found(expression, thing.value)), None)
        return None if found is None else _text(found.value)

    def place(self, thing: JSONPathNode) -> tuple[int, int]:
        """Line and column of a value, found by reading the text again as far as it."""
        at = _position(self._text, thing.location)
        return self._text.count("\n", 0, at) + 1, at - self._text.rfind("\n", 0, at)

    def nodes(self) -> Iterator[SampleNode]:
        """All values, each before what is in it."""
        waiting: list[tuple[int, str, Any]] = [(-1, "", self._tree)]
        number = 0
        while waiting:
            parent, name, value = waiting.pop()
            yield SampleNode(_kind_of(value), parent, name, 0, "" if isinstance(value, dict | list) else _text(value))
            inner = [(number, key, inside) for key, inside in _inside(value)]
            waiting += [(above, "" if isinstance(key, int) else key, inside) for above, key, inside in reversed(inner)]
            number += 1

    def number(self, thing: JSONPathNode) -> int:
        """The place of a value among all."""
        if not self._numbers:
            waiting: list[tuple[tuple[int | str, ...], Any]] = [((), self._tree)]
            while waiting:
                location, value = waiting.pop()
                self._numbers[location] = len(self._numbers)
                waiting += reversed([((*location, key), inside) for key, inside in _inside(value)])
        return self._numbers[thing.location]


def _inside(value: Any) -> Iterator[tuple[int | str, Any]]:
    if isinstance(value, dict):
        yield from value.items()
    elif isinstance(value, list):
        yield from enumerate(value)


def _kind_of(value: Any) -> NodeKind:
    if isinstance(value, dict):
        return "object"
    if isinstance(value, list):
        return "list"
    if isinstance(value, bool):
        return "truth"
    if value is None:
        return "nothing"
    return "text" if isinstance(value, str) else "number"


def _found(expression: str, value: Any) -> Iterator[JSONPathNode]:
    try:
        yield from query(expression).finditer(value)
    except (JSONPathError, RecursionError) as error:
        raise WrongExpression(f"“{expression}” fails here: {error}") from error


@lru_cache(maxsize=512)
def query(expression: str) -> JSONPathQuery:
    """The parsed path. Raises :class:`WrongExpression`."""
    try:
        return compile_query(expression)
    except JSONPathError as error:
        raise WrongExpression(f"“{expression}” is no JSONPath: {str(error).partition(', line')[0]}") from error


def _text(value: Any) -> str:
    if isinstance(value, str):
        return value
    return "" if value is None else json.dumps(value, ensure_ascii=False)


def _position(text: str, location: tuple[int | str, ...]) -> int:
    """Where in valid JSON text the value at a location begins."""
    at, decoder = _skipped(text, 0), json.JSONDecoder()
    for step in location:
        index, at = 0, _skipped(text, at + 1)
        while True:
            key: int | str = index
            if text[at] == '"' and isinstance(step, str):
                key, at = scanstring(text, at + 1, True)
                at = _skipped(text, _skipped(text, at) + 1)  # behind the colon
            if key == step:
                break
            _, at = decoder.raw_decode(text, at)
            index, at = index + 1, _skipped(text, _skipped(text, at) + 1)  # behind the comma
    return at


def _skipped(text: str, at: int) -> int:
    while at < len(text) and text[at] in _SPACE:
        at += 1
    return at

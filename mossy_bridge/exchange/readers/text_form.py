"""Level files of plain text, asked by regular expressions that are given up when they take too long."""

from collections.abc import Iterator
from functools import lru_cache
from typing import Any, NamedTuple

import regex

from mossy_bridge.exchange.readers.forms import SECONDS, WrongExpression
from mossy_bridge.level_files.pointing.sample import SampleNode

WHOLE_FILE = "(?s)"
"""An expression that begins so is searched for over the whole file, any other line by line."""


class TextMatch(NamedTuple):
    """What an expression found, and where."""

    found: Any
    line: int
    column: int


class TextDocument:
    """A text file."""

    def __init__(self, text: str):
        self._text = text.replace("\r\n", "\n").replace("\r", "\n")

    def things(self, each: str) -> Iterator[TextMatch]:
        """Everything that an expression matches."""
        asked = pattern(each)
        try:
            if each.startswith(WHOLE_FILE):
                yield from self._over_all(asked)
            else:
                for number, line in enumerate(self._text.split("\n"), 1):
                    for found in asked.finditer(line, timeout=SECONDS):
                        yield TextMatch(found, number, found.start() + 1)
        except TimeoutError:
            raise WrongExpression(f"“{each}” takes over {SECONDS:.0f} seconds here, and was given up") from None

    def _over_all(self, asked: Any) -> Iterator[TextMatch]:
        line, at = 1, 0
        for found in asked.finditer(self._text, timeout=SECONDS):
            line, at = line + self._text.count("\n", at, found.start()), found.start()
            yield TextMatch(found, line, at - self._text.rfind("\n", 0, at))

    def taken(self, thing: TextMatch, expression: str) -> str | None:
        """The text of a group."""
        text: str | None = thing.found.group(expression)
        return text

    def place(self, thing: TextMatch) -> tuple[int, int]:
        """Where it was found."""
        return thing.line, thing.column

    def nodes(self) -> Iterator[SampleNode]:
        """All lines."""
        for number, line in enumerate(self._text.split("\n"), 1):
            yield SampleNode("line", -1, "", number, line)

    def number(self, thing: TextMatch) -> int:
        """The place of the line in which a match begins."""
        return thing.line - 1


@lru_cache(maxsize=512)
def pattern(expression: str) -> Any:
    """The compiled expression. Raises :class:`WrongExpression`."""
    flags = regex.MULTILINE if expression.startswith(WHOLE_FILE) else 0
    try:
        return regex.compile(expression, flags)
    except (regex.error, RecursionError, OverflowError) as error:
        raise WrongExpression(f"“{expression}” is no regular expression: {error}") from error

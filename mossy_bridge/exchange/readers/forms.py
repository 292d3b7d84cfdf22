"""What every form of level files has in common: a parsed file that can be asked by expressions."""

from collections.abc import Iterator
from typing import Any, Protocol

from mossy_bridge.level_files.pointing.sample import SampleNode

SECONDS = 2.0
"""An expression that takes longer on a file is given up."""


class WrongExpression(ValueError):  # noqa: N818 - named for what the user reads
    """An expression that cannot be parsed, or fails on a file; the message is a sentence for the user."""


class Damaged(ValueError):  # noqa: N818 - named for what the user reads
    """A file that is not of its form."""

    def __init__(self, message: str, line: int = 0, column: int = 0):
        super().__init__(message)
        self.line, self.column = line, column
        """Where, counted from 1; 0 where that is not known."""


class ParsedFile(Protocol):
    """A level file that has been parsed."""

    def things(self, each: str) -> Iterator[Any]:
        """Everything that an expression finds. Raises :class:`WrongExpression`."""

    def taken(self, thing: Any, expression: str) -> str | None:
        """The text that an expression reads of a thing; None where it finds nothing. Raises
        :class:`WrongExpression`."""

    def place(self, thing: Any) -> tuple[int, int]:
        """Line and column of a thing, from 1; 0 where it is not known."""

    def nodes(self) -> Iterator[SampleNode]:
        """All there is to point at, in the order of the file."""

    def number(self, thing: Any) -> int:
        """The place of a thing among :meth:`nodes`."""

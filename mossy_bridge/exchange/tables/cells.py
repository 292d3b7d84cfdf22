"""Tables of text with headings, and the values of their cells; whatever is not understood is noted with its place."""

import csv
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from io import StringIO
from typing import Any

from msgspec import Struct

from mossy_bridge.exchange.validation import field_problem
from mossy_bridge.language.parsing import WrongWording, canonical_condition, canonical_effect
from mossy_bridge.model.ids import nearest

Row = Mapping[str, str]
SEPARATORS = "\t;,"
YES, NO = frozenset(["yes", "true", "1", "x"]), frozenset(["no", "false", "0", ""])
_FORMULA = ("=", "+", "-", "@", "'", "\t", "\r")
MOST_CHARACTERS = 50_000_000


class Table(Struct, frozen=True):
    """Rows of cells by heading. The first row below the headings is row 2, as spreadsheets count."""

    name: str
    headings: tuple[str, ...]
    rows: tuple[Row, ...]


class CannotImport(ValueError):  # noqa: N818 - named for what the user reads
    """Tables or graphs that are no flow. ``problems`` has one sentence for each thing wrong, with its place."""

    def __init__(self, problems: list[str]):
        super().__init__("\n".join(problems))
        self.problems = problems


def table_of(name: str, text: str) -> Table:
    """The table that comma-, semicolon- or tab-separated text holds; which, its first line shows. Raises
    :class:`CannotImport`."""
    text = text.removeprefix("\ufeff")
    if len(text) > MOST_CHARACTERS or "\0" in text:
        raise CannotImport([f"{name}: is no table" if "\0" in text else f"{name}: is too large for a table"])
    first = text.lstrip("\r\n").partition("\n")[0]
    separator = max(SEPARATORS, key=lambda one: (first.count(one), one == ","))
    try:
        lines = list(csv.reader(StringIO(text), delimiter=separator, strict=True))
    except csv.Error as error:
        raise CannotImport([f"{name}: is no table: {error}"]) from error
    if not lines or not any(map(str.strip, lines[0])):
        raise CannotImport([f"{name}, row 1: has no headings; it needs “from” and “to”, or “id”"])
    headings = tuple(heading.strip().lower() for heading in lines[0])
    problems = [f"{name}, row 1: the heading “{one}” stands twice" for one in _twice(headings)]
    rows: list[Row] = []
    for number, cells in enumerate(lines[1:], 2):
        more = [cell for cell in cells[len(headings) :] if cell.strip()]
        if more:
            problems.append(f"{name}, row {number}: has more cells than there are headings: “{more[0][:40]}”")
        row = {heading: _plain(cell.strip()) for heading, cell in zip(headings, cells, strict=False)}
        rows.append(row)
    if problems:
        raise CannotImport(problems)
    return Table(name, headings, tuple(rows))


def _twice(headings: Sequence[str]) -> Iterator[str]:
    return (one for at, one in enumerate(headings) if one and one in headings[:at])


def table_text(headings: Sequence[str], rows: Iterable[Row], separator: str = ",") -> str:
    """A table as text. A cell that a spreadsheet would take for a formula gets a ``'`` before it."""
    out = StringIO()
    writer = csv.writer(out, delimiter=separator, lineterminator="\n")
    writer.writerow(headings)
    for row in rows:
        writer.writerow([_safe(row.get(heading, "")) for heading in headings])
    return out.getvalue()


def _safe(text: str) -> str:
    return f"'{text}" if text.startswith(_FORMULA) and not _is_number(text) else text


def _plain(text: str) -> str:
    """A cell without the ``'`` that keeps it from being taken for a formula."""
    return text[1:] if text[:1] == "'" and text[1:].startswith(_FORMULA) else text


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


class TableRow:
    """The cells of one row as values. What cannot be read is noted in ``problems`` and read as if it were empty."""

    def __init__(self, table: Table, number: int, problems: list[str]):
        self._table, self._row, self.number, self._problems = table, table.rows[number - 2], number, problems

    def wrong(self, heading: str, sentence: str) -> None:
        """Notes what is wrong with a cell."""
        self._problems.append(f"{self._table.name}, row {self.number}, column {heading}: {sentence}")

    def text(self, heading: str) -> str:
        """What stands in a cell; "" where there is no such column."""
        return self._row.get(heading, "")

    def number_in(self, heading: str, otherwise: float = 0) -> float:
        """A number; whole ones without a point."""
        text = self.text(heading).replace("−", "-")
        if not text:
            return otherwise
        try:
            found = float(text)
        except ValueError:
            self.wrong(heading, f"“{text[:40]}” is no number")
            return otherwise
        return int(found) if found.is_integer() else found

    def is_yes(self, heading: str, otherwise: bool = False) -> bool:
        """Yes or no."""
        text = self.text(heading).lower()
        if text and text not in YES | NO:
            self.wrong(heading, f"“{text[:40]}” is neither yes nor no")
        return (text in YES) if text else otherwise

    def condition(self, heading: str) -> str:
        """A condition; "always" where the cell is empty."""
        return self._worded(heading, self.text(heading) or "always", canonical_condition, "always")

    def effects(self, heading: str) -> list[str]:
        """Effects, with semicolons or commas between."""
        parts = [part.strip() for part in self.text(heading).replace(";", ",").split(",")]
        return [found for part in parts if part and (found := self._worded(heading, part, canonical_effect, ""))]

    def _worded(self, heading: str, text: str, canonical: Callable[[str], str], otherwise: str) -> str:
        try:
            return canonical(text)
        except WrongWording as error:
            self.wrong(heading, f"in “{text[:60]}”: {error}")
            return otherwise

    def fitting(self, heading: str, value: Any, cls: type, field: str, otherwise: Any) -> Any:
        """A value, if it can stand in a field of a class."""
        if problem := field_problem(value, cls, field):
            self.wrong(heading, problem)
            return otherwise
        return value


def rows_of(table: Table, known: Sequence[str], needed: Sequence[str], problems: list[str]) -> Iterator[TableRow]:
    """The rows of a table that are not empty. Columns that are not known, or are missing, are noted."""
    for heading in table.headings:
        if heading and heading not in known:
            likely = nearest(heading, known)
            hint = f"; did you mean “{likely}”?" if likely else f"; there are {', '.join(known)}"
            problems.append(f"{table.name}, row 1: there is no column “{heading[:40]}”{hint}")
    missing = [heading for heading in needed if heading not in table.headings]
    problems += [f"{table.name}, row 1: the column “{heading}” is missing" for heading in missing]
    for number, row in enumerate(table.rows, 2):
        if any(row.values()) and not missing:
            yield TableRow(table, number, problems)

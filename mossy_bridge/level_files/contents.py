"""What level files hold, as values: the things that rules found in them, and what could not be read."""

import re
from collections.abc import Iterator, Mapping
from functools import lru_cache
from pathlib import PurePosixPath

from msgspec import Struct

from mossy_bridge.model.flow import Flow, Level, Reader, Rect, ThingKind
from mossy_bridge.model.ids import id_from


# Without garbage collection: there are tens of thousands of these values, and they make no circles.
class FileThing(Struct, frozen=True, array_like=True, gc=False):
    """One thing that a rule found in a file. ``rect`` and ``point`` are in plan units, y growing as in the file; what
    the rule does not take, or the file does not have, is missing."""

    kind: ThingKind
    reader: str
    rule: int
    """The place of its rule in the reader, from 0."""
    texts: dict[str, str]
    """What was read, as the file writes it: ``id``, ``name``, ``level``, ``spawn``, …"""
    line: int = 0
    column: int = 0
    """From 1; 0 where they are not known."""
    rect: tuple[float, float, float, float] | None = None
    """x, y, width, height, from the corner with the smallest x and y: of exits and solids."""
    point: tuple[float, float] | None = None
    """The feet of a spawn point, or where a deed is done."""
    size: tuple[float, float] | None = None
    """Of the plan."""
    id: str = ""
    """The id that is made of the one in the file; "" where it has none."""
    node: int = -1
    """Its number among all there is to point at in the file, where that was asked for."""

    @property
    def called(self) -> str:
        """What the file calls it."""
        return self.texts.get("name") or self.texts.get("id") or ""

    @property
    def place(self) -> tuple[float, ...] | None:
        """Where it is, whatever its kind."""
        return self.rect or self.point


class FileFault(Struct, frozen=True, array_like=True, gc=False):
    """Why a file, or what a rule says of it, could not be read."""

    message: str
    line: int = 0
    column: int = 0
    reader: str = ""
    rule: int = -1
    """The rule's place in the reader, from 0; -1 where it is about the file."""

    def told(self, readers: Mapping[str, Reader] | None = None) -> str:
        """``line 3, column 7, rule 2 of Marsh maps: sentence``."""
        where = [f"line {self.line}"] if self.line else []
        where += [f"column {self.column}"] if self.column else []
        if self.rule >= 0:
            reader = (readers or {}).get(self.reader)
            where.append(f"rule {self.rule + 1} of {(reader and reader.name) or self.reader}")
        return f"{', '.join(where)}: {self.message}" if where else self.message


class FileContents(Struct, frozen=True, array_like=True, gc=False):
    """What all readers that fit one file found in it."""

    things: tuple[FileThing, ...] = ()
    faults: tuple[FileFault, ...] = ()

    def of(self, kind: ThingKind) -> tuple[FileThing, ...]:
        """The things of one kind, in the order of rules, then of the file."""
        return tuple(thing for thing in self.things if thing.kind == kind)


def made_id(kind: ThingKind, texts: Mapping[str, str]) -> str:
    """The id made of the one that a file writes."""
    text = texts.get("id", "")
    return id_from(text, (), kind) if text.strip() else ""


LevelFiles = Mapping[str, FileContents]
"""By the name of each file in the flow, for files that a reader fits and that are there."""


def readers_of(flow: Flow, file: str) -> tuple[Reader, ...]:
    """The readers of a flow that fit a file."""
    return tuple(reader for reader in flow.readers if fits(reader, file))


def fits(reader: Reader, file: str) -> bool:
    """Whether a reader is for a file."""
    return bool(file) and _pattern(reader.files).fullmatch(normal(file)) is not None


@lru_cache(maxsize=1 << 16)
def normal(file: str) -> str:
    """The shortest spelling of a file's name."""
    return str(PurePosixPath(file))


@lru_cache(maxsize=256)
def _pattern(files: str) -> re.Pattern[str]:
    """A pattern of files: ``*`` is anything within a name, ``**`` any folders, also none."""
    parts = normal(files).split("/")
    found = ""
    for index, part in enumerate(parts):
        last = index == len(parts) - 1
        if part == "**":
            found += ".*" if last else "(?:[^/]+/)*"
        else:
            found += "[^/]*".join(map(re.escape, part.split("*"))) + ("" if last else "/")
    return re.compile(found)


def read_levels(flow: Flow) -> Iterator[tuple[Level, tuple[Reader, ...]]]:
    """The levels that ship whose file some reader fits, with these readers; the flow has its patterns filled in."""
    if not flow.readers:
        return
    for level in flow.levels:
        readers = readers_of(flow, level.file) if level.ships else ()
        if readers:
            yield level, readers


def as_rect(place: tuple[float, ...]) -> Rect:
    """Four numbers as an area."""
    x, y, width, height = place
    return x, y, width, height

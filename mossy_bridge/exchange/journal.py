"""A journal of unsaved work: each change on disk as soon as it is made, whole or not at all.

A journal is a file of lines, each a checksum and a JSON object: first the whole flow, then what each change made other.
Lines are only ever added, and synced; one that was cut off by a kill does not fit its checksum, and it and what follows
are passed over. So reading gives the flow after the last change that was written whole.
"""

import json
import os
import zlib
from collections.abc import Iterator
from pathlib import Path
from typing import Any, BinaryIO

from msgspec import Struct
from msgspec.structs import fields

from mossy_bridge.exchange.reading import CannotRead, flow_from_tree
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.model.flow import Flow, Level

MARK = "mossy_bridge_journal"
NAMED = ("levels", "patterns")
"""The fields of which single parts are told, by id."""
LARGEST = 256 * 2**20
TIMES = 4
"""A journal is begun anew when it is so many times as long as its first line."""
Tree = dict[str, Any]


class Entry(Struct, frozen=True):
    """The last that a journal tells: the flow, and what was known of it."""

    flow: Flow
    title: str
    path: Path | None
    when: float | None
    """Seconds since the epoch; None where that is not to be read."""


class Journal:
    """Writes a journal. Raises OSError where it cannot."""

    def __init__(self, file: Path):
        self.file = file
        self._open: BinaryIO | None = None
        self._last: Flow | None = None
        self._begun = self._size = 0

    def write(self, flow: Flow, title: str, path: Path | None, when: float) -> None:
        """Adds what is new since the last time; where it is too much in the end, begins anew."""
        told = {"title": title, "path": os.fsencode(path or "").decode("latin-1"), "when": when}
        if self._last is None or self._size > TIMES * self._begun + 2**16:
            self._begin({MARK: 1, **told, "flow": tree_of(flow)})
        else:
            self._add(_line({**told, "changed": changed(self._last, flow)}))
        self._last = flow

    def _begin(self, first: Tree) -> None:
        self.close()
        line = _line(first)
        fresh = self.file.with_suffix(".fresh")
        with fresh.open("wb") as file:
            file.write(line)
            file.flush()
            os.fsync(file.fileno())
        fresh.replace(self.file)
        self._open = self.file.open("ab")
        self._begun = self._size = len(line)

    def _add(self, line: bytes) -> None:
        assert self._open is not None
        try:
            self._open.write(line)
            self._open.flush()
            os.fsync(self._open.fileno())
        except OSError:
            self._last = None  # what got there is not known: the next time it is begun anew
            raise
        self._size += len(line)

    def close(self) -> None:
        """Lets go of the file."""
        if self._open:
            self._open.close()
        self._open, self._last = None, None


def _line(tree: Tree) -> bytes:
    data = json.dumps(tree, ensure_ascii=False, separators=(",", ":")).encode()
    return b"%08x %b\n" % (zlib.crc32(data), data)


def changed(before: Flow, after: Flow) -> Tree:
    """What is other in a flow, as plain values: whole fields, and of levels and patterns the single ones and their
    order."""
    found: Tree = {}
    for info in fields(Flow):
        old, new = getattr(before, info.name), getattr(after, info.name)
        if new is old or new == old:
            continue
        if info.name in NAMED:
            known = {id(level) for level in old}
            others = {level.id: _level(level) for level in new if id(level) not in known}
            found[info.name] = {"order": [level.id for level in new], "other": others}
        else:
            found[info.name] = tree_of(new)
    return found


def _level(level: Level) -> Tree:
    tree: Tree = tree_of(level)
    return tree


def read_journal(file: Path) -> Entry:
    """The last that a journal tells. Raises :class:`CannotRead` where nothing whole is left of it."""
    try:
        with file.open("rb") as opened:
            data = opened.read(LARGEST)
    except OSError as error:
        raise CannotRead([f"{file}: {error.strerror or error}"]) from error
    lines = _lines(data)
    last = next(lines, {})
    tree = last.get("flow")
    if MARK not in last or not isinstance(tree, dict):
        raise CannotRead([f"{file}: is no journal of this program"])
    try:
        for line in lines:
            _change(tree, line["changed"])
            last = line
    except (KeyError, TypeError, AttributeError) as error:
        raise CannotRead([f"{file}: a change in it cannot be read"]) from error
    return Entry(flow_from_tree(tree), str(last.get("title", "")), _path(last.get("path")), _when(last.get("when")))


def _lines(data: bytes) -> Iterator[Tree]:
    """The lines that are whole, up to the first that is not."""
    for line in data.split(b"\n")[:-1]:
        checksum, _, told = line.partition(b" ")
        if checksum != b"%08x" % zlib.crc32(told):
            return
        tree = json.loads(told)
        if not isinstance(tree, dict):
            return
        yield tree


def _change(tree: Tree, change: Tree) -> None:
    for name, value in change.items():
        if name in NAMED:
            known = {level["id"]: level for level in tree.get(name, [])} | value["other"]
            value = [known[level] for level in value["order"]]
        tree[name] = value


def _path(told: object) -> Path | None:
    return Path(os.fsdecode(told.encode("latin-1"))) if isinstance(told, str) and told else None


def _when(told: object) -> float | None:
    return float(told) if isinstance(told, int | float) and 0 <= told < 2**40 else None

"""Reads play logs, line by line.

Nothing in a log can stop the reading: a line that is no object of JSON is counted, an unknown event is passed over, and
events before the first ``begin`` open a session without a name.
"""

import math
from collections.abc import Iterable, Iterator
from typing import Any, BinaryIO, NamedTuple, TypeGuard

from msgspec.json import Decoder

from mossy_bridge.play_logs.events import KINDS, LOGGED, NAMED, Event, PlaySession

LONGEST_LINE = 64 * 1024
"""Bytes; a longer line is not read, nor kept in memory."""
BYTE_ORDER_MARK = b"\xef\xbb\xbf"
MOST_EVENTS = 2_000_000
"""So many events of one session are kept, where any are."""
LONGEST_TIME = 1e9
"""Seconds since the beginning; thirty years."""
_values_of = Decoder().decode


class Read(NamedTuple):
    """What a line has told."""

    event: Event | None = None
    """What happened; None where the line tells nothing that can be used."""
    ended: PlaySession | None = None
    """The session before, where this line begins another."""


NOTHING = Read()


class LogReader:
    """Reads the lines of one log in order. ``session`` is the one that the latest line belongs to; ``keep`` of its
    events are kept in it."""

    def __init__(self, file: str, keep: int = 0):
        self._file, self._keep, self._number = file, keep, 0
        self.session: PlaySession | None = None

    def read(self, line: bytes) -> Read:
        """Reads the next line."""
        self._number += 1
        if not line.strip():
            return NOTHING
        event = _event(self._number, line)
        if event is not None and event.kind == "begin":
            ended, self.session = self.session, _begun(self._file, event)
            return Read(None, ended)
        session = self.session
        if session is None:
            session = self.session = PlaySession(self._file, self._number)
        if event is None:
            session.unread_lines += 1
            return NOTHING
        if event.kind not in KINDS:
            session.unknown_events += 1
            return NOTHING
        if len(session.events) < self._keep:
            session.events.append(event)
        return Read(event)


def sessions_of(file: str, lines: Iterable[bytes]) -> Iterator[PlaySession]:
    """The sessions in the lines of a log with their events, each as soon as it is whole."""
    reader = LogReader(file, MOST_EVENTS)
    for line in lines:
        ended = reader.read(line).ended
        if ended is not None:
            yield ended
    if reader.session is not None:
        yield reader.session


def lines_of(file: BinaryIO) -> Iterator[bytes]:
    """The lines of a file; of those that are too long only as much as shows it."""
    while line := file.readline(LONGEST_LINE + 1):
        yield line
        while len(line) > LONGEST_LINE and not line.endswith(b"\n"):
            line = file.readline(LONGEST_LINE + 1)


class LineSplitter:
    """Makes lines of what comes in pieces; of lines that are too long it passes on only as much as shows it."""

    def __init__(self) -> None:
        self._rest = b""
        self._skips = False
        """Whether what comes is still part of a line that was too long."""

    def feed(self, data: bytes) -> Iterator[bytes]:
        """The lines that are whole with one more piece."""
        *whole, rest = (self._rest + data).split(b"\n")
        self._rest = b""
        for line in whole:
            if not self._skips:
                yield line[: LONGEST_LINE + 1]
            self._skips = False
        if self._skips:
            return
        if len(rest) > LONGEST_LINE:
            self._skips = True
            yield rest[: LONGEST_LINE + 1]
        else:
            self._rest = rest

    def last(self) -> bytes:
        """What came after the end of the last line."""
        rest, self._rest = self._rest, b""
        return rest


def _event(number: int, line: bytes) -> Event | None:
    """The event of a line; None where it is none."""
    if len(line) > LONGEST_LINE:
        return None
    try:
        values = _values_of(line.removeprefix(BYTE_ORDER_MARK) if number == 1 else line)
    except (ValueError, RecursionError):
        return None
    kind = values.get("event") if isinstance(values, dict) else None
    if not isinstance(kind, str) or not all(_fits(key, values) for key in NAMED.get(kind, ())):
        return None
    return Event(number, kind, _seconds(values.get("t")), values)


def _seconds(t: Any) -> float:
    """A time as a log tells it; 0 where it tells none."""
    return float(t) if _is_number(t) and abs(t) < LONGEST_TIME else 0.0


def _is_number(value: Any) -> TypeGuard[int | float]:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _fits(key: str, values: dict[str, Any]) -> bool:
    """Whether an event carries what it must: names as text, places as numbers."""
    value = values.get(key)
    if key in ("x", "y"):
        return _is_number(value) and abs(value) < LONGEST_TIME and math.isfinite(value)
    return key in values if key == "value" else isinstance(value, str)


def _begun(file: str, event: Event) -> PlaySession:
    values = event.values
    logs = values.get("logs")
    named = frozenset(one for one in logs if isinstance(one, str)) if isinstance(logs, list) else LOGGED
    name, player, build = (str(values.get(key, "")) for key in ("session", "player", "build"))
    return PlaySession(file, event.line, name, player, build, values.get("new") is True, named)

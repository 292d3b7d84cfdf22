"""Play logs as games write them: JSON Lines, one event a line, in sessions.

Nothing in a log can stop the reading: a line that is no object of JSON is counted, an unknown event is passed over, and
events before the first ``begin`` open a session without a name.
"""

from collections.abc import Callable, Iterable, Iterator
from typing import Any, BinaryIO

from msgspec import Struct, field
from msgspec.json import Decoder

LONGEST_LINE = 64 * 1024
"""Bytes; a longer line is not read, nor kept in memory."""
BYTE_ORDER_MARK = b"\xef\xbb\xbf"
MOST_EVENTS = 2_000_000
"""More events of one session are not read."""
LONGEST_TIME = 1e9
"""Seconds since the beginning; thirty years."""
MOVES = ("exit", "deed", "path", "tile")
KINDS = frozenset(["begin", "arrive", *MOVES, "quit", "resume", "ending", "fact", "at", "end"])
NAMED = {"arrive": ("level",), "exit": ("level", "exit"), "deed": ("level", "deed"), "path": ("level", "from", "to"),
         "tile": ("level", "tile"), "ending": ("ending",), "fact": ("fact", "value"), "at": ("x", "y")}  # fmt: skip
"""What an event must carry; one that does not is not read."""
LOGGED = frozenset(["arrive", "ending"])
"""What a log tells without a gap, unless its begin says more."""


class Event(Struct, frozen=True):
    """One event: its line in the file, from 1, its kind, when, and what it carries."""

    line: int
    kind: str
    t: float
    values: dict[str, Any]


class PlaySession(Struct):
    """What was logged from one ``begin`` to the next."""

    file: str
    first_line: int
    name: str = ""
    player: str = ""
    build: str = ""
    new: bool = False
    """Whether nothing was kept from earlier."""
    logged: frozenset[str] = LOGGED
    events: list[Event] = field(default_factory=list)
    unknown_events: int = 0
    unread_lines: int = 0

    @property
    def seconds(self) -> float:
        """How long it went on."""
        return max((event.t for event in self.events), default=0.0)


def lines_of(file: BinaryIO) -> Iterator[bytes]:
    """The lines of a file; of those that are too long only as much as shows it."""
    while line := file.readline(LONGEST_LINE + 1):
        yield line
        while len(line) > LONGEST_LINE and not line.endswith(b"\n"):
            line = file.readline(LONGEST_LINE + 1)


def sessions_of(file: str, lines: Iterable[bytes]) -> Iterator[PlaySession]:
    """The sessions in the lines of a log, each as soon as it is whole."""
    session: PlaySession | None = None
    values_of = Decoder().decode
    for number, line in enumerate(lines, 1):
        if not line.strip():
            continue
        event = _event(number, line, values_of)
        if event is not None and event.kind == "begin":
            if session is not None:
                yield session
            session = _begun(file, event)
            continue
        session = session or PlaySession(file, number)
        if event is None:
            session.unread_lines += 1
        elif event.kind not in KINDS:
            session.unknown_events += 1
        elif event.kind != "at" and len(session.events) < MOST_EVENTS:
            session.events.append(event)
        elif event.kind != "at":
            session.unread_lines += 1
    if session is not None:
        yield session


def _event(number: int, line: bytes, values_of: Callable[[bytes], Any]) -> Event | None:
    """The event of a line; None where it is none."""
    if len(line) > LONGEST_LINE:
        return None
    try:
        values = values_of(line.removeprefix(BYTE_ORDER_MARK) if number == 1 else line)
    except (ValueError, RecursionError):
        return None
    kind = values.get("event") if isinstance(values, dict) else None
    if not isinstance(kind, str) or not all(_fits(key, values) for key in NAMED.get(kind, ())):
        return None
    return Event(number, kind, _seconds(values.get("t")), values)


def _seconds(t: Any) -> float:
    """A time as a log tells it; 0 where it tells none."""
    known = isinstance(t, int | float) and not isinstance(t, bool) and abs(t) < LONGEST_TIME
    return float(t) if known else 0.0


def _fits(key: str, values: dict[str, Any]) -> bool:
    """Whether an event carries what it must: names as text."""
    return key in values and (key in ("value", "x", "y") or isinstance(values[key], str))


def _begun(file: str, event: Event) -> PlaySession:
    values = event.values
    logs = values.get("logs")
    named = frozenset(one for one in logs if isinstance(one, str)) if isinstance(logs, list) else LOGGED
    name, player, build = (str(values.get(key, "")) for key in ("session", "player", "build"))
    return PlaySession(file, event.line, name, player, build, values.get("new") is True, named)

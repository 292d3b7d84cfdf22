"""Play logs as games write them: JSON Lines, one event a line, in sessions."""

from typing import Any

from msgspec import Struct, field

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
    """Those that are kept; in a long log they are only passed on."""
    unknown_events: int = 0
    unread_lines: int = 0

    @property
    def title(self) -> str:
        """What it is called: by its name, else by where it stands."""
        return self.name or f"line {self.first_line}"

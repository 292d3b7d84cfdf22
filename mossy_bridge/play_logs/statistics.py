"""What play-tests add up to: how often everything was used, how long levels took, who got how far, where sessions
ended and players failed."""

from collections import Counter, defaultdict
from collections.abc import Iterable
from functools import cached_property
from itertools import accumulate
from math import ceil, floor
from statistics import quantiles
from typing import Any

from msgspec import Struct, field

from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.events import MOVES, NAMED, Event

MOST_CELLS = 100_000
"""So many places are told apart in one session."""
Square = tuple[int, int]
"""A square of one unit of a plan, by its corner with the smallest x and y."""
Cell = tuple[str, int, int]
"""A level, and a square of its plan."""
Way = tuple[str, str, str]
"""From one level, by an exit ("" where the log does not tell which), to another."""


class Counts(Struct):
    """What was counted in one session."""

    arrivals: Counter[str] = field(default_factory=Counter)
    stays: list[tuple[str, float]] = field(default_factory=list)
    """Every stay in a level with its seconds."""
    used: dict[str, Counter[str]] = field(default_factory=lambda: {kind: Counter() for kind in MOVES})
    ways: Counter[Way] = field(default_factory=Counter)
    """How often levels were left which way; by tiles is not among them."""
    failures: Counter[str] = field(default_factory=Counter)
    failed_at: Counter[Cell] = field(default_factory=Counter)
    """Where the player was last seen before failing."""
    positions: Counter[Cell] = field(default_factory=Counter)
    """How often the player was seen where."""
    ended: str = ""
    """Where the player was at the end, if the log tells the end."""


class Counting:
    """Counts one session, event by event.

    A stay goes on while the player fails and is back in the level, be it by a retry screen. Screens are counted too.
    """

    def __init__(self, flow: Flow):
        self.counts = Counts()
        self._kinds = {level.id: level.kind for level in flow.levels}
        self._fails, self._y_down = failing_exits(flow), flow.units.y == "down"
        self._here, self._since = "", 0.0
        self._stay, self._spent = "", 0.0
        """The level, other than a screen, that is not left yet, and the seconds spent there so far."""
        self._seen: tuple[float, float] | None = None
        self._left_by: str | None = ""
        """The exit by which the level is being left, "" if none was told; None for a tile."""

    def take(self, event: Event) -> None:
        """Counts one more event."""
        values, kind = event.values, event.kind
        if kind == "at":
            self._see(values["x"], values["y"])
        elif kind == "arrive":
            self._arrive(values["level"], event.t)
        elif kind in MOVES:
            self.counts.used[kind][".".join(values[key] for key in NAMED[kind])] += 1
            if kind in ("exit", "tile"):
                self._left_by = values["exit"] if kind == "exit" else None
            if kind == "exit" and (values["level"], values["exit"]) in self._fails:
                self._fail(values["level"])
        elif kind in ("quit", "ending", "end"):
            self._pause(event.t)
            self._leave()
            if kind == "end":
                self.counts.ended = self._here
            else:
                self._here = ""

    def _see(self, x: float, y: float) -> None:
        self._seen = (x, y)
        if self._here:
            self._count(self.counts.positions, self._here)

    def _fail(self, level: str) -> None:
        self.counts.failures[level] += 1
        self._count(self.counts.failed_at, level)

    def _count(self, cells: Counter[Cell], level: str) -> None:
        if self._seen is not None:
            x, y = self._seen
            cell = (level, floor(x), ceil(y) - 1 if self._y_down else floor(y))  # feet on the ground are above it
            if cell in cells or len(cells) < MOST_CELLS:
                cells[cell] += 1

    def _arrive(self, level: str, t: float) -> None:
        self._pause(t)
        if self._here and self._left_by is not None:
            self.counts.ways[self._here, self._left_by, level] += 1
        self._left_by = ""
        if self._kinds.get(level) != "screen" and level != self._stay:
            self._leave()
            self._stay = level
        self._here, self._since, self._seen = level, t, None
        self.counts.arrivals[level] += 1

    def _pause(self, t: float) -> None:
        """The player is no longer where it was; clocks that go back count for nothing."""
        seconds = max(0.0, t - self._since)
        if self._here and self._here == self._stay:
            self._spent += seconds
        elif self._here:
            self.counts.stays.append((self._here, seconds))

    def _leave(self) -> None:
        if self._stay:
            self.counts.stays.append((self._stay, self._spent))
        self._stay, self._spent = "", 0.0


class Statistics:
    """Adds up what was counted in sessions of one flow."""

    def __init__(self, flow: Flow, sessions: Iterable[Counts] = ()):
        self.flow = flow
        self.arrivals, self.sessions, self.failures, self.ended = (Counter[str]() for _ in range(4))
        self.seconds: dict[str, list[float]] = defaultdict(list)
        """For each level how long every stay in it took."""
        self.used: dict[str, Counter[str]] = {kind: Counter() for kind in MOVES}
        self.ways = Counter[Way]()
        self.positions: dict[str, Counter[Square]] = defaultdict(Counter)
        self.failed_at: dict[str, Counter[Square]] = defaultdict(Counter)
        self.furthest = Counter[int]()
        """How many sessions got furthest to which place of the order; screens and boards are no progress."""
        self._order = {level.id: at for at, level in enumerate(flow.levels) if level.kind == "play"}
        for counts in sessions:
            self.add(counts)

    def add(self, counts: Counts) -> None:
        """Adds one more session."""
        self.arrivals.update(counts.arrivals)
        self.sessions.update(counts.arrivals.keys())
        self.ways.update(counts.ways)
        self.failures.update(counts.failures)
        for cells, by_level in ((counts.positions, self.positions), (counts.failed_at, self.failed_at)):
            for (level, x, y), count in cells.items():
                by_level[level][x, y] += count
        if counts.ended:
            self.ended[counts.ended] += 1
        for level, seconds in counts.stays:
            self.seconds[level].append(seconds)
        for kind, used in counts.used.items():
            self.used[kind].update(used)
        places = [self._order[level] for level in counts.arrivals if level in self._order]
        if places:
            self.furthest[max(places)] += 1

    def as_far(self) -> dict[str, int]:
        """For each level proper, in order, how many sessions got at least as far."""
        furthest = [self.furthest[at] for at in reversed(self._order.values())]
        return dict(zip(self._order, reversed(list(accumulate(furthest))), strict=True))

    @cached_property
    def spreads(self) -> dict[str, dict[str, float]]:
        """Median and quartiles of the seconds of a stay, of every level in which there was one. To be asked only once
        all sessions are added."""
        found = {level: spread_of(seconds) for level, seconds in self.seconds.items()}
        return {level: spread for level, spread in found.items() if spread}

    def levels(self) -> dict[str, Any]:
        """For each level of the flow what was counted."""
        as_far = self.as_far()
        return {
            level.id: {"arrivals": self.arrivals[level.id], "sessions": self.sessions[level.id],
                       "seconds": self.spreads.get(level.id), "failures": self.failures[level.id],
                       "ended": self.ended[level.id], "as_far": as_far.get(level.id)}
            for level in self.flow.levels
        }  # fmt: skip

    def things(self, kind: str) -> dict[str, int]:
        """For each exit, deed, path or tile of the flow how often it was used."""
        return {name: self.used[kind][name] for name in self._names(kind)}

    def unused(self) -> list[str]:
        """What nobody ever used, as moves are written."""
        return [f"{kind} {name}" for kind in MOVES for name in self._names(kind) if not self.used[kind][name]]

    def _names(self, kind: str) -> list[str]:
        levels = self.flow.levels
        if kind == "path":
            return [f"{level.id}.{path.start}.{path.end}" for level in levels for path in level.paths]
        return [f"{level.id}.{thing.id}" for level in levels for thing in getattr(level, f"{kind}s")]


def failing_exits(flow: Flow) -> frozenset[tuple[str, str]]:
    """The exits that are failing."""
    return frozenset(
        (level.id, exit_.id) for level in flow.levels for exit_ in level.exits if exit_.trigger.kind == "fail"
    )


def spread_of(seconds: Iterable[float]) -> dict[str, float] | None:
    """Median and quartiles; None of nothing."""
    seconds = list(seconds)
    if not seconds:
        return None
    low, median, high = quantiles(seconds, n=4, method="inclusive") if len(seconds) > 1 else seconds * 3
    return {"median": round(median, 3), "low": round(low, 3), "high": round(high, 3)}

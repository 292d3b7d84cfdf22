"""What many sessions add up to: how often everything was used, how long levels took, where sessions ended."""

from collections import Counter, defaultdict
from statistics import quantiles
from typing import Any

from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.events import MOVES, NAMED, PlaySession


class Statistics:
    """Counts sessions one after the other; nothing of them is kept but the counts, and the times in levels."""

    def __init__(self, flow: Flow):
        self._flow = flow
        self._fails = {
            (level.id, exit_.id) for level in flow.levels for exit_ in level.exits if exit_.trigger.kind == "fail"
        }
        self.arrivals, self.sessions, self.failures, self.ended = (Counter[str]() for _ in range(4))
        self.seconds: dict[str, list[float]] = defaultdict(list)
        """For each level how long every stay in it took."""
        self.used: dict[str, Counter[str]] = {kind: Counter() for kind in MOVES}

    def add(self, session: PlaySession) -> None:
        """Counts one more session."""
        here, since = "", 0.0
        visited: set[str] = set()
        for event in session.events:
            values = event.values
            if event.kind == "arrive":
                self._leave(here, event.t - since)
                here, since = str(values["level"]), event.t
                self.arrivals[here] += 1
                visited.add(here)
            elif event.kind in MOVES:
                self.used[event.kind][".".join(values[key] for key in NAMED[event.kind])] += 1
                if event.kind == "exit" and (values["level"], values["exit"]) in self._fails:
                    self.failures[values["level"]] += 1
            elif event.kind in ("quit", "ending", "end"):
                self._leave(here, event.t - since)
                self.ended[here] += event.kind == "end" and bool(here)
                here = here if event.kind == "end" else ""
        self.sessions.update(visited)

    def _leave(self, level: str, seconds: float) -> None:
        if level and seconds >= 0:
            self.seconds[level].append(seconds)

    def levels(self) -> dict[str, Any]:
        """For each level of the flow what was counted."""
        return {
            level.id: {"arrivals": self.arrivals[level.id], "sessions": self.sessions[level.id],
                       "seconds": _spread(self.seconds.get(level.id, [])), "failures": self.failures[level.id],
                       "ended": self.ended[level.id]}
            for level in self._flow.levels
        }  # fmt: skip

    def things(self, kind: str) -> dict[str, int]:
        """For each exit, deed, path or tile of the flow how often it was used."""
        return {name: self.used[kind][name] for name in self._names(kind)}

    def unused(self) -> list[str]:
        """What nobody ever used, as moves are written."""
        return [f"{kind} {name}" for kind in MOVES for name in self._names(kind) if not self.used[kind][name]]

    def _names(self, kind: str) -> list[str]:
        levels = self._flow.levels
        if kind == "path":
            return [f"{level.id}.{path.start}.{path.end}" for level in levels for path in level.paths]
        return [f"{level.id}.{thing.id}" for level in levels for thing in getattr(level, f"{kind}s")]


def _spread(seconds: list[float]) -> dict[str, float] | None:
    """Median and quartiles; None of nothing."""
    if not seconds:
        return None
    low, median, high = quantiles(seconds, n=4, method="inclusive") if len(seconds) > 1 else seconds * 3
    return {"median": round(median, 3), "low": round(low, 3), "high": round(high, 3)}

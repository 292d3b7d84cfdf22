"""Where an exit leads in a state, judged before its effects."""

from functools import cached_property
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.model.flow import Destination, Flow, Level
from mossy_bridge.model.sequence import neighbours
from mossy_bridge.play.state import State


class Landing(Struct, frozen=True):
    """An arrival: at the level, by the spawn point ("" where the level needs and has none)."""

    level: str
    spawn: str
    restart: Literal["", "again", "back"] = ""
    """How a restart came about: the respawn point stays, and the level is not asked again whether it opens."""
    resumes: bool = False
    """The saved game is restored first."""


class Leads(Struct, frozen=True):
    """The ending that an exit leads to."""

    ending: str


class Nowhere(Struct, frozen=True):
    """Why an exit leads nowhere in this state."""

    reason: Literal["unconnected", "no-level", "not-shipped", "no-spawn", "no-ending", "not-play", "runs-out", "resume"]
    used: Destination | None = None
    """The destination that was used; None where there is none at all."""
    level: str = ""
    """The level concerned, where one was found."""

    @property
    def broken(self) -> bool:
        """Whether the exit never fires, rather than being closed for now."""
        return self.reason not in ("runs-out", "resume")


Target = Landing | Leads | Nowhere


class Destinations:
    """Resolves the destinations of one flow. With ``resuming`` off, an exit that reaches ``resume`` is
    closed and its ``otherwise`` is not used: so the survey sees it."""

    def __init__(self, flow: Flow, resuming: bool):
        self._resuming = resuming
        self._landings: dict[tuple[str, str], Landing | Nowhere] = {}
        self._endings = {ending.id for ending in flow.endings}
        self._flow = flow

    @cached_property
    def _next(self) -> dict[str, Level | None]:
        return neighbours(self._flow, 1)

    @cached_property
    def _previous(self) -> dict[str, Level | None]:
        return neighbours(self._flow, -1)

    def target(self, to: Destination | None, state: State) -> Target:
        """What the destination leads to, trying ``otherwise`` where nothing is found."""
        if to is None:
            return Nowhere("unconnected")
        match to.kind:
            case "level":
                return self.landing(to.level, to.spawn, to)
            case "end":
                return Leads(to.ending) if to.ending in self._endings else Nowhere("no-ending", to)
            case "next" | "previous":
                return self._neighbour(to, state)
            case "again":
                return self._again(to, state)
            case "back":
                return self._back(to, state)
            case "resume":
                return self._resume(to, state)

    def landing(self, level_id: str, spawn: str, used: Destination | None = None) -> Landing | Nowhere:
        """The arrival at a level by a spawn point, its first where none is named."""
        found = self._landings.get((level_id, spawn))
        if found is None:
            found = self._landings[level_id, spawn] = self._landed(level_id, spawn)
        return found if isinstance(found, Landing) or used is None else replace(found, used=used)

    def _landed(self, level_id: str, spawn: str) -> Landing | Nowhere:
        level = self._flow.level(level_id)
        if level is None:
            return Nowhere("no-level", None, level_id)
        if not level.ships:
            return Nowhere("not-shipped", None, level_id)
        point = level.spawn(spawn)
        if point is None and (spawn or level.kind == "play"):
            return Nowhere("no-spawn", None, level_id)
        return Landing(level_id, point.id if point else "")

    def _neighbour(self, to: Destination, state: State) -> Target:
        base = state.place
        if not self._is_play(base):
            base = state.origin.level if state.origin else ""
        found = (self._next if to.kind == "next" else self._previous).get(base)
        return self.landing(found.id, "", to) if found else self._otherwise(to, state)

    def _is_play(self, level_id: str) -> bool:
        level = self._flow.level(level_id)
        return level is not None and level.kind == "play"

    def _again(self, to: Destination, state: State) -> Target:
        if not self._is_play(state.place):
            return Nowhere("not-play", to)
        return Landing(state.place, state.respawn, restart="again")

    def _back(self, to: Destination, state: State) -> Target:
        if state.origin is None:
            return self._otherwise(to, state)
        return Landing(state.origin.level, state.origin.respawn, restart="back")

    def _resume(self, to: Destination, state: State) -> Target:
        if not self._resuming:
            return Nowhere("resume", to)
        if state.saved is None:
            return self._otherwise(to, state)
        return Landing(state.saved.level, state.saved.respawn, resumes=True)

    def _otherwise(self, to: Destination, state: State) -> Target:
        return self.target(to.otherwise, state) if to.otherwise else Nowhere("runs-out", to)

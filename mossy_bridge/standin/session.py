"""One sitting of the game: the engine, the saved game on disk, and a play log of what happens."""

import json
import os
import uuid
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any

from mossy_bridge.standin.engine import NONE, Ended, Game, Move, State, Table
from mossy_bridge.standin.saved_game import Ids

LOGGED = ("arrive", "exit", "deed", "path", "tile", "ending")
"""What a log of the stand-in tells without a gap."""


UNREADABLE = (ValueError, KeyError, TypeError, AttributeError, IndexError, OverflowError, RecursionError)
"""What reading a file that is no saved game may raise."""


class Session:
    """Plays one table from the start until somebody ends it. ``say`` takes each event of the log, ``clock`` tells the
    seconds since the beginning; ``kept`` is the file of the saved game, if there is to be one."""

    def __init__(
        self,
        table: Table,
        say: Callable[[dict[str, Any]], None] = lambda _event: None,
        clock: Callable[[], float] = lambda: 0.0,
        kept: Path | None = None,
        player: str = "",
    ):
        self.table, self.game, self._ids = table, Game(table), Ids(table)
        self._say, self._clock, self._kept, self._player = say, clock, kept, player
        self.state: State | None = None
        self.ended: Ended | None = None
        self.trouble = ""
        """Why the game could not be saved or loaded; "" where it could."""
        self._before: State | None = None
        """What an ending was reached with."""

    @property
    def level(self) -> Table:
        """The level where the player is."""
        assert self.state is not None
        found: Table = self.table["levels"][self.state.level]
        return found

    # -- beginning and ending --------------------------------------------------------------------------

    def begin(self) -> bool:
        """Begins, with what earlier sittings have kept; whether the table has a start."""
        kept = self._loaded()
        begin: dict[str, Any] = {"session": uuid.uuid4().hex, "logs": list(LOGGED), "new": kept is None}
        self._tell("begin", **begin, **({"player": self._player} if self._player else {}))
        self.state = self.game.quit(kept) if kept else self.game.begin()
        if self.state is not None:
            self._tell_arrival()
        return self.state is not None

    def quit(self) -> None:
        """Quits to the start, as the game does after an ending, too."""
        known = self.state or self._before
        assert known is not None
        self._tell("quit")
        self.state, self.ended = self.game.quit(known), None
        self._tell_arrival()
        self._keep()

    def end(self) -> None:
        """Says that nothing more will come."""
        self._tell("end")

    # -- playing ---------------------------------------------------------------------------------------

    def forced(self) -> Move | None:
        """The exit that fires by itself now."""
        number = self.game.sprung(self.state) if self.state else NONE
        return None if number == NONE else Move("exit", number)

    def moves(self) -> list[Move]:
        """All that is possible now."""
        return self.game.moves(self.state) if self.state else []

    def play(self, move: Move) -> None:
        """Makes a move that is possible."""
        state = self.state
        assert state is not None
        self._tell_move(move)
        after = self.game.play(state, move)
        if isinstance(after, Ended):
            self._before = self.game.leaving(state, self.level["exits"][move.thing])
            self.state, self.ended = None, after
            self._tell("ending", ending=self.table["endings"][after.ending]["id"])
            return
        for at, (old, new) in enumerate(zip(state.facts, after.facts, strict=True)):
            if old != new:
                self._tell("fact", fact=self.table["facts"][at]["id"], value=self._ids.value(at, new))
        self.state = after
        if move.kind in ("exit", "tile"):
            self._tell_arrival()
        if after.saved != state.saved:
            self._keep()

    def told(self, move: Move) -> str:
        """A move as recorded walks write it."""
        level = self.level
        if move.kind == "path":
            path = level["paths"][move.thing]
            ends = [level["zones"][path["from"]], level["zones"][path["to"]]]
            return f"path {level['id']}.{'.'.join(reversed(ends) if move.back else ends)}"
        return f"{move.kind} {level['id']}.{level[f'{move.kind}s'][move.thing]['id']}"

    def stands_at(self, x: float, y: float) -> None:
        """Tells where the player is."""
        self._tell("at", x=round(x, 3), y=round(y, 3))

    # -- the log ---------------------------------------------------------------------------------------

    def _tell(self, event: str, **more: Any) -> None:
        self._say({"event": event, "t": round(self._clock(), 3), **more})

    def _tell_arrival(self) -> None:
        state = self.state
        if state is not None:
            spawn = self.level["spawns"][state.respawn]["id"] if state.respawn != NONE else ""
            self._tell("arrive", level=self.level["id"], **({"spawn": spawn} if spawn else {}))

    def _tell_move(self, move: Move) -> None:
        level = self.level
        if move.kind == "path":
            _, start, end = self.told(move).split(" ")[1].split(".")
            self._tell("path", level=level["id"], **{"from": start, "to": end})
        else:
            self._tell(move.kind, level=level["id"], **{move.kind: level[f"{move.kind}s"][move.thing]["id"]})

    def _keep(self) -> None:
        """Writes what lasts, whole or not at all; where that cannot be, the game goes on and says so."""
        if self._kept is None or self.state is None:
            return
        beside = self._kept.with_name(f"{self._kept.name}.{os.getpid()}")
        try:
            beside.write_text(json.dumps(self._ids.written(self.state)), "utf-8")
            beside.replace(self._kept)
            self.trouble = ""
        except OSError as error:
            self.trouble = f"The game is not saved: {error.strerror or error}"

    def _loaded(self) -> State | None:
        """What earlier sittings have kept; None where that is nothing. What cannot be read is put aside, not lost."""
        if self._kept is None or not self._kept.exists():
            return None
        try:
            return self._ids.read(json.loads(self._kept.read_text("utf-8")))
        except OSError as error:
            self.trouble = f"The saved game cannot be read: {error.strerror or error}"
        except UNREADABLE:
            aside = self._kept.with_name(f"{self._kept.name}.unreadable")
            self.trouble = f"The saved game cannot be read; it is kept as {aside.name}, and this one begins anew."
            with suppress(OSError):
                self._kept.replace(aside)
        return None

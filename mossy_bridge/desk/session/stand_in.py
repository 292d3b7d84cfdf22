"""The flow played by the stand-in, a game of its own in a process of its own."""

import sys
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from platformdirs import user_cache_path
from PyQt6.QtCore import QProcess

from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.naming import listed
from mossy_bridge.desk.workers.background_task import done_beside
from mossy_bridge.exchange.game.table import game_table, table_bytes
from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.exchange.saving import CannotSave, replace_file
from mossy_bridge.exchange.shipping_values import delivered
from mossy_bridge.model.flow import Flow
from mossy_bridge.model.ids import id_from

Start = Callable[[str, Sequence[str]], bool]
"""Starts a program with arguments that goes on by itself; whether it began."""


def _start(program: str, arguments: Sequence[str]) -> bool:
    return QProcess.startDetached(program, list(arguments))[0]


class StandInCommand:
    """Has the present flow, as it ships, played in a window of the stand-in."""

    def __init__(self, document: Document, person: Person, start: Start = _start):
        self._document, self._person, self.start = document, person, start

    @property
    def log(self) -> Path:
        """Where the stand-in logs what is played of the present flow."""
        name = id_from(self._document.title, (), "flow")
        return user_cache_path("mossy-bridge", appauthor=False) / "stand-in" / f"{name}.jsonl"

    def play(self) -> None:
        """Writes the table that the stand-in reads, and starts it."""
        table_file = self.log.with_name("table.json")
        try:
            begins = done_beside(partial(_write_table, self._document.flow, table_file))
        except CannotRead as error:
            self._person.tell("Cannot be played", listed(error.problems))
            return
        except (OSError, CannotSave) as error:
            self._person.tell("Cannot be played", str(error))
            return
        if not begins:
            words = (
                "The game begins nowhere: choose its start on the face Game, a level that ships and has a spawn point."
            )
            self._person.tell("Cannot be played", words)
            return
        kept = ["--log", str(self.log), "--kept", str(self.log.with_suffix(".kept"))]
        told = ["-P", "-m", "mossy_bridge", "stand-in", str(table_file), *kept]
        if not self.start(sys.executable, told):
            self._person.tell("Cannot be played", "The stand-in could not be started.")


def _write_table(flow: Flow, path: Path) -> bool:
    """Writes the table of a flow as it ships; False, and nothing is written, where the game begins nowhere. Raises
    ``CannotRead``, ``CannotSave`` and ``OSError``."""
    table = game_table(delivered(flow))
    if table["start"]["level"] < 0:
        return False
    path.parent.mkdir(parents=True, exist_ok=True)
    replace_file(path, table_bytes(table), backup=False)
    return True

"""The stand-in: a small game that plays a game table."""

import json
import os
import sys
import time
from collections.abc import Iterable
from itertools import islice
from pathlib import Path
from typing import Any

import click

from mossy_bridge.command.group import FOUND, Unusable, cli
from mossy_bridge.terminal import say

SIGN = "mossy_bridge_table"
"""The first key of a table."""
MOST_FAULTS = 20
"""So many are told."""


@cli.command("stand-in")
@click.argument("table", type=click.Path(path_type=Path))
@click.option("--moves", type=click.File("r", encoding="utf-8"), help="Without a window: one move a line, or quit.")
@click.option("--player", default="", help="What the log calls the player.")
@click.option("--log", type=click.Path(path_type=Path, dir_okay=False), help="Where the window writes its play log.")
@click.option("--kept", type=click.Path(path_type=Path, dir_okay=False), help="The file of the saved game.")
def stand_in(table: Path, moves: Iterable[str] | None, player: str, log: Path | None, kept: Path | None) -> None:
    """Play by a game table alone, as a game would: in a window, or moves from a file, which prints a play log. The
    moves are written as for walk; exits that fire by themselves need not be among them."""
    if moves is None:
        sys.exit(_open(_read(table), player, log, kept))
    from mossy_bridge.standin.headless import CannotPlay, play_moves

    try:
        lines = list(moves)
    except UnicodeDecodeError as error:
        raise Unusable(["--moves: is not UTF-8 text"]) from error
    try:
        play_moves(_read(table), lines, lambda event: say(json.dumps(event, ensure_ascii=False)), player)
    except CannotPlay as error:
        say(error, err=True)
        sys.exit(FOUND)


def _open(table: dict[str, Any], player: str, log: Path | None, kept: Path | None) -> int:
    """Plays in a window. Returns the status."""
    from mossy_bridge.demo.showing import has_display
    from mossy_bridge.standin.session import Session

    if not has_display():
        raise Unusable(["There is no display to open a window on; --moves FILE plays without one."])
    from mossy_bridge.standin.window import run

    began = time.monotonic()
    try:
        with open(log or os.devnull, "a", encoding="utf-8", buffering=1) as lines:

            def tell(event: dict[str, Any]) -> None:
                lines.write(json.dumps(event, ensure_ascii=False) + "\n")

            session = Session(table, tell, lambda: time.monotonic() - began, kept, player)
            if not session.begin():
                raise Unusable(["The table has no start."])
            return run(session)
    except OSError as error:
        raise Unusable([f"{error.filename or log}: {error.strerror or error}"]) from error


def _read(path: Path) -> dict[str, Any]:
    """The table in a file. Raises :class:`Unusable` where it is none."""
    from mossy_bridge.exchange.reading import CannotRead, file_bytes

    try:
        table: Any = json.loads(file_bytes(path).decode("utf-8"))
    except CannotRead as error:
        raise Unusable(error.problems) from error
    except (ValueError, RecursionError) as error:
        raise Unusable([f"{path}: is no JSON in UTF-8 ({error})"]) from error
    if not isinstance(table, dict) or SIGN not in table:
        made = "export FLOW --to table makes one"
        is_flow = isinstance(table, dict) and "mossy_bridge" in table
        raise Unusable([f"{path}: is {'a flow' if is_flow else 'no game table'}; {made}"])
    if table[SIGN] != 1:
        raise Unusable([f"{path}: is a game table of version {table[SIGN]}; this program knows version 1"])
    _refuse_wrong(path, table)
    return table


def _refuse_wrong(path: Path, table: dict[str, Any]) -> None:
    """Raises :class:`Unusable` where a table is not built as its schema says, or places lead beyond their lists."""
    from jsonschema import Draft202012Validator  # type: ignore[import-untyped]

    from mossy_bridge.exchange.schema import table_schema
    from mossy_bridge.standin.soundness import faults

    wrong = islice(Draft202012Validator(table_schema()).iter_errors(table), MOST_FAULTS)
    found = [f"{error.json_path}: {error.message[:200]}" for error in wrong] or faults(table)
    if found:
        raise Unusable([f"{path}: {fault}" for fault in found[:MOST_FAULTS]])

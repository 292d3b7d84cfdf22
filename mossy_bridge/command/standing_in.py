"""The stand-in: a small game that plays a game table."""

import json
import sys
from collections.abc import Iterable
from pathlib import Path
from typing import Any

import click

from mossy_bridge.command.group import FOUND, Unusable, cli
from mossy_bridge.terminal import say

SIGN = "mossy_bridge_table"
"""The first key of a table."""


@cli.command("stand-in")
@click.argument("table", type=click.Path(path_type=Path))
@click.option("--moves", type=click.File("r", encoding="utf-8"), default="-", help="One move a line, or quit.")
@click.option("--player", default="", help="What the log calls the player.")
def stand_in(table: Path, moves: Iterable[str], player: str) -> None:
    """Play moves by a game table alone, as a game would, and print a play log. The moves are written as for walk; exits
    that fire by themselves need not be among them."""
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


def _read(path: Path) -> dict[str, Any]:
    """The table in a file. Raises :class:`Unusable` where it is none."""
    try:
        table: Any = json.loads(path.read_text("utf-8"))
    except OSError as error:
        raise Unusable([f"{path}: {error.strerror or error}"]) from error
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
    """Raises :class:`Unusable` where parts are missing, or places lead beyond their lists."""
    from mossy_bridge.standin.soundness import faults

    if found := faults(table):
        raise Unusable([f"{path}: {fault}" for fault in found[:20]])

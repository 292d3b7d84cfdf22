"""The game without a window: plays a list of moves, and prints a play log."""

from collections.abc import Callable, Iterable
from typing import Any

from mossy_bridge.standin.engine import Table
from mossy_bridge.standin.session import Session

MOST_FORCED = 1_000
"""So many exits that fire by themselves, one after the other, are a circle."""
A_MOVE = 1.0
"""Seconds that a move takes; a crossing takes as long as its transition besides."""


class CannotPlay(ValueError):  # noqa: N818 - named for what the user reads
    """The moves cannot be played; the message says which, and why."""


def play_moves(table: Table, moves: Iterable[str], say: Callable[[dict[str, Any]], None], player: str = "") -> Session:
    """Plays moves as recorded walks write them, and ``quit``. An exit that fires by itself does so whether or not it is
    among them. Raises :class:`CannotPlay` at the first that is not possible."""
    seconds = [0.0]
    session = Session(table, say, lambda: seconds[0], player=player)
    if not session.begin():
        raise CannotPlay("The table has no start.")
    for number, line in enumerate(moves, 1):
        wanted = line.strip()
        if not wanted or wanted.startswith("#"):
            continue
        if not _by_itself(session, wanted, seconds):
            _play(session, wanted, number, seconds)
    _by_itself(session, "", seconds)
    session.end()
    return session


def _by_itself(session: Session, wanted: str, seconds: list[float]) -> bool:
    """Lets exits fire that do so by themselves; whether the last that did is the one that was wanted."""
    fired = ""
    for _ in range(MOST_FORCED):
        forced = session.forced()
        if forced is None or fired == wanted != "":
            return bool(fired) and fired == wanted
        fired = session.told(forced)
        seconds[0] += _seconds(session, forced.thing)
        session.play(forced)
    raise CannotPlay("From here exits fire by themselves for ever.")


def _play(session: Session, wanted: str, number: int, seconds: list[float]) -> None:
    seconds[0] += A_MOVE
    if wanted == "quit":
        session.quit()
        return
    if session.state is None:
        raise CannotPlay(f"Move {number}, {wanted}: the game has ended; only quit goes on.")
    possible = {session.told(move): move for move in session.moves()}
    if wanted not in possible:
        known = ", ".join(possible) or "none"
        raise CannotPlay(f"Move {number}, {wanted}, is not possible in {session.level['id']}. Possible are: {known}")
    move = possible[wanted]
    if move.kind == "exit":
        seconds[0] += _seconds(session, move.thing)
    session.play(move)


def _seconds(session: Session, exit_number: int) -> float:
    transition = session.level["exits"][exit_number]["transition"]
    return float(session.table["transitions"][transition]["seconds"]) if transition >= 0 else 0.0

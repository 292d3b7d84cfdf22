"""Made-up play-tests of the demo: sessions of testers of several kinds, played by the stand-in's engine.

Two of them play games that do not do what the flow says: one has no locks, the other begins in the wrong level. The
same seed makes the same log.
"""

import copy
import json
import random
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from mossy_bridge.exchange.game.table import game_table
from mossy_bridge.model.flow import Flow
from mossy_bridge.standin.engine import Game, Move
from mossy_bridge.standin.session import Session

SESSIONS, LEAST_MOVES, MOST_MOVES = 40, 40, 300
TESTERS = ("Ada", "Bo", "Cleo", "Dag", "Edda", "Finn", "Gro", "Hal")
THINKING = (1.5, 14.0)
"""Seconds between two moves."""
Table = dict[str, Any]
Choice = Callable[[random.Random, Session, list[Move]], Move]


def _wanders(pick: random.Random, _session: Session, moves: list[Move]) -> Move:
    """Does anything."""
    return pick.choice(moves)


def _hurries(pick: random.Random, session: Session, moves: list[Move]) -> Move:
    """Mostly goes on to what was not seen yet, and avoids failing."""
    exits = session.level["exits"]
    seen = session.state.seen if session.state else frozenset[int]()

    def is_new(move: Move) -> bool:
        to = exits[move.thing]["to"] if move.kind == "exit" else {}
        return to.get("kind") in ("next", "end") or (to.get("kind") == "level" and to["level"] not in seen)

    news = [move for move in moves if move.kind == "exit" and is_new(move)]
    calm = [move for move in moves if move.kind != "exit" or exits[move.thing]["trigger"] != "fail"]
    return pick.choice(news if news and pick.random() < 0.8 else calm or moves)


def _collects(pick: random.Random, session: Session, moves: list[Move]) -> Move:
    """Does whatever there is to do before going on."""
    deeds = [move for move in moves if move.kind == "deed"]
    return pick.choice(deeds) if deeds else _hurries(pick, session, moves)


KINDS: tuple[Choice, ...] = (_wanders, _hurries, _collects)


def _looks_for_trouble(honest: Table) -> Choice:
    """Does what ought to be impossible or to end otherwise, as soon as there is such a thing; otherwise hurries."""
    rules = Game(honest)

    def choose(pick: random.Random, session: Session, moves: list[Move]) -> Move:
        state = session.state
        assert state is not None
        allowed = rules.moves(state)
        wrong = [one for one in moves if one not in allowed or rules.play(state, one) != session.game.play(state, one)]
        return pick.choice(wrong) if wrong else _hurries(pick, session, moves)

    return choose


def made_up_log(flow: Flow, seed: int = 7, sessions: int = SESSIONS) -> Iterator[dict[str, Any]]:
    """The events of so many sessions, in the order in which they were played; two of them, if there are two, of games
    that do not do what the flow says."""
    pick, table = random.Random(seed), game_table(flow)
    wrong = dict(zip(pick.sample(range(sessions), min(2, sessions)), (_unlocked, _misled), strict=False))
    for number in range(sessions):
        if number in wrong:
            yield from _session(pick, wrong[number](table), _looks_for_trouble(table), number)
        else:
            yield from _session(pick, table, pick.choice(KINDS), number)


def _unlocked(table: Table) -> Table:
    """A game whose exits are all open."""
    game = copy.deepcopy(table)
    for level in game["levels"]:
        for exit_ in level["exits"]:
            exit_["opens"] = exit_["when"] = ["always"]
    return game


def _misled(table: Table) -> Table:
    """A game whose first exit leads to another level of play than the flow says."""
    game = copy.deepcopy(table)
    first = game["levels"][game["start"]["level"]]["exits"][0]
    told = first["to"].get("level")
    played = (at for at, level in enumerate(game["levels"]) if level["kind"] == "play" and at != told)
    first["to"] = {"kind": "level", "level": next(played), "spawn": 0}
    return game


def _session(pick: random.Random, table: Table, choose: Choice, number: int) -> Iterator[dict[str, Any]]:
    """The events of one session."""
    events: list[dict[str, Any]] = []
    seconds = [0.0]
    session = Session(table, events.append, lambda: seconds[0], player=f"{pick.choice(TESTERS)} {number + 1}")
    session.begin()
    for _ in range(pick.randint(LEAST_MOVES, MOST_MOVES)):
        seconds[0] = round(seconds[0] + pick.uniform(*THINKING), 1)
        moves = session.moves()
        if session.ended or not moves:
            break
        session.play(choose(pick, session, moves))
    session.end()
    events[0] |= {"session": f"test-{number + 1}", "build": "0.7" if number < SESSIONS // 2 else "0.8"}
    yield from events


def write_made_up_log(flow: Flow, path: Path) -> None:
    """Writes the log to a file, an event a line."""
    path.write_text("".join(json.dumps(event) + "\n" for event in made_up_log(flow)), "utf-8")

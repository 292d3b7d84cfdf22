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

SESSIONS, LEAST_MOVES, MOST_MOVES = 40, 30, 220
TESTERS = ("Ada", "Bo", "Cleo", "Dag", "Edda", "Finn", "Gro", "Hal")
THINKING = 4.0
"""Seconds for a choice on a screen."""
PACE, MOVES_A_LEVEL = (0.7, 1.6), 2.5
"""How quick testers are, and with how many moves they would play a level in its minutes."""
SEEN = 5
"""How often a tester is seen on the way to a move."""
Table = dict[str, Any]
Event = dict[str, Any]
Minutes = dict[str, float]
"""For each level how long it is meant to be played."""
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


def made_up_log(flow: Flow, seed: int = 7, sessions: int = SESSIONS) -> Iterator[Event]:
    """The events of so many sessions, in the order in which they were played; two of them, if there are two, of games
    that do not do what the flow says."""
    pick, table = random.Random(seed), game_table(flow)
    minutes = {level.id: level.minutes for level in flow.levels}
    wrong = dict(zip(pick.sample(range(sessions), min(2, sessions)), (_unlocked, _misled), strict=False))
    for number in range(sessions):
        if number in wrong:
            yield from _session(pick, wrong[number](table), _looks_for_trouble(table), number, minutes)
        else:
            yield from _session(pick, table, pick.choice(KINDS), number, minutes)


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


def _session(pick: random.Random, table: Table, choose: Choice, number: int, minutes: Minutes) -> Iterator[Event]:
    """The events of one session."""
    events: list[Event] = []
    tester = _Tester(pick, minutes)
    session = Session(
        table, events.append, lambda: round(tester.seconds, 1), player=f"{pick.choice(TESTERS)} {number + 1}"
    )
    session.begin()
    for _ in range(pick.randint(LEAST_MOVES, MOST_MOVES)):
        moves = session.moves()
        if session.ended or not moves:
            break
        move = choose(pick, session, moves)
        tester.walk(session, move)
        session.play(move)
    session.end()
    events[0] |= {"session": f"test-{number + 1}", "build": "0.7" if number < SESSIONS // 2 else "0.8"}
    yield from events


class _Tester:
    """Somebody who walks through the plans, at a pace of their own."""

    def __init__(self, pick: random.Random, minutes: Minutes):
        self._pick, self._minutes = pick, minutes
        self._pace = pick.uniform(*PACE)
        self._x = self._y = 0.0
        self.seconds = 0.0

    def walk(self, session: Session, move: Move) -> None:
        """Walks to where a move is made, seen on the way."""
        level, state = session.level, session.state
        assert state is not None
        minutes = self._minutes.get(level["id"], 0.0)
        takes = minutes * 60 / MOVES_A_LEVEL * self._pace * self._pick.uniform(0.5, 1.5) if minutes else THINKING
        if level["plan"] is None or not level["spawns"]:
            self.seconds += takes
            return
        if state.arrived:
            spawn = level["spawns"][max(state.respawn, 0)]
            self._x, self._y = spawn["x"], spawn["y"]
        x, y = self._aim(level, move)
        start_x, start_y = self._x, self._y
        for step in range(1, SEEN + 1):
            self.seconds += takes / SEEN
            self._x = start_x + (x - start_x) * step / SEEN
            self._y = start_y + (y - start_y) * step / SEEN
            session.stands_at(self._x, self._y)

    def _aim(self, level: Table, move: Move) -> tuple[float, float]:
        """Where a move is made; failing happens at few places, near a third and two thirds of the way."""
        plan = level["plan"]
        if move.kind == "deed":
            deed = level["deeds"][move.thing]
            return deed["x"], deed["y"]
        if move.kind == "exit" and level["exits"][move.thing]["trigger"] == "fail":
            third = self._pick.choice((1, 2, 2)) / 3
            return min(max(self._pick.gauss(third * plan["width"], 1.2), 0), plan["width"]), self._y
        if move.kind == "exit" and level["exits"][move.thing]["area"]:
            left, top, width, height = level["exits"][move.thing]["area"]
            return left + width / 2, top + height / 2
        return self._pick.uniform(0, plan["width"]), self._y


def write_made_up_log(flow: Flow, path: Path) -> None:
    """Writes the log to a file, an event a line."""
    path.write_text("".join(json.dumps(event) + "\n" for event in made_up_log(flow)), "utf-8")

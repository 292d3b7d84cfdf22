"""How soon the window shows play-tests of a large flow, and how long it stands still meanwhile: logs added, laid over
map and plans, and a game followed that logs as fast as it can. Beside it stands the judging without a window.

Run: .venv/bin/python benchmarks/play_tests_shown.py [LEVELS] [EVENTS]
"""

import json
import os
import random
import socket
import sys
import tempfile
import threading
import time
from pathlib import Path
from typing import Any

os.environ["QT_QPA_PLATFORM"] = "offscreen"
sys.path.insert(0, str(Path(__file__).parent))

from large import large_flow
from level_files_shown import waited
from PyQt6.QtCore import QSettings
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.app import make_application
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.window import Window
from mossy_bridge.exchange.game.table import game_table
from mossy_bridge.exchange.saving import save_flow
from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.explaining import Explainer
from mossy_bridge.play_logs.judging import judged_log
from mossy_bridge.play_logs.reading import lines_of
from mossy_bridge.standin.session import Session

MOVES = 400
"""So many moves has a session."""


def lines_for(flow: Flow, events: int) -> list[bytes]:
    """A log of so many events, played at random by the stand-in, with places on the plans."""
    table, pick = json.loads(json.dumps(game_table(flow))), random.Random(1)
    found: list[dict[str, Any]] = []
    while len(found) < events:
        session = Session(table, found.append, lambda: float(len(found) % 100_000))
        session.begin()
        for _ in range(MOVES):
            moves = session.moves()
            if session.ended or not moves:
                break
            session.stands_at(pick.uniform(0, 40), pick.uniform(0, 16))
            session.play(pick.choice(moves))
        session.end()
    return [json.dumps(event).encode() + b"\n" for event in found[:events]]


def say(what: str, seconds: float, pause: float | None = None, baseline: float | None = None) -> None:
    """Prints a figure."""
    paused = f"   longest pause {pause * 1e3:4.0f} ms" if pause is not None else ""
    ratio = f"   ratio {seconds / baseline:.2f}" if baseline else ""
    print(f"{what:52}{seconds * 1e3:9.0f} ms{paused}{ratio}")


def main(levels: int, events: int) -> None:
    """Prints the figures."""
    flow = large_flow(levels)
    folder = Path(tempfile.mkdtemp())
    log = folder / "play.jsonl"
    log.write_bytes(b"".join(lines_for(flow, events)))
    print(f"{levels} levels, {events:,} events; goal: no pause over 50 ms")
    began = time.perf_counter()
    with open(log, "rb") as file:
        judged = list(judged_log(Explainer(flow), "log", lines_of(file)))
    alone = time.perf_counter() - began
    say(f"without a window: {len(judged)} sessions judged", alone)
    save_flow(flow, folder / "large.mossy")
    window = Window(Look(make_application()), QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
    window.resize(1280, 800)
    window.show()
    window.files.open(folder / "large.mossy")
    tests = window.play_tests
    waited(lambda: window.result is not None and not window.surveyor.busy and window.map.complete)
    window.play_tests.add([log])
    say("logs added, until the map shows them", *waited(lambda: bool(tests.sessions) and window.map.complete), alone)
    for words, scale in (("near", 0.8), ("from afar", 0.3), ("whole", 0.1)):
        window.map.zoom(scale / window.map.scale)
        waited(lambda: window.map.complete)
        began = time.perf_counter()
        window.map.repaint()
        say(f"a frame of the map, {words}", time.perf_counter() - began)
    began = time.perf_counter()
    window.faces.turn_to(window.play_tests_face)
    QApplication.processEvents()
    say("the face turned to", time.perf_counter() - began)
    for number in range(window.play_tests_face.tabs.count()):
        began = time.perf_counter()
        window.play_tests_face.tabs.setCurrentIndex(number)
        QApplication.processEvents()
        say(f"its page {window.play_tests_face.tabs.tabText(number)}", time.perf_counter() - began)
    tests.listen(0)
    waited(lambda: bool(tests.listener.source))
    sending = threading.Thread(target=send, args=(tests.listener.source, log), daemon=True)
    sending.start()
    followed = waited(lambda: not sending.is_alive() and not tests.live.players and bool(tests.live.events))
    say("all of it from a game that floods, until it is shown", *followed, alone)
    window.play_tests.stop()
    window.surveyor.stop()
    window.hide()


def send(port: int, log: Path) -> None:
    """Sends a log as fast as it is taken."""
    with socket.create_connection(("127.0.0.1", port)) as game:
        game.sendall(log.read_bytes())


if __name__ == "__main__":
    main(*(int(one) for one in sys.argv[1:] or ("500", "50000")))

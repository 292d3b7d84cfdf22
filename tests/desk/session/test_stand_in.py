"""The flow played in the stand-in: its window with real keys, and how the program starts it."""

import json
from pathlib import Path
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from mossy_bridge.exchange.game.table import game_table
from mossy_bridge.model.flow import Flow
from mossy_bridge.standin.session import Session
from mossy_bridge.standin.window import StandIn
from tests.support.qt import DeskCase


class Window(DeskCase):
    def test_played_with_keys(self):
        self.open_demo()
        events = []
        session = Session(json.loads(json.dumps(game_table(self.window.document.flow))), events.append)
        session.begin()
        stand_in = StandIn(session)
        self.addCleanup(stand_in.deleteLater)
        stand_in.show()
        title = stand_in.grab().toImage()
        QTest.keyClick(stand_in, Qt.Key.Key_Return)
        self.wait_until(lambda: session.level["id"] == "slipway" and not stand_in.playing.crossing, "the first level")
        before = stand_in.playing.body.x
        QTest.keyPress(stand_in, Qt.Key.Key_Right)
        self.wait_until(lambda: stand_in.playing.body.x > before + 2, "the walker to run")
        QTest.keyRelease(stand_in, Qt.Key.Key_Right)
        self.assertNotEqual(stand_in.grab().toImage(), title)
        QTest.keyClick(stand_in, Qt.Key.Key_Escape)
        self.assertEqual(session.level["id"], "title")
        stand_in.close()
        told = [one["event"] for one in events if one["event"] not in ("at", "fact")]
        self.assertEqual(told, ["begin", "arrive", "exit", "arrive", "quit", "arrive", "end"])

    def test_the_program_starts_it_with_the_flow_as_it_ships(self):
        started = []
        self.window.stand_in.start = lambda program, told: started.append((program, told)) or True
        with mock.patch("mossy_bridge.desk.session.stand_in.user_cache_path", return_value=self.folder):
            self.open_demo()
            self.key(self.window, Qt.Key.Key_F7)
        table = json.loads(Path(started[0][1][4]).read_text("utf-8"))
        self.assertEqual((started[0][1][3], table["title"]), ("stand-in", "Tidewick"))

    def test_a_flow_that_begins_nowhere_is_told(self):
        self.window.stand_in.start = lambda *_: self.fail("nothing is to be started")
        self.window.document.take(Flow())
        self.window.stand_in.play()
        self.assertIn("begins nowhere", self.person.told[-1])
        self.window.stand_in.start = lambda *_: False
        with mock.patch("mossy_bridge.desk.session.stand_in.user_cache_path", return_value=self.folder):
            self.open_demo()
            self.window.stand_in.play()
        self.assertIn("could not be started", self.person.told[-1])

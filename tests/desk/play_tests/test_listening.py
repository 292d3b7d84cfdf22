"""Games listened to in the window: over a real socket and a growing file, with the stand-in's own log."""

import json
import socket
import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from mossy_bridge.desk.dialogs.listen import ListenDialog
from mossy_bridge.exchange.game.table import game_table
from mossy_bridge.standin.session import Session
from tests.play_logs.test_explaining import arrive, begin, made
from tests.play_logs.test_listening import wire
from tests.support.qt import DeskCase

CTRL_ALT = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier


class ListeningCase(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.tests, self.face = self.window.play_tests, self.window.play_tests_face

    def listen(self, source):
        self.person.answers["heard"] = source
        self.key(self.window, Qt.Key.Key_H, CTRL_ALT)
        self.wait_until(lambda: self.tests.listener.busy, "listening")

    def port(self):
        self.listen(0)
        self.wait_until(lambda: self.tests.listener.source, "the port")
        return self.tests.listener.source

    def connect(self, port):
        game = socket.create_connection(("127.0.0.1", port), timeout=20)
        self.addCleanup(game.close)
        return game

    def here(self):
        return {one.name: one.level for one in self.tests.live.players}

    def stand_in(self, say, player="Ada"):
        """The stand-in, playing the demo."""
        table = json.loads(json.dumps(game_table(self.window.document.flow)))
        session = Session(table, say, player=player)
        session.begin()
        return session

    def play(self, session, *moves):
        for text in moves:
            session.play(next(move for move in session.moves() if session.told(move) == text))


class Sockets(ListeningCase):
    def test_the_stand_in_is_followed_on_map_strip_and_plan(self):
        game = self.connect(self.port())
        session = self.stand_in(lambda event: game.sendall(wire(event)))
        self.play(session, "exit title.begin", "deed slipway.take_oil", "exit slipway.east_gate")
        self.wait_until(lambda: self.here() == {"Ada": "bell_sands"}, "the player")
        before = self.window.map.grab().toImage()
        bead = self.window.strip.grab().toImage()
        self.window.selection.select("bell_sands")
        plan = self.window.bench.level.plan.grab().toImage()
        session.stands_at(9, 12)
        self.wait_until(lambda: self.tests.live.players[0].at, "the place")
        self.assertNotEqual(self.window.map.grab().toImage(), before)
        self.assertNotEqual(self.window.bench.level.plan.grab().toImage(), plan)
        self.play(session, "exit bell_sands.west_gate")
        self.wait_until(lambda: self.here() == {"Ada": "slipway"}, "the player")
        self.window.selection.select("title")
        self.assertNotEqual(self.window.strip.grab().toImage(), bead)
        self.assertIn("✓ Ada is in 1-1 The Slipway", self.face.live.lines[0].words)
        self.assertEqual(self.window.listening_sign.text(), "● Listening, 1 player  ✕")

    def test_what_is_impossible_is_told_as_it_happens_wherever_one_looks(self):
        port = self.port()
        ada, bo = self.connect(port), self.connect(port)
        session = self.stand_in(lambda event: ada.sendall(wire(event)))
        self.play(session, "exit title.begin")
        bo.sendall(
            wire({**begin(), "player": "Bo"}, arrive("title"), made("exit", "title", "begin"), arrive("lamp_room"))
        )
        self.wait_until(lambda: self.window.verdict.notice.isVisible(), "the notice")
        self.assertIn("Bo: arrival in 3-5 Lamp Room", self.window.verdict.notice.words)
        self.wait_until(lambda: len(self.here()) == 2 and self.here().get("Ada"), "both")
        answers = {one.name: one.answer for one in self.tests.live.players}
        self.assertEqual(answers, {"Ada": "yes", "Bo": "no"})
        self.window.faces.turn_to(self.face)
        QTest.mouseClick(self.face.live.lines[2], Qt.MouseButton.LeftButton)
        self.assertEqual(self.window.selection.level_id, "slipway", "where the exit led")

    def test_sessions_that_are_over_are_listed_and_walked_again(self):
        game = self.connect(self.port())
        game.sendall(
            wire(
                {**begin(), "player": "Bo"}, arrive("title"), made("exit", "title", "begin"), arrive("slipway", "west")
            )
        )
        game.close()
        self.wait_until(lambda: self.tests.sessions, "the session")
        self.window.faces.turn_to(self.face)
        self.face.table.selectRow(0)
        self.assertEqual(self.face.table.chosen.explained.answer, "yes")
        QTest.mouseClick(self.face.details.walk, Qt.MouseButton.LeftButton)
        self.wait_until(lambda: self.window.walking.trial, "the walk")
        self.assertEqual(self.window.walking.trial.moves, ("exit title.begin",))
        self.window.walking.leave()

    def test_nobody_listens_until_asked_and_the_sign_ends_it(self):
        self.assertFalse(self.window.listening_sign.isVisible())
        port = self.port()
        self.connect(port).sendall(wire(begin(), arrive("title")))
        self.wait_until(lambda: self.tests.live.players, "the player")
        QTest.mouseClick(self.window.listening_sign, Qt.MouseButton.LeftButton)
        self.wait_until(lambda: not self.tests.listener.busy, "the end")
        self.assertFalse(self.window.listening_sign.isVisible())
        with self.assertRaises(OSError):
            socket.create_connection(("127.0.0.1", port), timeout=2)
        self.assertEqual(self.here(), {})

    def test_garbage_is_counted_and_shown_and_floods_do_not_stop_the_window(self):
        game = self.connect(self.port())
        game.sendall(b"what?\n" * 70 + wire(begin(), arrive("title")) * 300)
        self.wait_until(lambda: self.tests.live.events >= 300, "the flood")
        self.wait_until(lambda: "70 lines not understood" in self.face.live.heard.text(), "the count")

    def test_a_port_that_is_taken_is_told(self):
        with socket.socket() as other:
            other.bind(("127.0.0.1", 0))
            other.listen()
            self.person.answers["heard"] = other.getsockname()[1]
            self.window.play_test_commands.listen_or_stop()
            self.wait_until(lambda: self.person.told and "Not listening" in self.person.told[-1], "why")
        self.assertFalse(self.tests.listener.busy)

    def test_closing_the_window_ends_it(self):
        port = self.port()
        self.person.answers["unsaved"] = "discard"
        self.window.close()
        with self.assertRaises(OSError):
            socket.create_connection(("127.0.0.1", port), timeout=2)


class Files(ListeningCase):
    def test_a_file_that_grows(self):
        log = self.folder / "play.jsonl"
        self.listen(log)
        with open(log, "w", encoding="utf-8", buffering=1) as file:
            session = self.stand_in(lambda event: file.write(json.dumps(event) + "\n"))
            self.wait_until(lambda: self.here() == {"Ada": "title"}, "the player")
            self.play(session, "exit title.begin", "deed slipway.take_oil")
            self.wait_until(lambda: self.here() == {"Ada": "slipway"}, "the player")
        self.assertIn(str(log), self.face.live.heard.text())

    def test_a_port_is_remembered_and_the_stand_in_is_known(self):
        with socket.socket() as found:
            found.bind(("127.0.0.1", 0))
            free = found.getsockname()[1]
        self.listen(free)
        self.tests.listener.stop()
        self.person.answers["heard"] = None
        self.window.play_test_commands.listen_or_stop()
        kind, port, stand_in = self.person.told[-1]
        self.assertEqual((kind, port, stand_in), ("heard", free, self.window.stand_in.log))
        self.assertFalse(self.tests.listener.busy)


class Dialog(DeskCase):
    def test_it_answers_with_a_port_a_file_or_the_stand_in(self):
        dialog = ListenDialog(self.window, 4000, self.folder / "s.jsonl")
        dialog.show()
        self.assertEqual(dialog.answer, 4000)
        dialog.by_file.click()
        self.assertFalse(dialog.listen.isEnabled())
        QTest.keyClicks(dialog.file, "/tmp/a.jsonl")
        self.assertEqual((str(dialog.answer), dialog.listen.isEnabled()), ("/tmp/a.jsonl", True))
        dialog.by_stand_in.click()
        self.assertEqual(dialog.answer, self.folder / "s.jsonl")
        dialog.port.setValue(5000)
        self.assertEqual(dialog.answer, 5000)
        QTest.mouseClick(dialog.listen, Qt.MouseButton.LeftButton)
        self.assertEqual(dialog.result(), ListenDialog.DialogCode.Accepted)
        dialog.deleteLater()


del ListeningCase
if __name__ == "__main__":
    unittest.main()

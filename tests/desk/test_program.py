"""Several windows of one program, and a second start that joins the first."""

import gc
import os
import socket
import tempfile
import threading
import time
import unittest
from pathlib import Path
from unittest import mock

from PyQt6.QtCore import QEvent, QMimeData, QPoint, QPointF, QRect, QSettings, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtNetwork import QLocalSocket
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.one_program import LONGEST, TAKEN, OneProgram, _hand_over, meeting_place
from mossy_bridge.desk.program import Program
from mossy_bridge.desk.shell.arrangement import fitted
from mossy_bridge.desk.window import Window
from mossy_bridge.exchange.saving import save_flow
from tests.support.build import flow, play_level, way
from tests.support.qt import DeskCase, FakePerson


class Session:
    """The end of a desktop session."""

    def __init__(self, asks):
        self.asks, self.cancelled = asks, False

    def allowsInteraction(self):  # noqa: N802 - as Qt calls it
        return self.asks

    def release(self):
        """Asked enough."""

    def cancel(self):
        self.cancelled = True


class Windows(DeskCase):
    def setUp(self):
        super().setUp()
        self.people = []
        self.program = Program(
            self.look,
            QSettings(str(self.folder / "p.ini"), QSettings.Format.IniFormat),
            self.folder / "kept",
            self.make,
        )
        self.files = []
        for name in ("one", "two"):
            self.files.append(self.folder / f"{name}.mossy")
            save_flow(flow(play_level("a", way("on", "won")), title=name), self.files[-1])

    def make(self, *words, **named):
        self.people.append(FakePerson())
        window = Window(*words, person=self.people[-1], **named)
        window.survey_column.folds_by_itself = False
        return window

    def tearDown(self):
        for person in self.people:
            person.answers["unsaved"] = "discard"
        for window in list(self.program.windows):
            window.close()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        super().tearDown()

    def titles(self):
        return [window.document.title for window in self.program.windows]

    def test_each_flow_has_a_window_and_an_empty_one_is_used_first(self):
        self.program.open([])
        self.program.open(self.files)
        self.assertEqual(self.titles(), ["one", "two"])
        self.assertNotEqual(self.program.windows[0].pos(), self.program.windows[1].pos())

    def test_unsaved_work_is_kept_unless_it_is_set_otherwise(self):
        self.program.open([])
        self.assertIsNotNone(self.program.windows[0].recovery)
        self.program.windows[0].preferences.set("journal", "dropped")
        self.program.open(self.files)
        self.assertIsNone(self.program.windows[1].recovery)

    def test_what_is_opened_and_saved_is_told_once_each(self):
        used = []
        self.program.used.connect(used.append)
        self.program.open(self.files[:1])
        self.program.windows[0].requests.levels.new()
        self.program.windows[0].files.save()
        self.assertEqual(used, [self.files[0].resolve()] * 2)

    def test_a_flow_that_is_open_is_not_opened_again(self):
        self.program.open(self.files)
        self.program.open(self.files[:1])
        self.assertEqual(self.titles(), ["one", "two"])

    def test_one_that_was_begun_stays_and_the_demo_has_its_own(self):
        self.program.open([])
        self.program.windows[0].requests.levels.new()
        self.program.open([], "tidewick")
        self.assertEqual(self.titles()[1:], ["Tidewick"])

    def test_a_window_closed_is_gone_and_others_go_on(self):
        self.program.open(self.files)
        self.program.windows[0].close()
        self.assertEqual(self.titles(), ["two"])
        self.program.windows[0].requests.levels.set("a", name="Fen")
        self.assertEqual(self.program.windows[0].document.flow.level("a").name, "Fen")

    def test_of_a_closed_window_nothing_follows_the_looks(self):
        self.program.open(self.files)
        self.program.windows[0].close()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        self.look.wear("dark")
        self.look.scale_text(150)
        QApplication.processEvents()  # faults are told in the window's own time
        self.assertEqual([self.faults, self.program.windows[0].faults.all], [[], []])

    def test_flows_dropped_on_a_window_are_opened(self):
        self.program.open(self.files[:1])
        window = self.program.windows[0]
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(self.files[1])), QUrl.fromLocalFile(str(self.folder / "a.png"))])
        entering = QDragEnterEvent(
            QPoint(300, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
        QApplication.sendEvent(window, entering)
        self.assertTrue(entering.isAccepted())
        QApplication.sendEvent(
            window,
            QDropEvent(
                QPointF(300, 300),
                Qt.DropAction.CopyAction,
                data,
                Qt.MouseButton.LeftButton,
                Qt.KeyboardModifier.NoModifier,
            ),
        )
        self.assertEqual(self.titles(), ["one", "two"])
        data.setUrls([QUrl.fromLocalFile(str(self.folder / "a.png"))])
        entering = QDragEnterEvent(
            QPoint(300, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
        entering.setAccepted(False)
        QApplication.sendEvent(window, entering)
        self.assertFalse(entering.isAccepted())

    def test_at_the_end_of_the_session_unsaved_work_is_asked_about_and_kept(self):
        self.program.open(self.files)
        self.program.on_session_end(asked := Session(True))
        self.assertFalse(asked.cancelled)
        self.program.windows[1].requests.levels.set("a", name="Fen")
        self.people[1].answers["unsaved"] = "cancel"
        self.program.on_session_end(asked := Session(True))
        self.assertTrue(asked.cancelled)
        self.assertIn("unsaved", self.people[1].told)
        self.program.on_session_end(silent := Session(False))
        self.assertFalse(silent.cancelled)
        self.assertTrue(list((self.folder / "kept").rglob("*.journal")))


class Meeting(DeskCase):
    def setUp(self):
        super().setUp()
        self.place = Path(tempfile.mkdtemp(dir=self.folder)) / "p"
        self.first = OneProgram(self.place)
        self.asked = []
        self.first.asked.connect(lambda *told: self.asked.append(told))
        self.addCleanup(self.first.end)

    def beside(self, work):
        """What some work says that waits for the first program."""
        said = []
        thread = threading.Thread(target=lambda: said.append(work()))
        thread.start()
        self.wait_until(lambda: not thread.is_alive(), "the second start")
        return said[0]

    def test_the_first_goes_on_and_the_second_hands_its_files_over(self):
        self.assertTrue(self.first.begin([], ""))
        flow_file = self.folder / "f.mossy"
        self.assertFalse(self.beside(lambda: OneProgram(self.place).begin([flow_file], "")))
        self.assertEqual(self.asked, [([flow_file], "")])
        self.assertFalse(self.beside(lambda: OneProgram(self.place).begin([], "tidewick")))
        self.assertEqual(self.asked[1], ([], "tidewick"))

    def test_once_the_first_has_ended_the_next_is_the_first(self):
        self.assertTrue(self.first.begin([], ""))
        self.first.end()
        second = OneProgram(self.place)
        self.addCleanup(second.end)
        self.assertTrue(second.begin([], ""))

    def test_one_that_does_not_answer_is_not_waited_for(self):
        self.assertTrue(self.first._lock.tryLock(0))
        with mock.patch("mossy_bridge.desk.one_program.PATIENCE_MS", 200):
            self.assertTrue(OneProgram(self.place).begin([], ""))

    def test_garbage_is_passed_over(self):
        self.assertTrue(self.first.begin([], ""))
        for said in (b"\n", b"[]\n", b"{}\n", b'{"files": 3, "demo": ""}\n', b'{"files": [3], "demo": ""}\n', b"\xff\xfe\n", b"[" * 5000 + b"\n",
                     b"x" * (3 * LONGEST)):  # fmt: skip
            speaker = QLocalSocket()
            speaker.connectToServer(f"{self.place}.socket")
            speaker.waitForConnected(1000)
            speaker.write(said)
            self.wait_until(
                lambda speaker=speaker: speaker.state() == QLocalSocket.LocalSocketState.UnconnectedState, said[:20]
            )
        self.assertEqual(self.asked, [])
        self.assertTrue(self.beside(lambda: _hand_over(f"{self.place}.socket", [], "tidewick")))

    def test_one_that_speaks_slowly_is_heard_though_garbage_is_collected_meanwhile(self):
        self.assertTrue(self.first.begin([], ""))
        speaker = QLocalSocket()
        speaker.connectToServer(f"{self.place}.socket")
        speaker.waitForConnected(1000)
        speaker.write(b'{"files": [], ')
        speaker.flush()
        for _ in range(5):
            QApplication.processEvents()
        gc.collect()
        speaker.write(b'"demo": "tidewick"}\n')
        speaker.flush()
        self.wait_until(lambda: self.asked, "what it wants", 10)
        self.assertEqual(self.asked, [([], "tidewick")])

    def test_an_answer_that_came_while_still_speaking_is_heard(self):
        server = socket.socket(socket.AF_UNIX)
        self.addCleanup(server.close)
        server.bind(f"{self.place}.quick")
        server.listen()

        def answer():
            speaker, _ = server.accept()
            with speaker:
                speaker.sendall(TAKEN)
                speaker.recv(LONGEST)

        thread = threading.Thread(target=answer)
        thread.start()
        real = QLocalSocket.waitForBytesWritten

        def slowly(one, left):
            time.sleep(0.05)
            return real(one, left)

        with mock.patch.object(QLocalSocket, "waitForBytesWritten", slowly):
            self.assertTrue(_hand_over(f"{self.place}.quick", [], "tidewick"))
        thread.join()

    def test_where_nobody_else_can_enter(self):
        with mock.patch.dict(os.environ, {"XDG_RUNTIME_DIR": str(self.folder), "DISPLAY": ":1", "WAYLAND_DISPLAY": ""}):
            one = meeting_place()
            self.assertEqual(one.parent, self.folder)
            with mock.patch.dict(os.environ, {"DISPLAY": ":2"}):
                self.assertNotEqual(meeting_place(), one)
        with mock.patch.dict(os.environ, {"XDG_RUNTIME_DIR": ""}):
            self.assertIsNone(meeting_place())


class Fitting(unittest.TestCase):
    ROOM = QRect(0, 30, 1280, 770)

    def test_title_bar_and_frame_count(self):
        frame, inner = QRect(0, 0, 1290, 830), QRect(5, 25, 1280, 800)
        self.assertEqual(fitted(frame, inner, self.ROOM), QRect(0, 30, 1270, 740))

    def test_one_that_is_small_enough_is_only_moved(self):
        frame, inner = QRect(900, 500, 600, 400), QRect(905, 525, 590, 370)
        self.assertEqual(fitted(frame, inner, self.ROOM), QRect(680, 400, 590, 370))


if __name__ == "__main__":
    unittest.main()

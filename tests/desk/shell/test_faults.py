"""Faults of the program: planted everywhere, told in one sentence, the work kept, and on it goes."""

import os
import signal
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from importlib.resources import files
from pathlib import Path
from unittest import mock

from msgspec.structs import replace
from PyQt6.QtCore import QSettings, QTimer
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QApplication

import mossy_bridge
from mossy_bridge.desk.bench.deck import Deck
from mossy_bridge.desk.map.painting import MapPainter
from mossy_bridge.desk.plan.canvas import PlanCanvas
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.shell.verdict_line import VerdictLine
from mossy_bridge.desk.strip.strip import Strip
from mossy_bridge.desk.window import Window
from mossy_bridge.exchange.journal import read_journal
from mossy_bridge.exchange.reading import flow_from_bytes, read_flow
from mossy_bridge.exchange.writing import flow_bytes
from tests.support.build import flow, play_level, way
from tests.support.qt import DeskCase, FakePerson

ROOT = Path(mossy_bridge.__file__).parent.parent


def broken(*_arguments, **_more):
    raise KeyError("planted")


class Planted(DeskCase):
    def setUp(self):
        super().setUp()
        self.kept = tempfile.TemporaryDirectory()
        self.addCleanup(self.kept.cleanup)
        self.window.close()
        settings = QSettings(str(self.folder / "s.ini"), QSettings.Format.IniFormat)
        self.person = FakePerson()
        self.window = Window(self.look, settings, self.person, kept_in=Path(self.kept.name))
        self.window.resize(1280, 800)
        self.window.show()
        self.window.faults.install()
        self.open_demo()

    def notice(self):
        return self.window.verdict.notice

    def told(self, what):
        """Whether the fault is told; and then the program goes on."""
        self.wait_until(self.notice().isVisible, f"{what} to be told")
        self.assertIn("A fault in the program; your work is kept (KeyError: 'planted')", self.notice().words, what)
        self.window.requests.levels.set("slipway", name=f"after {what}")
        self.assertEqual(self.window.document.flow.level("slipway").name, f"after {what}")
        self.notice().click()
        self.assertIn("What could not be done", self.person.told[-1])
        self.assertFalse(self.notice().isVisible())
        self.window.faults.all = []

    def test_while_painting(self):
        parts = ((MapPainter, "paint_headings"), (Strip, "_paint_bead"), (VerdictLine, "_paint_pill"), (PlanCanvas, "_paint_things"),
                 (Deck, "_paint_seconds"))  # fmt: skip
        with mock.patch("sys.stderr.write"):
            for cls, method in parts:
                with mock.patch.object(cls, method, broken):
                    self.window.selection.select("bell_sands", "east_gate")
                    for _ in range(3):
                        self.window.grab()
                        QApplication.processEvents()
                self.told(cls.__name__)
                self.window.grab()

    def test_in_slots_timers_and_threads(self):
        with mock.patch("sys.stderr.write"):
            with mock.patch.object(self.window.requests.levels, "duplicate", broken):
                self.window.actions_made.made["duplicate"].trigger()
            self.told("a slot")
            QTimer.singleShot(0, broken)
            self.told("a timer")
            thread = threading.Thread(target=broken)
            thread.start()
            thread.join()
            self.told("a thread")
            with mock.patch("mossy_bridge.desk.faces.tour.transition_tour", broken):
                self.window.faces.turn_to(self.window.tour)
                self.window.tour.make.click()
                self.wait_until(lambda: not self.window.tour.busy, "the tour")
            self.told("a worker")

    def test_in_the_survey(self):
        with mock.patch("mossy_bridge.appraisal.appraise.inspected", broken), mock.patch("sys.stderr.write"):
            self.window.requests.levels.set("slipway", name="x")
            self.settle()
        self.assertIn("The survey failed", self.window.verdict.sentence)
        self.window.requests.levels.set("slipway", name="y")
        self.settle()
        self.assertIn("All 25 levels", self.window.verdict.sentence)

    def test_unsaved_work_is_written_at_once(self):
        self.window.requests.levels.set("slipway", name="precious")
        with mock.patch("sys.stderr.write"):
            QTimer.singleShot(0, broken)
            self.wait_until(self.notice().isVisible, "the fault to be told")
        self.assertEqual(read_journal(self.window.recovery.file).flow.level("slipway").name, "precious")
        self.notice().click()

    def test_a_painter_always_ends(self):
        with self.assertRaises(KeyError), painting(QPixmap(9, 9)) as painter:
            raise KeyError("planted")
        self.assertFalse(painter.isActive())


class NotKept(DeskCase):
    def window_kept_in(self, kept):
        self.window.close()
        settings = QSettings(str(self.folder / "s.ini"), QSettings.Format.IniFormat)
        self.window = Window(self.look, settings, self.person, kept_in=kept)
        self.window.show()
        self.open_demo()
        return self.window.verdict.notice

    def test_that_work_cannot_be_kept_is_told_until_it_can_be(self):
        kept = self.folder / "kept"
        kept.write_text("no folder")
        notice = self.window_kept_in(kept)
        self.window.requests.levels.set("slipway", name="x")
        self.wait_until(notice.isVisible, "the notice")
        self.assertIn("Unsaved work is not kept; save it: Not a directory", notice.words)
        self.person.answers["save"] = self.folder / "flow.mossy"
        self.assertTrue(self.window.files.save())
        self.assertIn("Saved, but not kept as a version", notice.words)
        kept.unlink()
        self.window.requests.levels.set("slipway", name="y")
        self.assertTrue(self.window.files.save())
        self.wait_until(lambda: not notice.isVisible(), "both notices to go")

    def test_a_file_name_of_any_bytes(self):
        notice = self.window_kept_in(self.folder / "kept")
        path = Path(os.fsdecode(os.fsencode(self.folder) + b"/\xff.mossy"))
        path.write_bytes(flow_bytes(flow(play_level("a", way("x", "won")), title="")))
        self.window.files.open(path)
        self.assertEqual(self.window.document.title, "\ufffd")
        self.window.requests.levels.set("a", name="x")
        kept = self.folder / "kept"
        self.wait_until(lambda: list(kept.rglob("*.journal")), "the journal")
        self.assertTrue(self.window.files.save())
        self.assertEqual(read_flow(path).level("a").name, "x")
        self.assertFalse(notice.isVisible(), notice.words)

    def test_earlier_versions_come_back_as_a_step(self):
        self.window_kept_in(self.folder / "kept")
        self.window.actions_made.refresh()
        self.assertFalse(self.window.actions_made.made["versions"].isEnabled())
        self.window.files.go_back()
        self.assertIn("Save the flow first", self.person.told[-1])
        self.person.answers["save"] = self.folder / "flow.mossy"
        for name in ("one", "two"):
            self.window.requests.levels.set("slipway", name=name)
            self.assertTrue(self.window.files.save_as())
        self.person.answers["version"] = 1
        self.window.actions_made.made["versions"].trigger()
        self.assertEqual(len(self.person.told[-1]), 2)
        self.assertEqual(self.window.document.flow.level("slipway").name, "one")
        self.assertTrue(self.window.document.edited)
        self.window.document.undo()
        self.assertEqual(self.window.document.flow.level("slipway").name, "two")

    def test_an_earlier_version_is_compared(self):
        self.window_kept_in(self.folder / "kept")
        self.person.answers["save"] = self.folder / "flow.mossy"
        for name in ("one", "two"):
            self.window.requests.levels.set("slipway", name=name)
            self.assertTrue(self.window.files.save_as())
        self.person.answers |= {"version": 1, "compare": True}
        self.window.actions_made.made["versions"].trigger()
        other = self.window.other_version
        self.wait_until(lambda: not other.busy, "the comparison")
        self.assertEqual(self.window.document.flow.level("slipway").name, "two")
        self.assertTrue(other.name.startswith("The version of "))
        self.assertEqual([told.words for told in other.changes], ["level two renamed to one"])
        self.assertTrue(self.window.versions.isVisible())

    def test_a_kept_file_that_cannot_be_read_is_told_and_stays(self):
        folder = self.folder / "kept" / "recovery"
        folder.mkdir(parents=True)
        (folder / "1.journal").write_bytes(b"damaged")
        self.window_kept_in(self.folder / "kept")
        self.window.files.take_up_left(self.window.recovery)
        self.assertIn("cannot be read", self.person.told[-1])
        self.assertTrue((folder / "1.unreadable").exists())
        self.assertEqual(self.window.recovery.left_behind(), [])


class OtherWayUp(DeskCase):
    def test_flows_whose_y_grows_the_other_way_follow_one_another(self):
        flows = [flow_from_bytes(files("mossy_bridge.demo").joinpath(f"{name}.mossy").read_bytes())
                 for name in ("tidewick", "tidewick_unfinished")]  # fmt: skip
        small = replace(flows[0], levels=flows[0].levels[:3])
        for one in (flows[0], small, flows[1]):
            for y in ("up", "down"):
                self.window.document.take(replace(one, units=replace(one.units, y=y)))
                self.window.grab()
                self.settle()
                self.window.grab()


PROGRAM = """
import sys
from pathlib import Path
from PyQt6.QtCore import QTimer
from mossy_bridge.desk import app, window
real = window.Window.__init__
def made(self, *arguments, **more):
    real(self, *arguments, **more)
    def edit():
        self.requests.levels.set("slipway", name="told to end")
        print("edited", flush=True)
    QTimer.singleShot(400, edit)
window.Window.__init__ = made
app.run(demo="tidewick")
"""


class ToldToEnd(unittest.TestCase):
    def test_by_the_system_or_a_terminal_it_keeps_what_is_unsaved(self):
        for number in (signal.SIGTERM, signal.SIGHUP, signal.SIGINT):
            with self.subTest(number), tempfile.TemporaryDirectory() as home:
                env = {
                    **os.environ,
                    "QT_QPA_PLATFORM": "offscreen",
                    "HOME": home,
                    "XDG_STATE_HOME": home,
                    "XDG_CONFIG_HOME": home,
                }
                program = subprocess.Popen([sys.executable, "-c", PROGRAM], cwd=ROOT, env=env, stdout=subprocess.PIPE,
                                           stderr=subprocess.PIPE, text=True)  # fmt: skip
                self.assertEqual(program.stdout.readline(), "edited\n")
                program.send_signal(number)
                began = time.monotonic()
                _, errors = program.communicate(timeout=30)
                self.assertLess(time.monotonic() - began, 10)
                self.assertEqual((program.returncode, errors), (128 + number, ""))
                (journal,) = (Path(home) / "mossy-bridge" / "recovery").glob("*.journal")
                self.assertEqual(read_journal(journal).flow.level("slipway").name, "told to end")

    def test_surroundings_that_are_not_as_they_should_be(self):
        for what in ("settings", "state", "readonly"):
            with self.subTest(what), tempfile.TemporaryDirectory() as home:
                config = Path(home) / "config"
                (config / "mossy-bridge").mkdir(parents=True)
                (config / "mossy-bridge" / "Mossy Bridge.conf").write_bytes(b"\xff\x00[[[recent=@Invalid(" * 50)
                state = Path(home) / "state"
                if what == "state":
                    state.write_text("no folder")
                env = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "HOME": "/nowhere" if what == "readonly" else home,
                       "XDG_STATE_HOME": str(state), "XDG_CONFIG_HOME": str(config), "XDG_CACHE_HOME": "/nowhere"}  # fmt: skip
                program = subprocess.Popen([sys.executable, "-c", PROGRAM], cwd=ROOT, env=env, stdout=subprocess.PIPE,
                                           stderr=subprocess.PIPE, text=True)  # fmt: skip
                self.assertEqual(program.stdout.readline(), "edited\n", program.stderr.read() if program.poll() else "")
                program.send_signal(signal.SIGTERM)
                _, errors = program.communicate(timeout=30)
                self.assertNotIn("Traceback", errors)
                self.assertEqual(program.returncode, 128 + signal.SIGTERM)


if __name__ == "__main__":
    unittest.main()

"""Unsaved work is found again after a crash."""

import os
import signal
import subprocess
import sys
import time
import unittest
from pathlib import Path

from mossy_bridge.desk.session.crash_recovery import Recovery
from tests.support.qt import DeskCase

ROOT = Path(__file__).parents[3]

CRASH = """
import sys, time
sys.path.insert(0, {root!r})
from pathlib import Path
from PyQt6.QtCore import QSettings
from PyQt6.QtWidgets import QApplication
from mossy_bridge.desk.app import make_application
from mossy_bridge.desk.window import Window
from mossy_bridge.desk.widgets.theme import Look
app = make_application()
window = Window(Look(app), QSettings({settings!r}, QSettings.Format.IniFormat), kept_in=Path({recovery!r}).parent)
window.show()
window.files.open(Path({flow!r}))
window.requests.levels.set("slipway", name="Unsaved Slip")
while True:
    app.processEvents()
    if window.recovery.file.exists():
        print("kept", flush=True)
    time.sleep(0.01)
"""


class Crash(DeskCase):
    def kept(self):
        """Keeps the unsaved work of the demo with one edit."""
        recovery = Recovery(self.window.document, self.folder / "r")
        self.open_demo()
        self.window.requests.levels.set("slipway", name="X")
        recovery.keep_now()
        return recovery

    def test_after_a_kill_unsaved_work_is_offered_and_the_file_is_as_it_was(self):
        self.open_demo()
        path = self.folder / "t.mossy"
        self.window.document.save(path)
        saved = path.read_bytes()
        recovery = self.folder / "recovery"
        script = CRASH.format(
            root=str(ROOT), settings=str(self.folder / "s.ini"), recovery=str(recovery), flow=str(path)
        )
        began = time.monotonic()
        process = subprocess.Popen([sys.executable, "-c", script], stdout=subprocess.PIPE, text=True,
                                   env={**os.environ, "QT_QPA_PLATFORM": "offscreen"})  # fmt: skip
        self.assertEqual(process.stdout.readline().strip(), "kept")
        self.assertLess(time.monotonic() - began, 10)
        mine = Recovery(self.window.document, recovery)
        self.assertEqual(mine.left_behind(), [])  # its program still runs
        process.send_signal(signal.SIGKILL)
        process.wait()
        process.stdout.close()
        self.assertEqual(path.read_bytes(), saved)
        left = mine.left_behind()
        self.assertEqual([(one.entry.title, one.entry.path) for one in left], [("Tidewick", path)])
        self.window.files.take_up_left(mine)
        self.assertEqual(len(mine.left_behind()), 1)  # “later” keeps it
        self.person.answers["recover"] = "take"
        self.window.files.take_up_left(mine)
        self.assertEqual(self.window.document.flow.level("slipway").name, "Unsaved Slip")
        self.assertEqual((self.window.document.path, self.window.document.edited), (path, True))
        self.assertTrue(self.window.files.save())
        self.assertEqual(mine.left_behind(), [])

    def test_what_is_thrown_away_is_gone(self):
        recovery = self.kept()
        recovery.stop()
        recovery._lock.unlock()  # as if its program had died
        other = Recovery(self.window.document, self.folder / "r")
        self.assertEqual(len(other.left_behind()), 1)
        self.person.answers["recover"] = "throw"
        self.window.files.take_up_left(other)
        self.assertEqual(other.left_behind(), [])

    def test_what_is_saved_or_refused_is_not_kept(self):
        recovery = self.kept()
        self.assertTrue(recovery.file.exists())
        self.window.document.save(self.folder / "x.mossy")
        self.wait_until(lambda: not recovery.file.exists(), "the journal to be dropped")

    def test_nothing_is_written_while_its_lock_cannot_be_held(self):
        recovery = Recovery(self.window.document, self.folder / "r")
        told = []
        recovery.failed.connect(told.append)
        lock = recovery.file.with_suffix(".lock")
        lock.mkdir(parents=True)
        self.open_demo()
        for name in ("X", "Y"):
            self.window.requests.levels.set("slipway", name=name)
            recovery.keep_now()
            self.assertFalse(recovery.file.exists())  # another start would take it for left behind
        self.wait_until(lambda: told, "the failure to be told")
        lock.rmdir()
        self.window.requests.levels.set("slipway", name="Z")
        recovery.keep_now()
        self.assertTrue(recovery.file.exists())
        self.assertEqual(Recovery(self.window.document, self.folder / "r").left_behind(), [])


if __name__ == "__main__":
    unittest.main()

"""What the program notes of its own doings, and what of it can be handed on."""

import logging
import unittest
from contextlib import redirect_stderr
from io import StringIO
from logging.handlers import RotatingFileHandler

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest

import mossy_bridge
from mossy_bridge.desk.happenings.dialog import HappeningsDialog
from mossy_bridge.desk.happenings.log import (
    BYTES,
    FILE,
    FILES,
    LEFT_OUT,
    LOG,
    happenings,
    keep_happenings,
    named,
    without_names,
)
from mossy_bridge.exchange.saving import save_flow
from tests.support.build import flow, play_level, way
from tests.support.qt import DeskCase


class Happenings(DeskCase):
    def setUp(self):
        super().setUp()
        keep_happenings(self.folder / "state")
        self.addCleanup(self.stop)

    def stop(self):
        for handler in list(LOG.handlers):
            if isinstance(handler, RotatingFileHandler):
                LOG.removeHandler(handler)
                handler.close()

    def noted(self):
        return happenings(self.folder / "state")

    def test_opening_surveying_and_saving_are_noted(self):
        path = self.folder / "marsh.mossy"
        save_flow(flow(play_level("a", way("on", "won"))), path)
        self.window.files.open(path)
        self.wait_until(lambda: self.window.result is not None, "the survey")
        self.window.requests.levels.new()
        self.window.files.save()
        noted = self.noted()
        self.assertIn(f"Mossy Bridge {mossy_bridge.__version__} begins", noted)
        self.assertIn(f"opened ⟨{path.resolve()}⟩, 1 level", noted)
        self.assertRegex(noted, r"surveyed 1 level in \d+ ms: \d+ states?, settled; 0 broken, 0 suspicious")
        self.assertIn(f"saved ⟨{path.resolve()}⟩, 2 levels", noted)

    def test_without_names_nothing_of_the_flow_is_left(self):
        path = self.folder / "secret marsh.mossy"
        save_flow(flow(play_level("a", way("on", "won")), title="Very ⟩ secret marsh"), path)
        self.window.files.open(path)
        self.fault("Lantern Keep")
        self.assertIn("secret marsh", self.noted())
        self.assertIn("Lantern Keep", self.noted())
        handed_on = without_names(self.noted())
        for name in ("secret", "marsh", "Lantern", str(self.folder)):
            self.assertNotIn(name, handed_on)
        self.assertIn(f"KeyError: {LEFT_OUT}", handed_on)
        self.assertRegex(handed_on, r"test_happenings\.py, line \d+, in fault")

    def fault(self, name):
        try:
            raise KeyError(name)
        except KeyError as error:
            with redirect_stderr(StringIO()):
                self.window.faults.report(type(error), error, error.__traceback__)
        self.settle()

    def test_names_are_marked_whatever_is_in_them(self):
        for text in ("plain", "two\nlines", "⟨a⟩b⟩", "⟩", ""):
            self.assertEqual(without_names(f"x {named(text)} y"), f"x {LEFT_OUT} y")

    def test_the_file_stays_small_and_the_older_ones_are_read_first(self):
        for number in range(3 * BYTES // 100):
            LOG.info("%06d %s", number, "x" * 100)
        files = sorted((self.folder / "state").glob(f"{FILE}*"))
        self.assertLessEqual(len(files), FILES + 1)
        self.assertTrue(all(file.stat().st_size <= BYTES for file in files))
        numbers = [line.split()[2] for line in self.noted().splitlines() if line.endswith("xxx")]
        self.assertEqual(numbers, sorted(numbers))
        self.assertEqual(int(numbers[-1]), 3 * BYTES // 100 - 1)

    def test_where_nothing_can_be_written_all_goes_on(self):
        self.stop()
        (self.folder / "taken").write_text("a file")
        keep_happenings(self.folder / "taken" / "state")
        LOG.info("nobody hears this")
        self.assertEqual(happenings(self.folder / "taken" / "state"), "")
        self.assertFalse(logging.raiseExceptions)

    def test_it_is_shown_and_copied_without_names_unless_they_are_wanted(self):
        LOG.info("opened %s, 3 levels", named("Lantern Keep"))
        dialog = HappeningsDialog(None, self.folder / "state")
        self.addCleanup(dialog.deleteLater)
        dialog.show()
        QTest.mouseClick(dialog.copy, Qt.MouseButton.LeftButton)
        self.assertNotIn("Lantern", QGuiApplication.clipboard().text())
        self.assertIn(f"opened {LEFT_OUT}, 3 levels", QGuiApplication.clipboard().text())
        dialog.names.click()
        QTest.mouseClick(dialog.copy, Qt.MouseButton.LeftButton)
        self.assertIn("opened ⟨Lantern Keep⟩", QGuiApplication.clipboard().text())

    def test_it_is_asked_for_in_the_menu_where_something_is_noted(self):
        self.assertFalse(self.window.actions_made.made["what_happened"].isEnabled())


if __name__ == "__main__":
    unittest.main()

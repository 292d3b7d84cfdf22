"""The seven steps on the demo, done with mouse and keys as they ask for it."""

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel

from mossy_bridge.desk.first_steps.steps import STEPS
from mossy_bridge.exchange.starters.starters import STARTERS, starting_flow
from tests.support.qt import DeskCase

WAIT = 20


class FirstSteps(DeskCase):
    def setUp(self):
        super().setUp()
        self.band = self.window.step_band
        self.person.answers["unsaved"] = "discard"
        self.window.actions_made.made["first_steps"].trigger()
        self.wait_until(lambda: self.window.result is not None, "the survey", WAIT)

    def words(self):
        return " ".join(label.text() for label in self.band.findChildren(QLabel))

    def wait_done(self):
        self.wait_until(self.band.on.isVisible, f"the end of: {self.words()}", WAIT)

    def go_on(self):
        QTest.mouseClick(self.band.on, Qt.MouseButton.LeftButton)

    def key(self, key, modifiers=Qt.KeyboardModifier.NoModifier):
        QTest.keyClick(self.window, key, modifiers)

    def test_each_step_waits_until_it_is_done_and_tells_the_new_verdict(self):
        window, control = self.window, Qt.KeyboardModifier.ControlModifier
        self.assertIn("1 of 7", self.words())
        self.settle()
        self.assertFalse(self.band.on.isVisible())
        window.selection.select("net_loft")
        self.wait_done()
        self.go_on()
        window.map.connect_wanted.emit("net_loft", "hatch", "gull_stair", "foot")
        QTest.mouseClick(window.proposal_bar.yes, Qt.MouseButton.LeftButton)
        self.wait_done()
        self.assertIn("levels are never reached", self.words())
        self.go_on()
        self.settle()
        self.assertFalse(self.band.on.isVisible(), "nothing has been pointed at yet")
        window.actions_made.made["next_finding"].trigger()
        self.wait_done()
        self.go_on()
        window.actions_made.made["undo"].trigger()
        self.wait_done()
        self.assertIn("nobody gets stuck", self.words())
        self.go_on()
        window.selection.select("bell_sands")
        self.window.map.setFocus()
        self.key(Qt.Key.Key_D, control)
        self.wait_done()
        self.assertIn("1 of 26 levels is never reached", self.words())
        self.go_on()
        window.requests.crossings.there_and_back("bell_sands_2b", "bell_sands")
        self.wait_done()
        self.assertIn("All 26 levels reached", self.words())
        self.go_on()
        self.key(Qt.Key.Key_F6)
        self.settle()
        self.assertFalse(self.band.on.isVisible(), "no move yet")
        for _ in range(2):
            window.walking.page.choose(1)
        self.wait_done()
        self.go_on()
        self.assertIn("That was all", self.words())
        self.person.answers["new flow"] = starting_flow(STARTERS[0], "Mine")
        self.go_on()
        self.assertEqual(window.document.title, "Mine")
        self.assertFalse(self.band.isVisible())

    def test_whoever_only_looks_on_is_shown_every_step(self):
        for number in range(len(STEPS)):
            self.assertIn(f"{number + 1} of 7", self.words())
            QTest.mouseClick(self.band.show_me, Qt.MouseButton.LeftButton)
            self.wait_done()
            self.go_on()
        self.assertIn("That was all", self.words())

    def test_they_are_left_by_a_button_by_escape_and_by_another_flow(self):
        begin = self.window.actions_made.made["first_steps"].trigger
        QTest.mouseClick(self.band.stop, Qt.MouseButton.LeftButton)
        self.assertFalse(self.band.isVisible())
        begin()
        QTest.keyClick(self.band, Qt.Key.Key_Escape)
        self.assertFalse(self.band.isVisible())
        begin()
        self.assertTrue(self.band.isVisible())
        self.window.files.open_demo("tidewick_unfinished")
        self.assertFalse(self.band.isVisible())

    def test_what_is_not_saved_and_not_left_stays(self):
        QTest.mouseClick(self.band.stop, Qt.MouseButton.LeftButton)
        self.window.requests.levels.new()
        self.person.answers["unsaved"] = "cancel"
        before = self.window.document.flow
        self.window.actions_made.made["first_steps"].trigger()
        self.assertIs(self.window.document.flow, before)
        self.assertFalse(self.band.isVisible())


if __name__ == "__main__":
    unittest.main()

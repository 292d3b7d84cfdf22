"""Writing a condition in place: mended by the offered word, and told where it holds."""

import unittest

from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit

from mossy_bridge.desk.survey.route_popup import RouteBox
from tests.support.qt import DeskCase, open_popup


class Conditions(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.window.selection.select("bell_sands", "east_gate")
        blank = next(b for b in self.window.bench.crossing.sentence.blanks() if b.what == "the unlock condition")
        self.popup = blank.open_picker()
        self.line = self.popup.findChild(QLineEdit)

    def test_a_misspelt_name_is_mended_by_the_offered_word(self):
        QTest.keyClicks(self.line, "at least 1 oli")
        self.assertIn("did you mean oil", self.popup._note.text())
        self.assertTrue(self.popup._mend.isVisible())
        self.assertRegex(self.popup._echo.text(), "<u style='color:#[0-9a-f]{6}'>oli</u>")
        self.popup._mend.click()
        self.assertEqual(self.line.text(), "at least 1 oil")
        self.assertFalse(self.popup._mend.isVisible())
        self.assertRegex(self.popup._echo.text(), "<b style='color:#[0-9a-f]{6}'>oil</b>")
        self.popup._on_enter()
        self.assertEqual(self.window.document.flow.level("bell_sands").exit("east_gate").opens, "at least 1 oil")

    def test_it_says_where_it_holds_and_shows_a_route(self):
        QTest.keyClicks(self.line, "at least 2 oil")
        self.wait_until(lambda: self.popup._told.isVisible(), "where it holds")
        self.assertIn("Sometimes holds in Bell Sands", self.popup._told.text())
        self.assertTrue(self.popup._route.isVisible())
        self.popup.grab()
        self.popup._route.click()
        self.assertIsInstance(open_popup(), RouteBox)

    def test_what_never_holds_is_said_before_it_is_taken(self):
        QTest.keyClicks(self.line, "has clapper")
        self.wait_until(lambda: "Bell Sands" in self.popup._told.text(), "where it holds")
        self.line.clear()
        QTest.keyClicks(self.line, "has clapper and lacks clapper")
        self.wait_until(lambda: "nowhere in play" in self.popup._told.text(), "that it never holds")
        self.assertFalse(self.popup._route.isVisible())


if __name__ == "__main__":
    unittest.main()

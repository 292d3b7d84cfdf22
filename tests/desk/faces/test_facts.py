"""The face Facts, by mouse and keys."""

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLabel, QLineEdit

from tests.support.qt import DeskCase

ALT = Qt.KeyboardModifier.AltModifier


class Facts(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.key(self.window, Qt.Key.Key_2, ALT)
        self.assertTrue(self.window.faces.is_in_view(self.window.facts))
        self.settle()
        self.face = self.window.facts

    def fact(self, name):
        return next(fact for fact in self.window.document.flow.facts if fact.id == name)

    def row(self, name):
        return [fact.id for fact in self.face.table.flow.facts].index(name)

    def fill(self, what, text):
        """Opens the blank of the fact's sentence, types, and takes it."""
        blank = next(blank for blank in self.face.fact.blanks() if blank.what == what)
        line = blank.open_picker().findChild(QLineEdit)
        line.selectAll()
        QTest.keyClicks(line, text)
        self.key(line, Qt.Key.Key_Return)

    def test_a_fact_is_named_and_made_a_count(self):
        QTest.keyClicks(self.face.new_fact, "Gulls fed")
        self.key(self.face.new_fact, Qt.Key.Key_Return)
        self.assertEqual(self.fact("gulls_fed").kind, "flag")
        self.fill("the kind", "count")
        self.assertEqual(self.fact("gulls_fed").kind, "count")
        self.fill("the most", "3")
        self.assertEqual(self.fact("gulls_fed").high, 3)
        self.settle()
        self.assertEqual(self.face.table.index(self.row("gulls_fed"), 0).data(), "never")
        self.window.document.undo()
        self.window.document.undo()
        self.window.document.undo()
        self.assertNotIn("gulls_fed", [fact.id for fact in self.window.document.flow.facts])

    def test_a_fact_is_let_go_back_when_the_player_fails(self):
        QTest.keyClicks(self.face.new_fact, "Gulls fed")
        self.key(self.face.new_fact, Qt.Key.Key_Return)
        self.fill("what failing does to it", "goes back")
        self.assertTrue(self.fact("gulls_fed").rewinds)
        self.assertIn("failing: as at the last arrival or checkpoint", self.face.becoming.text())
        header = self.face.table.headerData(self.row("gulls_fed"), Qt.Orientation.Vertical)
        self.assertEqual(header, "Gulls fed\nflag · run, goes back")
        self.fill("how long it lasts", "a visit")
        self.assertFalse(self.fact("gulls_fed").rewinds)
        self.assertNotIn("what failing does to it", [blank.what for blank in self.face.fact.blanks()])

    def test_all_keys_and_points_are_let_go_back_in_one_step(self):
        before = self.window.document.flow
        self.fill("what failing does to all facts", "keys and points")
        self.take_proposal()
        going = {fact.id for fact in self.window.document.flow.facts if fact.rewinds}
        self.assertEqual(going, {f.id for f in before.facts if f.lifetime == "run" and f.kind != "choice"})
        self.fill("what failing does to all facts", "everything")
        self.take_proposal()
        self.assertFalse(any(fact.rewinds for fact in self.window.document.flow.facts))
        self.window.document.undo()
        self.window.document.undo()
        self.assertEqual(self.window.document.flow, before)

    def take_proposal(self):
        """Agrees, if what it changes elsewhere is told first."""
        if self.window.proposal_bar.isVisible():
            self.window.proposal_bar.yes.click()

    def test_a_mark_leads_to_its_place_and_a_header_to_its_level(self):
        table, grid = self.face.table, self.face.grid
        row = self.row("tide")
        column = next(c for c in range(1, table.columnCount()) if table.uses(table.index(row, c)))
        grid.scrollTo(table.index(row, column))
        self.click(grid.viewport(), grid.visualRect(table.index(row, column)).center())
        self.assertEqual(self.window.selection.level_id, table.flow.levels[column - 1].id)
        self.assertIn("a new run: back to", self.face.becoming.text())
        grid.setCurrentIndex(table.index(self.row("oil"), 6))
        self.key(grid, Qt.Key.Key_Return)
        self.assertEqual(self.window.selection.level_id, "slipway")

    def test_a_kind_that_takes_meaning_away_is_asked_about_first(self):
        self.face._choose(self.row("clapper"))
        self.window.requests.facts.set("clapper", "the kind", kind="count")
        self.assertTrue(self.window.proposal_bar.isVisible())
        self.assertEqual(self.fact("clapper").kind, "flag")
        self.window.proposal_bar.yes.click()
        self.assertEqual(self.fact("clapper").kind, "count")
        self.settle()
        self.assertIn("unknown-name", [finding.check for finding in self.window.result.findings])

    def test_unused_facts_are_removed_together(self):
        for name in ("One", "Two"):
            QTest.keyClicks(self.face.new_fact, name)
            self.key(self.face.new_fact, Qt.Key.Key_Return)
        count = len(self.window.document.flow.facts)
        next(blank for blank in self.face.fact.blanks() if blank.what == "remove unused facts").click()
        left = [fact.id for fact in self.window.document.flow.facts]
        self.assertFalse({"one", "two"} & set(left))
        self.assertLess(len(left), count)

    def test_without_facts_it_says_what_they_are(self):
        self.window.files.new()
        self.assertIn("nothing yet", self.said())
        self.face.grab()

    def said(self):
        return " ".join(label.text() for label in self.face.fact.findChildren(QLabel))


if __name__ == "__main__":
    unittest.main()

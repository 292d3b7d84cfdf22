"""Lists of lines on the bench: shown again, they keep what looks as it did."""

import unittest

from mossy_bridge.desk.bench.line_column import MOST_LINES, Line, LineColumn
from mossy_bridge.desk.widgets.elided_checkbox import Tick
from mossy_bridge.desk.widgets.link import WrappedLink
from tests.support.qt import DeskCase


class Lines(DeskCase):
    def setUp(self):
        super().setUp()
        self.column, self.done = LineColumn("Ways out"), []
        self.addCleanup(self.column.deleteLater)

    def link(self, text, says=""):
        return Line(text, lambda: self.done.append(says or text))

    def texts(self):
        rows = self.column._rows
        widgets = [rows.itemAt(at).widget() for at in range(1, rows.count())]
        return [widget.words if isinstance(widget, WrappedLink) else widget.text() for widget in widgets if widget]

    def links(self):
        return {link.words: link for link in self.column.findChildren(WrappedLink) if not link.isHidden()}

    def test_a_line_that_looks_as_it_did_keeps_its_widget_and_does_what_it_does_now(self):
        self.column.show_lines([self.link("to Reeds"), Line("nothing else")])
        before = self.links()["to Reeds"]
        self.column.show_lines([self.link("to Reeds", "the other"), self.link("to Fen")])
        self.assertIs(self.links()["to Reeds"], before)
        self.assertEqual(self.texts(), ["to Reeds", "to Fen"])
        before.click()
        self.links()["to Fen"].click()
        self.assertEqual(self.done, ["the other", "to Fen"])

    def test_fewer_lines_and_none(self):
        self.column.show_lines([self.link("one"), self.link("two"), self.link("three")])
        self.column.show_lines([self.link("one")])
        self.assertEqual(self.texts(), ["one"])
        self.column.show_lines([])
        self.assertEqual(self.texts(), ["none"])
        self.column.show_lines([self.link("two"), self.link("one")])
        self.assertEqual(self.texts(), ["two", "one"])
        self.links()["one"].click()
        self.assertEqual(self.done, ["one"])

    def test_a_line_that_becomes_a_link_is_another_widget(self):
        self.column.show_lines([Line("Reeds")])
        self.column.show_lines([self.link("Reeds")])
        self.links()["Reeds"].click()
        self.assertEqual((self.texts(), self.done), (["Reeds"], ["Reeds"]))

    def test_a_tick_shows_what_is_so_even_where_a_click_was_in_vain(self):
        self.column.show_lines([Line("looked at", lambda: self.done.append("ticked"), ticked=False)])
        (tick,) = self.column.findChildren(Tick)
        tick.click()
        self.assertEqual((self.done, tick.isChecked()), (["ticked"], True))
        self.column.show_lines([Line("looked at", lambda: None, ticked=False)])
        self.assertFalse(tick.isChecked())
        self.column.show_lines([Line("looked at", lambda: None, ticked=True)])
        self.assertTrue(tick.isChecked())
        self.assertEqual(self.done, ["ticked"], "showing is no click")

    def test_of_very_many_lines_the_first_are_shown(self):
        self.column.show_lines([self.link(f"l{number}") for number in range(MOST_LINES + 7)])
        self.assertEqual(len(self.texts()), MOST_LINES + 1)
        self.assertEqual(self.texts()[-1], "and 7 more: Ctrl+F finds each by name")


if __name__ == "__main__":
    unittest.main()

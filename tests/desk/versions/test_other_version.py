"""Another version beside the present one: what differs, shown and taken over."""

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.versions.bench_line import BenchDifferences
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.exchange.saving import save_flow
from mossy_bridge.model.edits.levels import remove_levels, set_exit, set_level
from mossy_bridge.model.flow import Plan
from tests.support.build import deed, flow, play_level, screen, way
from tests.support.qt import DeskCase

CTRL_ALT = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier


class Compared(DeskCase):
    def setUp(self):
        super().setUp()
        self.flow = flow(
            screen("title", way("new", "a", fresh=True)), play_level("a", way("on", "b"), deeds=[deed("dig", "gain key")], name="Fen"),
            play_level("b", way("on", "won", opens="has key"), way("back", "a"), name="Weir"), play_level("c", way("on", "b"), name="Reed"),
            facts=["key"],
        )  # fmt: skip
        self.window.document.take(self.flow, edited=False)
        self.settle()
        self.versions, self.face = self.window.other_version, self.window.versions

    def compare(self, other):
        path = self.folder / "other.mossy"
        save_flow(other, path)
        self.person.answers["open"] = path
        self.key(self.window, Qt.Key.Key_C, CTRL_ALT)
        self.done()

    def done(self):
        self.settle()
        self.wait_until(lambda: not self.versions.busy, "the comparison")
        QApplication.processEvents()  # what is listed anew is laid out then

    def told(self):
        return [label.text() for label in self.face.findChildren(Label) if label.isVisible()]

    def click(self, words, number=0):
        links = [link for link in self.face.findChildren(Link) if link.isVisible() and link.words == words]
        QTest.mouseClick(links[number], Qt.MouseButton.LeftButton)
        self.done()

    def test_differences_are_listed_marked_and_gone_through(self):
        strip, map_ = self.window.strip.grab().toImage(), self.window.map.grab().toImage()
        self.compare(set_exit(set_level(self.flow, "c", name="Sedge"), "b", "on", opens="never"))
        self.assertTrue(self.face.isVisible())
        told = self.told()
        self.assertIn("other.mossy: 2 differences", told)
        self.assertIn("level Reed renamed to Sedge", told)
        self.assertIn("Weir: on: the condition to open “never” instead of “has key”", told)
        self.wait_until(lambda: "won: not reachable, was reachable" in self.told(), "the verdict that is another")
        self.assertEqual(self.versions.levels, {"b", "c"})
        self.assertNotEqual(self.window.strip.grab().toImage(), strip)
        seen = []
        for _ in range(3):
            self.key(self.window, Qt.Key.Key_F4)
            seen.append((self.window.selection.level_id, self.window.selection.exit_id))
        self.assertEqual(seen, [("b", "on"), ("c", ""), ("b", "on")])
        self.assertNotEqual(self.window.map.grab().toImage(), map_)

    def test_one_is_taken_over_as_one_step(self):
        self.compare(set_level(set_level(self.flow, "a", name="Bog"), "c", minutes=3))
        self.click("Take this over")
        self.assertEqual(self.window.document.flow.level("a").name, "Bog")
        self.assertIn("other.mossy: 1 difference", self.told())
        self.assertEqual(self.window.document.undo_name, "take over: level Fen renamed to Bog")
        self.key(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.done()
        self.assertEqual(self.window.document.flow, self.flow)
        self.assertIn("other.mossy: 2 differences", self.told())

    def test_what_concerns_others_is_shown_first(self):
        self.compare(remove_levels(self.flow, ["c"]))
        self.click("Take this over")
        if self.window.proposal_bar.isVisible():
            self.agree()
            self.done()
        self.assertIsNone(self.window.document.flow.level("c"))

    def test_all_is_taken_over_and_nothing_differs_then(self):
        other = remove_levels(set_level(self.flow, "a", name="Bog"), ["c"])
        self.compare(other)
        self.click("Take all of it over")
        if self.window.proposal_bar.isVisible():
            self.agree()
            self.done()
        self.assertEqual(self.window.document.flow, other)
        self.assertIn("other.mossy: Nothing differs.", self.told())

    def test_done_takes_the_marks_away(self):
        self.compare(set_level(self.flow, "a", name="Bog"))
        self.click("Done")
        self.assertEqual((self.versions.name, self.versions.levels), ("", frozenset()))
        self.assertFalse(self.window.actions_made.made["next_change"].isEnabled())

    def test_above_the_bench_stands_what_differs_in_what_is_selected(self):
        line = self.window.findChild(BenchDifferences)
        self.compare(set_exit(set_level(self.flow, "b", name="Sluice", minutes=3), "b", "on", opens="never"))
        self.window.selection.select("a")
        self.assertFalse(line.isVisible())
        self.window.selection.select("b", "on")
        self.assertEqual(line.told.text(), "other.mossy has it otherwise: "
                         "Sluice: on: the condition to open “never” instead of “has key”")  # fmt: skip
        self.assertFalse(line.more.isVisible())
        self.window.selection.select("b")
        QApplication.processEvents()
        self.assertIn("(1 of 3)", line.told.text())
        QTest.mouseClick(line.more, Qt.MouseButton.LeftButton)
        self.assertIn("(2 of 3)", line.told.text())
        words = line.told.text().partition(": ")[2]
        QTest.mouseClick(line.take, Qt.MouseButton.LeftButton)
        self.done()
        self.assertEqual(self.window.document.undo_name, f"take over: {words}")
        self.assertIn("(1 of 2)", line.told.text())
        self.versions.leave()
        self.assertFalse(line.isVisible())

    def test_where_things_lie_otherwise_is_outlined_on_the_plan(self):
        drawn = set_level(self.flow, "a", plan=Plan(width=20, height=10))
        drawn = set_exit(drawn, "a", "on", area=(17, 6, 2, 3))
        self.window.document.take(drawn, edited=False)
        self.done()
        self.window.selection.select("a")
        self.done()
        plan = self.window.bench.level.plan
        before = plan.grab().toImage()
        self.compare(set_exit(drawn, "a", "on", area=(5, 6, 2, 3)))
        self.assertNotEqual(plan.grab().toImage(), before)
        self.versions.leave()
        self.window.selection.select("b")
        self.window.selection.select("a")
        self.done()
        self.assertEqual(plan.grab().toImage(), before)

    def test_what_is_no_flow_is_told(self):
        path = self.folder / "other.mossy"
        path.write_text("{", "utf-8")
        self.person.answers["open"] = path
        self.window.other_version.choose()
        self.assertIn("other.mossy cannot be compared", self.person.told[-1])
        self.assertEqual(self.versions.name, "")


if __name__ == "__main__":
    unittest.main()

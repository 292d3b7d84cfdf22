"""What a new game is like, chosen by keyboard and mouse."""

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from mossy_bridge.desk.dialogs.flow_sketch import places, ways
from mossy_bridge.desk.dialogs.new_flow import NewFlowDialog
from mossy_bridge.exchange.starters.starters import STARTERS, starting_flow
from mossy_bridge.model.flow import Flow
from tests.support.build import flow, play_level, way
from tests.support.qt import DeskCase


class NewFlow(DeskCase):
    def dialog(self):
        dialog = NewFlowDialog(None, self.look)
        self.addCleanup(dialog.deleteLater)
        dialog.show()
        self.settle()
        return dialog

    def test_it_is_chosen_and_named_by_keyboard(self):
        dialog = self.dialog()
        self.assertIs(dialog.focusWidget(), dialog.list)
        QTest.keyClick(dialog.list, Qt.Key.Key_Down)
        self.assertEqual(dialog.flow.title, "A line with branches")
        QTest.keyClicks(dialog.name, "Marsh")
        QTest.keyClick(dialog.name, Qt.Key.Key_Return)
        self.assertEqual(dialog.result(), NewFlowDialog.DialogCode.Accepted)
        self.assertEqual((dialog.flow.title, len(dialog.flow.levels)), ("Marsh", 8))

    def test_nothing_yet_is_an_empty_flow(self):
        dialog = self.dialog()
        QTest.keyClick(dialog.list, Qt.Key.Key_End)
        self.assertEqual(dialog.flow, Flow())
        self.assertEqual(dialog.told.text(), "An empty flow.")

    def test_the_sketch_of_each_is_another(self):
        dialog, seen = self.dialog(), []
        for row in range(len(STARTERS)):
            dialog.list.setCurrentRow(row)
            seen.append(dialog.sketch.grab().toImage())
        self.assertTrue(all(one != other for at, one in enumerate(seen) for other in seen[:at]))

    def test_the_window_begins_with_it_or_leaves_what_is_open(self):
        self.person.answers["new flow"] = starting_flow(STARTERS[2], "Ring")
        self.window.actions_made.made["new"].trigger()
        self.assertEqual(self.window.document.title, "Ring")
        before = self.window.document.flow
        self.person.answers["new flow"] = None
        self.window.actions_made.made["new"].trigger()
        self.assertIs(self.window.document.flow, before)


class Sketch(unittest.TestCase):
    def test_columns_are_ways_from_the_start_and_circles_end(self):
        made = flow(
            play_level("a", way("on", "b"), way("up", "c")),
            play_level("b", way("on", "d"), way("back", "a")),
            play_level("c", way("fail", "e", trigger={"kind": "fail"})),
            play_level("d", way("round", "a")),
            play_level("e", way("over", "won")),
        )
        self.assertEqual(places(made), {"a": (0, 0), "b": (1, 0), "c": (1, 1), "d": (2, 0)})
        self.assertNotIn(("c", "e"), list(ways(made)))
        self.assertEqual(places(Flow()), {})

    def test_the_next_level_is_that_of_the_order(self):
        line = starting_flow(STARTERS[0], "")
        self.assertIn(("level_2", "level_3"), list(ways(line)))


if __name__ == "__main__":
    unittest.main()

"""A flow of eight levels laid out from an empty start, with mouse and keyboard alone."""

import unittest
from itertools import pairwise

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit

from mossy_bridge.desk.map.placing import exit_rect
from mossy_bridge.exchange.reading import read_flow
from mossy_bridge.exchange.writing import flow_bytes
from tests.support.qt import DeskCase, open_popup

CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
NAMES = ("Mole End", "Reed Cut", "Eel Weir", "Salt Shed", "Rope Stair", "Fog Bank", "Lamp Yard", "Lantern")


class ByHand(DeskCase):
    def setUp(self):
        super().setUp()
        self.hand = 0
        """Clicks, drags and key presses so far; a typed name counts as one."""

    def press(self, key, modifier=Qt.KeyboardModifier.NoModifier, widget=None):
        self.hand += 1
        self.key(widget or self.window, key, modifier)

    def write(self, text):
        field = open_popup().findChild(QLineEdit) if open_popup() else None
        self.hand += 2
        QTest.keyClicks(field or self.window.focusWidget(), text)
        QTest.keyClick(field or self.window.focusWidget(), Qt.Key.Key_Return)
        QApplication.processEvents()

    def agree(self):
        """Enter, where the band above asks."""
        if self.window.proposal_bar.isVisible():
            self.press(Qt.Key.Key_Return, widget=self.window.proposal_bar.yes)

    def name(self, text):
        self.press(Qt.Key.Key_F2)
        self.write(text)

    def door_pixel(self, level, exit_):
        card = self.window.map.card_of(level)
        return self.on_map(exit_rect(card.placed, card.placed.level.exit(exit_), True).center())

    def plan_drag(self, start, end):
        canvas = self.window.plan.canvas
        frame = canvas.frame()
        self.hand += 1
        self.drag(canvas, frame.point(*start).toPoint(), frame.point(*end).toPoint())

    def blank(self, what, typed):
        sentence = self.window.bench.crossing.sentence
        next(blank for blank in sentence.blanks() if blank.what == what).click()
        self.hand += 1
        self.write(typed)


class FromNothing(ByHand):
    def test_eight_levels(self):
        window = self.window
        self.press(Qt.Key.Key_N, CONTROL | SHIFT)
        self.name(NAMES[0])
        first = window.selection.level_id
        self.lay_out_first_plan()
        for name in NAMES[1:7]:
            self.press(Qt.Key.Key_D, CONTROL)
            self.agree()
            self.name(name)
        self.settle()
        names = [level.id for level in window.document.flow.levels]
        self.assertEqual([level.code for level in window.document.flow.levels], [f"1-{n}" for n in range(1, 8)])
        self.connect_in_a_row(names)
        self.branch_there_and_back(names[1], "Lantern")
        self.end_at(names[6])
        self.settle()
        self.assertEqual(
            window.verdict.sentence, "All 8 levels reached, the ending reachable, nobody gets stuck — proven"
        )
        for level in window.document.flow.levels:
            if level.unreviewed:
                window.selection.select(level.id)
                window.requests.plans.confirm(level.id)
        self.save_and_read_again()
        self.assertEqual(window.document.flow.start.level, first)

    def lay_out_first_plan(self):
        window = self.window
        self.press(Qt.Key.Key_L, CONTROL)
        self.assertTrue(window.navigation.is_plan_open)
        window.plan._make.click()
        self.hand += 1
        self.press(Qt.Key.Key_2, widget=window.plan.canvas)
        self.plan_drag((38, 7), (40, 10))
        self.press(Qt.Key.Key_3, widget=window.plan.canvas)
        frame = window.plan.canvas.frame()
        self.click(window.plan.canvas, frame.point(3, 10).toPoint())
        self.press(Qt.Key.Key_5, widget=window.plan.canvas)
        self.plan_drag((12, 8), (16, 10))
        self.plan_drag((20, 7), (24, 10))
        self.press(Qt.Key.Key_Escape, widget=window.plan.canvas)
        self.assertTrue(window.navigation.is_plan_open)
        self.press(Qt.Key.Key_Escape, widget=window.plan.canvas)
        self.assertFalse(window.navigation.is_plan_open)
        level = window.document.flow.levels[0]
        self.assertEqual([exit_.area for exit_ in level.exits], [(38, 7, 2, 3)])
        self.assertEqual([(spawn.x, spawn.y) for spawn in level.spawns], [(3, 10)])
        self.assertEqual(level.plan.solids, ((0, 10, 40, 2), (12, 8, 4, 2), (20, 7, 4, 3)))

    def connect_in_a_row(self, names):
        window = self.window
        window.map.zoom(0.5 / window.map.scale)
        for here, there in pairwise(names):
            self.settle()
            window.map.fit()
            if window.map.scale < 0.45:
                window.map.zoom(0.45 / window.map.scale)
            middle = (
                window.map.card_of(here).placed.rect.center() + window.map.card_of(there).placed.rect.center()
            ) / 2
            window.map.centre_on(middle)
            start, target = self.door_pixel(here, "exit_1"), window.map.card_of(there).placed.rect.center()
            self.hand += 1
            self.drag(window.map, start, self.on_map(target + QPointF(20, -30)))
            self.assertEqual(window.document.flow.level(here).exit("exit_1").to.level, there)

    def branch_there_and_back(self, here, name):
        window = self.window
        window.selection.select(window.document.flow.levels[-1].id)
        self.press(Qt.Key.Key_D, CONTROL)
        self.agree()
        self.name(name)
        last = window.selection.level_id
        self.window.selection.select(here)
        before = self.hand
        self.press(Qt.Key.Key_J, CONTROL)
        self.write("Lantern")
        self.assertEqual(self.hand - before, 3)
        flow = window.document.flow
        self.assertEqual(flow.level(here).exit("to_lantern").to.level, last)
        self.assertEqual(flow.level(last).exit("to_reed_cut").to.spawn, "from_lantern")
        window.selection.select(last, "exit_1")
        self.press(Qt.Key.Key_Delete)
        self.assertIsNone(window.document.flow.level(last).exit("exit_1"))

    def end_at(self, name):
        self.window.selection.select(name, "exit_1")
        self.blank("the level", "new ending")
        to = self.window.document.flow.level(name).exit("exit_1").to
        self.assertEqual((to.kind, to.ending), ("end", "ending_1"))

    def save_and_read_again(self):
        window, path = self.window, self.folder / "eight.mossy"
        self.person.answers["save"] = path
        self.press(Qt.Key.Key_S, CONTROL)
        self.assertTrue(read_flow(path) == window.document.flow)
        self.assertEqual(path.read_bytes(), flow_bytes(window.document.flow))
        self.assertFalse(window.document.edited)


class Hands(ByHand):
    """How many clicks and keys the commonest jobs take."""

    def test_duplicate_connect_and_insert(self):
        self.skip_to_three()
        names = [level.id for level in self.window.document.flow.levels]
        self.duplicate_and_connect(names)
        self.insert_between(names)
        self.insert_into_a_crossing(names)

    def skip_to_three(self):
        self.window.requests.levels.new("")
        for _ in range(2):
            self.window.requests.levels.duplicate()
        for level in self.window.document.flow.levels:
            self.window.requests.plans.set_plan(level.id, "x", width=40.0, height=12.0)
            self.window.requests.plans.draw_exit(level.id, (38, 9, 2, 3))
        self.settle()

    def duplicate_and_connect(self, names):
        window, before = self.window, self.hand
        window.selection.select(names[-1])
        self.press(Qt.Key.Key_D, CONTROL)
        self.agree()
        self.settle()
        new = window.selection.level_id
        window.map.fit()
        self.hand += 1
        self.drag(window.map, self.door_pixel(names[-1], "exit_1"),
                  self.on_map(window.map.card_of(new).placed.rect.center() + QPointF(20, -30)))  # fmt: skip
        self.assertEqual(window.document.flow.level(names[-1]).exit("exit_1").to.level, new)
        self.assertEqual(self.hand - before, 2)

    def insert_between(self, names):
        """A level between two others whose exit leads to the next: one key, and Enter if others are concerned."""
        window = self.window
        window.selection.select(names[0], "exit_1")
        self.blank("the level", "the next level")
        window.selection.select(names[0])
        before = self.hand
        self.press(Qt.Key.Key_N, CONTROL | SHIFT)
        self.assertIn("1 exit would lead elsewhere", window.proposal_bar._title.text())
        self.agree()
        self.assertEqual(self.hand - before, 2)
        self.assertEqual([level.id for level in window.document.flow.levels][:3:2], [names[0], names[1]])

    def insert_into_a_crossing(self, names):
        """A level between two others that a drawn crossing joins: one key."""
        window = self.window
        window.requests.crossings.connect(names[1], "exit_1", names[2], "")
        window.selection.select(names[1], "exit_1")
        before = self.hand
        self.press(Qt.Key.Key_I, CONTROL | SHIFT)
        self.assertEqual(self.hand - before, 1)
        new, flow = window.selection.level_id, window.document.flow
        self.assertEqual(flow.level(names[1]).exit("exit_1").to.level, new)
        self.assertEqual(flow.level(new).exit("on").to.level, names[2])
        order = [level.id for level in flow.levels]
        self.assertEqual(order.index(new), order.index(names[1]) + 1)


if __name__ == "__main__":
    unittest.main()

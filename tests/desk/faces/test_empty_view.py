"""A face that has nothing to show says what it is for, and has its next step as a button."""

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from mossy_bridge.desk.faces.empty_view import BEGIN, STEPS, WITHOUT_LEVELS, next_step
from mossy_bridge.exchange.starters.starters import STARTERS, starting_flow
from mossy_bridge.model.flow import Flow
from tests.support.qt import DeskCase


class EmptyViews(DeskCase):
    def turn(self, title):
        faces = self.window.faces
        faces.turn(next(index for index, face in enumerate(faces.faces) if face.title == title))
        self.settle()

    def press(self):
        self.assertTrue(self.window.faces.empty.begin.isVisible())
        QTest.mouseClick(self.window.faces.empty.begin, Qt.MouseButton.LeftButton)
        self.settle()

    def test_without_levels_each_begins_a_flow(self):
        for face in self.window.faces.faces:
            if face.title not in WITHOUT_LEVELS:
                self.turn(face.title)
                self.assertEqual(self.window.faces.empty.begin.text(), BEGIN.words)
        self.person.answers["new flow"] = starting_flow(STARTERS[0], "Mine")
        self.turn("Map")
        self.press()
        self.assertEqual(self.window.document.title, "Mine")
        self.assertFalse(self.window.faces.empty.isVisible())

    def test_each_has_its_own_step_which_fills_it(self):
        self.window.requests.levels.new()
        self.person.answers |= {"New fact": "Rope", "New checklist item": "Music", "New ending": "Home"}
        for title in STEPS:
            self.turn(title)
            before = self.window.document.flow
            self.press()
            self.assertIsNot(self.window.document.flow, before, title)
            self.assertFalse(self.window.faces.empty.isVisible(), title)
            self.assertIsNone(next_step(title, self.window.document.flow))
        flow = self.window.document.flow
        self.assertEqual((flow.facts[0].name, flow.checklist[0].text, flow.endings[0].name), ("Rope", "Music", "Home"))

    def test_not_answering_leaves_it_empty(self):
        self.window.requests.levels.new()
        self.turn("Facts")
        self.press()
        self.assertEqual(self.window.document.flow.facts, ())
        self.assertTrue(self.window.faces.empty.isVisible())

    def test_every_step_is_an_action_of_the_menus(self):
        for step in (BEGIN, *(step for _, step in STEPS.values())):
            self.assertIn(step.action, self.window.actions_made.made)
        self.assertLessEqual(STEPS.keys(), {face.title for face in self.window.faces.faces})

    def test_every_crossing_without_one_gets_a_plain_fade(self):
        begun = starting_flow(STARTERS[0], "")
        self.window.document.take(begun)
        requests = self.window.requests
        for transition in begun.transitions:
            requests.transitions.remove(transition.id)
        self.turn("Transitions")
        if self.window.document.flow.transitions:
            self.fail("there are transitions left")
        self.press()
        flow = self.window.document.flow
        self.assertEqual([one.name for one in flow.transitions], ["Fade"])
        leading = [exit_ for level in flow.levels for exit_ in level.exits]
        self.assertEqual({exit_.transition for exit_ in leading if exit_.to.kind != "end"}, {flow.transitions[0].id})
        self.assertEqual({exit_.transition for exit_ in leading if exit_.to.kind == "end"}, {""})
        self.window.document.undo()
        self.assertEqual(self.window.document.flow.transitions, ())

    def test_where_the_game_starts_is_kept_while_it_starts_elsewhere_for_testing(self):
        self.window.document.take(starting_flow(STARTERS[0], ""))
        for level in ("level_3", "level_2"):
            self.window.selection.select(level)
            self.window.actions_made.made["test_here"].trigger()
            QTest.mouseClick(self.window.proposal_bar.yes, Qt.MouseButton.LeftButton)
        flow = self.window.document.flow
        self.assertEqual(flow.start.level, "level_2")
        self.assertEqual([(one.at, one.ships_as) for one in flow.trial_settings], [("start.level", "title")])


class EmptyBench(DeskCase):
    def buttons(self):
        return [one for one in self.window.bench.empty.findChildren(QPushButton) if one.isVisible()]

    def test_an_empty_flow_is_begun_in_one_of_four_ways(self):
        self.assertEqual(len(self.buttons()), 4)
        demo = next(button for button in self.buttons() if "demo" in button.text())
        QTest.mouseClick(demo, Qt.MouseButton.LeftButton)
        self.assertEqual(self.window.document.title, "Tidewick")
        self.wait_until(lambda: self.window.selection.level_id == "title", "the level the game starts with", 20)
        self.assertIs(self.window.bench.page, self.window.bench.level)

    def test_where_nothing_is_chosen_a_level_is_looked_for(self):
        self.window.bench.empty.show_empty(has_levels=True)
        self.assertEqual([button.text() for button in self.buttons()], ["Find a level…"])

    def test_an_empty_flow_has_no_step_on_faces_that_show_something(self):
        self.assertIsNone(next_step("Game", Flow()))


if __name__ == "__main__":
    unittest.main()

"""The trial walk in the window, by keys and mouse."""

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from mossy_bridge.play.state import Ended
from tests.support.qt import DeskCase

ALT, CONTROL, SHIFT = (
    Qt.KeyboardModifier.AltModifier,
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.ShiftModifier,
)


class Trial(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.page = self.window.walking.page

    @property
    def state(self):
        return self.window.walking.trial.state

    def begin(self):
        self.key(self.window, Qt.Key.Key_F6)
        self.assertIsNotNone(self.window.walking.trial)

    def test_a_screen_shows_its_choices_to_click_and_the_level_it_stands_over(self):
        self.begin()
        stage = self.page.stage
        stage.grab()
        area = next(area for area, number in stage._areas if number == 1)
        self.assertIn(0, [number for _, number in stage._areas])  # Continue is closed at the start
        self.click(stage, area.center().toPoint())
        self.assertEqual(self.state.place, "slipway")
        self.page.choose(
            next(at for at, one in enumerate(self.page._choices, 1) if str(one.move) == "exit slipway.drown")
        )
        over_slipway = stage.grab().toImage()
        self.click(stage, stage._areas[0][0].center().toPoint())
        self.assertEqual(self.state.place, "slipway")
        for move in ("exit slipway.east_gate", "exit bell_sands.drown"):
            self.page.choose(next(at for at, one in enumerate(self.page._choices, 1) if str(one.move) == move))
        self.assertNotEqual(stage.grab().toImage(), over_slipway)
        self.assertTrue(self.page.isVisible())

    def press(self, move):
        """Takes a move by its number on the keyboard."""
        moves = [str(choice.move) for choice in self.page._choices]
        self.assertIn(move, moves)
        self.key(self.page, Qt.Key(Qt.Key.Key_1.value + moves.index(move)))

    def test_both_endings_are_walked_to_by_keys(self):
        for ending, verdict in self.window.result.survey.endings.items():
            self.begin()
            for move in verdict.route:
                self.press(str(move))
            self.assertEqual(self.window.walking.trial.now.state, Ended(ending))
            self.assertIn("The end", self.page.where.text())
            self.page.grab()
            self.key(self.page, Qt.Key.Key_Escape)
            self.assertIsNone(self.window.walking.trial)
        self.assertTrue(self.window.bench.isVisible())

    def test_dying_quitting_and_resuming(self):
        self.window.selection.select("bell_sands")
        self.key(self.window, Qt.Key.Key_F6, SHIFT)
        self.assertEqual(self.state.place, "bell_sands")
        self.press("exit bell_sands.drown")
        self.assertNotEqual(self.state.place, "bell_sands")
        self.page.back.click()
        self.assertEqual(self.state.place, "bell_sands")
        saved = self.state.saved
        self.page.quit.click()
        self.assertEqual(self.state.place, self.window.document.flow.start.level)
        self.assertFalse(self.page.keep.isEnabled())
        resume = next(choice for choice in self.page._choices if choice.title.endswith("Continue"))
        self.press(str(resume.move))
        self.assertEqual((self.state.place, self.state.respawn), (saved.level, saved.respawn))

    def test_steps_back_a_branch_and_the_tape(self):
        self.begin()
        self.press("exit title.begin")
        self.press(str(self.page._choices[0].move))
        self.key(self.page, Qt.Key.Key_Backspace)
        self.assertEqual(self.window.walking.trial.at, 1)
        self.press(str(self.page._choices[-1].move))
        self.assertEqual(self.page.branches.count(), 2)
        self.page.branches.setCurrentIndex(1)
        self.page.branches.activated.emit(1)
        self.assertEqual(self.window.walking.trial.at, 2)
        self.key(self.page.tape.line, Qt.Key.Key_Left)
        self.assertEqual(self.window.walking.trial.at, 1)
        self.click(self.page.tape.line, self.page.tape.line.rect().topLeft() + self.page.rect().topLeft())
        self.assertEqual(self.window.walking.trial.at, 0)

    def test_a_number_on_the_plan_and_a_line_of_the_list_do_the_same(self):
        self.window.selection.select("bell_sands")
        self.key(self.window, Qt.Key.Key_F6, SHIFT)
        self.page.stage.grab()
        badge, number = next((at, number) for at, number in self.page.stage._badges if number)
        move = self.page._choices[number - 1].move
        self.click(self.page.stage, badge.toPoint())
        self.assertEqual(self.window.walking.trial.now.move, str(move))
        item = self.page.moves.item(0)
        QTest.mouseClick(self.page.moves.viewport(), Qt.MouseButton.LeftButton,
                         pos=self.page.moves.visualItemRect(item).center())  # fmt: skip
        self.assertEqual(self.window.walking.trial.at, len(self.window.walking.trial.tape) - 1)

    def test_what_cannot_be_done_stands_below_with_its_reason(self):
        self.window.selection.select("salt_gate")
        self.key(self.window, Qt.Key.Key_F6, SHIFT | CONTROL)
        words = [self.page.moves.item(row).text() for row in range(self.page.moves.count())]
        self.assertTrue(any("needs Rope" in text for text in words), words)

    def test_a_walk_is_kept_replayed_by_the_survey_and_walked_again(self):
        self.begin()
        self.press("exit title.begin")
        self.person.answers["Keep as a recorded walk"] = "To the slipway"
        self.page.keep.click()
        walk = self.window.document.flow.walks[-1]
        self.assertEqual((walk.name, walk.expect), ("To the slipway", "at:slipway"))
        self.settle()
        self.assertTrue(self.window.result.survey.walks[walk.id].holds)
        box = self.window.show_route(self.window.result.survey.levels["gull_stair"].route, "there")
        box._walk(self.window.result.survey.levels["gull_stair"].route)
        self.assertEqual(self.state.place, "gull_stair")

    def test_an_edit_keeps_the_walk_as_far_as_it_goes(self):
        self.begin()
        self.press("exit title.begin")
        here = self.state.place
        move = next(c.move for c in self.page._choices if c.move.kind == "exit")
        self.press(str(move))
        self.window.selection.select(move.level, move.thing)
        self.window.requests.crossings.set("the unlock condition", opens="never")
        self.assertEqual(self.state.place, here)
        self.window.document.undo()
        self.assertEqual(self.state.place, here)

    def test_the_plan_is_walked_live_by_keys_and_the_tape_follows(self):
        self.begin()
        self.press("exit title.begin")
        self.page.walk_live.click()
        live = self.page.live
        live._timer.stop()  # the test keeps the time
        QTest.keyPress(live, Qt.Key.Key_Right)
        ticks = 0
        while self.window.walking.trial.at < 2 and ticks < 2000:
            jump = ticks % 50 == 0
            (QTest.keyPress if jump else QTest.keyRelease)(live, Qt.Key.Key_Space)
            live.tick()
            ticks += 1
        self.assertEqual(self.window.walking.trial.now.move, "exit slipway.east_gate")
        self.assertEqual(self.state.place, "bell_sands")
        self.assertGreater(live.live.waits, 0)
        for _ in range(60):
            live.tick()
            live.grab()
        QTest.keyRelease(live, Qt.Key.Key_Right)
        self.page.walk_live.click()
        self.assertFalse(live._timer.isActive())
        self.assertEqual(self.page.back.isEnabled(), True)
        self.key(self.page, Qt.Key.Key_Escape)
        self.assertIsNone(self.window.walking.trial)

    def test_starting_with_a_condition_only_where_some_playthrough_can(self):
        self.window.selection.select("salt_gate")
        self.person.answers["Start here with"] = "at least 1 oil"
        self.window.walking.begin_with()
        self.assertEqual(self.window.walk_button.text(), "Stop looking")
        self.window.walk_button.click()
        self.assertEqual(self.window.walk_button.text(), "Trial walk")
        self.wait_until(lambda: not self.window.walking.busy, "the end of the search")
        self.assertIsNone(self.window.walking.trial)
        self.window.walking.begin_with()
        self.wait_until(lambda: self.window.walking.trial, "the walk")
        self.assertEqual(self.window.walk_button.text(), "Leave walk")
        index = [fact.id for fact in self.window.document.flow.facts].index("oil")
        self.assertEqual((self.state.place, self.state.facts[index] >= 1), ("salt_gate", True))
        self.person.answers["Start here with"] = "never"
        self.window.walking.begin_with()
        self.wait_until(lambda: self.person.told, "the answer")
        self.assertIn("No playthrough", str(self.person.told[-1]))
        self.person.answers["Start here with"] = "at leest 1 oil"
        self.window.walking.begin_with()
        self.assertTrue(self.window.faces.is_in_view(self.window.map))


if __name__ == "__main__":
    unittest.main()

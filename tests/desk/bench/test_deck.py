"""The deck: steps of a transition dragged, stretched, added, removed, and marked where they are at fault."""

import unittest

from PyQt6.QtCore import QEvent, QPoint, Qt

from mossy_bridge.desk.bench.playing import darkness
from mossy_bridge.model import timing
from tests.support.qt import DeskCase

CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class Deck(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.window.selection.select("bell_sands", "east_gate")
        self.bench = self.window.bench.crossing
        self.deck = self.bench.deck
        self.name = self.window.document.flow.level("bell_sands").exit("east_gate").transition

    @property
    def transition(self):
        return self.window.document.flow.transition(self.name)

    def index(self, kind):
        return [step.do for step in self.transition.steps].index(kind)

    def step(self, kind):
        return self.transition.steps[self.index(kind)]

    def pull(self, kind, seconds, end=True, modifier=Qt.KeyboardModifier.NoModifier):
        """Drags the end of a step, or its middle, by some seconds."""
        bar = self.deck.bar(self.index(kind))
        start = QPoint(int(bar.right() - 2) if end else int(bar.center().x()), int(bar.center().y()))
        self.drag(self.deck, start, start + QPoint(round(seconds * self.deck._scale()), 0), modifier)

    def test_a_survey_that_ends_under_a_drag_does_not_end_it(self):
        bar = self.deck.bar(self.index("fade_out"))
        start = QPoint(int(bar.right() - 2), int(bar.center().y()))
        there = start + QPoint(round(0.5 * self.deck._scale()), 0)
        self.mouse(self.deck, QEvent.Type.MouseButtonPress, start)
        self.mouse(self.deck, QEvent.Type.MouseMove, there)
        self.window.bench.crossing.show_findings(self.window.result.findings)
        self.mouse(self.deck, QEvent.Type.MouseButtonRelease, there)
        self.assertGreater(self.step("fade_out").lasts, 0.9)

    def test_a_longer_fade_takes_along_what_waits_for_it(self):
        before = self.transition
        gap = self.step("load").at - timing.black_from(before)
        self.pull("fade_out", 0.5)
        self.assertGreater(self.step("fade_out").lasts, 0.9)
        self.assertAlmostEqual(self.step("load").at - timing.black_from(self.transition), gap, places=6)
        self.assertGreater(timing.control(self.transition), timing.control(before) + 0.4)
        self.window.document.undo()
        self.assertEqual(self.transition, before)

    def test_stretched_alone_until_the_check_fires_marked_and_mended_by_its_repair(self):
        self.pull("fade_out", 0.5, modifier=CONTROL)
        self.settle()
        finding = next(f for f in self.window.result.findings if f.check == "cut-in-view")
        self.assertEqual(finding.at[0], self.name)
        self.assertIn(self.index("load"), self.deck._faults)
        self.assertIn("before the picture is black", self.deck._told(self.index("load")))
        self.deck.grab()
        self.deck.choose(self.index("load"))
        next(blank for blank in self.bench.step.blanks() if blank.what == "mend cut-in-view").click()
        self.agree()
        self.settle()
        self.assertNotIn("cut-in-view", [f.check for f in self.window.result.findings])
        self.assertEqual(self.deck._faults, {})

    def test_a_moved_step_snaps_to_where_others_end(self):
        fade_out = timing.black_from(self.transition)
        self.pull("load", fade_out - self.step("load").at + 3 / self.deck._scale(), end=False)
        self.assertAlmostEqual(self.step("load").at, fade_out, places=6)

    def test_keys_choose_move_stretch_and_remove(self):
        self.key(self.deck, Qt.Key.Key_Down)
        chosen = self.deck.step
        at, lasts = self.transition.steps[chosen].at, self.transition.steps[chosen].lasts
        self.key(self.deck, Qt.Key.Key_Right)
        self.assertAlmostEqual(self.transition.steps[chosen].at, at + 0.1)
        self.key(self.deck, Qt.Key.Key_Right, SHIFT)
        self.assertAlmostEqual(self.transition.steps[chosen].lasts, lasts + 0.1)
        count = len(self.transition.steps)
        self.key(self.deck, Qt.Key.Key_Delete)
        self.assertEqual(len(self.transition.steps), count - 1)

    def test_a_message_is_added_written_and_too_short_to_read(self):
        self.window.requests.transitions.add_step(self.name, "show_message")
        index = self.index("show_message")
        self.window.requests.transitions.set_step(
            self.name, index, text="The tide turns, and turns, and turns again", lasts=1
        )
        self.settle()
        self.assertIn("message-unreadable", [f.check for f in self.window.result.findings])
        self.deck.choose(index)
        said = " ".join(label.text() for label in self.bench.step.findChildren(type(self.window.facts.becoming)))
        self.assertIn("read in", said)
        self.bench.grab()

    def test_it_is_played_in_real_time_with_a_scrubber(self):
        box = self.bench.play()
        self.assertTrue(box.is_running)
        self.wait_until(lambda: box.picture.gone > 0.1, "time to go on")
        box.toggle()
        self.assertFalse(box.is_running)
        for moment, dark, over in ((0.0, 0.0, False), (timing.black_from(self.transition), 1.0, False),
                                   (self.transition.seconds, 0.0, True)):  # fmt: skip
            box.scrubber.setValue(round(moment * 1000))
            self.assertAlmostEqual(darkness(self.transition, box.picture.gone), dark, delta=0.01)
            self.assertEqual(box.picture.is_over, over)
            self.assertFalse(box.grab().isNull())
        self.key(box, Qt.Key.Key_Left)
        self.assertEqual(box.scrubber.value(), round(self.transition.seconds * 1000) - 50)
        self.key(box, Qt.Key.Key_Space)
        self.assertTrue(box.is_running)
        box.close()

    def test_a_shared_transition_can_be_copied_for_one_crossing(self):
        own = next(blank for blank in self.bench.transition.blanks() if blank.what == "copy it for this crossing")
        own.click()
        flow = self.window.document.flow
        copy = flow.level("bell_sands").exit("east_gate").transition
        self.assertNotEqual(copy, self.name)
        self.assertEqual(flow.transition(copy).steps, flow.transition(self.name).steps)
        self.pull("fade_out", 0.3)
        self.assertEqual(self.window.document.flow.transition(self.name).steps, flow.transition(self.name).steps)


if __name__ == "__main__":
    unittest.main()

"""The tape of moves: of a long walk only what is in view is painted, as it would be with all the rest."""

import unittest

from PyQt6.QtCore import QRect

from mossy_bridge.desk.trial.tape import STEP, TALL, Tape
from mossy_bridge.desk.widgets.theme import Look
from tests.support.qt import make_application


class Painting(unittest.TestCase):
    def test_a_part_looks_as_it_does_in_the_whole(self):
        tape = Tape(Look(make_application()))
        tape.show_steps([(f"Move {number} along the causeway", f"Level {number}") for number in range(40)], at=11)
        whole = tape.line.grab().toImage()
        for left in (0, 5 * STEP - 3, 10 * STEP + 30, 38 * STEP):
            part = QRect(left, 0, 2 * STEP + 11, TALL)
            self.assertEqual(tape.line.grab(part).toImage(), whole.copy(part), left)
        self.assertNotEqual(whole.copy(0, 0, STEP, TALL), whole.copy(STEP, 0, STEP, TALL))

    def test_without_moves_nothing_is_painted(self):
        tape = Tape(Look(make_application()))
        tape.show_steps([], at=0)
        self.assertFalse(tape.line.grab().isNull())


if __name__ == "__main__":
    unittest.main()

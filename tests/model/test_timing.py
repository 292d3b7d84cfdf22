"""When things happen in a transition, and how its steps keep in time."""

import unittest

from mossy_bridge.model import timing
from mossy_bridge.model.flow import CheckLimits, Step, Transition


def transition(*steps):
    return Transition(id="t", steps=tuple(Step(do=do, at=at, lasts=lasts) for do, at, lasts in steps))


FADE = transition(("hold_player", 0, 3), ("fade_out", 0, 1), ("load", 1, 0.5), ("fade_in", 2, 1))


def told(changed):
    return [(step.do, step.at, step.lasts) for step in changed.steps]


class Moments(unittest.TestCase):
    def test_black_load_and_control(self):
        self.assertEqual((timing.black_from(FADE), timing.loaded(FADE), timing.shown_from(FADE)), (1, 1.5, 2))
        self.assertEqual((timing.begins(FADE), timing.control(FADE)), (0, 3))
        nothing = transition()
        self.assertEqual((timing.black_from(nothing), timing.loaded(nothing), timing.control(nothing)), (None,) * 3)

    def test_held_without_a_gap(self):
        self.assertTrue(timing.held_throughout(FADE, 0, 3))
        self.assertFalse(timing.held_throughout(FADE, 0, 3.1))
        two = transition(("hold_player", 0, 1), ("hold_player", 1, 1))
        self.assertTrue(timing.held_throughout(two, 0, 2))
        apart = transition(("hold_player", 0, 1), ("hold_player", 1.2, 1))
        self.assertFalse(timing.held_throughout(apart, 0, 2))
        self.assertFalse(timing.held_throughout(transition(("load", 0, 1)), 0, 1))

    def test_reading_takes_a_moment_and_so_long_a_word(self):
        self.assertEqual(timing.reading_time("The tide is turning", CheckLimits()), 1.5)
        self.assertEqual(timing.reading_time("", CheckLimits(read_start=0.7)), 0.7)


class Changes(unittest.TestCase):
    def test_stretching_takes_along_what_comes_after(self):
        longer = timing.stretched(FADE, 1, 1.4)
        self.assertEqual(told(longer), [("hold_player", 0, 3.4), ("fade_out", 0, 1.4), ("load", 1.4, 0.5),
                                        ("fade_in", 2.4, 1)])  # fmt: skip
        self.assertEqual(told(timing.stretched(longer, 1, 1)), told(FADE))

    def test_alone_and_holding_change_nothing_else(self):
        self.assertEqual(told(timing.stretched(FADE, 1, 1.4, alone=True))[2:], told(FADE)[2:])
        self.assertEqual(told(timing.stretched(FADE, 0, 5))[1:], told(FADE)[1:])

    def test_times_are_never_below_nothing(self):
        self.assertEqual(told(timing.moved(FADE, 2, -4))[2], ("load", 0, 0.5))
        self.assertEqual(told(timing.stretched(FADE, 3, -1))[3], ("fade_in", 2, 0))

    def test_holding_once_from_the_beginning(self):
        held = timing.held_until(transition(("load", 0.5, 1), ("hold_player", 0.7, 9)), 2)
        self.assertEqual(told(held), [("hold_player", 0.5, 1.5), ("load", 0.5, 1)])

    def test_steps_are_added_in_order_and_removed(self):
        more = timing.added(FADE, [Step(do="sound", at=0.5, lasts=1)])
        self.assertEqual([step.do for step in more.steps], ["hold_player", "fade_out", "sound", "load", "fade_in"])
        self.assertEqual(timing.without_step(more, 2), FADE)


if __name__ == "__main__":
    unittest.main()

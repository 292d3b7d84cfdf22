"""Where a body gets to: against walking cell by cell on a fine grid, and ways that need no search."""

import unittest
from random import Random

from mossy_bridge.model.flow import Plan, Walker
from mossy_bridge.plan.boxes import Box, Stones
from mossy_bridge.plan.free_space import FreeSpace, plainly_joined
from mossy_bridge.plan.jumping import Jumps

WALKER = Walker(width=1, height=2)


def body(left, low):
    return Box(left, left + 1, low, low + 2)


def random_plan(pick):
    solids = [(pick.randrange(12), pick.randrange(10), pick.randrange(1, 8), pick.randrange(1, 6))
              for _ in range(pick.randrange(1, 6))]  # fmt: skip
    return Plan(width=12, height=10, solids=tuple(solids))


def walked(plan, start, goal):
    """Whole places only: with whole sizes nothing else can be passed."""
    stones = Stones(plan, y_down=False)
    free = {(x, y) for x in range(12) for y in range(9) if not stones.share(body(x, y))}
    found, waiting = {start} & free, [start]
    while waiting:
        x, y = waiting.pop()
        for place in ((x + 1, y), (x - 1, y), (x, y + 1), (x, y - 1)):
            if place in free and place not in found:
                found.add(place)
                waiting.append(place)
    return any(body(*place).shares(goal) for place in found) if start in free else None


class AgainstWalking(unittest.TestCase):
    def test_random_plans(self):
        answers, plain = [], 0
        for seed in range(1500):
            pick = Random(seed)
            plan = random_plan(pick)
            start, goal = (pick.randrange(12), pick.randrange(9)), body(pick.randrange(12), pick.randrange(9))
            expected = walked(plan, start, goal)
            found = FreeSpace(plan, WALKER, y_down=False).joined([body(*start)], goal)
            self.assertEqual(found, expected, seed)
            if plainly_joined(Stones(plan, False), body(*start), goal):
                self.assertTrue(expected, seed)
                plain += 1
            answers.append(found)
        self.assertGreater(min(answers.count(one) for one in (True, False, None)), 100)
        self.assertGreater(plain, 300)

    def test_what_just_fits_passes(self):
        gap = Plan(width=12, height=10, solids=((4, 0, 1, 4), (4, 6, 1, 4)))
        narrow = Plan(width=12, height=10, solids=((4, 0, 1, 4), (4, 5.9, 1, 4.1)))
        for plan, passes in ((gap, True), (narrow, False)):
            self.assertEqual(FreeSpace(plan, WALKER, False).joined([body(0, 0)], body(9, 0)), passes)

    def test_jumps_reach_no_less_than_a_throw(self):
        walker = Walker(width=1, height=2, speed=6, jump_height=3, gravity=30)
        # A jump over level ground is 6 * 2 * sqrt(2 * 3 / 30) = 5.37 long; a tenth higher and further is granted.
        for gap, reached in ((5.3, True), (9, False)):
            pit = Plan(width=40, height=30, solids=((0, 0, 10, 20), (10 + gap, 0, 10, 20)))
            jumps = Jumps(pit, walker, y_down=False)
            self.assertEqual(jumps.may_reach([Box(0, 1, 20, 22)], Box(12 + gap, 13 + gap, 20, 21)), reached)


if __name__ == "__main__":
    unittest.main()

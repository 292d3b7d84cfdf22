"""Where things that are dragged snap to."""

import unittest

from mossy_bridge.desk.plan.snapping import grid_step, shift, snapped
from mossy_bridge.model.flow import Walker


class Snapping(unittest.TestCase):
    def test_edges_before_the_grid(self):
        self.assertEqual(snapped(3.4, 0.5, [3.3], 0.2), 3.3)
        self.assertEqual(snapped(3.4, 0.5, [3.0], 0.2), 3.5)
        self.assertEqual(snapped(3.41, 0, [], 0.2), 3.41)
        self.assertEqual(shift((0, 0, 2, 3), (4.9, 1.1), 1.0, [(7, 0, 1, 1)], 0.3), (5, 1))
        self.assertEqual(shift((0.25, 0, 2, 3), (1.1, 0), 1.0, [], 0.3)[0], 0.75)

    def test_the_grid_suits_the_walker(self):
        self.assertEqual([grid_step(Walker(width=w)) for w in (0.8, 1, 24, 0)], [0.5, 1, 16, 1])


if __name__ == "__main__":
    unittest.main()

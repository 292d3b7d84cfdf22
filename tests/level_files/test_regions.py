"""Regions compared by their cells, against points looked at one by one."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from mossy_bridge.level_files.regions import cover_the_same

SIDE = st.integers(0, 5)
RECTS = st.lists(st.tuples(SIDE, SIDE, SIDE, SIDE), max_size=4)


def cells(rects):
    return {(x + i, y + j) for x, y, width, height in rects for i in range(width) for j in range(height)}


class Regions(unittest.TestCase):
    @given(RECTS, RECTS)
    def test_the_same_cells(self, one, other):
        self.assertEqual(cover_the_same(one, other), cells(one) == cells(other))

    @given(RECTS, st.floats(-0.009, 0.009))
    def test_rounding_makes_no_difference(self, rects, by):
        self.assertTrue(cover_the_same(rects, [(x + by, y, width, height) for x, y, width, height in rects]))

    def test_cut_up_otherwise(self):
        self.assertTrue(cover_the_same([(0, 0, 4, 2)], [(0, 0, 2, 2), (1, 0, 3, 1), (2, 1, 2, 1)]))
        self.assertFalse(cover_the_same([(0, 0, 4, 2)], [(0, 0, 2, 2)]))
        self.assertTrue(cover_the_same([], [(3, 3, 0, 2)]))
        self.assertFalse(cover_the_same([(0, 0, 1, 1)], [(0, 0, 1.02, 1)]))


if __name__ == "__main__":
    unittest.main()

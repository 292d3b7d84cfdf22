"""Antichains against sets compared one with another."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from mossy_bridge.reach.monotone.antichain import MaximalSets, MinimalSets

SETS = st.lists(st.frozensets(st.integers(0, 70), max_size=6), max_size=30)


def bits(members):
    return sum(1 << member for member in members)


class Antichains(unittest.TestCase):
    @given(SETS)
    def test_the_extreme_sets_are_kept_and_no_others(self, added):
        maximal, minimal = MaximalSets(), MinimalSets()
        for members in added:
            maximal.add(bits(members))
            minimal.add(bits(members))
        self.assertEqual(set(maximal), {bits(one) for one in added if not any(one < other for other in added)})
        self.assertEqual(set(minimal), {bits(one) for one in added if not any(other < one for other in added)})
        self.assertEqual(len(set(maximal)), len(maximal))

    @given(SETS)
    def test_adding_says_whether_it_was_news(self, added):
        maximal, minimal, before = MaximalSets(), MinimalSets(), []
        for members in added:
            self.assertEqual(maximal.add(bits(members)), not any(members <= other for other in before))
            self.assertEqual(minimal.add(bits(members)), not any(other <= members for other in before))
            before.append(members)

    def test_by_hand(self):
        minimal = MinimalSets()
        self.assertEqual([minimal.add(one) for one in (0b110, 0b111, 0b010, 0b101)], [True, False, True, True])
        self.assertEqual(list(minimal), [0b010, 0b101])
        self.assertIn(0b101, minimal)
        self.assertNotIn(0b110, minimal)


if __name__ == "__main__":
    unittest.main()

"""Components of graphs, and their layers."""

import unittest

import numpy as np

from mossy_bridge.reach.limits import LIMITS, Limits
from mossy_bridge.reach.scc import component_layers, strong_components


class Groups(unittest.TestCase):
    def test_both_ways_of_grouping_agree_and_layers_come_after_what_they_lead_to(self):
        pick = np.random.default_rng(5)
        for count in (1, 5, 40, 300):
            source = np.sort(pick.integers(0, count, 2 * count)).astype(np.int32)
            target = pick.integers(0, count, 2 * count).astype(np.int32)
            one = strong_components(count, source, target, LIMITS)
            other = strong_components(count, source, target, Limits(components_here=-1))
            self.assertEqual(len(set(zip(one.tolist(), other.tolist(), strict=True))), len(set(one.tolist())))
            finished, between = set(), set()
            for above, below in component_layers(one, source, target, LIMITS):
                self.assertFalse(set(below.tolist()) & set(above.tolist()))
                self.assertFalse(set(above.tolist()) & finished)
                finished |= set(above.tolist())
                between |= set(zip(above.tolist(), below.tolist(), strict=True))
            ends = zip(one[source].tolist(), one[target].tolist(), strict=True)
            self.assertEqual(between, {(above, below) for above, below in ends if above != below})


if __name__ == "__main__":
    unittest.main()

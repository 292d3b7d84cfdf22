"""Random pairs and triples of versions: comparing then applying, merging, and nothing lost without being named."""

import os
import random
import unittest
from functools import cache

from mossy_bridge.exchange.merging.changes import apply, changes
from mossy_bridge.exchange.merging.three_way import merge
from mossy_bridge.exchange.reading import CannotRead, flow_from_tree
from mossy_bridge.exchange.writing import flow_bytes
from tests.support.random_edits import edited, tree
from tests.support.random_flows import four_kinds

FLOWS = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 5


def written(found):
    return flow_bytes(flow_from_tree(found))


@cache
def versions(count):
    """Three versions each, of which two came from the first."""
    return list(_made(count))


def _made(count):
    for seed, flow in enumerate(four_kinds(count // 4)):
        pick, base = random.Random(seed), tree(flow)
        for steps in (1, 2, 5, 12):
            yield (
                (seed, steps),
                base,
                edited(base, pick, pick.randint(1, steps)),
                edited(base, pick, pick.randint(1, steps)),
            )


class Versions(unittest.TestCase):
    def test_comparing_then_applying_gives_the_new_one_byte_for_byte(self):
        kinds = set()
        for label, base, ours, theirs in versions(FLOWS):
            for old, new in ((base, ours), (ours, theirs), (theirs, base)):
                found = list(changes(old, new))
                kinds |= {change.kind for change in found}
                self.assertEqual(written(apply(old, found)), written(new), (label, found))
                self.assertEqual(bool(found), old != new)
        self.assertEqual(kinds, {"added", "removed", "changed", "moved"})

    def test_with_a_side_unchanged_merging_gives_the_other(self):
        for label, base, ours, theirs in versions(FLOWS):
            for one, other, wanted in ((ours, base, ours), (base, theirs, theirs), (ours, ours, ours)):
                found = merge(base, one, other)
                self.assertEqual(found.conflicts, (), label)
                self.assertEqual(written(found.ours), written(wanted), label)

    def test_merging_commutes(self):
        clean = 0
        for label, base, ours, theirs in versions(FLOWS):
            one, other = merge(base, ours, theirs), merge(base, theirs, ours)
            there = {(each.at, str(each.ours), str(each.theirs)) for each in one.conflicts}
            back = {(each.at, str(each.theirs), str(each.ours)) for each in other.conflicts}
            self.assertEqual(there, back, label)
            self.assertEqual(bool(one.problems), bool(other.problems), label)
            for first, second in ((one.ours, other.theirs), (one.theirs, other.ours)):
                if not one.problems:
                    self.assertEqual(self.told(first), self.told(second), label)
            clean += not one.conflicts and not one.problems
        self.assertGreater(clean, FLOWS // 4)

    def told(self, found):
        try:
            return written(found)
        except CannotRead as error:
            return error.problems

    def test_nothing_of_either_side_is_lost_without_being_named(self):
        conflicts = 0
        for label, base, ours, theirs in versions(FLOWS):
            found = merge(base, ours, theirs)
            named = [conflict.at for conflict in found.conflicts]
            conflicts += len(named)
            for side in (ours, theirs):
                left = {change.at for change in changes(base, found.ours)}
                for change in changes(base, side):
                    about = change.at if change.kind != "moved" else change.at.rpartition(".")[0]
                    is_named = any(f"{about}.".startswith(f"{at}.") or f"{at}.".startswith(f"{about}.") for at in named)
                    if change.kind == "moved":
                        continue  # orders are held by the test of merging by hand
                    self.assertTrue(
                        is_named or any(f"{at}.".startswith(f"{change.at}.") for at in left), (label, change)
                    )
        self.assertGreater(conflicts, FLOWS // 10)


if __name__ == "__main__":
    unittest.main()

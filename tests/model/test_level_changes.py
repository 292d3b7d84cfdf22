"""What an edit has changed, told by identity."""

import unittest
from random import Random

from mossy_bridge.model.edits.levels import insert_level, remove_levels, set_level
from mossy_bridge.model.edits.order import move_levels
from mossy_bridge.model.level_changes import differing_parts, level_changes
from tests.support.build import flow, play_level
from tests.support.edited_flows import edited
from tests.support.faulty_flows import faulty_flow


class Parts(unittest.TestCase):
    def test_what_both_begin_and_end_with_is_left_out(self):
        a, b, c, d = ([name] for name in "abcd")
        for one, other, expected in (
            ([a, b, c], [a, b, c], ([], [])),
            ([a, b, c], [a, d, c], ([b], [d])),
            ([a, b, c], [a, c], ([b], [])),
            ([a, c], [a, b, c], ([], [b])),
            ([a, a], [a, a, a], ([], [a])),
            ([a, a, a], [a], ([a, a], [])),
            ([], [a, b], ([], [a, b])),
            ([a, b, c], [c, b, a], ([a, b, c], [c, b, a])),
            ([["a"], b], [["a"], b], ([["a"]], [["a"]])),  # alike, but not the very same
        ):
            here, there = differing_parts(one, other)
            self.assertEqual((one[here], other[there]), expected)

    def test_long_sequences_each_with_each(self):
        same = [[number] for number in range(300)]
        for pick in map(Random, range(30)):
            one, other = (same[:], same[:])
            for some in (one, other):
                for _ in range(pick.randrange(3)):
                    some[pick.randrange(len(some))] = [pick.random()]
                if pick.random() < 0.5:
                    del some[pick.randrange(len(some))]
            for _ in range(2):  # the second time it is known
                for a, b in ((one, other), (other, one), (one, one)):
                    here, there = differing_parts(a, b)
                    kept = [*a[: here.start], *a[here.stop :]]
                    self.assertTrue(
                        all(x is y for x, y in zip(kept, [*b[: there.start], *b[there.stop :]], strict=True))
                    )
                    for at in (0, -1) if a[here] and b[there] else ():
                        self.assertIsNot(a[here][at], b[there][at])


class Changes(unittest.TestCase):
    def setUp(self):
        self.flow = flow(*(play_level(name) for name in "abcdef"))

    def told(self, after):
        found = level_changes(self.flow, after)
        changed = [
            was.id for was, now in found.changed if was is self.flow.level(was.id) and now is after.level(was.id)
        ]
        self.assertEqual(len(changed), len(found.changed))
        return [lv.id for lv in found.gone], [lv.id for lv in found.new], changed, found.same_order

    def test_what_edits_change(self):
        renamed = set_level(self.flow, "c", name="Cove")
        self.assertEqual(self.told(self.flow), ([], [], [], True))
        self.assertEqual(self.told(renamed), ([], [], ["c"], True))
        self.assertEqual(self.told(set_level(renamed, "e", name="Eyot")), ([], [], ["c", "e"], True))
        self.assertEqual(self.told(remove_levels(self.flow, ["b"])), (["b"], [], [], False))
        self.assertEqual(self.told(move_levels(renamed, ["e"], "b")), ([], [], ["c"], False))
        new = flow(play_level("new")).levels[0]
        self.assertEqual(self.told(insert_level(self.flow, new, "d")), ([], ["new"], [], False))

    def test_as_by_comparing_each_with_each(self):
        for seed in range(20):
            pick, before = Random(seed), faulty_flow(seed)
            for _ in range(10):
                after = edited(before, pick)
                was, now = ({level.id: level for level in one.levels} for one in (before, after))
                found = level_changes(before, after)
                self.assertEqual({level.id for level in found.gone}, was.keys() - now.keys())
                self.assertEqual({level.id for level in found.new}, now.keys() - was.keys())
                both = was.keys() & now.keys()
                self.assertEqual({one.id for one, _ in found.changed}, {n for n in both if was[n] is not now[n]})
                self.assertEqual(found.same_order, list(was) == list(now))
                before = after

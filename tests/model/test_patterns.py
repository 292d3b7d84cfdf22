"""Levels with their patterns filled in: the very same ones as long as nothing they depend on has changed."""

import unittest
from random import Random

from msgspec.structs import replace

from mossy_bridge.exchange.rereading import reread
from mossy_bridge.model.edits.levels import insert_level, remove_levels, set_level
from mossy_bridge.model.edits.order import move_levels
from mossy_bridge.model.edits.patterns import base_on, make_pattern
from mossy_bridge.model.flow import Flow
from mossy_bridge.model.patterns import resolved
from tests.support.build import flow, play_level, screen, way
from tests.support.edited_flows import edited
from tests.support.faulty_flows import faulty_flow

BANK, QUAY = {"id": "bank", "minutes": 5, "notes": "reeds"}, {"id": "quay", "minutes": 2}
MARSH = flow(
    screen("title", way("go", "a")),
    *(play_level(name, way("on", "won"), pattern=pattern) for name, pattern in (("a", "bank"), ("b", "quay"), ("c", "bank"), ("d", "gone"))),
    patterns=[BANK, QUAY],
)  # fmt: skip


def anew(flow_):
    """The same flow, of which nobody knows anything yet, filled in."""
    return resolved(replace(flow_))


class Filled(unittest.TestCase):
    def setUp(self):
        self.whole = resolved(MARSH)

    def kept(self, after):
        """The levels that are the very same as before."""
        after = reread(after, MARSH)
        self.assertEqual(resolved(after), anew(after))
        here = {id(level) for level in self.whole.levels}
        return [level.id for level in resolved(after).levels if id(level) in here]

    def test_worked_out_once_for_a_flow(self):
        self.assertEqual([level.minutes for level in self.whole.levels], [0, 5, 2, 5, 0])
        self.assertIs(resolved(MARSH), self.whole)
        plain = flow(play_level("a", way("on", "won")))
        self.assertIs(resolved(plain), plain)

    def test_an_edit_leaves_all_other_levels_as_they_are(self):
        self.assertEqual(self.kept(set_level(MARSH, "a", name="Slip")), ["title", "b", "c", "d"])
        self.assertEqual(self.kept(remove_levels(MARSH, ["b"])), ["title", "a", "c", "d"])
        self.assertEqual(self.kept(move_levels(MARSH, ["c"], "a")), ["title", "c", "a", "b", "d"])
        new = flow(play_level("new", pattern="bank"), patterns=[BANK]).levels[0]
        self.assertEqual(self.kept(insert_level(MARSH, new, "b")), ["title", "a", "b", "c", "d"])
        self.assertEqual(self.kept(set_level(MARSH, "d", pattern="quay")), ["title", "a", "b", "c"])

    def test_a_changed_pattern_changes_the_levels_that_follow_it_alone(self):
        self.assertEqual(self.kept(set_level(MARSH, "pattern:bank", minutes=7)), ["title", "b", "d"])
        self.assertEqual(self.kept(replace(MARSH, patterns=MARSH.patterns[1:])), ["title", "b", "d"])
        gone = replace(MARSH.patterns[0], id="gone")
        self.assertEqual(self.kept(replace(MARSH, patterns=(*MARSH.patterns, gone))), ["title", "a", "b", "c"])

    def test_edits_of_random_flows(self):
        followed = 0
        for seed in range(30):
            pick, bare = Random(seed), reread(faulty_flow(seed), Flow())
            before, bank = make_pattern(bare, bare.levels[0].id, "Bank")
            before = base_on(before, [level.id for level in bare.levels[1::2]], bank)
            for _ in range(15):
                resolved(before)
                before = reread(edited(before, pick), before)
                self.assertEqual(resolved(before), anew(before))
                followed += resolved(before) is not before
        self.assertGreater(followed, 50)


if __name__ == "__main__":
    unittest.main()

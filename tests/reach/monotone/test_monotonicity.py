"""Which parts of a state are monotone, by hand."""

import unittest

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.monotone.monotonicity import monotone_parts
from mossy_bridge.reach.system.program_graph import ProgramGraph
from tests.support.build import deed, flow, play_level, way


class Growing(unittest.TestCase):
    def parts(self, *exits, deeds=(), facts=("f", "n:3"), **fields):
        return monotone_parts(
            ProgramGraph(Rules(flow(play_level("a", *exits, deeds=list(deeds), **fields), facts=facts)))
        )

    def test_what_is_asked_for_and_only_gained_grows(self):
        self.assertEqual(self.parts(way("x", "won", opens="has f"), deeds=[deed("d", "gain f")]).facts, {"f"})

    def test_what_is_asked_against_lost_or_of_a_visit_does_not(self):
        for exit_, deeds, facts in (
            (way("x", "won", opens="lacks f"), [deed("d", "gain f")], ("f",)),
            (way("x", "won", opens="not (has f)"), [deed("d", "gain f")], ("f",)),
            (way("x", "won", opens="at most 1 of (has f)"), [], ("f",)),
            (way("x", "won", opens="has f"), [deed("d", "lose f")], ("f",)),
            (way("x", "won", opens="exactly 1 n"), [deed("d", "add 1 n")], ("n:3",)),
            (way("x", "won", opens="at least 1 n"), [deed("d", "take 1 n")], ("n:3",)),
            (way("x", "won", opens="at least 1 n"), [deed("d", "add 1 n", repeats="visit")], ("n:3",)),
            (way("x", "won", effects=["add 1 n"]), [deed("d", "add 1 n")], ("n:3",)),
            (way("x", "won", opens="has f", trigger={"kind": "auto"}), [deed("d", "gain f")], ("f",)),
        ):
            with self.subTest(opens=exit_.get("opens", ""), deeds=deeds):
                self.assertEqual(self.parts(exit_, deeds=deeds, facts=facts).facts, frozenset())

    def test_deeds_with_other_consequences_do_not(self):
        spawns = [{"id": "p"}]
        for fields, wanted in (({}, {("a", "d")}), ({"checkpoint": "p"}, set()), ({"saves": True}, set()),
                               ({"repeats": "visit"}, set())):  # fmt: skip
            parts = self.parts(way("x", "won"), deeds=[deed("d", "gain f", **fields)], spawns=spawns)
            self.assertEqual(parts.deeds, wanted)


if __name__ == "__main__":
    unittest.main()

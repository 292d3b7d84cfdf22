"""Counts that only deeds done once add to, by hand."""

import unittest

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.monotone.dead_ends import Trap
from mossy_bridge.reach.monotone.monotonicity import monotone_parts
from mossy_bridge.reach.monotone.pseudo_boolean import Tallies
from mossy_bridge.reach.system.program_graph import ProgramGraph
from tests.support.build import deed, flow, play_level, way
from tests.support.proofs import never, proofs_of, texts


def shells(*finds, opens="at least 3 shells"):
    """A shore with shells that can be found once, and a one-way drop to a cave that asks for some."""
    return flow(
        play_level("shore", way("drop", "cave"), deeds=[deed(f"s{i}", f"add {more} shells") for i, more in enumerate(finds)]),
        play_level("cave", way("out", "won", opens=opens), deeds=[deed("last", "add 1 shells")]), facts=("shells:9",))  # fmt: skip


class Needs(unittest.TestCase):
    def setUp(self):
        self.look_at(shells(1, 1, 2))

    def look_at(self, flow_):
        self.program = ProgramGraph(Rules(flow_))
        self.program.compile_all(never)
        self.tallies = Tallies(self.program, monotone_parts(self.program).bits)
        self.field = self.program.layout.facts["shells"]
        self.spent = {thing: bit for (_, thing), bit in self.program.layout.spent.items()}
        self.transition = {transition.move.thing: number for number, transition in enumerate(self.program.transitions)}

    def need(self, *deeds, count=3):
        """What is needed before some deeds, the last first, for a count to be had after them."""
        need = self.field.bits(count) & ~self.field.bits(count - 1)
        for thing in reversed(deeds):
            need = self.tallies.regress(self.transition[thing], need)
            if need is None:
                return None
        return need

    def meets(self, need, *deeds, count=None):
        vector = sum(self.spent[thing] for thing in deeds)
        vector = self.tallies.consistent(vector) if count is None else vector | self.field.bits(count)
        return self.tallies.meets(vector, need)

    def test_a_deed_is_counted_once(self):
        need = self.need("s2")  # one more, beside s2
        self.assertTrue(self.meets(need, "s0"))
        self.assertFalse(self.meets(need))
        self.assertFalse(self.meets(need, "s2"))
        self.assertTrue(self.meets(need, "s2", "s0"))
        self.assertTrue(self.meets(self.need("s2", "s0")))

    def test_done_twice_it_does_not_count_twice(self):
        self.assertEqual(self.need("s2", "s2"), self.need("s2"))

    def test_what_the_others_cannot_bring_is_not_to_be_had(self):
        self.look_at(shells(1))
        self.assertIsNone(self.need("s0", count=3))
        self.assertIsNotNone(self.need("s0", count=2))

    def test_what_is_told_of_a_count_is_what_the_deeds_say(self):
        vector = self.field.bits(4) | self.spent["s0"]
        self.assertEqual(self.field.value(self.tallies.consistent(vector)), 1)

    def test_without_which_deeds_too_little_is_left(self):
        one, two, last = (self.spent[thing] for thing in ("s0", "s1", "last"))
        self.assertEqual(set(self.tallies.missing_sets(0, self.need("s2"))), {one | two | last})
        self.assertEqual(self.tallies.missing_sets(one, self.need("s2")), [])
        after_one = self.tallies.missing_sets(0, self.need("s0"))  # two more of s1, last and s2, which brings two
        self.assertEqual(set(after_one), {self.spent["s2"] | one_of for one_of in (two, last)})


class Verdicts(unittest.TestCase):
    def test_one_find_done_twice_in_thought_frees_nobody(self):
        prover = proofs_of(shells(1, opens="at least 2 shells"))
        self.assertIsInstance(prover.stuck, Trap)
        self.assertEqual(texts(prover.route_into(prover.stuck)), ["exit shore.drop"])
        self.assertEqual(texts(prover.routes.route_to("ending", "won")),
                         ["deed shore.s0", "exit shore.drop", "deed cave.last", "exit cave.out"])  # fmt: skip

    def test_nobody_is_stuck_where_enough_is_always_left(self):
        back = flow(
            play_level("shore", way("on", "cave"), deeds=[deed(f"s{i}", "add 1 shells") for i in range(3)]),
            play_level("cave", way("out", "won", opens="at least 3 shells"), way("back", "shore")), facts=("shells:9",))  # fmt: skip
        prover = proofs_of(back)
        self.assertIs(prover.stuck, False)
        self.assertEqual(len(prover.routes.route_to("ending", "won")), 5)

    def test_what_two_ways_in_have_in_common_is_no_state_that_can_begin_afresh(self):
        # on either side a shell must be found before the ferry; both together are not enough without the one on the hill
        f = flow(
            play_level("start", way("hill", "hill"), way("left", "left"), way("right", "right")),
            play_level("hill", way("back", "start"), deeds=[deed("h", "add 1 shells")]),
            play_level("left", way("on", "ferry", opens="at least 1 shells and seen left"), deeds=[deed("l", "add 1 shells")]),
            play_level("right", way("on", "ferry", opens="at least 1 shells"), deeds=[deed("r", "add 1 shells")]),
            play_level("ferry", way("left", "left"), way("right", "right"), way("home", "won", opens="at least 3 shells")),
            facts=("shells:9",))  # fmt: skip
        prover = proofs_of(f)
        self.assertIsInstance(prover.stuck, Trap)
        self.assertNotIn(("hill", "h"), prover.never_missed)


if __name__ == "__main__":
    unittest.main()

"""What is certain of words: by hand, and in every state of random flows."""

import os
import unittest

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.certain import Certain
from mossy_bridge.reach.machine import Machine
from mossy_bridge.reach.search import searched
from tests.support.build import deed, fact, flow, play_level, way
from tests.support.random_flows import MAKERS

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "700")) // 4


def never():
    return False


def machine_of(flow_):
    machine = Machine(Rules(flow_))
    machine.compile_all(never)
    return machine


class ByHand(unittest.TestCase):
    def said(self, *levels, **fields):
        """For every exit whether it is possible always, never or still (changing nothing)."""
        machine = machine_of(flow(*levels, **fields))
        certain = Certain(machine)
        found = {}
        for row, shut in zip(machine.rows, certain.never, strict=True):
            words = ["never"] * shut + ["holds"] * certain.holds(row) + ["still"] * certain.still(row)
            found.setdefault(f"{row.move.level}.{row.move.thing}", set()).add(" ".join(words))
        return found

    def test_what_nothing_changes_is_as_it_was(self):
        said = self.said(
            play_level("a", way("x", "b", opens="lacks lamp"), way("y", "b", opens="has lamp"),
                       way("z", "b", opens="has bell"), deeds=[deed("ring", "gain bell")]),
            play_level("b", way("x", "a", opens="seen a")), facts=["lamp", "bell"],
        )  # fmt: skip
        self.assertEqual(said["a.x"], {"holds still"})
        self.assertEqual(said["a.y"], {"never still"})
        self.assertEqual(said["a.z"], {"still"})
        self.assertEqual(said["b.x"], {"holds still"})  # one has begun there

    def test_what_only_the_impossible_changes_does_not_change(self):
        said = self.said(
            play_level("a", way("x", "a", opens="has lamp"), deeds=[deed("d", "gain lamp", when="has bell")]),
            facts=["lamp", "bell"],
        )
        self.assertEqual(said["a.x"], {"never still"})

    def test_a_fact_of_a_visit_is_known_where_nothing_in_the_level_changes_it(self):
        lever = fact("lever", lifetime="visit")
        pull = deed("pull", "gain lever", repeats="always")
        said = self.said(play_level("a", way("x", "b"), way("y", "b", opens="has lever"), deeds=[pull]),
                         play_level("b", way("x", "a"), way("y", "a", opens="has lever")), facts=[lever])  # fmt: skip
        self.assertEqual(said["a.x"], {"holds"})  # the lever may have been turned, and is let go of
        self.assertEqual(said["a.y"], {""})
        self.assertEqual((said["b.x"], said["b.y"]), ({"holds still"}, {"never still"}))

    def test_an_arrival_may_change_a_fact_of_a_visit(self):
        lever = fact("lever", lifetime="visit")
        said = self.said(play_level("a", way("x", "b", opens="has lever"), on_arrival=["gain lever"]),
                         play_level("b", way("x", "b", opens="has lever")), facts=[lever])  # fmt: skip
        self.assertEqual((said["a.x"], said["b.x"]), ({""}, {"never still"}))


class InEveryState(unittest.TestCase):
    def test_random_flows(self):
        told = dict.fromkeys(("never", "holds", "still"), 0)
        for seed in range(EXAMPLES):
            for maker in MAKERS:
                machine = machine_of(maker(seed))
                if machine.start is None:
                    continue
                certain = Certain(machine)
                graph = searched(machine, [machine.start], never, 400)
                for number in range(graph.looked_at):
                    control, word = int(graph.control[number]), graph.word(number)
                    possible = {row: after for row, _, after in machine.moves(control, word)}
                    for row in machine.rows_of(control):
                        self.check(certain, machine.rows[row], certain.never[row], word, possible.get(row), told)
        self.assertGreater(min(told.values()), EXAMPLES)

    def check(self, certain, row, shut, word, after, told):
        if shut:
            told["never"] += 1
            self.assertFalse(row.asks.holds(word))
        if certain.holds(row):
            told["holds"] += 1
            self.assertTrue(row.asks.holds(word))
        if certain.still(row) and after is not None and row.target >= 0:
            told["still"] += 1
            self.assertEqual(after, word)


if __name__ == "__main__":
    unittest.main()

"""What is certain of words: by hand, and in every state of random flows."""

import os
import unittest

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.abstraction.constant_propagation import Constants
from mossy_bridge.reach.explicit.breadth_first import breadth_first
from mossy_bridge.reach.system.program_graph import ProgramGraph
from tests.support.build import deed, fact, flow, play_level, way
from tests.support.random_flows import MAKERS

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 4


def never():
    return False


def compiled(flow_):
    program = ProgramGraph(Rules(flow_))
    program.compile_all(never)
    return program


class ByHand(unittest.TestCase):
    def said(self, *levels, **fields):
        """For every exit whether it is possible always, never or still (changing nothing)."""
        program = compiled(flow(*levels, **fields))
        constants = Constants(program, program.columns)
        found = {}
        answers = {
            "never": constants.never_enabled, "holds": constants.always_enabled, "still": constants.changing_nothing,
        }  # fmt: skip
        for number, transition in enumerate(program.transitions):
            vectors = [word for word, answer in answers.items() if answer[number]]
            found.setdefault(f"{transition.move.level}.{transition.move.thing}", set()).add(" ".join(vectors))
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
                program = compiled(maker(seed))
                if program.start is None:
                    continue
                constants = Constants(program, program.columns)
                graph = breadth_first(program, [program.start], never, 400)
                for number in range(graph.expanded):
                    location, vector = int(graph.location[number]), graph.vector(number)
                    possible = {transition: after for transition, _, after in program.moves(location, vector)}
                    for transition in program.transitions_of(location):
                        self.check(constants, program, transition, vector, possible.get(transition), told)
        self.assertGreater(min(told.values()), EXAMPLES)

    def check(self, constants, program, number, vector, after, told):
        transition = program.transitions[number]
        if constants.never_enabled[number]:
            told["never"] += 1
            self.assertFalse(transition.guard.holds(vector))
        if constants.always_enabled[number]:
            told["holds"] += 1
            self.assertTrue(transition.guard.holds(vector))
            self.assertTrue(constants.always_holds(transition, but=0))
        if constants.changing_nothing[number] and after is not None and transition.target >= 0:
            told["still"] += 1
            self.assertEqual(after, vector)


if __name__ == "__main__":
    unittest.main()

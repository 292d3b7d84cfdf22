"""When every state is explored at once."""

import unittest

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.limits import LIMITS, Limits
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.survey.strategy import at_once
from mossy_bridge.reach.system.program_graph import ProgramGraph
from tests.support.build import deed, flow, play_level, way


def never():
    return False


class AtOnce(unittest.TestCase):
    def program(self, *deeds, facts, opens="always", limits=LIMITS):
        level = play_level("a", way("x", "won", opens=opens), deeds=list(deeds))
        return ProgramGraph(Rules(flow(level, facts=facts)), limits=limits)

    def test_how_many_words_there_can_be(self):
        turn = [deed("d", "turn tide to ebb", repeats="always"), deed("e", "take 1 oil", when="tide is flood")]
        program = self.program(*turn, facts=("oil:5", "tide=ebb,flood,slack"), opens="at least 2 oil")
        self.assertEqual(
            program.layout.possible_vectors, 6 * 3 * 2
        )  # the count, the choice, and whether e has been done

    def test_few_states_of_which_nothing_grows_are_looked_at_at_once(self):
        turning = [deed(f"{verb}{i}", f"{verb} lit{i}", when=f"{asked} lit{i}", repeats="always")
                   for i in range(13) for verb, asked in (("gain", "lacks"), ("lose", "has"))]  # fmt: skip
        lit = [f"lit{i}" for i in range(13)]
        program = self.program(*turning, facts=lit)
        self.assertTrue(at_once(program, never))
        self.assertFalse(at_once(self.program(*turning, facts=lit, limits=Limits(states_at_once=2**13 - 1)), never))
        survey = survey_flow(program.rules.flow)
        self.assertEqual((survey.settled, len(survey.graph)), (True, 2**13))

    def test_what_grows_is_not(self):
        self.assertFalse(at_once(self.program(deed("d", "gain key"), facts=("key",), opens="has key"), never))


if __name__ == "__main__":
    unittest.main()

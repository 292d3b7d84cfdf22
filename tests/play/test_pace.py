"""How long walks take, and the fullest of them."""

import unittest
from pathlib import Path

import mossy_bridge
from mossy_bridge.exchange.reading import read_flow
from mossy_bridge.play.pace import pace_of
from mossy_bridge.play.replay import final_state
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move
from mossy_bridge.reach.queries.transition_tour import widest_walk
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import flow, play_level, way

DEMO = Path(mossy_bridge.__file__).parent / "demo"


def line():
    """Three levels of 2, 3 and 1 minutes; the first crossing takes 30 seconds."""
    return flow(
        play_level("a", way("x", "b", transition="slow"), minutes=2, difficulty=1),
        play_level("b", way("y", "c"), way("z", "a"), minutes=3, difficulty=4),
        play_level("c", way("end", "won"), minutes=1),
        transitions=[{"id": "slow", "steps": [{"do": "wait", "lasts": 30}]}],
    )


class Paces(unittest.TestCase):
    def test_stays_follow_each_other_with_transitions_between(self):
        pace = pace_of(Rules(line()), [Move("exit", "a", "x"), Move("exit", "b", "y")])
        self.assertEqual([(s.level, s.begins, s.minutes, s.difficulty) for s in pace.stays],
                         [("a", 0, 2, 1), ("b", 2.5, 3, 4), ("c", 5.5, 1, 0)])  # fmt: skip
        self.assertEqual((pace.minutes, pace.ending), (6.5, ""))
        self.assertAlmostEqual(pace.share_between, 0.5 / 6.5)

    def test_an_ending_ends_it_and_an_impossible_move_stops_it(self):
        moves = [Move("exit", "a", "x"), Move("exit", "b", "y"), Move("exit", "c", "end")]
        self.assertEqual(pace_of(Rules(line()), moves).ending, "won")
        self.assertEqual(len(pace_of(Rules(line()), [Move("exit", "c", "end")]).stays), 1)
        self.assertEqual(pace_of(Rules(flow()), []).minutes, 0)

    def test_the_fullest_walk_sees_all_and_ends(self):
        survey = survey_flow(read_flow(DEMO / "tidewick.mossy"))
        walk = widest_walk(survey)
        self.assertIsInstance(final_state(survey.rules, [str(move) for move in walk]), Ended)
        pace = pace_of(survey.rules, walk)
        played = {level.id for level in survey.flow.levels if level.kind == "play"}
        self.assertEqual(played - {stay.level for stay in pace.stays}, set())


if __name__ == "__main__":
    unittest.main()

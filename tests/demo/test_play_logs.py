"""The made-up play-tests of the demo."""

import json
import unittest
from collections import Counter

from mossy_bridge.demo.play_logs import SESSIONS, made_up_log
from mossy_bridge.demo.showing import demo_flow
from mossy_bridge.play_logs.explaining import Explainer
from mossy_bridge.play_logs.reading import sessions_of


class MadeUpLog(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.flow = demo_flow()
        cls.events = list(made_up_log(cls.flow))
        explainer = Explainer(cls.flow)
        lines = [json.dumps(event).encode() for event in cls.events]
        cls.explained = [explainer.explain(session) for session in sessions_of("log", lines)]

    def test_the_flow_explains_all_but_two_sessions(self):
        self.assertEqual(Counter(one.answer for one in self.explained), {"yes": SESSIONS - 2, "no": 2})

    def test_what_the_two_did_that_cannot_be(self):
        first = {one.impossible[0].event.kind: one.impossible[0] for one in self.explained if one.impossible}
        self.assertEqual(set(first), {"arrive", "exit"})
        self.assertIn("was expected", first["arrive"].why)
        self.assertIn("needs ", first["exit"].why)

    def test_some_get_to_an_ending_and_some_do_not(self):
        ended = sum(event["event"] == "ending" for event in self.events)
        self.assertTrue(0 < ended < SESSIONS, ended)

    def test_builds_and_players_differ(self):
        begun = [event for event in self.events if event["event"] == "begin"]
        self.assertEqual(Counter(one["build"] for one in begun), {"0.7": 20, "0.8": 20})
        self.assertEqual(len({one["session"] for one in begun}), SESSIONS)
        self.assertGreater(len({one["player"] for one in begun}), 5)

    def test_the_same_seed_makes_the_same_log(self):
        again = list(made_up_log(self.flow, sessions=3))
        self.assertEqual(again, list(made_up_log(self.flow, sessions=3)))
        self.assertNotEqual(again, list(made_up_log(self.flow, seed=8, sessions=3)))


if __name__ == "__main__":
    unittest.main()

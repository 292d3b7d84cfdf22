"""What can be missed, with shortest routes for all things in one search: against the plain reference, and by hand."""

import os
import unittest

import numpy as np

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import deed, flow, play_level, way
from tests.support.plain import Plain
from tests.support.random_flows import MAKERS

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 7


def named(thing):
    return ".".join(thing) if isinstance(thing, tuple) else thing


class AgainstPlain(unittest.TestCase):
    def test_routes_are_shortest(self):
        compared = 0
        for seed in range(40_000, 40_000 + EXAMPLES):
            for maker in MAKERS:
                flow_ = maker(seed)
                plain = Plain(flow_, most=600)
                if plain.too_large or Rules(flow_).begin() is None:
                    continue
                survey, missed = survey_flow(flow_), plain.missed()
                if not survey.settled:
                    continue
                with self.subTest(maker=maker.__name__, seed=seed):
                    self.assertEqual({named(thing) for thing in survey.losses}, set(missed))
                    for thing, loss in survey.losses.items():
                        route, states = loss.trace(), missed[named(thing)]
                        self.assertIn(plain.followed(route), states)
                        self.assertEqual(len(route), min(map(plain.depth, states)))
                        self.assertEqual(loss.left, route[-1].level if route else "")
                        compared += 1
        self.assertGreater(compared, EXAMPLES)


class ByHand(unittest.TestCase):
    def test_a_new_run_opens_what_was_closed(self):
        survey = survey_flow(flow(
            play_level("title", way("begin", "shore")),
            play_level("shore", way("again", "dock", fresh=True), way("end", "won")),
            play_level("dock", way("end", "won")),
        ))  # fmt: skip
        routes = {thing: list(map(str, loss.trace())) for thing, loss in survey.losses.items()}
        into_new_run = ["exit title.begin", "exit shore.again"]
        self.assertEqual(routes, {"title": into_new_run, "shore": into_new_run, "dock": []})

    def test_many_things_at_once(self):
        """More things than a machine word has bits, each lost by going on."""
        names = [f"l{number}" for number in range(100)]
        levels = [
            play_level(name, way("on", after), deeds=[deed("coin")])
            for name, after in zip(names, [*names[1:], "won"], strict=True)
        ]
        survey = survey_flow(flow(*levels))
        self.assertEqual(set(survey.losses), {(name, "coin") for name in names[:-1]})
        lengths = [len(survey.losses[name, "coin"].trace()) for name in names[:-1]]
        np.testing.assert_array_equal(lengths, np.arange(1, 100))


if __name__ == "__main__":
    unittest.main()

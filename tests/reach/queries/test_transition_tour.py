"""Tours: everything that can be used is used, every walk replays, and the bound is a bound."""

import csv
import unittest
from io import StringIO
from pathlib import Path

import mossy_bridge
from mossy_bridge.checks.reports.tour_report import tour_csv, tour_lines, tour_markdown, tour_text, tour_values
from mossy_bridge.exchange.reading import read_flow
from mossy_bridge.play.replay import final_state
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.queries.transition_tour import transition_tour
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import deed, flow, play_level, way
from tests.support.random_flows import random_flow

DEMO = Path(mossy_bridge.__file__).parent / "demo"


def usable(survey):
    """How many things can be used."""
    groups = (survey.exits, survey.deeds, survey.tiles, survey.paths)
    return sum(verdict.answer == "yes" for group in groups for verdict in group.values())


class Tours(unittest.TestCase):
    def check(self, flow_, **survey_fields):
        survey = survey_flow(flow_, **survey_fields)
        tour = transition_tour(survey)
        self.assertEqual(tour.things, usable(survey))
        self.assertEqual(sum(bool(stop.first) for walk in tour.walks for stop in walk), tour.things)
        for walk in tour.walks:
            self.assertIsNotNone(final_state(Rules(flow_), [str(stop.move) for stop in walk]))
        self.assertGreaterEqual(tour.moves, tour.least)
        return tour

    def test_the_demo_is_toured_within_half_more_than_the_bound(self):
        tour = self.check(read_flow(DEMO / "tidewick.mossy"))
        self.assertLessEqual(tour.moves, 1.5 * tour.least)
        self.assertLessEqual(len(tour.walks), 4)

    def test_by_hand_no_fewer_moves_are_possible(self):
        f = flow(play_level("a", way("x", "b"), way("end", "won"), deeds=[deed("d", "gain f")]),
                 play_level("b", way("y", "a", opens="has f"), way("z", "a")), facts=("f",))  # fmt: skip
        tour = self.check(f)
        self.assertEqual((tour.moves, tour.things, tour.least), (6, 5, 6))
        self.assertLessEqual(len(tour.walks), 2)

    def test_random_flows(self):
        toured_ = 0
        for seed in range(120):
            with self.subTest(seed=seed):
                toured_ += bool(self.check(random_flow(seed)).walks)
        self.assertGreater(toured_, 80)

    def test_where_states_are_too_many_the_routes_of_the_survey_serve(self):
        facts = tuple(f"f{i}" for i in range(16))
        turns = [deed(f"d{i}", f"gain f{i}", when=f"lacks f{i}", repeats="always") for i in range(16)]
        turns += [deed(f"u{i}", f"lose f{i}", when=f"has f{i}", repeats="always") for i in range(16)]
        tour = self.check(flow(play_level("a", way("x", "won", opens="has f0"), deeds=turns), facts=facts))
        self.assertEqual(tour.things, 33)

    def test_nothing_to_use_is_no_tour(self):
        self.assertEqual(self.check(flow()).walks, ())


class Reports(unittest.TestCase):
    def setUp(self):
        f = flow(play_level("a", way("x", "b", name="Gate | *arch*"), deeds=[deed("d", "add 2 oil")]),
                 play_level("b", way("y", "won")), facts=("oil:5",))  # fmt: skip
        self.survey = survey_flow(f)
        self.tour = transition_tour(self.survey)

    def test_each_step_says_where_one_should_be_and_what_has_changed(self):
        lines = [(line.do, line.place, line.facts) for line in tour_lines(self.survey.rules, self.tour)]
        self.assertEqual(lines, [("a: d", "a, p", "oil 2"), ("a: Gate | *arch*", "b, p", ""),
                                 ("b: y", "the end: won", "")])  # fmt: skip

    def test_every_form_holds_every_step(self):
        rules = self.survey.rules
        table = list(csv.DictReader(StringIO(tour_csv(rules, self.tour))))
        self.assertEqual([transition["move"] for transition in table], ["deed a.d", "exit a.x", "exit b.y"])
        self.assertEqual(table[1]["do"], "a: Gate | *arch*")
        values = tour_values(rules, self.tour)
        self.assertEqual((values["moves"], values["least"], len(values["walks"][0])), (3, 3, 3))
        markdown = "\n".join(tour_markdown(rules, self.tour))
        self.assertIn("- [ ] 2. **a: Gate \\| \\*arch\\*** → b, p", markdown)
        self.assertEqual(sum(line.startswith("   ") for line in tour_text(rules, self.tour)), 3)


if __name__ == "__main__":
    unittest.main()

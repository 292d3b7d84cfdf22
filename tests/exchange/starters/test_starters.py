"""The flows to begin with are sound, and written as the program writes."""

import unittest

from mossy_bridge.appraisal.appraise import appraise
from mossy_bridge.checks.verdict import verdict_mark, verdict_sentence
from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.exchange.starters.starters import HERE, STARTERS, starting_flow
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.survey.budget import Budget


class Starters(unittest.TestCase):
    def test_each_is_proven_sound_and_nothing_at_all_is_found_in_it(self):
        for starter in STARTERS[:-1]:
            with self.subTest(starter.title):
                found = appraise(starting_flow(starter, ""), budget=Budget(20))
                self.assertEqual([one.message for one in found.findings], [])
                self.assertEqual(verdict_mark(found.survey, found.findings), "sound")
                self.assertRegex(
                    verdict_sentence(found.survey, found.findings),
                    r"^All \d+ levels reached, the ending reachable, nobody gets stuck — proven$",
                )

    def test_one_of_them_with_a_way_broken_is_not_sound(self):
        flow = starting_flow(STARTERS[0], "")
        broken = flow_from_bytes(flow_bytes(flow).replace(b'"kind": "next"', b'"kind": "again"'))
        found = appraise(broken, budget=Budget(20))
        self.assertEqual(verdict_mark(found.survey, found.findings), "broken")

    def test_each_file_belongs_to_one_and_is_written_canonically(self):
        self.assertEqual({file.stem for file in HERE.glob("*.mossy")}, {starter.name for starter in STARTERS[:-1]})
        for file in HERE.glob("*.mossy"):
            self.assertEqual(flow_bytes(flow_from_bytes(file.read_bytes())), file.read_bytes())

    def test_a_flow_has_the_title_that_is_given_or_that_of_its_kind(self):
        self.assertEqual(starting_flow(STARTERS[0], "Mine").title, "Mine")
        self.assertEqual(starting_flow(STARTERS[0], "").title, "A line of levels")
        self.assertEqual(starting_flow(STARTERS[-1], "Mine"), Flow(title="Mine"))


if __name__ == "__main__":
    unittest.main()

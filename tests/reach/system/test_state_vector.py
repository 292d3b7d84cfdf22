"""Layouts of state vectors make no difference to verdicts."""

import os
import unittest

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.limits import Limits
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.system.program_graph import ProgramGraph
from tests.support.random_flows import gathering_flow, growing_flow, random_flow

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 7


def flows(count):
    for seed in range(count):
        yield random_flow(seed)
        yield growing_flow(seed)
        yield gathering_flow(seed)


class ShortWords(unittest.TestCase):
    def said(self, flow_, short_vector):
        survey = survey_flow(flow_, limits=Limits(short_vector=short_vector))
        groups = (survey.levels, survey.exits, survey.deeds, survey.tiles, survey.paths, survey.endings)
        answers = [{place: (v.answer, len(v.route)) for place, v in group.items()} for group in groups]
        kept = {name: (kept.holds, kept.route and len(kept.route)) for name, kept in survey.promises.items()}
        return answers, survey.crossings, survey.stuck.answer, survey.loops.answer, survey.missed, kept

    def test_choices_in_binary_make_no_difference(self):
        shorter = 0
        for flow_ in flows(EXAMPLES // 2):
            layout = ProgramGraph(Rules(flow_)).layout
            used = layout.width * 64 - layout.spare
            short = ProgramGraph(Rules(flow_), limits=Limits(short_vector=used - 1)).layout
            if any(field.coding == "binary" for field in short.facts.values()):
                shorter += 1
                self.assertLess(short.width * 64 - short.spare, used)
                self.assertEqual(self.said(flow_, 64), self.said(flow_, used - 1))
        self.assertGreater(shorter, EXAMPLES // 4)


if __name__ == "__main__":
    unittest.main()

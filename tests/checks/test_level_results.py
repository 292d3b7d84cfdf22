"""After an edit checks look only at the levels it touches, and find what they would find anew."""

import unittest
from random import Random

from msgspec.structs import replace

from mossy_bridge.appraisal.appraise import appraise
from mossy_bridge.checks.level_results import LevelResults
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import order as ordering
from mossy_bridge.model.flow import Walker
from mossy_bridge.reach.survey.budget import Budget
from tests.support import build
from tests.support.build import play_level, screen, way
from tests.support.edited_flows import edited
from tests.support.faulty_flows import faulty_flow


def told(appraisal):
    return [
        (one.check, one.severity, one.at, one.message, one.repair and one.repair.label) for one in appraisal.findings
    ]


class Results(unittest.TestCase):
    def test_as_if_found_anew(self):
        for seed in range(25):
            pick, flow = Random(seed), faulty_flow(seed)
            kept = appraise(flow, budget=Budget(30.0))
            for _ in range(6):
                flow = edited(flow, pick)
                kept = appraise(flow, budget=Budget(30.0), before=kept)
                with self.subTest(seed=seed):
                    self.assertEqual(told(kept), told(appraise(flow, budget=Budget(30.0))))

    def looked_at(self, scope, after, before, again=False):
        """The levels looked at in a flow, of which the first time ``l2`` had something to say."""
        looked = []

        def look(levels):
            looked.extend(level.id for level in levels)
            return [("l2", "odd")] if "l2" in looked else []

        first = LevelResults(before)
        first.of("some", look, scope, again)
        looked.clear()
        kept = LevelResults(after, first)
        self.assertEqual(kept.of("some", look, scope, again), {"l2": ["odd"]})
        self.assertIs(kept.of("some", look, scope, again), kept.of("some", look, scope, again))
        return looked

    def test_only_what_an_edit_touches_is_looked_at(self):
        line = [play_level(f"l{number}", way("on", f"l{number + 1}")) for number in range(6)]
        flow = build.flow(*line, play_level("l6", way("on", "won")), screen("menu", way("on", "l0")))
        everyone = [level.id for level in flow.levels]
        renamed = edits.set_level(flow, "l4", name="Quay")
        walker = replace(flow, walker=Walker(speed=1.0))
        longer, _ = edits.add_level(flow, "Quay", after="l4")
        for scope, again, after, looked in (
            ("level", False, renamed, ["l4"]),
            ("level", False, walker, everyone),
            ("level", False, replace(flow, title="Marsh"), []),
            ("beside", False, replace(flow, title="Marsh"), everyone),
            ("beside", False, renamed, ["l3", "l4", "l5"]),
            ("beside", True, renamed, ["l2", "l3", "l4", "l5", "menu"]),
            ("beside", False, longer, ["l4", longer.levels[5].id, "l5"]),
            ("beside", False, edits.remove_levels(flow, ["l5"]), ["l4", "l6"]),
            ("beside", False, ordering.move_levels(flow, ["l5"], "l1"), [*everyone[:1], "l5", *everyone[1:5], "l6", "menu"]),
        ):  # fmt: skip
            with self.subTest(scope=scope, again=again, looked=looked):
                self.assertEqual(self.looked_at(scope, after, flow, again), looked)


if __name__ == "__main__":
    unittest.main()

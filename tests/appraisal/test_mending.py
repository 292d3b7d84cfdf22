"""Every repair that any check offers, on many faulty flows: its finding goes, and nothing new comes."""

import os
import unittest
from collections import Counter

from mossy_bridge.appraisal.appraise import appraise
from mossy_bridge.appraisal.grouping import key_of
from mossy_bridge.appraisal.mending import attempt, mend
from mossy_bridge.checks.finding import Finding, Repair
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.reach.survey.budget import Budget
from tests.support.build import flow, play_level, way
from tests.support.faulty_flows import faulty_flow, sound_flow

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 6


def appraised(flow_, before=None):
    return appraise(flow_, budget=Budget(30.0), before=before)


class EveryRepair(unittest.TestCase):
    def test_mends_and_plants_nothing(self):
        tried = Counter()
        for seed in range(EXAMPLES):
            flow_ = faulty_flow(seed)
            before, written = appraised(flow_), flow_bytes(flow_)
            for finding in before.findings:
                if finding.repair is None or finding.waived:
                    continue
                with self.subTest(seed=seed, check=finding.check, at=finding.at, repair=finding.repair.label):
                    after, objection = attempt(before, finding, lambda changed, now=before: appraised(changed, now))
                    self.assertEqual(objection, "")
                    self.assertNotEqual(flow_bytes(after.flow), written)
                    self.assertEqual(flow_bytes(flow_), written)
                    tried[finding.check] += 1
        self.assertGreater(sum(tried.values()), 3 * EXAMPLES)
        self.assertGreater(len(tried), 20)

    def test_sound_flows_are_not_flagged(self):
        for seed in range(100):
            told = [(f.check, f.at) for f in appraised(sound_flow(seed)).findings if f.severity != "hint"]
            self.assertEqual(told, [], seed)


class Mending(unittest.TestCase):
    def budget(self):
        return Budget(30.0)

    def test_one_after_the_other(self):
        flow_ = faulty_flow(3)
        found = mend(flow_, budget=self.budget)
        left = {key_of(f) for f in appraised(found.flow).findings if f.repair}
        undone = {key_of(one.finding) for one in found.attempts if one.objection}
        self.assertLessEqual(left, undone)
        self.assertTrue(any(not one.objection for one in found.attempts))

    def test_why_a_repair_is_left_undone(self):
        flow_ = flow(play_level("a", way("on", "b"), way("end", "won")), play_level("b", way("back", "a")))
        before = appraised(flow_)

        def told(edit, check="stuck", at=("a",)):
            finding = Finding(check, "error", at, "", "", repair=Repair("", edit))
            return attempt(before, finding, lambda changed: appraised(changed, before))

        after, objection = told(lambda now: edits.set_exit(now, "a", "end", to=None))
        self.assertIsNone(after)
        self.assertIn("would bring something new: ", objection)
        after, objection = told(lambda now: edits.set_exit(now, "nowhere", "end", to=None))
        self.assertIsNone(after)
        self.assertIn("there is no level “nowhere” any more", objection)
        after, objection = told(lambda now: edits.set_level(now, "a", name="Quay"))
        self.assertEqual((after.flow.level("a").name, objection), ("Quay", ""))
        only_planned = faulty_flow(3)
        finding = next(f for f in appraised(only_planned).findings if f.repair)
        idle = Finding(finding.check, "error", finding.at, "", "", repair=Repair("", lambda now: now))
        self.assertEqual(attempt(appraised(only_planned), idle, appraised), (None, "it would not mend this"))

    def test_only_some(self):
        flow_ = faulty_flow(3)
        checks = {f.check for f in appraised(flow_).findings if f.repair}
        chosen = sorted(checks)[0]
        found = mend(flow_, budget=self.budget, only=[chosen])
        self.assertEqual({one.finding.check for one in found.attempts}, {chosen})
        place = next(f.at[0] for f in appraised(flow_).findings if f.repair)
        found = mend(flow_, budget=self.budget, at=place)
        self.assertTrue(all(place in one.finding.at for one in found.attempts))


if __name__ == "__main__":
    unittest.main()

"""An appraisal: survey, checks and verdict in one."""

import unittest
from pathlib import Path

from msgspec.structs import replace

from mossy_bridge.appraisal.appraise import Appraisal, appraise, default_budget, only_layout_differs
from mossy_bridge.exchange.readers.rules import contents_of
from mossy_bridge.model.edits.levels import set_level
from mossy_bridge.reach.queries.crossing_columns import crossing_columns
from mossy_bridge.reach.survey.budget import Budget, Cancelled
from tests.support.build import deed, flow, play_level, way


def line(**fields):
    """Three levels one after the other, the last of which ends the game; one that nothing leads to."""
    return flow(play_level("a", way("on", "b"), deeds=[deed("d", "gain key")]), play_level("b", way("on", "c")),
                play_level("c", way("win", "won"), opens="has key"), play_level("lost", way("x", "a")),
                facts=("key",), **fields)  # fmt: skip


def appraised(f, **more):
    return appraise(f, budget=default_budget(f), **more)


def said(findings):
    return [(one.check, one.severity, one.at, one.message, one.waived) for one in findings]


class Appraising(unittest.TestCase):
    def test_it_has_verdict_findings_and_columns(self):
        f = line()
        found = appraised(f)
        checks = [finding.check for finding in found.findings]
        self.assertEqual({"level-unreachable", "stuck"} & set(checks), {"level-unreachable", "stuck"})
        ranks = [("error", "warning", "hint").index(finding.severity) for finding in found.findings]
        self.assertEqual(ranks, sorted(ranks))
        self.assertEqual(found.judgement.mark, "broken")
        self.assertEqual(found.columns, crossing_columns(found.survey.flow, {"a": 0, "b": 1, "c": 2}, {}))
        self.assertEqual(found.levels_led_to["a", "on"], {"b"})

    def test_the_judgement_is_told_once_and_before_the_rest(self):
        told = []
        found = appraised(line(), tell=told.append)
        self.assertEqual(told, [found.judgement])

    def test_only_the_checks_that_are_named_are_run(self):
        found = appraised(line(), only=["level-unreachable"])
        self.assertEqual({finding.check for finding in found.findings}, {"level-unreachable"})

    def test_where_only_files_changed_the_rest_is_kept_and_nothing_is_missed(self):
        gate = {"makes": "exit", "each": "^gate (?P<n>.+)$", "take": {"id": "n"}}
        f = line(readers=[{"id": "maps", "files": "*.map", "form": "text", "rules": [gate]}],
                 waivers=[{"check": "file-has-more", "at": "a", "why": "later"}])  # fmt: skip
        f = set_level(f, "a", file="a.map")
        before = appraised(f, folder=Path("/nowhere"))
        for text in ("gate on", "gate on\ngate off", "", "gate on"):
            files = {"a.map": contents_of(text.encode(), f.readers)}
            again = appraised(f, folder=Path("/nowhere"), before=before, level_files=files)
            anew = appraised(f, folder=Path("/nowhere"), level_files=files)
            self.assertIs(again.survey, before.survey)
            for one in ("findings", "judgement", "columns", "levels_led_to"):
                told, wanted = getattr(again, one), getattr(anew, one)
                self.assertEqual(
                    said(told) if one == "findings" else told, said(wanted) if one == "findings" else wanted
                )
            before = again

    def test_what_is_accepted_is_not_open(self):
        f = line(waivers=[{"check": "level-unreachable", "at": "lost", "why": "kept for later"}])
        found = appraised(f)
        self.assertIn("level-unreachable", [finding.check for finding in found.findings])
        self.assertNotIn("level-unreachable", [finding.check for finding in found.open_findings()])

    def test_it_stops_when_nobody_wants_it_any_more(self):
        asked = []
        with self.assertRaises(Cancelled):
            appraise(line(), budget=Budget(10, lambda: bool(asked.append(1)) or len(asked) > 3))

    def test_an_earlier_survey_is_used_again_and_left_as_it_was(self):
        f = line()
        before = appraised(f)
        levels, stuck = dict(before.survey.levels), before.survey.stuck
        renamed = set_level(f, "b", name="The Flats")
        after = appraised(renamed, before=before)
        self.assertIs(after.survey.graph, before.survey.graph)
        self.assertIs(after.survey.flow.level("b"), renamed.level("b"))
        self.assertEqual((dict(before.survey.levels), before.survey.stuck), (levels, stuck))

    def test_a_moved_card_changes_nothing_that_is_known(self):
        f = line()
        found = appraised(f)
        columns = found.columns
        moved = replace(f, map={"a": (3, 4)})
        self.assertTrue(only_layout_differs(f, moved))
        self.assertFalse(only_layout_differs(f, set_level(moved, "a", name="A")))
        self.assertFalse(only_layout_differs(f, f))
        again = found.for_flow(moved)
        self.assertIsInstance(again, Appraisal)
        self.assertEqual((again.flow, again.survey, again.findings), (moved, found.survey, found.findings))
        self.assertIs(again.columns, columns)

    def test_the_budget_grows_with_the_flow(self):
        f = line()
        many = replace(f, levels=f.levels * 500)
        self.assertGreater(default_budget(many).seconds, default_budget(f).seconds)


if __name__ == "__main__":
    unittest.main()

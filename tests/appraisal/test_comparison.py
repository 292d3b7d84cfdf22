"""Two versions compared: verdicts, findings, where exits lead now, and how it is told."""

import unittest

from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.appraisal.comparison import compare
from mossy_bridge.appraisal.comparison_report import comparison_markdown, comparison_text, comparison_values
from mossy_bridge.model.edits.levels import set_exit, set_level
from mossy_bridge.model.edits.order import move_levels
from tests.support.build import deed, flow, play_level, screen, way


def marsh():
    return flow(
        screen("title", way("new", "a", fresh=True)),
        play_level("a", way("on", {"kind": "next"}), deeds=[deed("dig", "gain key")]),
        play_level("b", way("on", "won", opens="has key"), way("back", "a")), play_level("c", way("on", "b")), facts=["key"],
    )  # fmt: skip


def compared(old, new):
    return compare(*(appraise(one, budget=default_budget(one)) for one in (old, new)))


class Compared(unittest.TestCase):
    def test_nothing_differs(self):
        found = compared(marsh(), marsh())
        self.assertEqual(
            (found.changes, found.came, found.went, found.verdicts, found.leads, found.loses),
            ((), (), (), (), (), False),
        )
        self.assertTrue(all(game.resumes == "yes" for game in found.saved_games))
        self.assertEqual(list(comparison_text(found)), ["Nothing differs."])
        self.assertEqual(list(comparison_markdown(found))[-1], "Nothing differs.")

    def test_what_is_lost(self):
        found = compared(marsh(), set_exit(marsh(), "b", "on", opens="never"))
        told = {one.at: (one.old, one.new) for one in found.verdicts}
        self.assertEqual(told["ending won"], ("yes", "no"))
        self.assertTrue(found.loses)
        self.assertIn("exit-never-opens", {one.check for one in found.came})
        text = "\n".join(comparison_text(found))
        self.assertIn("  b: on: the condition to open “never” instead of “has key”", text)
        self.assertIn("  won: not reachable, was reachable", text)
        back = compared(set_exit(marsh(), "b", "on", opens="never"), marsh())
        self.assertFalse(back.loses)
        self.assertIn("exit-never-opens", {one.check for one in back.went})

    def test_where_the_order_now_leads(self):
        found = compared(marsh(), move_levels(marsh(), ["c"], "b"))
        self.assertEqual([(one.exit, one.old, one.new) for one in found.leads], [("a.on", "b", "c")])
        self.assertEqual([one.change.kind for one in found.changes], ["moved"])
        self.assertIn("exit a.on leads to c instead of b", "\n".join(comparison_markdown(found)))

    def test_a_level_that_does_not_ship(self):
        found = compared(marsh(), set_level(marsh(), "b", ships=False))
        games = {(one.level, one.resumes, one.why) for one in found.saved_games}
        self.assertEqual(games, {("a", "yes", ""), ("b", "no", "does not ship")})
        values = comparison_values(found)
        self.assertEqual(values["saved_games"][1]["route"], ["exit title.new", "exit a.on"])
        self.assertEqual(values["changes"], [{"kind": "changed", "at": "levels.b.ships", "old": None, "new": False,
                                              "words": "b: shipping no instead of yes"}])  # fmt: skip


if __name__ == "__main__":
    unittest.main()

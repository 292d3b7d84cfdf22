"""Columns of the map, and where dependent exits really lead."""

import unittest

from mossy_bridge.reach.queries.crossing_columns import crossing_columns, levels_led_to
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import board, flow, play_level, screen, way


class ColumnsTest(unittest.TestCase):
    def test_levels_stand_by_their_crossings_and_the_others_on_the_shelf(self):
        f = flow(
            screen("title", way("go", "a")),
            play_level("c", way("x", "won")),
            play_level("a", way("x", "b"), way("m", "m")),
            play_level("alone", way("x", "a")),
            play_level("b", way("x", "c")),
            board("m", {"id": "t", "level": "c"}),
        )
        placed = crossing_columns(f, survey_flow(f).crossings)
        self.assertEqual(placed.columns, (("title",), ("a",), ("b", "m"), ("c",)))
        self.assertEqual(placed.shelf, ("alone",))

    def test_forced_exits_and_tiles_are_crossings(self):
        f = flow(screen("s", way("x", "a", trigger={"kind": "auto"})), play_level("a", way("x", "won")))
        self.assertEqual(survey_flow(f).crossings, {"s": 0, "a": 1})

    def test_a_dependent_exit_leads_where_it_really_does(self):
        f = flow(
            play_level("a", way("x", "s")),
            play_level("b", way("x", "s")),
            screen("s", way("on", {"kind": "next"}), way("back", {"kind": "back"})),
        )
        leads = levels_led_to(survey_flow(f))
        self.assertEqual(leads["s", "on"], {"b"})
        self.assertEqual(leads["s", "back"], {"a", "b"})


class Promises(unittest.TestCase):
    def kept(self, **promise):
        f = flow(
            play_level("a", way("long", "b"), way("drop", "pit"), way("short", "goal", opens="has key"), deeds=[{"id": "d", "effects": ["gain key"]}]),
            play_level("b", way("x", "goal"), way("back", "a")),
            play_level("goal", way("x", "won")),
            play_level("pit"),
            facts=["key"],
            promises=[{"id": "p", **promise}],
        )  # fmt: skip
        kept = survey_flow(f).promises["p"]
        return kept.holds, None if kept.route is None else [str(move) for move in kept.route]

    def test_can_and_within(self):
        self.assertEqual(self.kept(kind="can", level="goal", when="lacks key"), ("yes", ["exit a.long", "exit b.x"]))
        self.assertEqual(self.kept(kind="can", level="goal", avoiding=["b"]), ("yes", ["deed a.d", "exit a.short"]))
        self.assertEqual(self.kept(kind="can", level="goal", avoiding=["a"]), ("no", None))
        self.assertEqual(self.kept(kind="within", level="goal", crossings=1), ("yes", ["deed a.d", "exit a.short"]))
        self.assertEqual(self.kept(kind="within", level="goal", crossings=0), ("no", None))
        self.assertEqual(self.kept(kind="can", ending="won", when="lacks key")[0], "yes")
        self.assertEqual(self.kept(kind="can"), ("no", None))

    def test_never_and_always_can(self):
        self.assertEqual(self.kept(kind="never", level="pit", when="has key"), ("no", ["deed a.d", "exit a.drop"]))
        self.assertEqual(self.kept(kind="never", level="nowhere"), ("yes", None))
        self.assertEqual(self.kept(kind="always_can", ending="won"), ("no", ["exit a.drop"]))
        self.assertEqual(self.kept(kind="always_can", level="pit")[0], "no")


if __name__ == "__main__":
    unittest.main()

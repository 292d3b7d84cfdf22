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


if __name__ == "__main__":
    unittest.main()

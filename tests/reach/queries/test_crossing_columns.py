"""Columns of the map, and where dependent exits really lead."""

import unittest
from itertools import combinations, pairwise
from random import Random

from mossy_bridge.reach.queries.column_order import ordered
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
        placed = crossing_columns(f, survey_flow(f).crossings, {})
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


class OrderTest(unittest.TestCase):
    def test_two_lines_that_would_cross_do_not(self):
        self.assertEqual(ordered([["a", "b"], ["c", "d"]], [("a", "d"), ("b", "c")]).columns, (("a", "b"), ("d", "c")))

    def test_an_order_without_crossings_stays_the_designers(self):
        columns = [["s"], ["b", "a", "c"], ["t"]]
        lines = [("s", level) for level in "abc"] + [(level, "t") for level in "abc"]
        self.assertEqual(ordered(columns, lines).columns, (("s",), ("b", "a", "c"), ("t",)))

    def test_a_line_over_a_column_between_has_a_place_there(self):
        """a-x and b-y pass the middle column; only with x above y do none of the three cross."""
        columns = [["a", "m", "b"], ["n"], ["y", "z", "x"]]
        found = ordered(columns, [("a", "x"), ("m", "n"), ("n", "z"), ("b", "y")])
        self.assertEqual(found.columns[2], ("x", "z", "y"))
        self.assertEqual([one.above for one in found.passes["a", "x"] + found.passes["b", "y"]], [0, 1])

    def test_a_line_within_a_column_runs_where_fewer_are_in_its_way(self):
        columns = [["s"], ["a", "b", "c"], ["t"]]
        for beside, left in (("t", True), ("s", False)):
            found = ordered(columns, [("a", "c"), ("b", beside)])
            self.assertEqual(("c", "a") in found.turns_left, left, beside)

    def test_of_any_flow_no_more_lines_cross_than_in_the_designers_order(self):
        for seed in range(60):
            pick = Random(seed)
            columns = [[f"{column}_{row}" for row in range(pick.randint(1, 5))] for column in range(pick.randint(2, 5))]
            levels = [level for column in columns for level in column]
            pairs = [(a, b) for left, right in pairwise(columns) for a in left for b in right]
            lines = [pick.choice(pairs) for _ in levels]
            found = ordered(columns, lines).columns
            self.assertEqual([sorted(one) for one in found], [sorted(one) for one in columns])
            self.assertLessEqual(straight_crossings(found, lines), straight_crossings(columns, lines), seed)


def straight_crossings(columns, lines):
    """How often straight lines between neighbouring columns cross, counted pair by pair."""
    at = {level: (x, y) for x, column in enumerate(columns) for y, level in enumerate(column)}
    ends = {(at[a], at[b]) for a, b in lines}
    return sum(
        one[0] == three[0] and (one[1] - three[1]) * (two[1] - four[1]) < 0
        for (one, two), (three, four) in combinations(ends, 2)
    )


if __name__ == "__main__":
    unittest.main()

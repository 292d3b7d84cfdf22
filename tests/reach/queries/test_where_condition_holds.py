"""Where a condition holds, asked while it is written."""

import unittest

from mossy_bridge.reach.queries.where_condition_holds import sentences_about
from mossy_bridge.reach.queries.where_condition_holds import where_condition_holds as ask
from mossy_bridge.reach.survey.budget import Budget
from tests.support.build import deed, flow, play_level, way


def marsh():
    return flow(
        play_level("a", way("x", "b", opens="at least 2 oil"), deeds=[deed("d", "add 1 oil", repeats="always")]),
        play_level("b", way("y", "won", opens="at least 2 oil")),
        play_level("c", way("z", "a")),
        facts=("oil:5", "rope"),
    )


def where(condition, level):
    """Where a condition holds in the marsh."""
    return ask(marsh(), condition, level, Budget(5))


class WhereItHolds(unittest.TestCase):
    def test_where_it_holds_and_the_shortest_route_there(self):
        found = where("at least 3 oil", "a")
        self.assertEqual((found.levels, found.reached, found.here), (("a", "b"), 2, "sometimes"))
        self.assertEqual(([str(move) for move in found.route], found.complete), (["deed a.d"] * 3, True))
        self.assertEqual(where("at least 3 oil", "b").route[-1].thing, "x")

    def test_always_never_and_how_often_it_is_asked(self):
        self.assertEqual(where("at least 2 oil", "b").here, "always")
        found = where("has rope", "a")
        self.assertEqual((found.here, found.levels, found.route), ("never", (), None))
        self.assertEqual(where("at least 2 oil", "a").asked, 2)
        self.assertEqual(where("lacks rope", "c").here, "")

    def test_it_is_told_sentences_about(self):
        told = " ".join(sentences_about(where("at least 2 oil", "b"), "Bell Sands"))
        self.assertEqual(
            told, "Always holds in Bell Sands. It can hold in 2 of 2 levels. Asked in 2 places of the flow."
        )
        self.assertIn("nowhere in play", " ".join(sentences_about(where("has rope", ""), "")))


if __name__ == "__main__":
    unittest.main()

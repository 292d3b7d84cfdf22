"""Where a condition holds, asked while it is written."""

import unittest

from mossy_bridge.reach.holding import holding, told_holding
from tests.support.build import deed, flow, play_level, way


def marsh():
    return flow(
        play_level("a", way("x", "b", opens="at least 2 oil"), deeds=[deed("d", "add 1 oil", repeats="always")]),
        play_level("b", way("y", "won", opens="at least 2 oil")),
        play_level("c", way("z", "a")),
        facts=("oil:5", "rope"),
    )


class Holdings(unittest.TestCase):
    def test_where_it_holds_and_the_shortest_route_there(self):
        found = holding(marsh(), "at least 3 oil", "a", 5)
        self.assertEqual((found.levels, found.reached, found.here), (("a", "b"), 2, "sometimes"))
        self.assertEqual(([str(move) for move in found.route], found.complete), (["deed a.d"] * 3, True))
        self.assertEqual(holding(marsh(), "at least 3 oil", "b", 5).route[-1].thing, "x")

    def test_always_never_and_how_often_it_is_asked(self):
        self.assertEqual(holding(marsh(), "at least 2 oil", "b", 5).here, "always")
        found = holding(marsh(), "has rope", "a", 5)
        self.assertEqual((found.here, found.levels, found.route), ("never", (), None))
        self.assertEqual(holding(marsh(), "at least 2 oil", "a", 5).asked, 2)
        self.assertEqual(holding(marsh(), "lacks rope", "c", 5).here, "")

    def test_it_is_told_in_words(self):
        told = " ".join(told_holding(holding(marsh(), "at least 2 oil", "b", 5), "Bell Sands"))
        self.assertEqual(
            told, "Always holds in Bell Sands. It can hold in 2 of 2 levels. Asked in 2 places of the flow."
        )
        self.assertIn("nowhere in play", " ".join(told_holding(holding(marsh(), "has rope", "", 5), "")))


if __name__ == "__main__":
    unittest.main()

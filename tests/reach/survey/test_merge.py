"""How the answers of stages are put together."""

import unittest

from mossy_bridge.reach.explicit.promises import PromiseVerdict
from mossy_bridge.reach.survey.merge import merge
from mossy_bridge.reach.survey.result import Answers
from mossy_bridge.reach.survey.verdicts import NO, UNKNOWN, Verdict
from mossy_bridge.reach.system.routes import SomeRoute


def yes(*moves, shortest=True):
    return Verdict("yes", lambda: tuple(moves) if shortest else SomeRoute(moves))


class Merging(unittest.TestCase):
    def test_only_what_is_unknown_is_filled(self):
        first = Answers(levels={"a": yes("x"), "c": NO})
        second = Answers(levels={"a": NO, "b": NO, "c": yes("y"), "d": yes("z")})
        merged = merge(first, second)
        self.assertEqual(
            {n: v.answer for n, v in merged.levels.items()}, {"a": "yes", "b": "no", "c": "no", "d": "yes"}
        )
        self.assertEqual(merged.levels["a"].route, ("x",))

    def test_neither_of_the_two_is_changed(self):
        first = Answers(levels={"a": NO}, missed={"a": "no"})
        second = Answers(levels={"a": UNKNOWN, "b": NO}, missed={"a": "yes", "b": "no"})
        merge(first, second)
        self.assertEqual((first.levels, first.missed), ({"a": NO}, {"a": "no"}))
        self.assertEqual((second.levels, second.missed), ({"a": UNKNOWN, "b": NO}, {"a": "yes", "b": "no"}))

    def test_of_two_routes_into_a_stuck_state_the_shorter_is_taken(self):
        for one, other, route in (
            (yes("x", "y", shortest=False), yes("z"), ("z",)),
            (yes("x"), yes("y", "z", shortest=False), ("x",)),
            (UNKNOWN, yes("z"), ("z",)),
            (yes("x"), UNKNOWN, ("x",)),
        ):
            self.assertEqual(tuple(merge(Answers(stuck=one), Answers(stuck=other)).stuck.route), route)
        self.assertEqual(merge(Answers(stuck=NO), Answers(stuck=UNKNOWN)).stuck.answer, "no")

    def test_a_route_known_to_be_shortest_is_preferred_to_one_as_long(self):
        merged = merge(Answers(stuck=yes("x", shortest=False)), Answers(stuck=yes("y")))
        self.assertNotIsInstance(merged.stuck.route, SomeRoute)

    def test_what_can_be_missed(self):
        merged = merge(Answers(missed={"a": "yes"}), Answers(missed={"a": "no", "b": "yes", "c": "no"}))
        self.assertEqual(merged.missed, {"a": "yes", "b": "yes", "c": "no"})

    def test_a_promise_shown_by_a_longer_route_may_still_be_shown_by_a_shortest(self):
        longer, shortest = PromiseVerdict("yes", SomeRoute(("x", "y"))), PromiseVerdict("yes", ("z",))
        unknown = PromiseVerdict("unknown", None)
        for one, other, kept in ((longer, shortest, shortest), (shortest, longer, shortest), (longer, unknown, longer),
                                 (unknown, longer, longer)):  # fmt: skip
            self.assertIs(merge(Answers(promises={"p": one}), Answers(promises={"p": other})).promises["p"], kept)


if __name__ == "__main__":
    unittest.main()

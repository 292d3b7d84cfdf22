"""Verdicts about everything of a kind are a mapping like any other."""

import unittest

from mossy_bridge.reach.survey.merge import merge
from mossy_bridge.reach.survey.result import Answers
from mossy_bridge.reach.survey.verdicts import NO, UNKNOWN, Verdict, Verdicts

NUMBERS = {"quay": 0, "reeds": 1, "fen": 2}


class AsMapping(unittest.TestCase):
    def setUp(self):
        self.reached = Verdict("yes")
        self.verdicts = Verdicts(NUMBERS, [self.reached, NO, NO])
        self.plain = {"quay": self.reached, "reeds": NO, "fen": NO}

    def test_it_answers_as_a_dict_does(self):
        self.assertEqual(self.verdicts, self.plain)
        self.assertEqual(list(self.verdicts), list(self.plain))
        self.assertEqual(list(self.verdicts.values()), list(self.plain.values()))
        self.assertEqual(list(self.verdicts.items()), list(self.plain.items()))
        self.assertEqual(len(self.verdicts), 3)
        self.assertIs(self.verdicts["quay"], self.reached)
        self.assertIsNone(self.verdicts.get("marsh"))
        with self.assertRaises(KeyError):
            self.verdicts["marsh"]

    def test_whether_some_verdict_is_among_them(self):
        self.assertIn(NO, self.verdicts.values())
        self.assertNotIn(UNKNOWN, self.verdicts.values())
        self.assertIn(("reeds", NO), self.verdicts.items())

    def test_others_take_the_place_of_some_and_leave_it_as_it_was(self):
        nearer = Verdict("yes")
        other = self.verdicts.overlaid({"reeds": nearer, "no such level": nearer})
        self.assertEqual(dict(other), {**self.plain, "reeds": nearer})
        self.assertEqual(self.verdicts, self.plain)

    def test_what_was_known_first_stays_when_answers_are_put_together(self):
        nearer = Verdict("yes")
        found = merge(Answers(levels={"quay": nearer}), Answers(levels=self.verdicts))
        self.assertEqual(dict(found.levels), {**self.plain, "quay": nearer})


if __name__ == "__main__":
    unittest.main()

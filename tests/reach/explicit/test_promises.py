"""Whether promises hold, by hand."""

import unittest

from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import flow, play_level, way


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

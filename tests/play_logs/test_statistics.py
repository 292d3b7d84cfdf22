"""What sessions add up to, and how it is told."""

import json
import unittest

from mossy_bridge.play_logs.explaining import Explainer
from mossy_bridge.play_logs.judging import judged_log
from mossy_bridge.play_logs.report import log_markdown, log_text, log_values
from mossy_bridge.play_logs.statistics import Statistics
from tests.support.build import deed, flow, play_level, screen, way

FLOW = flow(screen("title", way("new", "a")), play_level("a", way("on", "b"), way("die", "a", trigger={"kind": "fail"}),
                                                       deeds=[deed("hi"), deed("no")]), play_level("b"))  # fmt: skip


def session(*seconds):
    first, second, third = seconds
    return [
        {"event": "begin", "t": 0, "new": True, "session": f"s{first}"}, {"event": "arrive", "t": 0, "level": "title"},
        {"event": "arrive", "t": 1, "level": "a"}, {"event": "deed", "t": 2, "level": "a", "deed": "hi"},
        {"event": "exit", "t": 3, "level": "a", "exit": "die"}, {"event": "arrive", "t": 1 + first, "level": "a"},
        {"event": "arrive", "t": 1 + first + second, "level": "b"}, {"event": "end", "t": 1 + first + second + third},
    ]  # fmt: skip


class Counted(unittest.TestCase):
    def setUp(self):
        lines = [json.dumps(event).encode() for one in ((10, 20, 5), (30, 40, 7)) for event in session(*one)]
        judged = list(judged_log(Explainer(FLOW), "log", lines))
        self.explained, self.counted = [one for one, _ in judged], Statistics(FLOW, (counts for _, counts in judged))

    def test_levels_and_things(self):
        told = self.counted.levels()
        self.assertEqual(told["a"], {"arrivals": 4, "sessions": 2, "seconds": {"median": 50.0, "low": 40.0, "high": 60.0},
                                     "failures": 2, "ended": 0, "as_far": 2})  # fmt: skip
        self.assertEqual((told["b"]["ended"], told["b"]["seconds"]["median"]), (2, 6.0))
        self.assertEqual(self.counted.things("exit"), {"title.new": 0, "a.on": 0, "a.die": 2})
        self.assertEqual(self.counted.unused(), ["exit title.new", "exit a.on", "deed a.no"])

    def test_a_level_nobody_was_in_has_no_times(self):
        self.assertIsNone(Statistics(FLOW).levels()["a"]["seconds"])

    def test_reports(self):
        values = log_values(self.explained, self.counted)
        self.assertEqual([one["explained"] for one in values["sessions"]], ["yes", "yes"])
        self.assertEqual(values["sessions"][0]["levels"], ["title", "a", "a", "b"])
        text = "\n".join(log_text(self.explained, self.counted))
        self.assertIn("2 sessions: 2 explained by the flow, 0 not, 0 unknown", text)
        self.assertIn("a: 4 arrivals in 2 sessions, 50 s (40 to 60), failed 2 times", text)
        self.assertIn("| a | 4 | 2 | 2 | 50 | 2 | 0 |", "\n".join(log_markdown(self.explained, self.counted)))


if __name__ == "__main__":
    unittest.main()

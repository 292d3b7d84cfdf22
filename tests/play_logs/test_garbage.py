"""Whatever a log holds, it is read to its end, and everything in it is accounted for."""

import io
import json
import os
import unittest

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from mossy_bridge.play_logs.explaining import Explainer
from mossy_bridge.play_logs.judging import judged_log
from mossy_bridge.play_logs.reading import LONGEST_LINE, lines_of, sessions_of
from mossy_bridge.play_logs.report import log_markdown, log_text, log_values
from mossy_bridge.play_logs.statistics import Statistics
from tests.support.build import deed, flow, play_level, screen, way

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120"))
FLOW = flow(screen("title", way("new", "a")), play_level("a", way("on", "b"), way("die", "a", trigger={"kind": "fail"}),
                                                       deeds=[deed("hi")]), play_level("b"))  # fmt: skip
NAMES = st.sampled_from(["title", "a", "b", "new", "on", "die", "hi", "main", "nobody", ""])
ODD = st.one_of(
    NAMES, st.none(), st.booleans(), st.floats(), st.lists(NAMES, max_size=1),
    st.dictionaries(NAMES, NAMES, max_size=1), st.sampled_from(["\ud800", 10**400, float("inf")]),
)  # fmt: skip
KINDS = ("begin", "arrive", "exit", "deed", "path", "tile", "quit", "resume", "ending", "fact", "at", "end", "jump")
KEYS = ("level", "exit", "deed", "from", "to", "tile", "ending", "fact", "value", "spawn", "x", "y", "t", "session",
        "player", "build", "new", "logs")  # fmt: skip
SPOILED = st.builds(
    lambda kind, sound, odd: {**sound, **odd, "event": kind},
    st.sampled_from(KINDS), st.fixed_dictionaries({key: NAMES for key in KEYS}),
    st.dictionaries(st.sampled_from(KEYS), ODD, min_size=1, max_size=4),
)  # fmt: skip
STRAY = st.dictionaries(st.sampled_from(("event", *KEYS)), ODD, max_size=6)
LINES = st.one_of(
    *(events.map(lambda event: json.dumps(event).encode()) for events in (SPOILED, SPOILED, SPOILED, STRAY)),
    st.binary(max_size=30).map(lambda line: line.replace(b"\n", b"")),
    st.sampled_from([b"[" * 9_000, b"9" * 9_000, b" ", b"\xff\xfe"]),
)


class Garbage(unittest.TestCase):
    @settings(max_examples=EXAMPLES, deadline=None)
    @given(st.lists(LINES, max_size=12))
    def test_everything_is_accounted_for(self, lines):
        explainer = Explainer(FLOW)
        judged = list(judged_log(explainer, "log", lines_of(io.BytesIO(b"\n".join(lines)))))
        explained, counted = [one for one, _ in judged], Statistics(explainer.flow, (counts for _, counts in judged))
        found = sum(one.events + one.session.unread_lines + one.session.unknown_events for one in explained)
        self.assertEqual(found, sum(bool(line.strip()) and not is_begin(line) for line in lines))
        told = [*log_text(explained, counted), *log_markdown(explained, counted)]
        self.assertEqual("\n".join(told).encode().decode(), "\n".join(told))
        self.assertEqual(len(msgspec.json.decode(msgspec.json.encode(log_values(explained, counted)))["sessions"]),
                         len(explained))  # fmt: skip

    def test_a_line_without_an_end_is_not_kept(self):
        line = b"x" * (3 * LONGEST_LINE) + b"\n" + b'{"event": "end"}\n' + b"y" * (2 * LONGEST_LINE + 1)
        found = list(lines_of(io.BytesIO(line)))
        self.assertEqual([len(one) for one in found], [LONGEST_LINE + 1, 17, LONGEST_LINE + 1])
        session = next(sessions_of("log", found))
        self.assertEqual(([event.line for event in session.events], session.unread_lines), ([2], 2))

    def test_times_that_are_none_and_a_mark_at_the_beginning(self):
        lines = [b'\xef\xbb\xbf{"event": "begin", "session": "s"}', b'{"event": "arrive", "level": "a", "t": true}',
                 b'{"event": "end", "t": 1' + b"0" * 400 + b"}"]  # fmt: skip
        session = next(sessions_of("log", lines))
        self.assertEqual((session.name, {event.t for event in session.events}, session.unread_lines), ("s", {0.0}, 0))

    def test_keys_that_an_event_does_not_have(self):
        line = b'{"event": "deed", "level": "a", "deed": "hi", "exit": [], "from": 3}'
        counted = Statistics(FLOW, (counts for _, counts in judged_log(Explainer(FLOW), "log", [line])))
        self.assertEqual((counted.things("deed"), counted.failures["a"]), ({"a.hi": 1}, 0))


def is_begin(line):
    """Whether a line begins a session."""
    try:
        values = msgspec.json.decode(line)
    except (ValueError, RecursionError):
        return False
    return isinstance(values, dict) and values.get("event") == "begin"

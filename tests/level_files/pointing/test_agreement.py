"""What a proposed rule says it finds is what the library finds by its expression, in random files of each form."""

import json
import os
import unittest
from xml.sax.saxutils import escape, quoteattr

from hypothesis import given, settings
from hypothesis import strategies as st

from mossy_bridge.exchange.readers.expressions import parsed, wrong_expressions
from mossy_bridge.exchange.readers.samples import sample_of
from mossy_bridge.level_files.pointing.proposal import CannotPropose, proposals

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 3
WORDS = st.sampled_from(["a", "b", "gate", "rock", "left", "7", "0.5", "it's", 'so "so"', "x y", "", "ä"])
KEYS = st.sampled_from(["kind", "name", "x", "to", "the key", "n"])
KINDS = st.sampled_from(["exit", "spawn", "deed", "solid", "plan"])


def element(tag, attributes, text, children):
    said = "".join(f" {key}={quoteattr(value)}" for key, value in attributes.items())
    return f"<{tag}{said}>{escape(text)}{''.join(children)}</{tag}>"


TAGS = st.sampled_from(["map", "layer", "thing", "d", "q-r"])
ATTRIBUTES = st.dictionaries(st.sampled_from(["kind", "name", "x", "to"]), WORDS, max_size=3)
ELEMENTS = st.recursive(
    st.builds(element, TAGS, ATTRIBUTES, WORDS, st.just([])),
    lambda inner: st.builds(element, TAGS, ATTRIBUTES, st.just(""), st.lists(inner, max_size=4)),
    max_leaves=14,
)
VALUES = st.recursive(
    WORDS | st.integers(-5, 5) | st.booleans() | st.none(),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(KEYS, inner, max_size=4),
    max_leaves=14,
)
LINES = st.lists(st.lists(st.sampled_from(["gate", "rock", "3", "4.5", "[a b]", '"c d"', "k=v", "(", ",", "to"]),
                          max_size=5).map(" ".join), min_size=1, max_size=8).map("\n".join)  # fmt: skip


class Agreement(unittest.TestCase):
    def check(self, form, files, makes, data):
        samples = [sample_of(f"file_{at}", form, text.encode()) for at, text in enumerate(files)]
        nodes = st.integers(0, len(samples[0].nodes) - 1)
        pointed = data.draw(st.lists(nodes, min_size=1, max_size=2, unique=True))
        try:
            found = proposals(makes, samples, [(0, node) for node in pointed])
        except CannotPropose:
            return
        for proposal in found:
            rule = proposal.rule
            self.assertEqual(list(wrong_expressions(form, {"each": rule.each, "take": rule.take})), [])
            self.assertTrue(proposal.finds.issuperset((0, node) for node in pointed))
            for at, text in enumerate(files):
                document = parsed(form, text.encode())
                truly = {(at, document.number(thing)) for thing in document.things(rule.each)}
                self.assertEqual({place for place in proposal.finds if place[0] == at}, truly, rule.each)

    @settings(max_examples=EXAMPLES, deadline=None)
    @given(st.lists(ELEMENTS, min_size=1, max_size=3), KINDS, st.data())
    def test_elements(self, files, makes, data):
        self.check("xml", files, makes, data)

    @settings(max_examples=EXAMPLES, deadline=None)
    @given(st.lists(VALUES.map(json.dumps), min_size=1, max_size=3), KINDS, st.data())
    def test_values(self, files, makes, data):
        self.check("json", files, makes, data)

    @settings(max_examples=EXAMPLES, deadline=None)
    @given(st.lists(LINES, min_size=1, max_size=3), KINDS, st.data())
    def test_lines(self, files, makes, data):
        self.check("text", files, makes, data)


if __name__ == "__main__":
    unittest.main()

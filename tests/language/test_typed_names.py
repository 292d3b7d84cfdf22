"""Names as they are seen become ids, and a fact of another kind is told how it is written."""

import unittest

from mossy_bridge.language.evaluation import Vocabulary, unknown_in_condition, unknown_in_effect
from mossy_bridge.language.parsing import parse_condition, parse_effect
from mossy_bridge.language.typed_names import right_wording, with_ids
from tests.support.build import fact, flow, play_level, way


class TypedNames(unittest.TestCase):
    def setUp(self):
        self.flow = flow(
            play_level("slip", way("on", "won"), name="The Slipway"), play_level("bell", way("on", "won"), name="Bell"),
            play_level("has_door", name="Has"),
            facts=[fact("clapper", name="Bell"), fact("oil:9", name="Oil flasks"), fact("rope", name="clapper"),
                   fact("tide=ebb,flood", name="Tide")],
        )  # fmt: skip

    def test_names_become_ids(self):
        for typed, expected in (
            ("at least 2 Oil flasks", "at least 2 oil"), ("at least 2 oil FLASKS", "at least 2 oil"),
            ("seen The Slipway and has Bell", "seen slip and has clapper"), ("done Bell", "done bell"),
            ("has clapper", "has clapper"),  # an id, whatever else is called so
            ("has rope", "has rope"), ("Tide is ebb", "tide is ebb"), ("has Bells", "has Bells"),
            ("exactly 1 of (has Bell, seen Bell)", "exactly 1 of (has clapper, seen bell)"),
        ):  # fmt: skip
            self.assertEqual(with_ids(self.flow, typed), expected)
        self.assertEqual(with_ids(flow(play_level("a")), "has key"), "has key")

    def test_the_right_wording(self):
        words = Vocabulary(self.flow)
        for text, expected in (("has oil", "Oil flasks is a count: at least 1 oil"),
                               ("at least 1 rope", "clapper is a flag: has rope"),
                               ("has tide", "Tide is a choice: tide is ebb"), ("has nothing", "")):  # fmt: skip
            (unknown,) = unknown_in_condition(parse_condition(text), words)
            self.assertEqual(right_wording(self.flow, unknown, effect=False), expected)
        for text, expected in (("gain oil", "Oil flasks is a count: add 1 oil"),
                               ("add 1 tide", "Tide is a choice: turn tide to ebb")):  # fmt: skip
            (unknown,) = unknown_in_effect(parse_effect(text), words)
            self.assertEqual(right_wording(self.flow, unknown, effect=True), expected)


if __name__ == "__main__":
    unittest.main()

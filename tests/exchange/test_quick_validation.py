"""What is read quickly is read as it would be with more care."""

import json
import os
import unittest
from importlib.resources import files
from unittest import mock

from mossy_bridge.exchange import reading
from mossy_bridge.exchange.quick_validation import surely_valid
from mossy_bridge.exchange.reading import CannotRead, flow_from_bytes, tree_from_text
from mossy_bridge.exchange.validation import problems
from mossy_bridge.exchange.writing import flow_text
from tests.robustness.damage import damaged
from tests.support.random_flows import MAKERS

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120"))


def read(data):
    """The flow, or what is said of its problems."""
    try:
        return flow_from_bytes(data)
    except CannotRead as error:
        return error.problems


def read_with_care(data):
    """The same, each object and each value looked at."""
    with (
        mock.patch.object(reading, "_unambiguous_tree", lambda _text: None),
        mock.patch.object(reading, "surely_valid", lambda _tree: False),
    ):
        return read(data)


class AsWithCare(unittest.TestCase):
    def test_damaged_files(self):
        taken = 0
        for seed in range(EXAMPLES * 3):
            with self.subTest(seed):
                data = damaged(seed)
                found = read(data)
                self.assertEqual(found, read_with_care(data))
                taken += not isinstance(found, list)
        self.assertGreater(taken, EXAMPLES // 4)
        self.assertLess(taken, EXAMPLES * 3)

    def test_keys_that_stand_twice_however_they_are_written(self):
        for body in (
            '"title": "a", "title": "b"', '"title":"a","title":"b"', '"title":"a","title" : "b"', '"title": "a", "title"\n: "b"',
            '"title": "a", "title": "b\\u0022: "', '"title": "\\":", "t\\u0069tle": "b"', '"title": "a", "t\\u0069tle": "b"',
        ):  # fmt: skip
            with self.subTest(body):
                self.assertEqual(read(f'{{"mossy_bridge": 1, {body}}}'.encode()),
                                 ["title: stands twice in the same object; remove one"])  # fmt: skip

    def test_texts_that_look_like_keys_are_none(self):
        for title in ('a": 1, "b', 'a":', '\\":', "a:b", '":":":'):
            with self.subTest(title):
                for text in (json.dumps({"mossy_bridge": 1, "title": title}, indent=1),
                             json.dumps({"mossy_bridge": 1, "title": title}, separators=(",", ":"))):  # fmt: skip
                    self.assertEqual(read(text.encode()).title, title)


class Sound(unittest.TestCase):
    """Files that are sound are surely valid: else they would be read slowly."""

    def test_both_demos_and_random_flows(self):
        demos = [files("mossy_bridge.demo").joinpath(f"{name}.mossy").read_text() for name in ("tidewick", "tidewick_unfinished")]  # fmt: skip
        for text in [*demos, *(flow_text(maker(seed)) for maker in MAKERS for seed in range(20))]:
            self.assertTrue(surely_valid(tree_from_text(text)))

    def test_destinations_in_one_another(self):
        for depth, valid in ((1, True), (30, True), (45, False)):
            to = {"kind": "next"}
            for _ in range(depth):
                to = {"kind": "next", "otherwise": to}
            tree = {"mossy_bridge": 1, "levels": [{"id": "a", "exits": [{"id": "on", "to": to}]}]}
            with self.subTest(depth):
                self.assertEqual((surely_valid(tree), problems(tree) == []), (valid, valid))

    def test_a_pattern_may_have_no_pattern_but_a_level_may(self):
        for place, valid in (("levels", True), ("patterns", False)):
            tree = {"mossy_bridge": 1, place: [{"id": "a", "pattern": "b"}]}
            with self.subTest(place):
                self.assertEqual((surely_valid(tree), problems(tree) == []), (valid, valid))


if __name__ == "__main__":
    unittest.main()

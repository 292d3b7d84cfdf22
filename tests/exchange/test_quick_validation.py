"""What is read quickly is read as it would be with more care."""

import json
import os
import unittest
from importlib.resources import files
from unittest import mock

from mossy_bridge.exchange import reading
from mossy_bridge.exchange.reading import CannotRead, flow_from_bytes, flow_from_tree, tree_from_text
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
        mock.patch.object(reading, "_unambiguous", lambda _text: None),
        mock.patch.object(reading, "surely_valid", lambda *_: False),
    ):
        return read(data)


def surely_valid(tree):
    """Whether plain values are read without looking at each."""
    told = []
    with mock.patch.object(reading, "problems", lambda tree: told.append(tree) or problems(tree)):
        try:
            flow_from_tree(tree)
        except CannotRead:
            return False
    return not told


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

    def test_what_only_a_close_look_finds(self):
        exits = '"exits": [{"id": "on", "to": {"level": "a"}}'
        for level in (
            '"name": "a\\nb"', '"name": "a\\tb", "notes": "c\\nd"', '"name": "a\\u0001"', '"name": "a\x7f"', '"name": "a\u0085"',
            '"name": "a\\bb"', '"notes": "a\\fb"', '"name": null', '"plan": null', '"set_here": []', '"zones": [{"id": "and"}]',
            '"zones": [{"id": "z"}, {"id": "z"}]', '"spawns": [{"id": "s"}, {"id": "s"}]', '"deeds": [{"id": "d"}, {"id": "d"}]',
            '"tiles": [{"id": "t"}, {"id": "t"}]', f'{exits}, {{"id": "on"}}]', f'{exits}]', '"opens": "has"', '"cast": ["a\\nb"]',
            '"paths": [{"from": "a", "to": "b"}, {"from": "a", "to": "b"}]', '"minutes": -0.0', '"difficulty": 3.0',
            '"difficulty": 3.5', '"minutes": true', '"ships": 1', '"notes": "a\\\\n"', '"name": "a\\\\n", "notes": "b\\n"',
            '"name": "12345678901234567890"', '"minutes": 12345678901234567890', '"minutes": 1e400', '"code":"a" ,"code" :"b"',
        ):  # fmt: skip
            with self.subTest(level):
                data = f'{{"mossy_bridge": 1, "levels": [{{"id": "a", {level}}}]}}'.encode()
                found = read(data)
                self.assertEqual(repr(found), repr(read_with_care(data)))
        for keyword in ("and", "seen"):
            data = f'{{"mossy_bridge": 1, "levels": [{{"id": "{keyword}"}}]}}'.encode()
            self.assertEqual(read(data), [f"levels[0].id: “{keyword}” is a keyword of conditions and cannot be an id"])

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

    def test_however_other_programs_write_them(self):
        for level in ('"plan": null', '"plan":null,"exits":[{"id":"on","to":null}]', '"code": "1-0"', '"minutes": 5.0',
                      '"plan": {"width": 1e2, "solids": [[-0.5, -1, 2, 0]]}'):  # fmt: skip
            with self.subTest(level):
                data = f'{{ "mossy_bridge": 1,"levels" :[ {{"id": "a", {level}}}]}}'.encode()
                with mock.patch.object(reading, "_built_with_care", lambda _: self.fail("looked at each value")):
                    found = flow_from_bytes(data)
                self.assertEqual(repr(found), repr(read_with_care(data)))
        for level in ('"minutes": -0.0', '"minutes":-0', '"minutes": -0e5', '"plan": {"solids": [[-0, 1, 1,-0.0]]}'):
            data = f'{{"mossy_bridge": 1, "levels": [{{"id": "a", {level}}}]}}'.encode()
            self.assertEqual(repr(read(data)), repr(read_with_care(data)), level)

    def test_what_is_no_number_is_refused(self):
        for value in (float("nan"), float("inf")):
            with self.assertRaises(CannotRead) as caught:
                flow_from_tree({"mossy_bridge": 1, "levels": [{"id": "a", "plan": {"width": value}}]})
            self.assertEqual(caught.exception.problems, ["levels[0].plan.width: is no number"])

    def test_line_breaks_in_notes_and_messages(self):
        notes = {"id": "a", "notes": "one\ntwo\tthree\\n", "name": 'back\\slash "n"'}
        fade = {"id": "fade", "steps": [{"do": "show_message", "text": "high\ntide"}]}
        tree = {"mossy_bridge": 1, "transitions": [fade], "levels": [notes, {"id": "b", "name": "Große Brücke"}]}
        self.assertTrue(surely_valid(tree))
        self.assertEqual(flow_from_tree(tree).levels[0].notes, notes["notes"])
        self.assertFalse(surely_valid({**tree, "levels": [{"id": "a", "name": "one\ntwo"}]}))

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

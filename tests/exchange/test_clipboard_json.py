"""Parts of flows on the clipboard, whatever else is there."""

import unittest

from msgspec.structs import replace

from mossy_bridge.exchange.clipboard_json import MARK, levels_for, levels_text, parts_of, things_text
from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.plan.laying import Part
from tests.support.build import flow, play_level, way


class OnTheClipboard(unittest.TestCase):
    def test_what_was_copied_comes_back(self):
        f = flow(play_level("a", way("x", "won")), play_level("b"))
        self.assertEqual(parts_of(levels_text(f, ["b", "a"])).levels, f.levels)
        twice = things_text(
            f, f.levels[0], [Part("exits", "x"), Part("exits", "x"), Part("spawns", "p"), Part("exits", "gone")]
        )
        self.assertEqual((parts_of(twice).exits, parts_of(twice).spawns), (f.levels[0].exits, f.levels[0].spawns))

    def test_a_level_stays_based_on_its_pattern_where_the_flow_has_it(self):
        cell = play_level("parts", way("out", "won"), minutes=3)  # named as what carries things, too
        f = flow({"id": "a", "pattern": "parts", "name": "Cell A"}, play_level("b"), patterns=[cell])
        held = parts_of(levels_text(f, ["a"]))
        self.assertEqual(levels_for(f, held), (f.levels[0],))
        without = levels_for(replace(f, patterns=()), held)[0]
        other = levels_for(replace(f, patterns=(replace(f.patterns[0], minutes=9),)), held)[0]
        self.assertEqual((without.pattern, without.minutes, [e.id for e in without.exits]), ("", 3, ["out"]))
        self.assertEqual(other, without)
        self.assertEqual(levels_for(f, parts_of(levels_text(f, ["b"]))), (f.levels[1],))

    def test_what_is_nothing_of_a_flow(self):
        for text in ("", "hello", "9" * 5000, "NaN", "[" * 5000, '{"a": 1}', f'["{MARK}"]', "\ud800"):
            self.assertIsNone(parts_of(text), text[:20])

    def test_what_is_damaged_is_told_with_its_place(self):
        for text, words in (
            ('"solids": [[0, 0, 1e308, 1]]', "solids[0][2]: may not be above 1,000,000"),
            ('"solids": [[0, 0, 1e999, 1]]', "1e999 is too large"),
            ('"solids": [[NaN, 0, 1, 1]]', "NaN is not a number"),
            (f'"solids": [[{"9" * 5000}, 0, 1, 1]]', "the number is too large"),
            ('"levels": [{"id": "has"}]', "levels[0].id: “has” is a keyword"),
            ('"exits": [{"id": "x", "name": "\\ud800"}]', "half a character"),
            ('"patterns": 3', "“patterns” is no list"),
            ('"patterns": [{"id": "has"}]', "patterns[0].id: “has” is a keyword"),
            ('"walls": []', "unknown field “walls”"),
            ('"levels": ', "is not valid JSON"),
            (f'"levels": {"[" * 9000}', "nested too deeply"),
        ):
            with self.subTest(words), self.assertRaises(CannotRead) as caught:
                parts_of(f'{{"{MARK}": 1, {text}}}')
            self.assertIn(words, str(caught.exception))


if __name__ == "__main__":
    unittest.main()

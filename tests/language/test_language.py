"""Conditions and effects: text, tree, meaning, words."""

import unittest
from types import SimpleNamespace

from hypothesis import given, settings
from hypothesis import strategies as st

from mossy_bridge.language import tree as t
from mossy_bridge.language.evaluation import Vocabulary, unknown_in_condition, unknown_in_effect
from mossy_bridge.language.parsing import (
    WrongWording,
    canonical_condition,
    canonical_effect,
    parse_condition,
    parse_effect,
)
from mossy_bridge.language.wording import Wording
from tests.support.build import fact, flow, play_level

NAMES = st.sampled_from(["key", "oil", "tide", "ebb", "a", "x_1"])
BOUNDS = st.sampled_from(["at least", "at most", "exactly"])
ATOMS = st.one_of(
    st.builds(t.Constant, st.booleans()),
    st.builds(t.Has, NAMES, st.booleans()),
    st.builds(t.Count, BOUNDS, st.integers(0, 10**6), NAMES),
    st.builds(t.Is, NAMES, NAMES, st.booleans()),
    st.builds(t.Visited, st.sampled_from(["seen", "done"]), NAMES),
)


def _larger(inner):
    several = st.lists(inner, min_size=2, max_size=3).map(tuple)
    return st.one_of(
        st.builds(t.Not, inner),
        st.builds(t.All, several),
        st.builds(t.AnyOf, several),
        st.builds(t.SomeOf, BOUNDS, st.integers(0, 3), several),
    )


TREES = st.recursive(ATOMS, _larger, max_leaves=12)


class Text(unittest.TestCase):
    @settings(max_examples=400, deadline=None)
    @given(TREES)
    def test_tree_to_text_to_tree_is_the_identity(self, tree):
        text = t.condition_text(tree)
        self.assertEqual(parse_condition(text), tree)
        self.assertEqual(canonical_condition(text), text)

    def test_canonical_text(self):
        for text, canonical in (
            ("has  clapper and at least 3 oil", "has clapper and at least 3 oil"),
            ("((has a)) or (has b and has c)", "has a or has b and has c"),
            ("not(has a or has b)", "not (has a or has b)"),
            ("at least 2 of(has a,has b , seen c)", "at least 2 of (has a, has b, seen c)"),
            ("tide is  not ebb", "tide is not ebb"),
            ("at least 03 oil", "at least 3 oil"),
        ):
            with self.subTest(text):
                self.assertEqual(canonical_condition(text), canonical)

    def test_effects_are_their_own_text(self):
        for text in ("gain a", "lose a", "add 2 n", "take 1 n", "set n to 3", "raise n to 2", "lower n to 1",
                     "turn c to v", "clear a"):  # fmt: skip
            self.assertEqual(canonical_effect(f" {text} "), text)

    def test_mistakes_are_told_with_their_place(self):
        for text, column, words in (
            ("", 1, "write “always”"),
            ("has", 4, "expected a name"),
            ("has and", 5, "“and” does not fit"),
            ("at least x oil", 10, "expected a whole number"),
            ("Has key", 1, "lower case"),
            ("at least -1 oil", 10, "cannot be negative"),
            ("has key has key", 9, "“and” or “or”"),
            ("(has key", 9, "“)”"),
            ("has key,", 8, "does not fit"),
            (f"at least {10**20} oil", 10, "too large"),
            ("(" * 100 + "has a" + ")" * 100, 1, "nested too deeply"),
        ):
            with self.subTest(text[:30]), self.assertRaises(WrongWording) as caught:
                parse_condition(text)
            self.assertIn(words, str(caught.exception))
            self.assertEqual(caught.exception.column, column)
        for text in ("gain", "add oil", "set n 3", "turn c v", "has key", "add 1 2"):
            with self.subTest(text), self.assertRaises(WrongWording):
                parse_effect(text)


class Meaning(unittest.TestCase):
    def setUp(self):
        self.flow = flow(play_level("a"), play_level("b"), facts=["key", "n:9", "tide=ebb,flood"])
        self.words = Vocabulary(self.flow)

    def holds(self, text, key=False, n=0, tide="ebb", seen=(), done=()):
        state = SimpleNamespace(facts=(key, n, tide), seen=frozenset(seen), done=frozenset(done))
        return self.words.test(text)(state)

    def test_truth(self):
        cases = {
            "always": ({}, True), "never": ({}, False), "has key": ({"key": True}, True), "lacks key": ({}, True),
            "at least 2 n": ({"n": 2}, True), "at most 2 n": ({"n": 3}, False), "exactly 2 n": ({"n": 2}, True),
            "tide is ebb": ({}, True), "tide is not ebb": ({}, False), "seen a": ({"seen": ["a"]}, True),
            "done a": ({"seen": ["a"]}, False), "not has key": ({}, True), "has key or seen b": ({"seen": ["b"]}, True),
            "has key and seen b": ({"seen": ["b"]}, False),
            "exactly 1 of (has key, seen a, lacks key)": ({}, True), "at most 0 of (has key, seen a)": ({}, True),
        }  # fmt: skip
        for text, (state, expected) in cases.items():
            with self.subTest(text):
                self.assertIs(self.holds(text, **state), expected)

    def test_anything_unknown_makes_the_whole_condition_fail(self):
        for text in ("lacks nobody", "not has nobody", "always or has nobody", "at most 9 key", "has n",
                     "tide is spring", "key is ebb", "seen nowhere", "at least 0 of (has nobody)"):  # fmt: skip
            with self.subTest(text):
                self.assertFalse(self.holds(text, key=True))
                self.assertTrue(unknown_in_condition(parse_condition(text), self.words))

    def test_unknown_effects(self):
        for text, unknown in (("gain key", ""), ("gain n", "n"), ("add 1 key", "key"), ("turn tide to spring", "spring"),
                              ("clear nobody", "nobody"), ("clear tide", ""), ("turn n to ebb", "n")):  # fmt: skip
            found = unknown_in_effect(parse_effect(text), self.words)
            self.assertEqual(found[0].name if found else "", unknown, text)


class Words(unittest.TestCase):
    def setUp(self):
        facts = [fact("key", name="Bell clapper"), fact("n:9", name="Oil flasks"), "tide=ebb,flood"]
        self.wording = Wording(flow(play_level("a", name="The Slipway"), facts=facts))

    def test_names_for_ids(self):
        self.assertEqual(
            self.wording.condition("has key and (at least 2 n or seen a)"),
            "has Bell clapper and (at least 2 Oil flasks or has been in The Slipway)",
        )
        self.assertEqual(self.wording.effect("add 2 n"), "add 2 Oil flasks")

    def test_what_is_missing(self):
        state = SimpleNamespace(facts=(False, 2, "ebb"), seen=frozenset(), done=frozenset())
        for text, missing in (
            ("has key and at least 3 n", "needs Bell clapper and needs at least 3 Oil flasks, has 2"),
            ("has key or tide is flood", "needs Bell clapper or needs tide is flood, it is ebb"),
            ("at least 2 n", ""),
            ("never", "never opens"),
            ("not at least 1 n", "needs: not at least 1 Oil flasks"),
            ("has nobody", "asks for “nobody”, which does not exist"),
        ):
            with self.subTest(text):
                self.assertEqual(self.wording.missing(text, state), missing)


if __name__ == "__main__":
    unittest.main()

"""Completion, by following what it offers at random: wherever it lets one end, the text can be read."""

import unittest
from random import Random

from mossy_bridge.language.completion import condition_candidates, effect_candidates
from mossy_bridge.language.evaluation import Vocabulary, unknown_in_condition, unknown_in_effect
from mossy_bridge.language.parsing import parse_condition, parse_effect
from tests.support.build import flow, play_level

FLOW = flow(play_level("quay"), play_level("pan", name="Salt Pan", code="2-1"),
            facts=("rope", "bell", "oil:5", "tide=ebb,flood", "wind=calm,gale"))  # fmt: skip
WORDS = Vocabulary(FLOW)


def followed(fitting, pick, most):
    """A text made by taking offers at random, and what was offered at its end."""
    text = ""
    for _ in range(most):
        start, offers = fitting(FLOW, text)
        if not offers:
            break
        chosen = pick.choice(offers).text
        before = text[:start].rstrip() if chosen in (",", ")") else text[:start]
        text = f"{before}{chosen}" + ("" if chosen.endswith("(") else " ")
    return text, [offer.text for offer in fitting(FLOW, text)[1]]


class Following(unittest.TestCase):
    def test_conditions(self):
        read = 0
        for seed in range(1200):
            pick = Random(seed)
            text, offers = followed(condition_candidates, pick, pick.randint(1, 14))
            if offers == ["and", "or"]:
                with self.subTest(text):
                    self.assertEqual(unknown_in_condition(parse_condition(text), WORDS), [])
                    read += 1
        self.assertGreater(read, 100)

    def test_effects(self):
        read = 0
        for seed in range(700):
            pick = Random(seed)
            text, offers = followed(effect_candidates, pick, pick.randint(1, 9))
            if offers == [","]:
                for part in text.split(","):
                    with self.subTest(text):
                        self.assertEqual(unknown_in_effect(parse_effect(part.strip()), WORDS), [])
                        read += 1
        self.assertGreater(read, 150)

    def test_whatever_words_stand_there(self):
        words = [
            "is",
            "not",
            "tide",
            "of",
            "at",
            "least",
            "2",
            "(",
            ")",
            ",",
            "has",
            "rope",
            "to",
            "turn",
            "add",
            "ebb",
            "²",
            "",
        ]
        for seed in range(1200):
            pick = Random(seed)
            text = " ".join(pick.choices(words, k=pick.randint(1, 5)))
            for fitting in (condition_candidates, effect_candidates):
                with self.subTest(text):
                    start, offers = fitting(FLOW, text)
                    self.assertLessEqual(start, len(text))
                    self.assertTrue(all(offer.text for offer in offers))
        self.assertEqual([offer.text for offer in condition_candidates(FLOW, "is ")[1]], [])  # nothing begins so

    def test_names_help_to_find_ids(self):
        offers = condition_candidates(FLOW, "seen salt")[1]
        self.assertEqual([offer.text for offer in offers], ["pan"])
        self.assertEqual(offers[0].means, "2-1 Salt Pan")


if __name__ == "__main__":
    unittest.main()

"""Names one behind the other."""

import unittest

from mossy_bridge.language.numbers import counted, enumerated


class Words(unittest.TestCase):
    def test_names_are_enumerated_with_an_and(self):
        for names, words in (
            ([], ""), (["A"], "A"), (["A", "B"], "A and B"), (["A", "B", "C"], "A, B and C"),
            (list("ABCDEF"), "A, B, C, D, E and F"), (list("ABCDEFG"), "A, B, C, D, E and 2 more"),
        ):  # fmt: skip
            self.assertEqual(enumerated(names), words)
        self.assertEqual(enumerated([str(number) for number in range(3002)], most=2), "0, 1 and 3,000 more")

    def test_one_thing_is_told_from_several(self):
        self.assertEqual([counted(number, "level") for number in (0, 1, 2000)], ["0 levels", "1 level", "2,000 levels"])


if __name__ == "__main__":
    unittest.main()

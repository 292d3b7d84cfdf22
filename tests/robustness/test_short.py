"""Short runs of what is run long by hand: damaged files, edits, clicks, kills. Each module says how to run more."""

import os
import unittest

from tests.robustness import clicks, damage, edit_walks, kills, openings

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120"))
STEPS = max(66, EXAMPLES // 3)


class Short(unittest.TestCase):
    def test_damaged_files_are_refused_in_words_or_taken(self):
        taken = sum(damage.refused_or_sound(damage.damaged(seed)) is not None for seed in range(EXAMPLES))
        self.assertGreater(taken, EXAMPLES // 20)
        self.assertLess(taken, EXAMPLES // 2)

    def test_damaged_files_are_opened_one_straight_after_the_other(self):
        self.assertEqual(openings.main(max(8, EXAMPLES // 40), first=500_000), 0)

    def test_edits_undone_and_redone_leave_a_file_that_reads_back(self):
        done = {}
        for seed in range(max(3, EXAMPLES // 50)):
            requests, _ = edit_walks.walked(seed, 60)
            done |= requests
        self.assertGreater(len(done), 20)

    def test_clicks_keys_and_rubbish(self):
        for seed in range(2):
            done, _, counts = clicks.clicked(seed, steps=STEPS)
            self.assertEqual(done, STEPS)
            self.assertGreater(counts["blank"], STEPS // 16)

    def test_kills_while_editing_and_saving(self):
        self.assertEqual(kills.main(max(6, EXAMPLES // 70), first=0), 0)


if __name__ == "__main__":
    unittest.main()

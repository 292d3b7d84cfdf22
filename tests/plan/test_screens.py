"""Where the choices of a screen lie until somebody moves them."""

import unittest
from itertools import pairwise

from mossy_bridge.plan.laying import Part, moved
from mossy_bridge.plan.screens import HEIGHT, TITLE, WIDTH, laid_out, with_screen_laid_out
from tests.support.build import flow, play_level, screen, way


class Screens(unittest.TestCase):
    def shown(self, count, **fields):
        f = flow(screen("title", *(way(f"w{n}", "won") for n in range(count))), **fields)
        return laid_out(f.level("title"), f.units.y == "down")

    def test_choices_lie_one_below_the_other_in_order_and_within(self):
        for count in (1, 2, 7, 30):
            level = self.shown(count)
            areas = [exit_.area for exit_ in level.exits]
            self.assertEqual((level.plan.width, level.plan.height), (WIDTH, HEIGHT))
            self.assertTrue(all(one[1] + one[3] < other[1] for one, other in pairwise(areas)), count)
            self.assertTrue(areas[0][1] >= TITLE and areas[-1][1] + areas[-1][3] <= HEIGHT, count)
            self.assertEqual({area[0] + area[2] / 2 for area in areas}, {WIDTH / 2})

    def test_where_y_grows_upwards_the_first_is_still_the_uppermost(self):
        first, second = (exit_.area for exit_ in self.shown(2, units={"y": "up"}).exits)
        self.assertGreater(first[1], second[1])

    def test_what_is_laid_out_stays_and_other_levels_are_left_alone(self):
        f = flow(screen("title", way("on", "a"), way("off", "won")), play_level("a", way("out", "won")))
        once = with_screen_laid_out(f, "title")
        self.assertIs(with_screen_laid_out(once, "title"), once)
        self.assertIs(with_screen_laid_out(f, "a"), f)
        after = moved(once, "title", [Part("exits", "on")], 3, 1)
        self.assertEqual(after.level("title").exit("off").area, once.level("title").exit("off").area)
        self.assertEqual(after.level("title").exit("on").area[0], once.level("title").exit("on").area[0] + 3)

    def test_a_new_choice_beside_those_laid_out_finds_a_place(self):
        level = laid_out(flow(screen("title", *(way(n, "won") for n in ("on", "off", "more")))).level("title"), True)
        self.assertEqual(len({exit_.area for exit_ in level.exits}), 3)


if __name__ == "__main__":
    unittest.main()

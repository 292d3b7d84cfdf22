"""Where people were seen, as squares over a plan."""

import unittest

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

from mossy_bridge.desk.plan.heat import Heat, HeatLayer, counts_in_squares, square_side
from mossy_bridge.desk.plan.painting import PlanFrame
from mossy_bridge.model.flow import Level, Plan
from tests.support.qt import Look, make_application


class Squares(unittest.TestCase):
    def test_a_plan_of_a_few_units_has_squares_of_one(self):
        self.assertEqual(square_side(64, 18), 1)

    def test_a_plan_measured_in_pixels_has_larger_ones(self):
        self.assertEqual(square_side(4096, 300), 16)

    def test_what_happened_in_one_square_is_added_up(self):
        counts = counts_in_squares({(0, 0): 2, (15, 15): 3, (16, 0): 4}, (32, 16), 16)
        self.assertEqual(counts.tolist(), [[5, 4]])

    def test_what_lies_off_the_plan_is_left_out(self):
        far = {(-1, 0): 1, (0, -1): 1, (2, 0): 1, (0, 3): 1, (10**300, 0): 1}
        self.assertEqual(counts_in_squares({**far, (1, 2): 7}, (2, 3), 1).tolist(), [[0, 0], [0, 0], [0, 7]])


class Painted(unittest.TestCase):
    def colours(self, y_down):
        """The colours in the middle of the squares of a plan of two by two units, row by row from above."""
        look = Look(make_application())
        layer = HeatLayer(look, lambda: None)
        layer.show(Heat(seen={(0, 0): 1, (1, 1): 9}))
        image = QImage(40, 40, QImage.Format.Format_ARGB32)
        image.fill(QColor("white"))
        painter = QPainter(image)
        layer.paint_below(painter, PlanFrame(Level(id="a", plan=Plan(width=2, height=2)), QRectF(0, 0, 40, 40), y_down))
        painter.end()
        return [[image.pixelColor(x, y) for x in (10, 30)] for y in (10, 30)]

    def test_squares_lie_where_people_were_the_darker_the_more_often(self):
        (seldom, none), (other, often) = self.colours(y_down=True)
        self.assertEqual((none, other), (QColor("white"), QColor("white")))
        self.assertLess(often.lightness(), seldom.lightness())
        self.assertLess(seldom.lightness(), 255)

    def test_where_y_grows_upwards_they_are_turned_over(self):
        (none, often), (seldom, other) = self.colours(y_down=False)
        self.assertEqual((none, other), (QColor("white"), QColor("white")))
        self.assertLess(often.lightness(), seldom.lightness())


if __name__ == "__main__":
    unittest.main()

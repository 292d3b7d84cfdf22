"""Bridges, painted piece by piece: as if they were painted whole, without a look at what lies elsewhere."""

import unittest
from random import Random

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

from mossy_bridge.desk.map.bridges import PIECE, PLANK, Bridge
from mossy_bridge.desk.map.crossings import Crossing
from mossy_bridge.desk.map.polyline import rounded
from mossy_bridge.desk.map.routing import Route
from mossy_bridge.desk.widgets.theme import Look
from tests.support.qt import make_application

SIZE = 400


def random_points(pick, far=SIZE, turns=7):
    """A route of level and upright stretches."""
    points = [(pick.randrange(far), pick.randrange(far))]
    for turn in range(turns):
        x, y = points[-1]
        points.append((pick.randrange(far), y) if turn % 2 == 0 else (x, pick.randrange(far)))
    return tuple(points)


def bridge_along(points):
    return Bridge(Crossing("fixed", "a", "on", "b"), Route(points, points[0]), None, None, "", True)


class WithinARectangle(unittest.TestCase):
    def test_all_of_a_line_that_lies_in_it_and_nothing_else_is_found(self):
        pick = Random(3)
        for _ in range(200):
            line = rounded(random_points(pick), False, False)
            left, top = pick.randrange(SIZE), pick.randrange(SIZE)
            right, bottom = left + pick.randrange(1, SIZE), top + pick.randrange(1, SIZE)
            found = list(line.within(left, top, right, bottom))
            for step in range(401):
                x, y, _, _ = line.at(step / 400)
                at = step / 400 * line.length()
                told = any(begin - 1e-6 <= at <= end + 1e-6 for begin, end in found)
                if left + 1e-6 < x < right - 1e-6 and top + 1e-6 < y < bottom - 1e-6:
                    self.assertTrue(told)
                if told:
                    self.assertTrue(left - 1e-3 <= x <= right + 1e-3 and top - 1e-3 <= y <= bottom + 1e-3)

    def test_a_bridge_looks_there_as_if_it_were_painted_whole(self):
        look, pick, painted = Look(make_application()), Random(4), 0
        cases = [
            (((10, 100), (390, 100)), QRectF(50, 101, 60, 40))
        ]  # whose line lies beside the rectangle, but no rail
        for _ in range(60):
            rect = QRectF(pick.randrange(SIZE), pick.randrange(SIZE), pick.randrange(20, 200), pick.randrange(20, 200))
            cases.append((random_points(pick), rect))
        for points, rect in cases:
            pictures = []
            for within in (None, rect):
                picture = QImage(SIZE, SIZE, QImage.Format.Format_RGB32)
                picture.fill(QColor("white"))
                painter = QPainter(picture)
                painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                painter.setClipRect(rect)
                bridge_along(points).paint(painter, look, within)
                painter.end()
                pictures.append(picture)
            self.assertEqual(*pictures)
            blank = QImage(SIZE, SIZE, QImage.Format.Format_RGB32)
            blank.fill(QColor("white"))
            painted += pictures[0] != blank
        self.assertGreater(painted, 20)

    def test_of_a_bridge_across_the_map_only_the_pieces_there_are_worked_out(self):
        bridge = bridge_along(((0, 0), (60_000, 0), (60_000, 60_000)))
        picture = QImage(SIZE, SIZE, QImage.Format.Format_RGB32)
        painter = QPainter(picture)
        bridge.paint(painter, Look(make_application()), QRectF(30_000, -200, SIZE, SIZE))
        painter.end()
        self.assertTrue(1 <= len(bridge._made) <= 2 + SIZE / (PLANK * PIECE))


if __name__ == "__main__":
    unittest.main()

"""The camera over the map: points and pixels, zoom and its limits."""

import unittest

from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QPointF, QRectF, QSize

from mossy_bridge.desk.map.camera import BEYOND, CLOSEST, FARTHEST, READABLE, Camera

SIZE = QSize(900, 400)
MAP = QRectF(0, 0, 5000, 3000)


def camera():
    return Camera(lambda: SIZE, lambda: None)


class Cameras(unittest.TestCase):
    @given(st.floats(0.01, 2.4), st.floats(-4000, 4000), st.floats(-4000, 4000))
    def test_pixels_and_points_are_one_anothers_inverse(self, scale, x, y):
        one = camera()
        one.set_scale(scale)
        one.centre_on(QPointF(300, 200), MAP)
        pixel = one.pixel_of(QPointF(x, y))
        back = one.point_at(QPointF(pixel))
        self.assertAlmostEqual(back.x(), x, delta=0.51 / scale)
        self.assertAlmostEqual(back.y(), y, delta=0.51 / scale)

    @given(st.floats(0.2, 5), st.floats(0, 900), st.floats(0, 400))
    def test_what_is_under_the_pointer_stays_there(self, factor, x, y):
        one = camera()
        at = QPointF(x, y)
        held = one.point_at(at)
        one.zoom(factor, at)
        self.assertAlmostEqual(one.point_at(at).x(), held.x(), places=6)
        self.assertAlmostEqual(one.point_at(at).y(), held.y(), places=6)

    def test_zoom_has_limits_and_says_when_it_changes(self):
        told = []
        one = Camera(lambda: SIZE, lambda: told.append(1))
        one.set_scale(1000)
        self.assertEqual(one.scale, CLOSEST)
        one.set_scale(0)
        self.assertEqual(one.scale, FARTHEST)
        one.set_scale(FARTHEST / 2)
        self.assertEqual(len(told), 2)

    def test_the_map_is_not_lost_from_view(self):
        one = camera()
        one.centre_on(QPointF(99999, -99999), MAP)
        self.assertAlmostEqual(one.centre.x(), MAP.right() + BEYOND, delta=1)
        self.assertAlmostEqual(one.centre.y(), MAP.top() - BEYOND, delta=1)

    def test_fitting_shows_all(self):
        one = camera()
        one.fit(MAP)
        self.assertTrue(one.area().contains(MAP))
        self.assertEqual(one.centre, MAP.center())

    def test_the_beginning_can_be_read(self):
        one = camera()
        one.show_beginning(MAP)
        self.assertEqual(one.scale, READABLE)
        self.assertAlmostEqual(one.area().left(), MAP.left() - 10)

    def test_towards_moves_no_more_than_it_must(self):
        one = camera()
        one.centre_on(QPointF(1000, 1000), MAP)
        near = QRectF(980, 980, 40, 40)
        self.assertEqual(one.towards(near), one.centre)
        far = QRectF(1600, 1000, 100, 60)
        centre = one.towards(far)
        one.centre = centre
        self.assertTrue(one.area().contains(far))
        self.assertEqual(centre.y(), 1000)
        self.assertEqual(one.towards(QRectF(0, 0, 5000, 10)), QPointF(2500, 5))


if __name__ == "__main__":
    unittest.main()

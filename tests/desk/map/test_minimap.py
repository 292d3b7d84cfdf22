"""The whole map in small: painted over several frames, shown as it was until then."""

import unittest
from unittest import mock

from PyQt6.QtCore import QRectF, QSize
from PyQt6.QtGui import QPixmap

from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.desk.map import minimap
from mossy_bridge.desk.map.minimap import MiniMap
from mossy_bridge.desk.map.scene import MapScene
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.edits.levels import connect
from tests.support.build import flow, play_level, way
from tests.support.qt import make_application

HERE = QRectF(0, 0, 260, 60)


class Painting(unittest.TestCase):
    def setUp(self):
        self.look = Look(make_application())
        self.addCleanup(self.look.deleteLater)
        levels = [play_level(f"l{at}", way("on", f"l{at + 1}")) for at in range(99)]
        self.flow = flow(*levels, play_level("l99", way("out", "won")))
        self.scene = MapScene(lambda _lock: 0.0)
        self.show(self.flow)
        self.small = self.new()

    def show(self, shown):
        self.scene.show(shown, appraise(shown, budget=default_budget(shown)))

    def new(self):
        return MiniMap(self.look, self.scene, lambda: QSize(1280, 800))

    def frame(self, small, complete=True):
        """What it shows, painted once."""
        picture = QPixmap(260, 60)
        picture.fill(self.look.colours.colour("ground"))
        with painting(picture) as painter:
            self.assertEqual(small.paint(painter, HERE, self.scene.bounds()), complete)
        return picture.toImage()

    def test_a_few_levels_are_painted_at_once(self):
        self.assertEqual(self.frame(self.small), self.frame(self.small))

    def test_many_are_painted_over_several_frames(self):
        whole = self.frame(self.new())
        self.show(connect(self.flow, "l40", "on", "l60"))
        after = self.frame(self.new())
        self.assertNotEqual(whole, after)
        self.show(self.flow)
        self.frame(self.small)
        with mock.patch.object(minimap, "PART", 10), mock.patch.object(minimap, "AT_ONCE", 0.0):
            self.assertNotEqual(self.frame(self.new(), complete=False), whole)
            self.show(connect(self.flow, "l40", "on", "l60"))
            self.assertEqual(self.frame(self.small, complete=False), whole)
        self.assertEqual(self.frame(self.small), after)


if __name__ == "__main__":
    unittest.main()

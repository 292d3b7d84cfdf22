"""Plans seen from above, y growing upwards, zones, empty states, and every face in light and dark."""

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.plan.painting import zone_tag
from mossy_bridge.desk.shell.commands import join
from mossy_bridge.exchange.reading import flow_from_tree
from mossy_bridge.plan.laying import Part
from tests.support.qt import DeskCase

TREE = {
    "mossy_bridge": 1,
    "units": {"name": "px", "y": "up"},
    "walker": {"width": 16, "height": 24, "speed": 90, "view": "top"},
    "start": {"level": "a"},
    "levels": [
        {
            "id": "a",
            "name": "Weir",
            "plan": {"width": 320, "height": 200, "solids": [[0, 0, 320, 16]]},
            "zones": [{"id": "bank", "name": "Bank"}, {"id": "boat", "name": "Boat"}, {"id": "b2", "name": "Bo"}],
            "spawns": [{"id": "p", "x": 60, "y": 40, "faces": "up", "zone": "bank"}],
            "deeds": [{"id": "row", "x": 100, "y": 60, "zone": "boat"}],
            "exits": [{"id": "out", "area": [300, 80, 20, 40], "zone": "boat"}],
        },
        {"id": "b"},
    ],
}


class FromAbove(DeskCase):
    def setUp(self):
        super().setUp()
        self.window.document.take(flow_from_tree(TREE))
        self.settle()
        self.window.navigation.open_plan("a")
        self.settle()
        self.canvas = self.window.plan.canvas

    @property
    def level(self):
        return self.window.document.flow.level("a")

    def test_up_is_up(self):
        frame = self.canvas.frame()
        self.assertGreater(frame.point(0, 0).y(), frame.point(0, 200).y())
        x, y = frame.plan_point(frame.point(123, 45))
        self.assertAlmostEqual(x, 123)
        self.assertAlmostEqual(y, 45)
        self.window.selection.select_parts("a", [Part("spawns", "p")])
        self.canvas.setFocus()
        self.key(self.canvas, Qt.Key.Key_Up)
        self.assertEqual((self.level.spawn("p").x, self.level.spawn("p").y), (60, 56))
        self.canvas.grab()

    def test_the_grid_suits_the_unit(self):
        self.assertEqual(self.canvas.step, 16)
        steps = [self.window.plan.grid.itemData(i) for i in range(self.window.plan.grid.count())]
        self.assertEqual(steps, [0, 4, 8, 16, 32, 64])
        self.window.plan.grid.setCurrentIndex(1)
        self.window.plan.grid.activated.emit(1)
        self.assertEqual(self.canvas.step, 4)

    def test_zones_have_letters_of_their_own(self):
        self.assertEqual([zone_tag(self.level, zone)[0] for zone in self.level.zones], ["B", "O", "B"])
        tags = [zone_tag(self.level, zone) for zone in self.level.zones]
        self.assertEqual(len({tint for _, tint in tags}), 3)

    def test_a_new_plan_from_above_has_no_ground(self):
        self.window.navigation.open_plan("b")
        self.key(self.canvas, Qt.Key.Key_Return)
        plan = self.window.document.flow.level("b").plan
        self.assertEqual((plan.width, plan.height, plan.solids), (640, 192, ()))

    def test_drawing_stays_inside_the_plan(self):
        self.key(self.canvas, Qt.Key.Key_2)
        frame = self.canvas.frame()
        start, end = frame.point(288, 96).toPoint(), frame.point(400, 150).toPoint()
        self.drag(self.canvas, start, end)
        x, _, width, _ = self.level.exits[-1].area
        self.assertEqual(x + width, 320)

    def test_all_is_chosen_and_let_go_by_keys(self):
        self.canvas.setFocus()
        self.key(self.canvas, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(len(self.canvas.parts), 4)
        self.key(self.canvas, Qt.Key.Key_Escape)
        self.assertEqual(self.canvas.parts, ())
        self.assertTrue(self.window.navigation.is_plan_open)


class Faces(DeskCase):
    def test_every_face_full_and_empty_light_and_dark(self):
        for load in (lambda: None, lambda: self.open_demo("tidewick_unfinished")):
            load()
            for wish in ("dark", "light"):
                self.look.wear(wish)
                for index in range(len(self.window.faces.buttons)):
                    self.window.faces.turn(index)
                    QApplication.processEvents()
                    self.assertFalse(self.window.grab().isNull())
        self.assertEqual(self.window.faces.index, len(self.window.faces.buttons) - 1)

    def test_joining_needs_levels(self):
        join(self.window)
        self.assertIn("Choose one level, or two", self.person.told[-1])
        self.open_demo()
        self.window.selection.select_levels(["credits", "retry"])
        join(self.window)
        self.assertEqual(self.window.document.flow.level("credits").exits[-1].to.level, "retry")
        self.assertEqual(self.window.document.flow.level("retry").exits[-1].to.level, "credits")


if __name__ == "__main__":
    unittest.main()

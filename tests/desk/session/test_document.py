"""Undo and redo, with where the designer was looking."""

import unittest

from PyQt6.QtCore import Qt

from tests.support.qt import DeskCase

CONTROL = Qt.KeyboardModifier.ControlModifier


class Undo(DeskCase):
    def test_selection_face_and_view_come_back(self):
        self.open_demo()
        window = self.window
        window.selection.select("lamp_room", "down")
        window.map.zoom(0.9 / window.map.scale)
        window.map.show_level("lamp_room")
        where = window.map.where()
        window.requests.crossings.set("the name", name="Down again")
        window.selection.select("title")
        window.map.fit()
        window.faces.turn_to(window.checklist)
        self.key(window, Qt.Key.Key_Z, CONTROL)
        self.assertEqual((window.selection.level_id, window.selection.exit_id), ("lamp_room", "down"))
        self.assertEqual(window.faces.index, 0)
        self.assertEqual(window.map.where(), where)
        self.assertEqual(window.document.redo_name, "change the name of Lamp Room: Back down")

    def test_looking_at_a_copys_part_takes_it_off_the_list(self):
        self.open_demo()
        window = self.window
        window.selection.select("lamp_room")
        window.requests.levels.duplicate()
        if window.proposal_bar.isVisible():
            self.key(window.proposal_bar.yes, Qt.Key.Key_Return)
        copy = window.selection.level_id
        self.assertIn("exit down", window.document.flow.level(copy).unreviewed)
        step = window.document.undo_name
        window.selection.select(copy, "down")
        self.wait_until(lambda: "exit down" not in window.document.flow.level(copy).unreviewed, "the look")
        self.assertEqual(window.document.undo_name, step)


if __name__ == "__main__":
    unittest.main()

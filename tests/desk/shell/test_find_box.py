"""The find box: typing, choosing, and what it selects."""

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit

from tests.support.qt import DeskCase, open_popup

CONTROL = Qt.KeyboardModifier.ControlModifier


class Find(DeskCase):
    def find(self, text):
        self.key(self.window, Qt.Key.Key_F, CONTROL)
        field = open_popup().findChild(QLineEdit)
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        selected = self.window.selection.now
        return selected.level, [tuple(part) for part in selected.parts]

    def test_anything_is_found_and_shown(self):
        self.open_demo()
        self.assertEqual(self.find("2-2b"), ("brine_pit", []))
        self.assertEqual(self.find("ring the buoy"), ("bell_sands", [("deeds", "ring_buoy")]))
        self.assertEqual(self.find("great door"), ("bell_foundry", [("exits", "great_door")]))
        self.assertEqual(self.find("oil flasks")[0], "slipway")
        card = self.window.map.card_of("slipway")
        self.assertTrue(self.window.map.area().contains(card.placed.rect.center()))
        self.find("nothing like it")
        open_popup().close()
        self.assertEqual(self.window.selection.level_id, "slipway")


if __name__ == "__main__":
    unittest.main()

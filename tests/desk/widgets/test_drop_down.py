"""Boxes to choose from: scrolling past changes nothing."""

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QApplication, QLineEdit, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.drop_down import DropDown
from tests.support.qt import DeskCase


class Wheel(DeskCase):
    def turn(self, box):
        button, keys = Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier
        QApplication.sendEvent(box, QWheelEvent(QPointF(5, 5), QPointF(5, 5), QPoint(), QPoint(0, -120), button, keys,
                                                Qt.ScrollPhase.NoScrollPhase, False))  # fmt: skip

    def test_only_with_the_keyboard(self):
        page, box, other = QWidget(), DropDown(), QLineEdit()
        self.addCleanup(page.deleteLater)
        box.addItems(["a", "b", "c"])
        layout = QVBoxLayout(page)
        for widget in (box, other):
            layout.addWidget(widget)
        page.show()
        page.activateWindow()
        other.setFocus()
        self.turn(box)
        self.assertEqual(box.currentIndex(), 0)
        box.setFocus()
        self.wait_until(box.hasFocus, "the keyboard")
        self.turn(box)
        self.assertEqual(box.currentIndex(), 1)

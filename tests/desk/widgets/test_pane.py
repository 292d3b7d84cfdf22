"""A pane lays out what it holds without its neighbours."""

import unittest

from PyQt6.QtCore import QEvent, QSize
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QLabel, QSplitter, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.pane import Pane
from tests.support.qt import DeskCase


class Asked(QWidget):
    """Counts how often it is asked how much room it needs."""

    def __init__(self):
        super().__init__()
        self.asked = 0

    def minimumSizeHint(self):
        self.asked += 1
        return QSize(40, 20)


class Panes(DeskCase):
    def setUp(self):
        super().setUp()
        self.held, self.neighbour, self.splitter = QWidget(), Asked(), QSplitter()
        self.label = QLabel("one")
        self.label.setMinimumWidth(300)
        layout = QVBoxLayout(self.held)
        layout.addWidget(self.label)
        beside = QWidget()
        QHBoxLayout(beside).addWidget(self.neighbour)
        self.splitter.addWidget(Pane(self.held))
        self.splitter.addWidget(Pane(beside))
        self.splitter.resize(800, 200)
        self.splitter.show()
        self.settle()

    def tearDown(self):
        self.splitter.close()
        super().tearDown()

    def settle(self):
        for _ in range(5):  # from the innermost widget outwards
            QApplication.sendPostedEvents(None, QEvent.Type.LayoutRequest)
            QApplication.processEvents()

    def test_what_it_holds_is_as_large_as_itself(self):
        self.splitter.setSizes([500, 300])
        self.settle()
        self.assertEqual(self.held.size(), self.splitter.widget(0).size())
        self.assertEqual(self.held.width(), self.splitter.sizes()[0])

    def test_a_word_that_fits_leaves_the_neighbours_alone(self):
        before = self.neighbour.asked
        self.label.setText("another")
        self.settle()
        self.assertEqual(self.neighbour.asked, before)

    def test_room_that_it_needs_is_made(self):
        self.splitter.setSizes([400, 400])
        self.label.setMinimumWidth(600)
        self.settle()
        self.assertGreaterEqual(self.splitter.widget(0).width(), 600)
        self.assertGreaterEqual(self.label.width(), 600)


if __name__ == "__main__":
    unittest.main()

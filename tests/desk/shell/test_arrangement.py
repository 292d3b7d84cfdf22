"""How the bands of the window share the room, and that they do so again at the next start."""

import unittest

from PyQt6.QtCore import QSettings
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.shell.arrangement import COLUMN, GEOMETRY, HALVES
from mossy_bridge.desk.window import Window
from tests.support.qt import DeskCase, FakePerson


class Arrangement(DeskCase):
    def setUp(self):
        super().setUp()
        self.settings = QSettings(str(self.folder / "kept.ini"), QSettings.Format.IniFormat)

    def start(self):
        """Another window, as the next start shows it."""
        window = Window(self.look, self.settings, FakePerson())
        window.survey_column.folds_by_itself = False
        window.body.take_up(window, self.settings)
        window.show()
        QApplication.processEvents()
        self.addCleanup(window.deleteLater)
        self.addCleanup(window.hide)
        return window

    def test_at_first_the_map_has_more_than_half(self):
        window = self.start()
        room = window.screen().availableSize()
        self.assertTrue(window.width() <= room.width() and window.height() <= room.height())
        window.resize(1280, 800)
        QApplication.processEvents()
        below_strip = window.middle.height()
        self.assertGreater(window.map.height(), below_strip / 2)

    def test_sizes_are_those_of_the_last_time(self):
        window = self.start()
        window.resize(790, 690)
        window.middle.halves.setSizes([220, 330])
        window.body._across.setSizes([500, 280])
        QApplication.processEvents()
        told = window.middle.halves.sizes(), window.body._across.sizes(), window.size()
        window.body.keep(window, self.settings)
        again = self.start()
        self.assertEqual((again.middle.halves.sizes(), again.body._across.sizes(), again.size()), told)

    def test_whatever_stands_in_the_settings_it_starts(self):
        for key, value in ((GEOMETRY, "nonsense"), (HALVES, 7), (COLUMN, "wide"), (COLUMN, -5), (COLUMN, 10**9)):
            self.settings.setValue(key, value)
            window = self.start()
            self.assertTrue(200 <= window.body._across.sizes()[1] <= window.width() / 2 + 10, (key, value))

    def test_the_live_walk_fills_the_middle(self):
        self.open_demo()
        self.window.walking.begin()
        self.window.walking.page.choose(1)
        before = self.window.walking.page.height()
        self.window.walking.page.walk_live.click()
        QApplication.processEvents()
        self.assertFalse(self.window.faces.isVisible())
        self.assertGreater(self.window.walking.page.height(), before * 1.5)
        self.window.walking.leave()
        QApplication.processEvents()
        self.assertTrue(self.window.faces.isVisible())


if __name__ == "__main__":
    unittest.main()

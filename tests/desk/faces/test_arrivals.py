"""The face Arrivals, by mouse and keys."""

import unittest

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit

from mossy_bridge.desk.faces.arrivals import ARRIVES, BACK, FROM, NOTES
from tests.support.qt import DeskCase, open_popup


class Arrivals(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo("tidewick_unfinished")
        self.face = self.window.arrivals
        self.window.faces.turn_to(self.face)
        self.table, self.view = self.face.table, self.face.view
        self.wait()

    def wait(self):
        self.wait_until(lambda: not self.face.busy, "the ways in")

    @property
    def ways(self):
        self.wait()
        return [(row.arrival.source, row.arrival.level) for row in self.table.rows]

    def row(self, source, level):
        return self.ways.index((source, level))

    def pick(self, text):
        """Types into the list that has opened, and takes what it finds."""
        line = open_popup().findChild(QLineEdit)
        QTest.keyClicks(line, text)
        self.key(line, Qt.Key.Key_Return)

    def test_what_stands_out_is_found_and_mended_in_place(self):
        whole = len(self.table.rows)
        self.face.shown.setCurrentIndex(1)
        self.face.shown.activated.emit(1)
        self.assertLess(len(self.table.rows), whole)
        row = self.row("gull_stair", "bell_sands")
        self.assertEqual(self.table.told(self.table.rows[row], NOTES), "nowhere to appear")
        self.view.setCurrentIndex(self.table.index(row, ARRIVES))
        self.key(self.view, Qt.Key.Key_Return)
        self.pick("East bank")
        if self.window.proposal_bar.proposal:
            self.agree()
        to = self.window.document.flow.level("gull_stair").exit("west_gate").to
        self.assertEqual(to.spawn, "east")
        self.settle()
        self.assertNotIn(("gull_stair", "bell_sands"), self.ways)
        self.window.document.undo()
        self.assertIn(("gull_stair", "bell_sands"), self.ways)

    def test_a_click_on_a_heading_sorts_and_a_third_one_gives_the_order_back(self):
        header, before = self.view.horizontalHeader(), self.ways
        at = QPoint(header.sectionViewportPosition(BACK) + 12, header.height() // 2)
        far = []
        for _ in range(3):
            QTest.mouseClick(header.viewport(), Qt.MouseButton.LeftButton, pos=at)
            found = [row.arrival.distance for row in self.table.rows if row.arrival.distance is not None]
            far.append(found)
        self.assertEqual(far[0], sorted(far[0]))
        self.assertEqual(far[1], sorted(far[1], reverse=True))
        self.assertEqual(self.ways, before)
        self.table.sort(NOTES)
        self.assertTrue(self.table.rows[0].notes)
        self.face.search.setText("bell")
        self.assertTrue(self.table.rows[0].notes)  # it stays sorted when narrowed

    def test_a_landing_of_its_own_is_made_beside_the_way_back(self):
        row = self.row("slipway", "bell_sands")
        before = len(self.window.document.flow.level("bell_sands").spawns)
        self.face.choose_landing(row)
        self.pick("new spawn")
        if self.window.proposal_bar.proposal:
            self.agree()
        level = self.window.document.flow.level("bell_sands")
        self.assertEqual(len(level.spawns), before + 1)
        landing = level.spawns[-1]
        self.assertEqual(landing.name, "From The Slipway")
        self.assertEqual(self.window.document.flow.level("slipway").exit("east_gate").to.spawn, landing.id)
        self.assertLess(landing.x, 10)  # beside the gate that leads back

    def test_a_row_shows_its_crossing_on_the_bench(self):
        row = self.row("slipway", "bell_sands")
        self.view.scrollTo(self.table.index(row, FROM))
        at = self.view.visualRect(self.table.index(row, FROM)).center()
        self.click(self.view.viewport(), at)
        self.assertEqual((self.window.selection.level_id, self.window.selection.exit_id), ("slipway", "east_gate"))

    def test_searching_and_the_level_selected(self):
        QTest.keyClicks(self.face.search, "net loft")
        self.assertTrue(self.table.rows)
        for way in self.ways:
            self.assertIn("net_loft", way)
        self.face.search.clear()
        self.window.selection.select("pan_row")
        self.face.shown.setCurrentIndex(2)
        self.face.shown.activated.emit(2)
        self.assertEqual({level for _, level in self.ways}, {"pan_row"})
        self.window.selection.select("mud_flats")
        self.assertEqual({level for _, level in self.ways}, {"mud_flats"})


if __name__ == "__main__":
    unittest.main()

"""Promises and recorded walks in the survey column, and routes shown move by move."""

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QListWidget

from mossy_bridge.desk.survey.promises_panel import route_words
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.reach.system.routes import SomeRoute
from tests.support.qt import DeskCase, open_popup


class Kept(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.kept = self.window.survey_column.kept

    def fill(self, row, what, text):
        next(blank for blank in row.sentence.blanks() if blank.what == what).click()
        field = open_popup().findChild(QLineEdit)
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        QApplication.processEvents()

    def test_a_promise_is_made_as_a_sentence_and_checked(self):
        self.window.selection.select("lamp_room")
        self.kept.add.click()
        row = self.kept.promises["promise_2"]
        self.settle()
        self.assertEqual(row.stands.text(), "kept")
        self.assertIn("moves", row.route.words)
        self.fill(row, "what must be true there", "has clapper and has rope")
        self.fill(row, "the kind of promise", "never")
        self.settle()
        promise = self.window.document.flow.promises[1]
        self.assertEqual(
            (promise.kind, promise.level, promise.when), ("never", "lamp_room", "has clapper and has rope")
        )
        self.assertEqual(row.stands.text(), "broken")
        self.fill(row, "the kind of promise", "soon")
        self.fill(row, "the crossings", "3")
        self.settle()
        self.assertEqual((row.stands.text(), row.route.isVisible()), ("broken", False))
        self.fill(row, "where to", "bell guides")
        self.assertEqual(self.window.document.flow.promises[1].ending, "bell_rung")
        next(blank for blank in row.sentence.blanks() if blank.what == "remove the promise").click()
        self.assertEqual(len(self.window.document.flow.promises), 1)

    def test_a_route_that_may_not_be_the_shortest_says_so(self):
        route = self.window.result.survey.endings["bell_rung"].route
        for shown, told, notes in ((route, f"Route: {len(route)} moves", 0),
                                   (SomeRoute(route), f"Route: {len(route)} moves, not surely the fewest", 1)):  # fmt: skip
            self.assertEqual(route_words(shown), told)
            box = self.window.show_route(shown, "how it ends")
            notes_shown = [label for label in box.findChildren(QLabel) if "shorter one" in label.text()]
            self.assertEqual(len(notes_shown), notes)
            box.close()

    def test_a_route_is_shown_walked_to_and_kept_as_a_walk(self):
        self.window.requests.upkeep.new_promise()
        self.window.requests.upkeep.set_promise("promise_2", level="gull_stair")
        self.settle()
        self.kept.promises["promise_2"].route.click()
        box = open_popup()
        listed = box.findChild(QListWidget)
        lines = [listed.item(row).text() for row in range(listed.count())]
        self.assertEqual(lines[0], "Start in Title")
        self.assertIn("1.  Title: New game → The Slipway", lines[1])
        listed.itemClicked.emit(listed.item(2))
        self.assertEqual((self.window.selection.level_id, self.window.selection.exit_id), ("slipway", "east_gate"))
        self.person.answers["Keep as a recorded walk"] = "To the gulls"
        next(link for link in box.findChildren(Link) if "Keep" in link.text()).click()
        walk = self.window.document.flow.walks[0]
        self.assertEqual((walk.name, len(walk.moves)), ("To the gulls", 3))
        self.settle()
        row = self.kept.walks["to_the_gulls"]
        self.assertEqual(row.stands.text(), "kept")
        self.fill(row, "what it should lead to", "reach 1-4")
        self.assertEqual(self.window.document.flow.walks[0].expect, "at:gull_stair")
        self.window.requests.crossings.connect("bell_sands", "east_gate", "net_loft", "")
        self.agree()  # for it breaks the walk
        self.settle()
        self.assertIn("broken", row.stands.text())
        next(blank for blank in row.sentence.blanks() if blank.what == "remove the walk").click()
        self.assertEqual(self.window.document.flow.walks, ())


if __name__ == "__main__":
    unittest.main()

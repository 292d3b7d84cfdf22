"""The handbook: every check and every action is in it, it opens where one is, and what one looks for is found."""

import re
import unittest
from dataclasses import replace

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QTextDocument
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from mossy_bridge.checks.explanations import explained
from mossy_bridge.checks.finding import check_words
from mossy_bridge.checks.registry import CHECKS, Check
from mossy_bridge.desk.handbook.pages import CONTENTS, FOLDER, KEYS, check_page, handbook, searched, sections
from mossy_bridge.desk.shell.do_box import matching
from tests.support.qt import DeskCase


class Explained(unittest.TestCase):
    def test_every_check_says_what_it_finds_an_example_and_the_way_out(self):
        for check in CHECKS.values():
            with self.subTest(check.slug):
                said = explained(check)
                for part in (said.meaning, said.example, said.mend, check.why):
                    self.assertRegex(part, r"^\S.*[.!]$")
                self.assertGreater(len(said.meaning), 20)

    def test_a_check_that_says_too_little_is_refused(self):
        def silent(here):
            """Found when something is so."""

        with self.assertRaises(ValueError):
            explained(Check("made-up", "hint", "places", "Because.", silent, lambda *_: iter(())))


class Pages(DeskCase):
    def setUp(self):
        super().setUp()
        self.table = self.window.actions_made.table
        self.pages = handbook(self.table)

    def test_every_check_has_a_section(self):
        for slug in CHECKS:
            page, heading = check_page(slug)
            self.assertIn(heading, [found for found, _ in sections(self.pages[page])])

    def test_every_action_and_its_key_is_in_the_table_of_keys(self):
        for action in self.table:
            self.assertIn(f"| `{action.keys}` | {action.words} |", self.pages[KEYS].text)

    def test_every_written_page_is_listed_and_every_link_leads_somewhere(self):
        self.assertLessEqual({path.stem for path in FOLDER.glob("*.md")}, set(self.pages))
        for page in self.pages.values():
            self.assertTrue(page.text.startswith("# "), page.name)
            for name in re.findall(r"[^!]\[[^\]]*\]\(([\w-]+)\.md\)", page.text):
                self.assertIn(name, self.pages, page.name)
        linked = set(re.findall(r"\(([\w-]+)\.md\)", self.pages[CONTENTS].text))
        self.assertEqual(linked, set(self.pages) - {CONTENTS})

    def test_every_face_has_a_page(self):
        for face in self.window.faces.faces:
            self.assertIn(face.title.lower().replace(" ", "-"), self.pages)

    def test_what_is_searched_for_is_found_headings_first(self):
        found = searched(list(self.pages.values()), "exit buried")
        self.assertEqual((found[0].page.name, found[0].heading), ("checks-places", "Exit buried"))
        self.assertIn("recipe-lives", [one.page.name for one in searched(list(self.pages.values()), "lives")])
        self.assertEqual(searched(list(self.pages.values()), "zeppelin"), [])
        self.assertEqual(searched(list(self.pages.values()), " "), [])


class Panel(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo("tidewick_unfinished")
        self.settle()
        self.panel = self.window.handbook

    def press(self, widget, key=Qt.Key.Key_F1):
        widget.setFocus()
        self.key(widget, key)

    def test_f1_opens_the_page_on_what_has_the_keyboard(self):
        for widget, page in ((self.window.strip, "strip"), (self.window.map, "map")):
            self.window.handbook.closed.emit()
            self.press(widget)
            self.assertTrue(self.panel.isVisible())
            self.assertEqual(self.panel.place[0], page)
        self.window.handbook_beside.close()
        self.window.faces.turn_to(self.window.facts)
        self.press(self.window.facts.grid)
        self.assertEqual(self.panel.place[0], "facts")

    def test_in_the_survey_it_is_the_page_on_the_check(self):
        self.card_of("exit-buried")
        self.press(self.window.survey_column.list)
        self.assertEqual(self.panel.place, ("checks-places", "Exit buried"))
        self.assertEqual(self.panel.view.textCursor().block().text(), "Exit buried")

    def test_what_a_finding_means_is_a_click_away(self):
        card = self.card_of("exit-unconnected")
        card.meant.emit()
        self.assertEqual(self.panel.place, ("checks-structure", check_words("exit-unconnected")))
        self.assertIn("Weigh House: Yard door leads nowhere yet.", self.panel.view.toPlainText())

    def test_it_closes_by_escape_and_gives_the_survey_its_room_again(self):
        self.press(self.window.map)
        self.assertTrue(self.window.survey_column.is_folded)
        self.press(self.panel.view, Qt.Key.Key_Escape)
        self.assertFalse(self.panel.isVisible())
        self.assertFalse(self.window.survey_column.is_folded)
        self.assertIs(QApplication.focusWidget(), self.window.map)

    def test_links_lead_on_and_back(self):
        self.window.handbook_beside.open("first-hour")
        self.panel.view.anchorClicked.emit(QUrl("map.md"))
        self.assertEqual(self.panel.place[0], "map")
        self.panel.back.click()
        self.assertEqual(self.panel.place[0], "first-hour")
        self.panel.forward.click()
        self.assertEqual(self.panel.place[0], "map")
        for link in ("https://example.org/map.md", "file:///etc/passwd", "nowhere.md"):
            self.panel.view.anchorClicked.emit(QUrl(link))
            self.assertEqual(self.panel.place[0], "map")

    def test_pictures_are_shown_and_nothing_from_elsewhere(self):
        self.window.handbook_beside.open("map")
        kind = QTextDocument.ResourceType.ImageResource.value
        picture = self.panel.view.loadResource(kind, QUrl("../screenshots/map.png"))
        self.assertLessEqual(picture.width(), self.panel.view.viewport().width())
        for name in ("/etc/hostname", "../../README.md", "https://example.org/x.png"):
            self.assertIsNone(self.panel.view.loadResource(kind, QUrl(name)))

    def test_searching_by_keys(self):
        self.window.handbook_beside.open("first-hour")
        self.panel.line.setFocus()
        QTest.keyClicks(self.panel.line, "exit buried")
        self.assertTrue(self.panel.found.isVisible())
        self.key(self.panel.line, Qt.Key.Key_Return)
        self.assertEqual(self.panel.place, ("checks-places", "Exit buried"))
        self.assertTrue(self.panel.view.isVisible())
        QTest.keyClicks(self.panel.line, "zeppelin")
        self.assertEqual(self.panel.found.item(0).text(), "Nothing of that in the handbook")


class Doing(DeskCase):
    def test_an_action_is_found_by_its_name_and_done(self):
        self.open_demo()
        self.window.selection.select("bell_sands")
        box = self.window.open_do_box()
        QTest.keyClicks(box._line, "duplic")
        self.assertIn("Ctrl+D", box._list.item(0).text())
        self.key(box._line, Qt.Key.Key_Return)
        self.assertEqual(self.window.document.undo_name, "duplicate Bell Sands")

    def test_what_cannot_be_done_says_why_and_is_not_done(self):
        box = self.window.open_do_box()
        QTest.keyClicks(box._line, "duplic")
        self.assertIn("Select a level first.", box._list.item(0).text())
        self.key(box._line, Qt.Key.Key_Return)
        self.assertTrue(box.isVisible())
        QTest.keyClicks(box._line, "xx")
        self.assertEqual(box._list.item(0).text(), "No action by that name")

    def test_names_come_before_descriptions(self):
        table = self.window.actions_made.table
        found = matching(table, "undo")
        self.assertEqual(found[0].id, "undo")
        self.assertEqual(matching([replace(table[0], text="&Whatever", tip="It undoes")], "undo")[0].words, "Whatever")


if __name__ == "__main__":
    unittest.main()

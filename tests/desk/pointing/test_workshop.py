"""Readers made by pointing, with real clicks and keys: from a folder of level files to a proven flow, and changed."""

import json
import random
import unittest
from xml.sax.saxutils import quoteattr

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialogButtonBox

from mossy_bridge.desk.dialogs.new_from_folder import FolderDialog
from mossy_bridge.desk.pointing.workshop import ReaderWorkshop
from mossy_bridge.desk.sentences.popups import ROLE, Picker
from mossy_bridge.model.flow import Flow, Reader, Rule
from tests.support.game_files import ENDINGS, FORMS, KINDS
from tests.support.qt import DeskCase, open_popup

LEFT = Qt.MouseButton.LeftButton
OK = QDialogButtonBox.StandardButton.Ok


def hall(form, number, of):
    """A made-up level: a floor, a door to the next hall, one back, and where the player appears at each."""
    last, first = number == of, number == 1
    rows = [("rock", "", 0, 12, 40, 4, ""), ("start", "west", 3, 12, 0, 0, ""), ("start", "east", 36, 12, 0, 0, ""),
            ("gate", "on", 38, 9, 2, 3, "the end" if last else f"hall_{number + 1}")]  # fmt: skip
    rows += [] if first else [("gate", "back", 0, 9, 2, 3, f"hall_{number - 1}")]
    rows += [("pickup", "oil", 20, 12, 0, 0, "")] if number % 5 == 0 else []
    random.Random(number).shuffle(rows)
    if form == "text":
        lines = [f"{kind} {name or '-'} at {x} {y} {w} {h}{f' to {to}' if ' ' not in to else ' to END'}" if to else
                 f"{kind} {name or '-'} at {x} {y} {w} {h}" for kind, name, x, y, w, h, to in rows]  # fmt: skip
        return "\n".join(["size 40 by 16", *lines])
    keys = ("kind", "name", "x", "y", "width", "height", "to")
    things = [{key: value for key, value in zip(keys, row, strict=True) if value != ""} for row in rows]
    if form == "json":
        return json.dumps({"width": 40, "height": 16, "things": things})
    said = (" ".join(f"{key}={quoteattr(str(value))}" for key, value in one.items()) for one in things)
    inside = "".join(f"<thing {one}/>\n" for one in said)
    return f'<hall width="40" height="16">\n{inside}</hall>'


class Workshop(DeskCase):
    def make_game(self, form, count=60):
        (self.folder / "halls").mkdir(exist_ok=True)
        for number in range(1, count + 1):
            path = self.folder / "halls" / f"hall_{number}.{ENDINGS[form]}"
            path.write_text(hall(form, number, count))

    def open_workshop(self, reader=None, flow=None):
        files = sorted(str(path.relative_to(self.folder)) for path in (self.folder / "halls").iterdir())
        self.workshop = ReaderWorkshop(None, self.look, self.folder, flow, files, reader)
        self.addCleanup(self.workshop.deleteLater)
        self.addCleanup(self.workshop.reject)
        self.workshop.show()
        self.workshop.activateWindow()
        self.clicks = 0
        self.quiet()

    def quiet(self):
        draft = self.workshop.draft
        self.wait_until(lambda: not draft.busy and draft.progress is None, "the reading of the samples")
        QApplication.processEvents()

    def click(self, widget, at=None):
        at = at or widget.rect().center()
        QTest.mouseClick(widget, LEFT, pos=at)
        self.clicks += 1
        QApplication.processEvents()

    def click_on(self, number, keys=Qt.KeyboardModifier.NoModifier):
        """Clicks on a node of the sample."""
        view = self.workshop.sample
        index = view.nodes.index_of(number)
        view.scrollTo(index)
        QTest.mouseClick(view.viewport(), LEFT, keys, view.visualRect(index).center())
        self.clicks += 1
        QApplication.processEvents()

    def node(self, word):
        """The first node of the sample that is of a kind."""
        sample = self.workshop.draft.sample
        for number, node in enumerate(sample.nodes):
            said = {"xml": node.attributes.get("kind"), "json": sample.fields[number].get("$.kind"),
                    "text": node.text.split(" ")[0]}[sample.form]  # fmt: skip
            if said == word:
                return number
        return 0

    def point(self, kind, word):
        self.click_on(self.node(word))
        self.click(self.workshop.kinds[kind])
        self.quiet()

    def point_at_everything(self):
        self.point("plan", "size")
        for kind in ("solid", "exit", "spawn"):
            self.point(kind, KINDS[kind])

    def say(self, text, meaning):
        """Gives a destination a meaning."""
        words = self.workshop.words
        self.click(self.workshop.tabs.tabBar(), self.workshop.tabs.tabBar().tabRect(1).center())
        cell = words.table.visualRect(words.table.model().index(words.texts.index(text), 2))
        self.click(words.table.viewport(), cell.center())
        picker = open_popup()
        self.assertIsInstance(picker, Picker)
        item = next(
            item for row in range(picker._list.count()) if (item := picker._list.item(row)).data(ROLE) == meaning
        )
        self.click(picker._list.viewport(), picker._list.visualItemRect(item).center())
        self.quiet()

    def test_from_a_folder_of_sixty_files_to_a_proven_flow_in_a_dozen_clicks(self):
        for form in FORMS:
            with self.subTest(form):
                for path in (self.folder / "halls").glob("*"):
                    path.unlink()
                self.make_game(form)
                self.open_workshop()
                self.point_at_everything()
                self.say("END" if form == "text" else "the end", "end:end" if form == "text" else "end:the_end")
                self.assertLessEqual(self.clicks, 12)
                counts = [self.workshop.draft.counts(rule)[1] for rule in range(4)]
                self.assertEqual(counts, [60, 60, 119, 120])
                self.click(self.workshop.box.button(OK))
                self.assertEqual(self.workshop.result(), ReaderWorkshop.DialogCode.Accepted)
                self.prove(self.workshop.reader)

    def prove(self, reader):
        """Makes the flow by the dialog of the folder, and has it surveyed."""
        self.person.answers |= {"folder": self.folder, "readers": [reader], "unsaved": "discard"}
        self.key(self.window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        self.settle()
        flow = self.window.document.flow
        self.assertEqual([len(flow.levels), len(flow.levels[1].exits), len(flow.levels[1].spawns)], [60, 2, 2])
        self.assertEqual(flow.levels[1].plan.solids, ((0, 12, 40, 4),))
        self.assertIn("All 60 levels reached", self.window.verdict.sentence)
        self.assertIn("proven", self.window.verdict.sentence)

    def test_the_folder_offers_to_say_what_is_in_the_files(self):
        self.make_game("json", 3)
        dialog = FolderDialog(None, self.look, self.folder)
        self.addCleanup(dialog.deleteLater)
        self.assertIn("Say what is in", dialog.read.text())
        self.assertFalse(dialog.readers)
        rule = Rule(makes="plan", each="$", take={"width": "$.width", "height": "$.height"})
        dialog.take_reader(Reader(id="halls", name="Halls", files="halls/*.json", form="json", rules=(rule,)))
        self.assertEqual(len(dialog.chosen), 3)
        self.assertTrue(dialog.pattern.isHidden())
        dialog.make()
        self.wait_until(lambda: dialog.flow is not None, "the flow")
        self.assertEqual([level.plan.width for level in dialog.flow.levels], [40, 40, 40])

    def test_what_is_found_is_shown_in_the_tree_and_drawn(self):
        self.make_game("xml", 6)
        self.open_workshop()
        nodes = self.workshop.sample.nodes
        gate = nodes.index_of(self.node("gate"), 2)
        self.assertEqual(nodes.data(gate), "")
        self.point_at_everything()
        self.assertEqual(nodes.data(gate), "exit")
        level = self.workshop.drawing.level
        self.assertEqual((level.plan.width, len(level.exits), len(level.spawns)), (40, 1, 2))
        drawing = self.workshop.drawing
        frame = drawing._frame()
        west = frame.point(level.spawns[0].x, level.spawns[0].y).toPoint() - QPoint(0, 5)
        self.click(drawing, west)
        self.assertEqual(self.workshop.sample.chosen, [self.node("start")])

    def test_several_at_once_and_another_way_of_telling_them(self):
        self.make_game("xml", 6)
        self.open_workshop()
        self.click_on(self.node("gate"))
        self.click_on(self.node("start"), Qt.KeyboardModifier.ControlModifier)
        self.click(self.workshop.kinds["deed"])
        self.quiet()
        rules = self.workshop.rules
        self.assertEqual(rules.each.text(), "//thing[@kind='gate' or @kind='start']"
                         if self.node("gate") < self.node("start") else "//thing[@kind='start' or @kind='gate']")  # fmt: skip
        texts = [action.text() for action in rules.other.menu().actions()]
        wide = next(at for at, text in enumerate(texts) if text.startswith("//thing "))
        rules.other.menu().actions()[wide].trigger()
        self.quiet()
        self.assertEqual(self.workshop.draft.reader.rules[0].each, "//thing")

    def test_changes_by_hand_are_tried_at_once_and_taken_back(self):
        self.make_game("xml", 6)
        self.open_workshop()
        self.point("exit", "gate")
        draft, rules = self.workshop.draft, self.workshop.rules
        rules.each.setFocus()
        rules.each.selectAll()
        QTest.keyClicks(rules.each, "//thing[")
        QTest.keyClick(rules.each, Qt.Key.Key_Tab)
        self.quiet()
        self.assertIn("is no XPath", rules.trouble.text())
        self.assertFalse(self.workshop.box.button(OK).isEnabled())
        QTest.keyClick(self.workshop.sample, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.quiet()
        self.assertEqual(draft.reader.rules[0].each, "//thing[@kind='gate']")
        self.assertTrue(self.workshop.box.button(OK).isEnabled())
        QTest.keyClick(self.workshop.sample, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.quiet()
        self.assertEqual(draft.reader.rules, ())
        QTest.keyClick(self.workshop.sample, Qt.Key.Key_Z,
                       Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)  # fmt: skip
        self.quiet()
        self.assertEqual(draft.counts(0), (1, 11, 6))

    def test_by_keyboard_alone(self):
        self.make_game("xml", 6)
        self.open_workshop()
        self.workshop.sample.setFocus()
        while self.workshop.sample.chosen != [self.node("gate")]:
            QTest.keyClick(self.workshop.sample, Qt.Key.Key_Down)
        QTest.keyClick(self.workshop.sample, Qt.Key.Key_X, Qt.KeyboardModifier.AltModifier)
        self.wait_until(lambda: self.workshop.draft.reader.rules, "the rule")  # a key presses a button for a moment
        self.assertEqual([rule.makes for rule in self.workshop.draft.reader.rules], ["exit"])
        self.quiet()

    def test_files_that_cannot_be_read_and_none_at_all_are_told(self):
        (self.folder / "halls").mkdir()
        (self.folder / "halls" / "hall_1.xml").write_text("<hall><thing></hall>")
        self.open_workshop()
        self.assertIn("cannot be read: line 1", self.workshop.empty.text())
        self.workshop.files.setText("nowhere/*.xml")
        self.workshop.files.editingFinished.emit()
        self.quiet()
        self.assertIn("No level file fits “nowhere/*.xml”", self.workshop.empty.text())
        self.assertFalse(self.workshop.kinds["exit"].isEnabled())

    def test_a_slow_rule_is_given_up_and_told(self):
        (self.folder / "halls").mkdir()
        (self.folder / "halls" / "hall_1.map").write_text("a" * 60 + "!\n")
        rule = Rule(makes="exit", each="^(a|aa|a?a)+$", take={})
        self.open_workshop(Reader(id="halls", files="halls/*.map", form="text", rules=(rule,)))
        self.assertIn("takes over 2 seconds", self.workshop.rules.trouble.text())

    def test_the_face_makes_and_changes_readers(self):
        self.make_game("xml", 3)
        self.open_workshop()
        self.point_at_everything()
        made = self.workshop.reader
        self.person.answers |= {"folder": self.folder, "made reader": made, "readers": []}
        self.window.files.new_from_folder()
        self.window.readers.make()
        self.settle()
        self.assertEqual(self.window.document.flow.readers, (made,))
        asked = self.person.told[-1]
        self.assertEqual((asked[1], asked[3], asked[4]),
                         (self.folder, [f"halls/hall_{n}.xml" for n in (1, 2, 3)], None))  # fmt: skip
        self.assertIsInstance(asked[2], Flow)
        self.person.answers["made reader"] = replace(made, rules=made.rules[:1])
        self.window.readers.make(made.id)
        self.assertEqual(len(self.window.document.flow.readers[0].rules), 1)
        self.key(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.window.document.flow.readers, (made,))


if __name__ == "__main__":
    unittest.main()

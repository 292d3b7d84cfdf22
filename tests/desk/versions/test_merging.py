"""Three versions brought together in the window: clean, and with conflicts decided one by one."""

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.exchange.saving import save_flow
from mossy_bridge.model.edits.levels import remove_levels, set_exit, set_level
from mossy_bridge.model.flow import Destination
from tests.support.build import flow, play_level, way
from tests.support.qt import DeskCase

CTRL_ALT = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier


class Together(DeskCase):
    def setUp(self):
        super().setUp()
        self.base = flow(
            play_level("a", way("on", "b"), name="Fen"),
            play_level("b", way("on", "won"), name="Weir"),
            play_level("c", name="Reed"),
        )
        self.face, self.merging = self.window.versions, self.window.merging

    def bring(self, ours, theirs):
        self.window.document.take(ours, edited=False)
        self.settle()
        for name, one in (("theirs", theirs), ("base", self.base)):
            save_flow(one, self.folder / f"{name}.mossy")
        self.person.answers["Their version"] = self.folder / "theirs.mossy"
        self.person.answers["The version that both came from"] = self.folder / "base.mossy"
        self.key(self.window, Qt.Key.Key_B, CTRL_ALT)
        self.settle()

    def told(self):
        QApplication.processEvents()
        return [label.text().strip() for label in self.face.findChildren(Label) if label.isVisible()]

    def click(self, words, number=0):
        QApplication.processEvents()
        links = [link for link in self.face.findChildren(Link) if link.isVisible() and link.words == words]
        QTest.mouseClick(links[number], Qt.MouseButton.LeftButton)
        self.settle()

    def test_what_is_not_in_conflict_comes_together_as_one_step(self):
        self.bring(set_level(self.base, "a", name="Bog"), set_level(self.base, "b", minutes=4))
        if self.window.proposal_bar.isVisible():
            self.agree()
        flow_ = self.window.document.flow
        self.assertEqual((flow_.level("a").name, flow_.level("b").minutes), ("Bog", 4))
        self.assertEqual(self.window.document.undo_name, "bring together with theirs.mossy")
        self.assertEqual(self.merging.name, "")

    def test_conflicts_are_decided_one_by_one(self):
        ours = set_exit(set_level(self.base, "a", name="Bog"), "a", "on", to=Destination(level="c"))
        theirs = set_level(
            set_exit(set_level(self.base, "a", name="Marsh"), "a", "on", to=Destination(kind="next")), "b", minutes=4
        )
        self.bring(ours, theirs)
        told = self.told()
        self.assertIn("theirs.mossy: 2 of 2 conflicts to decide", told)
        for line in (
            "Bog: the name",
            "ours: “Bog”",
            "theirs: “Marsh”",
            "Bog: on: where it leads",
            "ours: Reed",
            "theirs: the next level of the order",
        ):
            self.assertIn(line, told)
        self.assertEqual(self.window.document.flow, ours, "nothing is done before all is decided")
        self.click("Take theirs")
        self.assertIn("theirs.mossy: 1 of 2 conflicts to decide", self.told())
        self.click("Take ours")
        self.assertIn("theirs.mossy: All conflicts are decided", self.told())
        self.click("Bring them together")
        level = self.window.document.flow.level("a")
        self.assertEqual(
            (level.name, level.exits[0].to.level, self.window.document.flow.level("b").minutes), ("Marsh", "c", 4)
        )
        self.key(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.window.document.flow, ours)

    def test_removed_against_changed(self):
        self.bring(remove_levels(self.base, ["c"]), set_level(self.base, "c", minutes=2))
        told = self.told()
        self.assertIn("Reed", told)
        self.assertIn("ours: removed", told)
        self.click("Take theirs")
        self.click("Bring them together")
        self.assertEqual(self.window.document.flow.level("c").minutes, 2)

    def test_given_up_and_begun_anew(self):
        ours, theirs = set_level(self.base, "a", name="Bog"), set_level(self.base, "a", name="Marsh")
        self.bring(ours, theirs)
        self.click("Give it up")
        self.assertEqual((self.merging.name, self.window.document.flow), ("", ours))
        self.bring(ours, theirs)
        self.window.requests.levels.set("b", minutes=1)
        self.click("Take ours")
        self.click("Bring them together")
        self.assertIn("has changed meanwhile", self.person.told[-1])


if __name__ == "__main__":
    unittest.main()

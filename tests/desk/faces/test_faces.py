"""The faces: checklist, transitions, tour, pace, patterns, level files, game."""

import tempfile
import unittest
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QDialogButtonBox, QLineEdit

from mossy_bridge.desk.dialogs.new_from_folder import FolderDialog
from mossy_bridge.model.edits.levels import PATTERN, whole
from tests.support.qt import DeskCase, open_popup

CONTROL, ALT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier


class Stepping(DeskCase):
    def test_the_faces_of_the_bar_are_gone_through_by_one_key(self):
        seen, faces = [], self.window.faces
        control, back = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
        for _ in faces.faces:
            seen.append(faces.faces[faces.index].title)
            QTest.keyClick(self.window, Qt.Key.Key_Tab, control)
        self.assertEqual(seen[:5], ["Map", "Arrivals", "Boards", "Facts", "Transitions"])
        self.assertEqual(seen[-1], "Game")
        self.assertEqual(len(set(seen)), len(faces.faces))
        self.assertEqual(faces.index, 0)
        QTest.keyClick(self.window, Qt.Key.Key_Backtab, control | back)
        self.assertEqual(faces.faces[faces.index].title, "Game")


class Checklist(DeskCase):
    def test_items_are_added_ticked_changed_and_removed(self):
        self.open_demo()
        self.key(self.window, Qt.Key.Key_4, ALT)
        face = self.window.checklist
        self.assertTrue(self.window.faces.is_in_view(self.window.checklist))
        QTest.keyClicks(face.new_item, "Has its own music")
        QTest.keyClick(face.new_item, Qt.Key.Key_Return)
        grid = face.grid
        grid.setCurrentIndex(face.table.index(0, 5))
        self.key(grid, Qt.Key.Key_Space)
        self.assertEqual(self.window.document.flow.level("slipway").ticked, ("has_its_own_music",))
        self.click(grid.viewport(), grid.visualRect(face.table.index(0, 6)).center())
        self.assertEqual(self.window.document.flow.level("bell_sands").ticked, ("has_its_own_music",))
        self.click(grid.viewport(), grid.visualRect(face.table.index(0, 0)).center())
        self.assertEqual(self.window.document.flow.level("title").ticked, ())  # not for screens
        self.settle()
        open_ones = [f for f in self.window.result.findings if f.check == "checklist-open"]
        self.assertEqual([len(f.at) for f in open_ones], [15])
        next(b for b in face.item.blanks() if b.what == "remove the item").click()
        self.assertEqual(self.window.document.flow.checklist, ())
        face.grab()


class Transitions(DeskCase):
    def test_all_on_one_scale_in_three_orders_and_a_click_shows_a_user(self):
        self.open_demo()
        self.key(self.window, Qt.Key.Key_3, ALT)
        face = self.window.transitions
        self.assertTrue(self.window.faces.is_in_view(self.window.transitions))
        uses = [count for _, count in face.rows.rows]
        self.assertEqual(uses, sorted(uses, reverse=True))
        face.orders[1].click()
        lengths = [one.seconds for one, _ in face.rows.rows]
        self.assertEqual(lengths, sorted(lengths, reverse=True))
        face.orders[2].click()
        self.assertEqual(
            [one.id for one, _ in face.rows.rows], [one.id for one in self.window.document.flow.transitions]
        )
        self.click(face.rows, face.rows.rect().topLeft() + face.rect().topLeft())
        first = face.rows.rows[0][0].id
        selection = self.window.selection
        self.assertEqual(self.window.document.flow.level(selection.level_id).exit(selection.exit_id).transition, first)
        self.key(face.rows, Qt.Key.Key_Down)
        self.assertEqual(face.rows.at, 1)
        face.grab()


class Tour(DeskCase):
    def test_a_tour_is_made_ticked_off_followed_and_written(self):
        self.open_demo()
        self.key(self.window, Qt.Key.Key_9, ALT)
        face = self.window.tour
        self.assertTrue(self.window.faces.is_in_view(self.window.tour))
        self.assertFalse(face.write.isEnabled())
        face.make.click()
        self.wait_until(lambda: not face.busy, "a tour")
        self.assertIn("97 exits, deeds, paths and tiles", face.summary.text())
        step = face.tree.topLevelItem(0).child(1)
        step.setCheckState(0, Qt.CheckState.Checked)
        self.assertIn("1 ticked off", face.summary.text())
        face.tree.itemClicked.emit(step, 0)
        self.assertEqual((self.window.selection.level_id, self.window.selection.exit_id), ("slipway", "drown"))
        with tempfile.TemporaryDirectory() as folder:
            for name, beginning in (("t.md", "# Tour of Tidewick"), ("t.csv", "walk,step")):
                self.person.answers["tour"] = Path(folder) / name
                face.write.click()
                self.assertTrue((Path(folder) / name).read_text("utf-8").startswith(beginning))
            self.person.answers["tour"] = Path(folder) / "no" / "t.md"
            face.write.click()
            self.assertEqual(self.person.told[-1][0] if isinstance(self.person.told[-1], tuple) else "Tour", "Tour")
        self.window.requests.levels.set("slipway", opens="never")
        self.settle()
        self.assertIn("has changed since", face.summary.text())
        face.grab()


class Pace(DeskCase):
    def test_walks_are_listed_and_plotted(self):
        self.open_demo()
        self.key(self.window, Qt.Key.Key_0, ALT)
        face = self.window.pace
        self.assertTrue(self.window.faces.is_in_view(self.window.pace))
        self.wait_until(lambda: face.table.rowCount() and not face.busy, "walks")
        names = [face.table.item(row, 0).text() for row in range(face.table.rowCount())]
        self.assertEqual(names, ["shortest to The lamp is lit", "shortest to The bell guides them home", "fullest"])
        self.assertGreater(float(face.table.item(2, 1).text()), float(face.table.item(0, 1).text()))
        self.assertEqual(len(face._plot.listDataItems()), 3)
        self.window.requests.upkeep.keep_walk("Begin", ["exit title.begin"])
        self.settle()
        self.wait_until(lambda: face.table.rowCount() == 4, "the walk")
        self.assertEqual(len(face._plot.listDataItems()), 4)
        face.grab()

    def test_walks_of_another_flow_are_not_shown_for_one_just_opened(self):
        self.open_demo()
        face, result = self.window.pace, self.window.result
        face.show_flow(result.flow, result)
        face.show_flow(result.flow, None)
        self.wait_until(lambda: not face.busy, "the work to end")
        self.assertEqual(face.table.rowCount(), 0)
        face.show_flow(result.flow, result)
        self.wait_until(lambda: face.table.rowCount() == 3, "walks")


class Patterns(DeskCase):
    def test_make_base_change_take_back_and_detach(self):
        self.open_demo()
        window = self.window
        self.key(window, Qt.Key.Key_7, ALT)
        self.assertTrue(window.faces.is_in_view(window.patterns))
        window.selection.select("gull_stair")
        before = whole(window.document.flow, "gull_stair")
        self.person.answers["New pattern"] = "Marsh level"
        window.patterns._make()
        self.assertEqual(window.document.flow.level("gull_stair").pattern, "marsh_level")
        self.assertEqual(whole(window.document.flow, "gull_stair").exits, before.exits)
        window.selection.select(PATTERN + "marsh_level")
        window.grab()
        window.requests.levels.set(PATTERN + "marsh_level", minutes=9)
        self.assertEqual(whole(window.document.flow, "gull_stair").minutes, 9)
        window.selection.select("gull_stair")
        window.requests.plans.move("gull_stair", window.bench.level.plan._all_parts()[:1], 1, 0)
        self.assertEqual(len(window.document.flow.level("gull_stair").exits), 1)
        window.requests.upkeep.take_back("gull_stair", "exits", window.document.flow.level("gull_stair").exits[0].id)
        self.assertEqual(window.document.flow.level("gull_stair").exits, ())
        window.requests.upkeep.base_on("")
        self.assertEqual((window.document.flow.level("gull_stair").pattern, whole(window.document.flow, "gull_stair").minutes),
                         ("", 9))  # fmt: skip
        window.selection.select(PATTERN + "marsh_level")
        window.requests.remove()
        self.assertEqual(window.document.flow.patterns, ())
        self.settle()
        self.assertEqual([f.message for f in window.result.findings if f.severity == "error"], [])


class LevelFiles(DeskCase):
    def make_files(self, *names):
        for name in names:
            (self.folder / name).parent.mkdir(exist_ok=True)
            (self.folder / name).write_text("")

    def test_a_flow_from_a_folder(self):
        self.make_files("maps/level_10.map", "maps/level_2.map", "maps/level_1.map", "notes.txt")
        self.person.answers["folder"] = self.folder
        self.key(self.window, Qt.Key.Key_N, CONTROL | ALT)
        self.settle()
        flow = self.window.document.flow
        self.assertEqual(
            [(level.code, level.file) for level in flow.levels],
            [("1", "maps/level_1.map"), ("2", "maps/level_2.map"), ("10", "maps/level_10.map")],
        )
        self.assertTrue(self.window.document.edited)
        self.assertIn("All 3 levels reached", self.window.verdict.sentence)

    def test_the_dialog_shows_what_there_would_be(self):
        self.make_files("maps/level_1.map", "maps/level_2.map", "maps/other.dat")
        dialog = FolderDialog(None, self.look, self.folder)
        self.assertEqual(dialog.pattern.text(), "maps/level_*.map")
        self.assertEqual(dialog.preview.count(), 2)
        dialog.pattern.setText("maps/*.dat")
        self.assertEqual(dialog.chosen, ["maps/other.dat"])
        dialog.pattern.setText("none*")
        self.assertFalse(dialog._box.button(QDialogButtonBox.StandardButton.Ok).isEnabled())
        dialog.deleteLater()

    def test_files_that_change_while_the_program_runs_are_told_and_followed(self):
        self.make_files("maps/level_1.map", "maps/level_2.map", "maps/level_3.map")
        self.person.answers["folder"] = self.folder
        self.window.files.new_from_folder()
        self.person.answers["save"] = self.folder / "flow.mossy"
        self.window.files.save()
        self.key(self.window, Qt.Key.Key_6, ALT)
        self.assertTrue(self.window.faces.is_in_view(self.window.level_files))
        (self.folder / "maps/level_3.map").rename(self.folder / "maps/the_marsh.map")
        self.make_files("maps/level_9.map")
        self.wait_until(lambda: bool(self.window.watch.news), "news of the files")
        news = self.window.watch.news
        self.assertEqual((news.gone, len(news.renamed), len(news.added)), ((), 1, 1))
        self.wait_until(
            lambda: "2 new on disk" in self.window.faces.button_of(self.window.level_files).text(), "the tab"
        )
        self.window.grab()
        self.window.requests.level_files.follow_renamed([("maps/level_3.map", "maps/the_marsh.map")])
        self.window.requests.level_files.add_files(["maps/level_9.map"])
        if self.window.proposal_bar.isVisible():
            self.key(self.window.proposal_bar.yes, Qt.Key.Key_Return)
        self.assertEqual([level.file for level in self.window.document.flow.levels][2:],
                         ["maps/the_marsh.map", "maps/level_9.map"])  # fmt: skip
        self.assertFalse(self.window.watch.news)


class Game(DeskCase):
    def test_what_holds_for_the_whole_game(self):
        self.open_demo()
        self.key(self.window, Qt.Key.Key_8, ALT)
        blanks = {b.what: b for s in self.window.game.sentences for b in s.blanks()}
        for what, text in (("the title", "Lamp"), ("when it saves", "never"), ("the view", "above"),
                           ("the walker's speed", "7.5"), ("units to the door back are far", "20")):  # fmt: skip
            blanks[what].click()
            field = open_popup().findChild(QLineEdit)
            field.selectAll()
            QTest.keyClicks(field, text)
            QTest.keyClick(field, Qt.Key.Key_Return)
        self.person.answers["New actor"] = "Mud crab"
        blanks["actors"].click()
        QTest.keyClick(open_popup().findChild(QLineEdit), Qt.Key.Key_Return)
        flow = self.window.document.flow
        self.assertEqual((flow.title, flow.saving, flow.walker.view, flow.walker.speed), ("Lamp", "never", "top", 7.5))
        self.assertEqual((flow.limits.return_distance, flow.actors), (20, ("player", "mud_crab")))


if __name__ == "__main__":
    unittest.main()

"""What can be set: kept, shown with its default, and in effect at once."""

import json
import os
import unittest
from pathlib import Path

from click.testing import CliRunner
from PyQt6.QtCore import QSettings, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from mossy_bridge.command import cli
from mossy_bridge.desk.settings.dialog import SettingsDialog
from mossy_bridge.desk.settings.preferences import PREFERENCES, Preferences
from mossy_bridge.desk.widgets.colours import DARK, DARK_HIGH, LIGHT_HIGH
from mossy_bridge.exchange.saving import save_flow
from tests.support.build import flow, play_level, way
from tests.support.qt import DeskCase


class Kept(DeskCase):
    def preferences(self):
        return Preferences(QSettings(str(self.folder / "p.ini"), QSettings.Format.IniFormat))

    def test_what_is_set_is_there_at_the_next_start_and_in_the_file(self):
        self.preferences().set("text_size", 150)
        self.preferences().set("editor", "kate {file}")
        again = self.preferences()
        self.assertEqual(
            (again.number("text_size"), again.text("editor"), again.text("look")), (150, "kate {file}", "desktop")
        )
        again._settings.sync()
        kept = Path(again.file).read_text("utf-8")
        self.assertIn("[preferences]", kept)
        self.assertIn("text_size=150", kept)

    def test_back_at_its_default_nothing_is_kept(self):
        preferences = self.preferences()
        preferences.set("motion", "less")
        preferences.set("motion", "usual")
        self.assertEqual(preferences._settings.allKeys(), [])

    def test_what_somebody_else_wrote_and_cannot_be_is_the_default(self):
        settings = QSettings(str(self.folder / "p.ini"), QSettings.Format.IniFormat)
        for key, wrong in (("look", "pink"), ("text_size", "9000"), ("port", "-1"), ("text_size", "abc")):
            settings.setValue(f"preferences/{key}", wrong)
            preferences = Preferences(settings)
            self.assertEqual(preferences.value(key), preferences.default(key))

    def test_what_cannot_be_is_refused(self):
        for key, wrong in (("look", "pink"), ("text_size", 10), ("port", 80), ("editor", 3)):
            with self.assertRaises(ValueError):
                self.preferences().set(key, wrong)


class InTheWindow(DeskCase):
    def setUp(self):
        super().setUp()
        self.preferences = self.window.preferences

    def test_dialog_shows_each_with_its_default_and_changes_take_effect(self):
        dialog = SettingsDialog(self.window, self.preferences)
        dialog.show()
        self.assertEqual(set(dialog.fields), {one.key for one in PREFERENCES})
        self.assertFalse(any(back.isVisible() for back in dialog.backs.values()))
        look = dialog.fields["look"]
        look.setFocus()
        QTest.keyClick(look, Qt.Key.Key_End)
        self.assertIs(self.look.colours, DARK)
        self.assertTrue(dialog.backs["look"].isVisible())
        contrast = dialog.fields["contrast"]
        contrast.setFocus()
        QTest.keyClick(contrast, Qt.Key.Key_End)
        self.assertIs(self.look.colours, DARK_HIGH)
        QTest.mouseClick(dialog.backs["look"], Qt.MouseButton.LeftButton)
        self.assertIs(self.look.colours, LIGHT_HIGH)
        size, before = dialog.fields["text_size"], self.look.font().pointSizeF()
        size.setFocus()
        size.selectAll()
        QTest.keyClicks(size, "200")
        QTest.keyClick(size, Qt.Key.Key_Return)
        self.assertAlmostEqual(self.look.font().pointSizeF(), 2 * before)
        self.assertAlmostEqual(QApplication.font().pointSizeF(), 2 * before)
        editor = dialog.fields["editor"]
        editor.setFocus()
        QTest.keyClicks(editor, "kate")
        QTest.keyClick(editor, Qt.Key.Key_Return)
        self.assertEqual(self.preferences.text("editor"), "kate")
        self.assertTrue(dialog.isVisible())
        dialog.close()
        dialog.deleteLater()

    def test_colours_chosen_from_the_menu_are_kept(self):
        self.window.actions_made.made["dark"].trigger()
        self.assertEqual(self.preferences.text("look"), "dark")
        self.assertIs(self.look.colours, DARK)

    def test_with_less_motion_nothing_folds_by_itself(self):
        self.window.survey_column.folds_by_itself = True
        self.preferences.set("motion", "less")
        self.assertFalse(self.window.survey_column.folds_by_itself)


class Editor(DeskCase):
    def setUp(self):
        super().setUp()
        save_flow(
            flow(play_level("a", way("on", "won"), file="levels/a.xml"), play_level("b", way("on", "won"))),
            self.folder / "f.mossy",
        )
        (self.folder / "levels").mkdir()
        self.level = self.folder / "levels" / "a.xml"
        self.level.write_text("<map/>", "utf-8")
        self.window.files.open(self.folder / "f.mossy")
        self.settle()
        self.window.selection.select("a")
        self.editor, self.started = self.window.editor, []
        self.editor.start = lambda program, words: self.started.append([program, *words]) or program != "gone"
        self.editor.open_as_desktop = lambda path: self.started.append(["desktop", path]) or True

    def open(self, command=""):
        self.window.preferences.set("editor", command)
        self.window.actions_made.made["open_file"].trigger()

    def test_the_file_stands_where_the_command_says_or_at_its_end(self):
        self.open("kate --line 3 '{file}' --new")
        self.open("vi")
        self.open()
        path = self.level.resolve()
        self.assertEqual(
            self.started, [["kate", "--line", "3", str(path), "--new"], ["vi", str(path)], ["desktop", path]]
        )

    def test_what_goes_wrong_is_told(self):
        self.open("gone")
        self.assertIn("gone, the editor in the settings, cannot be started", self.person.told[-1])
        self.open("kate '")
        self.assertIn("is no command", self.person.told[-1])
        os.chmod(self.level, 0o755)
        self.open()
        self.assertIn("is a program", self.person.told[-1])
        self.level.unlink()
        self.open()
        self.assertIn("levels/a.xml is not in the flow's folder", self.person.told[-1])

    def test_a_level_without_a_file_has_none_to_open(self):
        self.window.selection.select("b")
        self.assertFalse(self.window.actions_made.made["open_file"].isEnabled())


class FromAShell(unittest.TestCase):
    def test_all_are_printed_with_values_and_defaults(self):
        said = CliRunner().invoke(cli, ["settings"]).output
        for one in PREFERENCES:
            self.assertRegex(said, rf"(?m)^{one.key} = ")
        told = json.loads(CliRunner().invoke(cli, ["settings", "--format", "json"]).output)
        self.assertEqual(set(told["settings"]), {one.key for one in PREFERENCES})
        self.assertEqual(told["settings"]["port"]["default"], 47821)
        self.assertTrue(told["file"])


if __name__ == "__main__":
    unittest.main()

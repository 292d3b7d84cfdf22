"""Tables in the window: pasted from a spreadsheet, imported with a preview, exported."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication, QImage
from PyQt6.QtSvg import QSvgRenderer

from tests.support.qt import DeskCase

CONTROL, ALT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier
CELLS = "from\tto\texit\twhen\tspawn\n1-1\tGull Cave\tCave mouth\thas rope\tledge\nGull Cave\tslipway\tOut\t\twest\n"


class Tables(DeskCase):
    def copied(self, text):
        QGuiApplication.clipboard().setText(text)

    def paste(self):
        self.key(self.window, Qt.Key.Key_V, CONTROL)

    def test_cells_from_a_spreadsheet_are_shown_then_pasted_and_undone(self):
        self.open_demo()
        before = self.window.document.flow
        self.copied(CELLS)
        self.paste()
        self.assertIs(self.window.document.flow, before)
        self.agree()
        flow = self.window.document.flow
        exit_ = flow.level("slipway").exits[-1]
        self.assertEqual((exit_.id, exit_.trigger.when, exit_.to.level, exit_.to.spawn),
                         ("cave_mouth", "has rope", "gull_cave", "ledge"))  # fmt: skip
        self.assertEqual([spawn.id for spawn in flow.level("gull_cave").spawns], ["ledge"])
        self.assertEqual(flow.level("gull_cave").exits[0].to.spawn, "west")
        self.assertEqual(flow.facts, before.facts)
        self.key(self.window, Qt.Key.Key_Z, CONTROL)
        self.assertEqual(self.window.document.flow, before)

    def test_cells_that_are_not_understood_change_nothing(self):
        self.open_demo()
        before = self.window.document.flow
        self.copied("from\tto\twhen\nslipway\tnext\thas\n")
        self.paste()
        self.assertIs(self.window.document.flow, before)
        self.assertIn("Nothing pasted: the clipboard, row 2, column when: in “has”", self.person.told[-1])
        self.copied("one\ttwo\n")
        self.paste()
        self.assertIn("holds nothing of a flow", self.person.told[-1])

    def test_what_is_exported_is_imported_after_a_preview(self):
        self.open_demo()
        exits = sum(len(level.exits) for level in self.window.document.flow.levels)
        titles = [level.name for level in self.window.document.flow.levels]
        self.person.answers |= {"export": (self.folder / "tables", "csv"), "import": self.folder / "tables"}
        self.key(self.window, Qt.Key.Key_T, CONTROL | ALT)
        self.assertIn("Exported: levels.csv, exits.csv, spawns.csv, deeds.csv, facts.csv", self.person.told[-1])
        self.assertIn("solids and pictures of plans", self.person.told[-1])
        self.person.answers["agrees"] = False
        self.key(self.window, Qt.Key.Key_I, CONTROL | ALT)
        self.assertEqual(self.window.document.title, "Tidewick")
        self.person.answers["agrees"] = True
        self.key(self.window, Qt.Key.Key_I, CONTROL | ALT)
        self.settle()
        self.assertIn(f"Import tables: 25 levels with {exits} exits", self.person.told[-1])
        self.assertEqual([level.name for level in self.window.document.flow.levels], titles)
        self.assertTrue(self.window.document.edited)

    def test_the_map_as_a_picture(self):
        self.open_demo()
        for kind in ("svg", "png", "pdf"):
            out = self.folder / f"map.{kind}"
            self.person.answers["export"] = (out, kind)
            self.key(self.window, Qt.Key.Key_T, CONTROL | ALT)
            self.assertIn(f"Exported: map.{kind}", self.person.told[-1])
        svg = QSvgRenderer(str(self.folder / "map.svg"))
        self.assertTrue(svg.isValid())
        words = (self.folder / "map.svg").read_text("utf-8")
        for level in self.window.document.flow.levels:
            self.assertIn(level.name, words)
        picture = QImage(str(self.folder / "map.png"))
        self.assertGreater(picture.width(), 4_000)
        colours = {
            picture.pixelColor(x, y).name()
            for x in range(0, picture.width(), 40)
            for y in range(0, picture.height(), 40)
        }
        self.assertTrue({self.look.colours.ground, self.look.colours.column, self.look.colours.card} <= colours)
        self.assertTrue((self.folder / "map.pdf").read_bytes().startswith(b"%PDF"))
        self.person.answers["export"] = (self.folder / "nowhere" / "map.svg", "svg")
        self.key(self.window, Qt.Key.Key_T, CONTROL | ALT)
        self.assertIn("Not exported", self.person.told[-1])

    def test_what_the_game_reads(self):
        self.open_demo("tidewick_unfinished")
        for name, kind, begins in (("flow.json", "table", b"{"), ("Flow.java", "java", b"// Tidewick")):
            self.person.answers["export"] = (self.folder / name, kind)
            self.key(self.window, Qt.Key.Key_T, CONTROL | ALT)
            self.assertIn(f"Exported: {name}", self.person.told[-1])
            self.assertIn("weigh_house.yard_door", self.person.told[-1])
            self.assertTrue((self.folder / name).read_bytes().startswith(begins))

    def test_what_cannot_be_imported_or_exported_is_told(self):
        (self.folder / "t.csv").write_text("from,to\na\n,b\n")
        self.person.answers["import"] = self.folder / "t.csv"
        self.key(self.window, Qt.Key.Key_I, CONTROL | ALT)
        self.assertIn("t.csv cannot be imported: t.csv, row 3, column from: is empty", self.person.told[-1])
        self.person.answers["export"] = (self.folder / "t.csv", "csv")  # a file stands where a folder is to be
        self.key(self.window, Qt.Key.Key_T, CONTROL | ALT)
        self.assertIn("Not exported", self.person.told[-1])
        self.assertEqual((self.folder / "t.csv").read_text(), "from,to\na\n,b\n")

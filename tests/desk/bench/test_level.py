"""The bench of a level: what leads into it, and where that is found."""

import unittest

from mossy_bridge.desk.widgets.link import WrappedLink
from mossy_bridge.model.edits.levels import set_level
from tests.support.build import flow, play_level, screen, way
from tests.support.qt import DeskCase


class WaysIn(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()

    def links(self, level="eel_sluice"):
        """The lines below *Ways in* that lead somewhere."""
        self.window.selection.select(level)
        return {link.words: link for link in self.window.bench.level._ways_in.findChildren(WrappedLink)}

    def test_exits_and_tiles_are_told_in_the_order_of_levels_and_lead_to_where_they_are(self):
        told = [
            "The Shore, page: tile t5",
            "The Slipway: Sluice stair",
            "Mud Flats: Back to the sluice",
            "Net Loft: Loft door",
        ]
        self.assertEqual(list(self.links()), told)
        for words in told:
            self.links()[words].click()
            selection, (title, thing) = self.window.selection, words.split(": ")
            level = self.window.document.flow.level(selection.level_id)
            exit_ = level.exit(selection.exit_id)
            self.assertEqual((level.title, exit_.name if exit_ else "tile t5"), (title, thing))

    def test_an_exit_that_a_level_has_from_its_pattern_is_one_of_them(self):
        self.window.document.take(flow(
            play_level("a", name="Reeds", pattern="bank"), play_level("b", name="Sands", pattern="bank"), screen("retry"),
            patterns=[{"id": "bank", "exits": [way("drown", "retry")]}],
        ))  # fmt: skip
        self.assertEqual(list(self.links("retry")), ["Reeds: drown", "Sands: drown"])
        self.window.requests.door.edit("rename", lambda f: set_level(f, "b", name="Flats"), shown=True)
        self.settle()
        self.assertEqual(list(self.links("retry")), ["Reeds: drown", "Flats: drown"])
        self.links("retry")["Flats: drown"].click()
        self.assertEqual((self.window.selection.level_id, self.window.selection.exit_id), ("b", "drown"))


class Boards(DeskCase):
    def test_a_board_has_no_plan_to_size_or_enlarge(self):
        self.open_demo()
        bench, told = self.window.bench.level, []
        board = next(level for level in self.window.document.flow.levels if level.kind == "board")
        for level, words, sized in (("eel_sluice", "Enlarge the plan", True), (board.id, "Open the board", False)):
            self.window.selection.select(level)
            self.settle()
            self.assertEqual((bench._enlarge.text(), bench.numbers.isVisible()), (words, sized))
            told.append(bench._enlarge.toolTip())
        self.assertIn("double click", told[0])
        self.assertNotIn("double click", told[1])


class Names(DeskCase):
    def test_of_a_long_name_the_beginning_is_seen(self):
        self.open_demo()
        self.window.requests.door.edit("rename", lambda f: set_level(f, "eel_sluice", name="Long " * 40), shown=True)
        self.window.selection.select("eel_sluice")
        self.settle()
        name = self.window.bench.level.name
        self.assertEqual(name.text(), "Long " * 40)
        self.assertEqual(name.cursorPosition(), 0)


if __name__ == "__main__":
    unittest.main()

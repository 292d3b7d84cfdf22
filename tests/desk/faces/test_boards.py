"""The face Boards, by mouse and keys."""

import unittest

from msgspec.structs import replace
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QLineEdit

from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.model.edits.boards import tile_of
from mossy_bridge.model.flow import Walk
from mossy_bridge.play.replay import final_state
from mossy_bridge.play.rules import Rules
from tests.support.build import board, fact, flow, play_level, screen, way
from tests.support.qt import DeskCase, open_popup

ALT, CONTROL, SHIFT = (Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ControlModifier,
                       Qt.KeyboardModifier.ShiftModifier)  # fmt: skip
BACK = way("back", {"kind": "back", "otherwise": {"level": "title"}})


def worlds():
    """A title that leads to a board of three levels, the last two of which ask for lamps, lit in each level."""
    lit = [way("out", "page"), way("win", "won")]
    deeds = [{"id": "light", "effects": ["add 1 lamps"]}]
    tiles = [{"id": f"t{at}", "col": at, "level": name} for at, name in enumerate("abc")]
    for one, other in (("t0", "t1"), ("t1", "t2")):
        next(t for t in tiles if t["id"] == one)["right"] = other
        next(t for t in tiles if t["id"] == other)["left"] = one
    return flow(
        screen("title", way("go", "page", fresh=True)), board("page", *tiles, cursor="open", exits=[BACK]),
        play_level("a", *lit, deeds=deeds), play_level("b", *lit, deeds=deeds, opens="at least 1 lamps"),
        play_level("c", *lit, opens="at least 2 lamps"), facts=[fact("lamps:3")],
    )  # fmt: skip


class BoardCase(DeskCase):
    def setUp(self):
        super().setUp()
        self.face, self.canvas = self.window.boards, self.window.boards.canvas

    def show(self, flow_, name="page"):
        self.window.document.take(flow_)
        self.settle()
        self.window.selection.select(name)
        self.turn()

    def turn(self):
        self.window.faces.turn_to(self.face)
        self.wait_until(lambda: not self.face.busy, "the walks")

    @property
    def flow(self):
        return self.window.document.flow

    @property
    def tiles(self):
        return {tile.id: tile for tile in self.flow.level(self.face.board_id).tiles}

    def middle(self, name):
        return self.canvas.frame().tile(tile_of(self.canvas.board, name)).center().toPoint()

    def edge(self, name, side):
        return self.canvas.frame().edge(tile_of(self.canvas.board, name), side).toPoint()

    def fill(self, sentence, what, text):
        """Opens a blank of a sentence, types, and takes it."""
        blank = next(blank for blank in sentence.blanks() if blank.what == what)
        blank.click()
        popup = open_popup()
        if popup:
            line = popup.findChild(QLineEdit)
            line.selectAll()
            QTest.keyClicks(line, text)
            self.key(line, Qt.Key.Key_Return)


class FromNothing(BoardCase):
    def test_a_board_of_twelve_tiles_is_made_tried_broken_mended_and_undone(self):
        self.open_demo()
        self.person.answers["New board"] = "Marsh page"
        self.turn()
        self.fill(self.face.sentence, "the board", "New board")
        self.assertEqual((self.face.board_id, self.tiles), ("marsh_page", {}))
        for region in ("The Shore", "Saltern Town"):
            self.fill(self.face.sentence, "tiles for a region", region)
        self.assertEqual(len(self.tiles), 12)
        self.fill(self.face.sentence, "along the order", "")
        self.fill(self.face.sentence, "what the cursor does", "steps along links over locked")
        self.click(self.face.try_it, self.face.try_it.rect().center())
        first = self.canvas.cursor_at
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Left, Qt.Key.Key_Up):
            self.key(self.canvas, key)
        self.assertEqual(self.canvas.cursor_at, self.tiles[first].right)
        self.assertIn("No link leads up from here", self.face.moment.text())
        self.key(self.canvas, Qt.Key.Key_Return)
        self.assertIn("Enters Bell Sands", self.face.moment.text())
        self.key(self.canvas, Qt.Key.Key_Escape)
        self.assertEqual((self.canvas.cursor_at, self.face.try_it.isChecked()), ("", False))
        self.settle()
        sound = self.flow
        self.assertNotIn("tile-link-one-sided", {found.check for found in self.window.result.findings})
        self.click(self.canvas, self.middle(first))
        self.fill(self.face.tile, "the tile right of it", "nothing")
        self.settle()
        card = self.card_of("tile-link-one-sided")
        next(link for link in card.findChildren(Link) if link.words.startswith("Repair")).click()
        self.agree()
        self.assertEqual(self.flow.level("marsh_page").tiles, sound.level("marsh_page").tiles)
        self.window.document.undo()
        self.window.document.undo()
        self.assertEqual(self.flow, sound)

    def test_without_a_board_it_says_what_one_is(self):
        self.window.document.take(flow(play_level("a", way("x", "won"))))
        self.settle()
        self.turn()
        self.assertFalse(self.canvas.isVisible())
        self.person.answers["New board"] = "Page"
        self.fill(self.face.sentence, "add a board", "")
        self.assertEqual(self.face.board_id, "page")
        self.assertTrue(self.canvas.isVisible())
        self.mouse(self.canvas, QEvent.Type.MouseButtonDblClick, self.canvas.rect().center())
        self.assertEqual(len(self.tiles), 1)


class ByHand(BoardCase):
    def setUp(self):
        super().setUp()
        self.show(worlds())

    def test_tiles_are_dragged_and_nudged(self):
        at = self.middle("t2")
        self.drag(self.canvas, at, at + QPointF(0, self.canvas.frame().height * 0.5).toPoint())
        self.assertEqual((self.tiles["t2"].col, self.tiles["t2"].row), (2, 0.5))
        self.key(self.canvas, Qt.Key.Key_Down)
        self.key(self.canvas, Qt.Key.Key_Left, SHIFT)
        self.assertEqual((self.tiles["t2"].col, self.tiles["t2"].row), (1.75, 1.5))
        self.key(self.window, Qt.Key.Key_Z, CONTROL)
        self.assertEqual(self.tiles["t2"].col, 2)

    def test_links_are_dragged_from_an_edge_one_way_with_alt(self):
        self.click(self.canvas, self.middle("t0"))
        self.drag(self.canvas, self.edge("t0", "down"), self.middle("t2"))
        self.assertEqual((self.tiles["t0"].down, self.tiles["t2"].up), ("t2", "t0"))
        self.click(self.canvas, self.middle("t1"))
        self.drag(self.canvas, self.edge("t1", "up"), self.middle("t0"), ALT)
        self.assertEqual((self.tiles["t1"].up, self.tiles["t0"].down), ("t0", "t2"))

    def test_several_at_once_are_unlinked_linked_and_removed_by_keys(self):
        self.click(self.canvas, self.middle("t0"))
        self.click(self.canvas, self.middle("t1"), SHIFT)
        self.key(self.canvas, Qt.Key.Key_Backspace)
        self.assertEqual((self.tiles["t0"].right, self.tiles["t1"].left, self.tiles["t1"].right), ("", "", "t2"))
        self.key(self.canvas, Qt.Key.Key_Right, CONTROL)
        self.assertEqual((self.tiles["t0"].right, self.tiles["t1"].left), ("t1", "t0"))
        self.key(self.canvas, Qt.Key.Key_Delete)
        self.agree()  # nothing leads to a and b any more
        self.assertEqual((list(self.tiles), self.tiles["t2"].left), (["t2"], ""))
        self.assertIsNotNone(self.flow.level("page"))
        self.key(self.window, Qt.Key.Key_Z, CONTROL)
        self.key(self.canvas, Qt.Key.Key_A, CONTROL)
        self.assertEqual(self.canvas.tiles, ("t0", "t1", "t2"))
        self.key(self.canvas, Qt.Key.Key_End)
        self.key(self.canvas, Qt.Key.Key_PageUp)
        self.assertEqual(self.canvas.tiles, ("t1",))

    def test_tiles_are_copied_with_the_links_between_them(self):
        self.key(self.canvas, Qt.Key.Key_A, CONTROL)
        self.window.clipboard.copy()
        self.window.clipboard.paste()
        self.assertEqual(len(self.tiles), 6)
        made = self.canvas.tiles
        self.assertEqual([self.tiles[name].level for name in made], ["a", "b", "c"])
        self.assertEqual([self.tiles[name].right for name in made], [made[1], made[2], ""])

    def test_every_blank_of_a_tile_can_be_filled(self):
        self.click(self.canvas, self.middle("t2"))
        self.fill(self.face.tile, "how it looks while locked", "hidden")
        self.fill(self.face.tile, "the tile up of it", "a")
        self.assertEqual((self.tiles["t2"].locked, self.tiles["t2"].up, self.tiles["t0"].down), ("hidden", "t0", "t2"))
        self.fill(self.face.tile, "the level of the tile", "a")
        self.agree()  # nothing leads to c any more
        self.assertEqual((self.tiles["t2"].level, self.tiles["t2"].spawn), ("a", "p"))
        self.fill(self.face.sentence, "the first tile", "b")
        self.assertEqual(self.flow.level("page").first_tile, "t1")
        self.click(self.canvas, self.middle("t2"))
        self.fill(self.face.tile, "remove the tile", "")
        self.assertEqual(list(self.tiles), ["t0", "t1"])

    def test_it_is_on_the_bench_too_and_opens_from_there(self):
        self.window.faces.turn_to(self.window.map)
        bench = self.window.bench.level.board
        self.assertTrue(bench.isVisible())
        self.click(bench, bench.frame().tile(tile_of(bench.board, "t1")).center().toPoint())
        self.assertEqual([part.name for part in self.window.selection.parts], ["t1"])
        self.window.navigation.open_plan("page")
        self.assertTrue(self.window.faces.is_in_view(self.face))


class AsPlayGoesOn(BoardCase):
    def setUp(self):
        super().setUp()
        moves = ["exit title.go", "tile page.t0", "deed a.light", "exit a.out", "tile page.t1", "deed b.light",
                 "exit b.out"]  # fmt: skip
        self.flow_ = flow_with_walk(worlds(), moves)
        self.moves = moves
        self.show(self.flow_)

    def open_by_the_rules(self, number):
        rules = Rules(self.flow_)
        state = final_state(rules, self.moves[:number])
        page = self.flow_.level("page")
        return {tile.id for tile in page.tiles if rules.levels[tile.level].opens(state)}

    def test_the_slider_shows_what_the_rules_say(self):
        self.face.progress.setCurrentText("Lamps")
        self.face.progress.activated.emit(self.face.progress.currentIndex())
        self.assertEqual(self.face.slider.maximum(), len(self.moves))
        for number in (0, 3, 6):
            self.face.slider.setValue(number)
            shown = {name for name, look in self.canvas._looks.items() if look.open}
            self.assertEqual(shown, self.open_by_the_rules(number), number)
        self.assertTrue(self.canvas._looks["t2"].new)
        self.assertIn("3 of 3 open", self.face.moment.text())
        self.assertEqual(self.face.table.item(1, 2).text(), "move 3: a: light")
        self.assertEqual(self.face.table.item(0, 2).text(), "from the start")
        before = self.canvas.grab().toImage()
        self.face.slider.setFocus()
        self.key(self.face.slider, Qt.Key.Key_Home)
        self.assertNotEqual(self.canvas.grab().toImage(), before)

    def test_the_cursor_stops_at_what_is_locked_then(self):
        self.face.progress.setCurrentText("Lamps")
        self.face.progress.activated.emit(self.face.progress.currentIndex())
        self.face.slider.setValue(0)
        self.click(self.face.try_it, self.face.try_it.rect().center())
        self.key(self.canvas, Qt.Key.Key_Right)
        self.assertEqual(self.canvas.cursor_at, "t0")
        self.assertIn("b is locked", self.face.moment.text())

    def test_what_is_set_by_hand_and_whether_any_playthrough_has_it(self):
        self.face.progress.setCurrentText("as set by hand")
        self.face.progress.activated.emit(self.face.progress.currentIndex())
        for lamps, count, words in (("1", 2, "Some playthrough has it so."), ("3", 3, "No playthrough has it so.")):
            self.fill(self.face.hand, "lamps", lamps)
            self.wait_until(lambda: "playthrough" in self.face.moment.text(), "the answer")
            self.assertEqual(self.face.moment.text(), f"{count} of 3 open. {words}")

    def test_the_trial_walk_lets_one_choose_on_it(self):
        self.key(self.window, Qt.Key.Key_F6)
        page = self.window.walking.page
        page.choose(1)
        self.assertEqual(self.window.walking.trial.state.place, "page")
        page.stage.grab()
        first = next(at for at, choice in enumerate(page._choices, 1) if str(choice.move) == "tile page.t0")
        badge = next(centre for centre, number in page.stage._badges if number == first)
        self.click(page.stage, badge.toPoint())
        self.assertEqual(self.window.walking.trial.state.place, "a")


def flow_with_walk(flow_, moves):
    """The flow with a recorded walk."""
    return replace(flow_, walks=(Walk(id="lamps", name="Lamps", moves=tuple(moves)),))


if __name__ == "__main__":
    unittest.main()

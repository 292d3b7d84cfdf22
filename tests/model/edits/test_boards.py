"""Boards edited: by hand, and the same held on random boards."""

import unittest
from random import Random

from mossy_bridge.model.edits import boards
from mossy_bridge.model.edits.boards import OPPOSITE, SIDES, link_of, tile_of
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.plan.laying import Part, moved, removed
from mossy_bridge.play.board_cursor import tiles_in_reach
from tests.support.build import board, flow, play_level, screen


def page(*tiles, **fields):
    """A flow with a board of these tiles, and twelve levels in a region."""
    levels = [play_level(f"l{number}", region="shore") for number in range(12)]
    return flow(screen("title"), *levels, board("page", *tiles, **fields), regions=[{"id": "shore"}])


def links(flow_):
    """All links of the board, as (from, side, to)."""
    return {(t.id, side, link_of(t, side)) for t in flow_.level("page").tiles for side in SIDES if link_of(t, side)}


class ByHand(unittest.TestCase):
    def test_tiles_are_made_at_free_places_and_named_in_turn(self):
        f, one = boards.add_tile(page(), "page", "l3")
        f, two = boards.add_tile(f, "page", at=(4.5, 2))
        f, three = boards.add_tile(f, "page")
        made = [(tile.id, tile.col, tile.row, tile.level, tile.spawn) for tile in f.level("page").tiles]
        self.assertEqual(made, [(one, 0, 0, "l3", "p"), (two, 4.5, 2, "", ""), (three, 1, 0, "", "")])
        self.assertRaises(CannotEdit, boards.add_tile, f, "l1")

    def test_links_go_there_and_back_unless_one_way_is_wanted(self):
        f = page({"id": "t1"}, {"id": "t2", "col": 2}, {"id": "t3", "col": 2, "row": 3})
        f = boards.link(f, "page", "t1", "t2")
        f = boards.link(f, "page", "t2", "t3", back=False)
        self.assertEqual(links(f), {("t1", "right", "t2"), ("t2", "left", "t1"), ("t2", "down", "t3")})
        f = boards.unlink(f, "page", {"t1", "t2"})
        self.assertEqual(links(f), {("t2", "down", "t3")})
        f = boards.link(f, "page", "t3", "t1")
        self.assertEqual(links(boards.unlink(f, "page", {"t3"})), set())
        self.assertRaises(CannotEdit, boards.link, f, "page", "t1", "t1")

    def test_removed_tiles_leave_no_links(self):
        f = page({"id": "t1", "right": "t2"}, {"id": "t2", "col": 1, "left": "t1"}, first_tile="t2")
        f = boards.remove_tiles(f, "page", {"t2"})
        self.assertEqual((links(f), f.level("page").first_tile), (set(), ""))

    def test_tiles_for_a_region_once_each_in_order_and_along_it(self):
        f, made = boards.tiles_for(page({"id": "t1", "level": "l5"}), "page", boards.levels_of_region(page(), "shore"))
        self.assertEqual(len(made), 11)
        with self.assertRaisesRegex(CannotEdit, "all of these are on page already"):
            boards.tiles_for(f, "page", ["l1", "l5"])
        f = boards.along_the_order(f, "page")
        tiles = f.level("page").tiles
        self.assertEqual([tile.level for tile in tiles], [f"l{number}" for number in range(12)])
        self.assertEqual([(t.col, t.row) for t in tiles[5:8]], [(5, 0), (5, 1), (4, 1)])
        self.assertIn((tiles[5].id, "down", tiles[6].id), links(f))
        self.assertEqual(len(tiles_in_reach(f.level("page"), frozenset(tile.id for tile in tiles))), 12)

    def test_crooked_links_are_put_straight_and_one_sided_ones_lead_back(self):
        f = page({"id": "t1", "right": "t2", "up": "gone"}, {"id": "t2", "row": 1, "left": "t1"},
                 {"id": "t3", "col": 1, "left": "t1"})  # fmt: skip
        f = boards.mend_links(f, "page")
        self.assertEqual(
            links(f), {("t1", "down", "t2"), ("t2", "up", "t1"), ("t3", "left", "t1"), ("t1", "right", "t3")}
        )


class OnRandomBoards(unittest.TestCase):
    def boards(self):
        for seed in range(300):
            pick = Random(seed)
            names = [f"t{number}" for number in range(pick.randrange(1, 8))]
            tiles = [
                {"id": name, "col": pick.randrange(4), "row": pick.randrange(3), "level": f"l{pick.randrange(12)}"}
                | {side: pick.choice([*names, "gone", "", "", ""]) for side in SIDES}
                for name in names
            ]  # fmt: skip
            yield page(*tiles, cursor="any"), pick

    def test_mended_links_are_there_and_back_or_had_no_room(self):
        for f, _ in self.boards():
            before, after = f.level("page"), boards.mend_links(f, "page")
            whole = after.level("page")
            names = {tile.id for tile in whole.tiles}
            for _, side, other in links(after):
                self.assertIn(other, names)
                self.assertTrue(link_of(tile_of(whole, other), OPPOSITE[side]))
            self.assertLessEqual(set(_walk(before)), set(_walk(whole)))
            self.assertEqual(boards.mend_links(after, "page").level("page").tiles, whole.tiles)

    def test_linking_neighbours_adds_links_and_changes_none(self):
        for f, _ in self.boards():
            after = boards.link_neighbours(f, "page")
            self.assertLessEqual(links(f), links(after))
            for name, side, other in links(after) - links(f):
                self.assertIn((other, OPPOSITE[side], name), links(after))

    def test_moving_there_and_back_changes_nothing(self):
        for f, pick in self.boards():
            parts = [Part("tiles", tile.id) for tile in f.level("page").tiles if pick.random() < 0.5]
            there = moved(f, "page", parts, 1.25, -2)
            self.assertEqual(moved(there, "page", parts, -1.25, 2), f)

    def test_pasted_tiles_are_linked_among_themselves_as_before(self):
        for f, _ in self.boards():
            tiles = f.level("page").tiles
            after, made = boards.paste_tiles(f, "page", tiles)
            named = dict(zip((tile.id for tile in tiles), made, strict=True))
            expected = {(named[one], side, named[to]) for one, side, to in links(f) if to in named}
            self.assertEqual(links(after) - links(f), expected)
            self.assertEqual(removed(after, "page", [Part("tiles", name) for name in made]), f)


def _walk(level):
    """The tiles that the cursor gets to."""
    return tiles_in_reach(level, frozenset(tile.id for tile in level.tiles))


if __name__ == "__main__":
    unittest.main()

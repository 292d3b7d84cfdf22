"""Every check of the chapter Boards, on boards worked out by hand."""

import unittest

from mossy_bridge.checks.runner import inspected
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import board, flow, play_level, screen, way

BACK = way("back", {"kind": "back"})


def tile(name, level="a", col=0, row=0, **links):
    """A tile, with its links by side."""
    return {"id": name, "level": level, "col": col, "row": row, **links}


def page(*tiles, exits=(BACK,), more=(), regions=(), **fields):
    """A flow of a title that leads to a board with these tiles, and two levels."""
    levels = [play_level(name, way("out", "page"), way("win", "won")) for name in "ab"]
    chart = board("page", *tiles, exits=list(exits), **fields)
    return flow(screen("title", way("go", "page")), chart, *levels, *more, regions=list(regions))


class Boards(unittest.TestCase):
    def check(self, slug, flow_, *expected):
        found = inspected(survey_flow(flow_, 20), flow_, only=[slug])
        self.assertEqual([f.at for f in found], [at if isinstance(at, tuple) else (at,) for at in expected], slug)
        return found

    def mended(self, slug, flow_, finding):
        """The flow after a finding's repair, which the check must find right."""
        after = finding.repair.edit(flow_)
        self.check(slug, after)
        return after

    def test_tiles_that_lead_nowhere(self):
        cut = play_level("cut", way("x", "won"), ships=False)
        f = page(
            tile("t1", right="t2"),
            tile("t2", "", 1, left="t1"),
            tile("t3", "gone", 2),
            tile("t4", "cut", 3),
            more=[cut],
        )
        found = self.check("tile-empty", f, "page.t2", "page.t3", "page.t4")
        words = [finding.message for finding in found]
        self.assertEqual(words, [
            "The tile t2 of page leads to no level.",
            "The tile t3 of page leads to “gone”, which does not exist.",
            "The tile t4 of page leads to cut, which does not ship.",
        ])  # fmt: skip
        after = found[0].repair.edit(f)
        self.assertEqual(
            [(one.id, one.right) for one in after.level("page").tiles], [("t1", ""), ("t3", ""), ("t4", "")]
        )
        through = page(tile("t1", right="t2"), tile("t2", "", 1, right="t3"), tile("t3", "b", 2), cursor="any")
        self.assertIsNone(self.check("tile-empty", through, "page.t2")[0].repair)  # else t3 would be out of reach

    def test_tiles_out_of_reach(self):
        apart = [tile("t1"), tile("t2", "b", 1)]
        self.check("tile-out-of-reach", page(*apart))
        f = page(*apart, cursor="open")
        found = self.check("tile-out-of-reach", f, "page.t2")
        self.assertEqual(found[0].repair.label, "Link it with the tile to a")
        after = self.mended("tile-out-of-reach", f, found[0])
        self.assertEqual([(one.left, one.right) for one in after.level("page").tiles], [("", "t2"), ("t1", "")])
        self.check("tile-out-of-reach", page(tile("t1", right="t2"), tile("t2", "b", 1), cursor="any"))
        self.check("tile-out-of-reach", page(*apart, first_tile="t2", cursor="any"), "page.t1")

    def test_links_that_do_not_lead_back(self):
        f = page(tile("t1", right="t2"), tile("t2", "b", 1))
        found = self.check("tile-link-one-sided", f, ("page.t1", "page.t2"))
        self.assertIn("steps right from the tile to a to the tile to b, but left from there", found[0].message)
        self.mended("tile-link-one-sided", f, found[0])
        self.check("tile-link-one-sided", page(tile("t1", right="t2"), tile("t2", "b", 1, left="t1")))
        taken = page(tile("t1", right="t2"), tile("t2", "b", 1, left="t3"), tile("t3", "b", 0, 1, right="t2"))
        self.assertIsNone(self.check("tile-link-one-sided", taken, ("page.t1", "page.t2"))[0].repair)

    def test_links_to_another_side(self):
        f = page(tile("t1", right="t2"), tile("t2", "b", 0, 1, left="t1"))
        found = self.check("tile-link-crooked", f, "page.t1", "page.t2")
        self.assertIn(
            "steps right from the tile to a to the tile to b, which does not lie to the right", found[0].message
        )
        after = self.mended("tile-link-crooked", f, found[0])
        self.assertEqual([(one.down, one.up) for one in after.level("page").tiles], [("t2", ""), ("", "t1")])
        self.check("tile-link-crooked", page(tile("t1", right="t2", down="t2"), tile("t2", "b", 2, 1)))

    def test_boards_without_a_way_back(self):
        f = page(tile("t1"), exits=())
        found = self.check("board-no-return", f, "page")
        after = self.mended("board-no-return", f, found[0])
        to = after.level("page").exits[0].to
        self.assertEqual((to.kind, to.otherwise.level), ("back", "title"))
        self.check("board-no-return", page(tile("t1")))

    def test_levels_that_are_on_no_board(self):
        def shore(*levels):
            made = [play_level(name, way("out", "page"), region="shore") for name in "cde"]
            tiles = [tile(f"t{at}", name, at) for at, name in enumerate(levels)]
            return page(*tiles, more=made, regions=[{"id": "shore"}])

        f = shore("c", "d")
        found = self.check("level-not-on-board", f, "e")
        self.mended("level-not-on-board", f, found[0])
        self.check("level-not-on-board", shore("c", "d", "e"))
        self.check("level-not-on-board", shore("c"))  # then it is no page of the region


if __name__ == "__main__":
    unittest.main()

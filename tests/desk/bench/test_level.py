"""The bench of a level: what leads into it, and where that is found."""

import unittest

from mossy_bridge.desk.widgets.link import WrappedLink
from tests.support.qt import DeskCase


class WaysIn(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()

    def links(self):
        """The lines below *Ways in* that lead somewhere."""
        self.window.selection.select("eel_sluice")
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


if __name__ == "__main__":
    unittest.main()

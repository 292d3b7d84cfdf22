"""Context menus of levels and regions."""

import unittest

from PyQt6.QtWidgets import QMenu

from mossy_bridge.desk.shell.context_menus import level_menu, region_menu
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Destination
from tests.support.qt import DeskCase


class StripCase(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.strip = self.window.strip

    def order(self):
        return [level.id for level in self.window.document.flow.levels]

    def bead(self, level):
        return self.strip.bead_at(level).toPoint()

    def chain(self):
        """Lets every exit of one level lead to the next of the order, so that moves have consequences."""
        self.window.requests.door.edit("chain", lambda flow: edits.set_exit(
            flow, "slipway", "east_gate", to=Destination(kind="next")))  # fmt: skip


class Menus(StripCase):
    def run_entry(self, menu, text):
        for action in menu.actions():
            if action.menu():
                inner = next((a for a in action.menu().actions() if a.text() == text), None)
                if inner:
                    inner.trigger()
                    return
            if action.text().replace("&", "") == text:
                action.trigger()
                return
        self.fail(f"no entry {text}")

    def test_a_region_is_named_tinted_renumbered_and_removed(self):
        self.person.answers |= {"Rename the region": "Salt Town", "Renumber": "7-1"}
        for text in ("Rename…", "Clay", "Renumber its codes…"):
            self.run_entry(region_menu(self.window, "town"), text)
        region = self.window.document.flow.regions[1]
        self.assertEqual((region.name, region.tint), ("Salt Town", "clay"))
        self.assertEqual(self.window.document.flow.level("salt_gate").code, "7-1")
        self.assertEqual(self.window.document.flow.level("brine_pit").code, "7-2b")
        self.run_entry(region_menu(self.window, "town"), "Remove the region, keep its levels")
        self.assertEqual(self.window.document.flow.level("salt_gate").region, "")
        self.strip.grab()

    def test_the_menu_of_levels(self):
        self.window.selection.select("credits")
        menu = level_menu(self.window, self.window.actions_made)
        self.assertIsInstance(menu, QMenu)
        self.run_entry(menu, "The Light")
        self.assertEqual(self.window.document.flow.level("credits").region, "light")
        self.person.answers["New region"] = "Afterwards"
        self.run_entry(level_menu(self.window, self.window.actions_made), "New region of these…")
        self.assertEqual(self.window.document.flow.level("credits").region, "afterwards")


if __name__ == "__main__":
    unittest.main()

"""Context menus of levels and regions."""

import unittest

from PyQt6.QtWidgets import QMenu

from mossy_bridge.desk.shell.context_menus import level_menu, region_menu
from tests.support.qt import StripCase


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

"""The proposal bar: what an edit would do elsewhere is said before it is made."""

import unittest

from PyQt6.QtCore import Qt

from tests.support.qt import StripCase


class ProposalBar(StripCase):
    def test_removal_offers_to_lead_past_it(self):
        self.window.selection.select("weigh_house")
        self.window.map.setFocus()
        self.key(self.window, Qt.Key.Key_Delete)
        bar = self.window.proposal_bar
        self.assertTrue(bar.isVisible())
        self.assertIn("Salt Gate: Weigh arch would lead nowhere", bar._told.text())
        self.assertEqual(bar.other.text(), "Lead its ways in to Rope Walk")
        self.key(bar.yes, Qt.Key.Key_Escape)
        self.assertIn("weigh_house", self.order())
        self.key(self.window, Qt.Key.Key_Delete)
        bar.other.click()
        self.assertNotIn("weigh_house", self.order())
        self.assertEqual(self.window.document.flow.level("salt_gate").exit("weigh_arch").to.level, "rope_walk")

    def test_what_concerns_nobody_is_made_at_once(self):
        self.window.requests.levels.set("slipway", name="The Hard")
        self.assertEqual(self.window.document.flow.level("slipway").name, "The Hard")
        self.assertFalse(self.window.proposal_bar.isVisible())

    def test_a_code_in_use_and_not_shipping_are_told_first(self):
        self.window.requests.levels.set("slipway", code="1-2")
        self.assertIn("Bell Sands has the code 1-2 already", self.window.proposal_bar._told.text())
        self.window.requests.levels.set("slipway", ships=False)
        self.assertIn("would lead nowhere", self.window.proposal_bar._title.text())
        self.key(self.window.proposal_bar.yes, Qt.Key.Key_Return)
        self.assertFalse(self.window.document.flow.level("slipway").ships)


if __name__ == "__main__":
    unittest.main()

"""The order strip, and what is told before an edit is made."""

import unittest
from functools import reduce

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QRegion
from PyQt6.QtWidgets import QApplication

from mossy_bridge.model.edits import levels as edits
from tests.support.qt import StripCase

CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class Reordering(StripCase):
    def test_dragging_one_level_tells_what_would_change_and_joins_the_region(self):
        self.chain()
        told = []
        start, end = self.bead("bell_sands"), self.bead("pan_row") - QPoint(23, 0)
        self.mouse(self.strip, QEvent.Type.MouseButtonPress, start)
        for step in range(1, 6):
            self.mouse(self.strip, QEvent.Type.MouseMove, start + (end - start) * step / 5)
            told.append(self.strip._drag.told if self.strip._drag else "")
        self.mouse(self.strip, QEvent.Type.MouseButtonRelease, end)
        self.assertIn("1 exit would lead elsewhere", told[-1])  # what no play can do is not told
        order = self.order()
        self.assertEqual(order[order.index("salt_gate") + 1], "bell_sands")
        self.assertEqual(self.window.document.flow.level("bell_sands").region, "town")
        self.assertFalse(self.window.proposal_bar.isVisible())
        self.key(self.window, Qt.Key.Key_Z, CONTROL)
        self.assertEqual(self.order()[6], "bell_sands")

    def test_dragging_several_and_escape(self):
        self.click(self.strip, self.bead("bell_sands"))
        self.click(self.strip, self.bead("mud_flats"), SHIFT)
        self.assertEqual(self.window.selection.levels, ("bell_sands", "eel_sluice", "mud_flats"))
        self.click(self.strip, self.bead("eel_sluice"), CONTROL)
        before = self.window.document.flow
        self.mouse(self.strip, QEvent.Type.MouseButtonPress, self.bead("bell_sands"))
        self.mouse(self.strip, QEvent.Type.MouseMove, self.bead("stair_well"))
        self.key(self.strip, Qt.Key.Key_Escape)
        self.mouse(self.strip, QEvent.Type.MouseButtonRelease, self.bead("stair_well"))
        self.assertTrue(self.window.document.flow is before)
        self.drag(self.strip, self.bead("bell_sands"), self.bead("slipway") - QPoint(20, 0))
        self.assertEqual(self.order()[5:8], ["bell_sands", "mud_flats", "slipway"])

    def test_a_region_is_dragged_whole_folded_and_opened(self):
        at = self.strip.heading_at("light").toPoint()
        self.drag(self.strip, at, self.bead("slipway") - QPoint(12, 30))
        regions = [level.region for level in self.window.document.flow.levels if level.region]
        self.assertEqual(list(dict.fromkeys(regions)), ["light", "shore", "town"])
        self.assertEqual([region.id for region in self.window.document.flow.regions], ["light", "shore", "town"])
        width = self.strip._layout.width
        self.click(self.strip, self.strip.heading_at("shore").toPoint())
        self.assertLess(self.strip._layout.width, width)
        self.strip.grab()
        self.click(self.strip, self.strip.heading_at("shore").toPoint())
        self.assertEqual(self.strip._layout.width, width)
        self.key(self.window, Qt.Key.Key_R, CONTROL | Qt.KeyboardModifier.AltModifier)
        self.assertTrue(self.strip.is_collapsed)

    def test_moving_and_stepping_by_keys(self):
        self.window.selection.select("eel_sluice")
        self.key(self.window, Qt.Key.Key_Left, CONTROL | Qt.KeyboardModifier.AltModifier)
        self.key(self.window.proposal_bar.yes, Qt.Key.Key_Return)
        self.assertEqual(self.order()[6:8], ["eel_sluice", "bell_sands"])
        self.key(self.strip, Qt.Key.Key_Right, SHIFT)
        self.assertEqual(self.window.selection.levels, ("eel_sluice", "bell_sands"))
        scale = self.strip._spacing
        self.key(self.strip, Qt.Key.Key_Minus)
        self.assertLess(self.strip._spacing, scale)
        self.strip.grab()

    def test_an_edit_of_a_level_paints_its_bead_anew_and_leaves_those_far_away(self):
        self.settle()
        painted = QRegion()

        class Watch(QObject):
            def eventFilter(self, _watched, event):  # noqa: N802 - Qt names it
                nonlocal painted
                if event.type() == QEvent.Type.Paint:
                    painted = painted.united(event.region())
                return False

        watch = Watch()
        self.strip.installEventFilter(watch)
        self.window.requests.door.edit("mark", lambda flow: edits.set_level(flow, "mud_flats", status="planned"))
        QApplication.processEvents()
        self.strip.removeEventFilter(watch)
        self.assertTrue(painted.contains(self.bead("mud_flats")))
        self.assertFalse(painted.contains(self.bead(self.order()[0])))

    def test_a_thousand_levels_stay_usable(self):
        self.window.requests.door.edit("many", lambda flow: reduce(_doubled, range(6), flow), shown=True)
        self.window.selection.select_levels(self.order())
        self.assertGreater(len(self.order()), 1000)
        for _ in range(12):
            self.strip.zoom(0.8)
        self.strip.grab()
        self.window.selection.select(self.order()[-1])
        self.assertLess(self.bead(self.order()[-1]).x(), self.strip.width())
        self.strip.collapse()
        self.assertLess(self.strip._layout.width, 40_000)
        self.strip.grab()


def _doubled(flow, _time):
    from mossy_bridge.model.edits.duplicate import duplicate

    return duplicate(flow, [level.id for level in flow.levels])[0]


if __name__ == "__main__":
    unittest.main()

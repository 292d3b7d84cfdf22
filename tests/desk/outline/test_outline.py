"""Outlines: what the painted views show as lines, by keyboard alone."""

import unittest
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from mossy_bridge.appraisal.appraise import appraise
from mossy_bridge.appraisal.standing import Standing
from mossy_bridge.desk.outline import rows
from mossy_bridge.desk.outline.panel import OutlinePanel
from mossy_bridge.desk.outline.rows import board_rows, map_rows, order_rows, plan_rows, transition_rows
from mossy_bridge.plan.laying import Part
from mossy_bridge.reach.survey.budget import Budget
from tests.support.build import board, deed, flow, play_level, way
from tests.support.qt import DeskCase

MARSH = flow(
    play_level(
        "a", way("gate", "b", opens="has key", completes=True), way("off"),
        deeds=[{**deed("grab", "gain key"), "x": 3, "y": 4}],
        name="Slip", code="1-1", region="shore",
        plan={"width": 20, "height": 10.5, "solids": [[0, 8, 20, 2.5]]},
    ),
    play_level("b", way("on", "won"), name="Sands", region="shore"),
    board("c", {"id": "t1", "level": "a", "right": "t2"}, {"id": "t2", "level": "b", "col": 1, "row": 0.5, "left": "t1"},
          name="Chart", first_tile="t1"),
    facts=("key",), regions=[{"id": "shore", "name": "The Shore"}],
    transitions=[{"id": "f", "name": "Fade", "steps": [
        {"do": "hold_player", "lasts": 2}, {"do": "show_message", "at": 0.5, "lasts": 1, "text": "Low tide"}]}],
)  # fmt: skip
FOUND = appraise(MARSH, budget=Budget(10))


def texts(rows):
    return [row.text for row in rows]


class Rows(unittest.TestCase):
    def test_the_order_has_regions_kinds_and_marks(self):
        self.assertEqual(texts(order_rows(MARSH, FOUND.standing)), [
            "The Shore", "1-1 Slip, level, broken, the game starts here", "Sands, level, sound",
            "without a region", "Chart, board, never reached",
        ])  # fmt: skip

    def test_the_map_has_columns_and_where_each_way_leads(self):
        self.assertEqual(texts(map_rows(MARSH, FOUND, FOUND.standing)), [
            "Where the game starts",
            "1-1 Slip, level, broken, the game starts here",
            "    gate leads to Sands, open only when has key, completes",
            "    off leads to nowhere, broken",
            "1 crossing from the start",
            "Sands, level, sound",
            "    on leads to won",
            "Never reached",
            "Chart, board, never reached",
            "    Tile t1 leads to 1-1 Slip",
            "    Tile t2 leads to Sands",
        ])  # fmt: skip

    def test_before_a_survey_all_levels_are_listed(self):
        self.assertEqual(texts(map_rows(MARSH, None, Standing()))[0], "All levels, not surveyed yet")
        levels = {row.level for row in map_rows(MARSH, None, Standing()) if row.level}
        self.assertEqual(levels, {"a", "b", "c"})

    def test_a_plan_has_every_thing_with_its_place(self):
        rows = list(plan_rows(MARSH, MARSH.level("a")))
        self.assertEqual(texts(rows), [
            "The plan of 1-1 Slip: 20 by 10.5 tiles",
            "    Exit gate, without an area, leads to Sands",
            "    Exit off, without an area, leads to nowhere",
            "    Spawn point p, at 0, 0, faces right",
            "    Deed grab, at 3, 4: gain key",
            "    Solid 1, at 0, 8, 20 wide, 2.5 high",
        ])  # fmt: skip
        self.assertEqual([row.part for row in rows][-2:], [Part("deeds", "grab"), Part("solids", "0")])

    def test_a_transition_has_its_steps(self):
        rows = list(transition_rows(MARSH.transitions[0]))
        self.assertEqual(texts(rows), [
            "Fade, 2 seconds", "    held, lane player, from 0 for 2 seconds",
            "    message, lane message, from 0.5 for 1 seconds: Low tide",
        ])  # fmt: skip
        self.assertEqual([row.step for row in rows], [-1, 0, 1])

    def test_a_board_has_its_tiles_and_where_the_cursor_goes(self):
        self.assertEqual(texts(board_rows(MARSH, MARSH.level("c"))), [
            "The board Chart, 2 tiles",
            "    Tile t1, 1-1 Slip, column 0, row 0, right to t2, the cursor starts here",
            "    Tile t2, Sands, column 1, row 0.5, left to t1",
        ])  # fmt: skip
        self.assertEqual(list(board_rows(MARSH, MARSH.level("a"))), [])
        self.assertEqual(list(plan_rows(MARSH, None)) + list(transition_rows(None)), [])


class ManyLines(DeskCase):
    def test_of_a_long_list_only_what_is_seen_is_put_into_words(self):
        levels = [play_level(f"l{n}", way("on", f"l{n + 1}")) for n in range(2_000)]
        long, said = flow(*levels), []

        def words(_flow, level, _standing):
            said.append(level.id)
            return level.title

        panel = OutlinePanel({"Map": lambda: map_rows(long, None, Standing())})
        self.addCleanup(panel.deleteLater)
        with mock.patch.object(rows, "_level_words", words):
            panel.resize(300, 400)
            panel.show()
            panel.refresh()
            self.settle()
            self.assertEqual(len(panel.list.lines.rows), 4_001)
            self.assertIn("l3", said)
            self.assertLess(len(set(said)), 60)
            panel.point_at("l1999", "")
            self.settle()
            self.assertIn("l1999", said)
            self.assertLess(len(set(said)), 120)


class InTheWindow(DeskCase):
    def setUp(self):
        super().setUp()
        self.window.files.open_demo()
        self.wait_until(lambda: self.window.result is not None, "the survey", 20)
        self.panel = self.window.outline.panel

    def toggle(self, focused):
        focused.setFocus()
        QTest.keyClick(focused, Qt.Key.Key_F9, Qt.KeyboardModifier.ShiftModifier)
        self.settle()

    def key(self, key, modifiers=Qt.KeyboardModifier.NoModifier):
        QTest.keyClick(self.panel.list, key, modifiers)
        self.settle()

    def go_to(self, text):
        rows = self.panel.list.lines.rows
        self.panel.list.setCurrentIndex(
            self.panel.list.lines.index(next(at for at, row in enumerate(rows) if text in row.text))
        )
        self.settle()

    def test_one_key_lists_the_view_that_has_the_keyboard_and_puts_it_away(self):
        bench = self.window.bench
        self.window.selection.select("slipway", "east_gate")
        self.settle()
        for widget, view in (
            (self.window.strip, "Order strip"), (self.window.map, "Map"),
            (bench.crossing.deck, "Transition"), (bench.crossing.left, "Plan"),
        ):  # fmt: skip
            self.toggle(widget)
            self.assertTrue(self.panel.isVisible())
            self.assertEqual(self.panel.shown, view)
            self.assertIs(self.window.focusWidget(), self.panel.list)
            self.assertGreater(len(self.panel.list.lines.rows), 2)
            self.toggle(self.panel.list)
            self.assertFalse(self.panel.isVisible())

    def test_going_through_it_selects_and_every_command_acts_on_that(self):
        self.toggle(self.window.strip)
        self.go_to("1-2 Bell Sands")
        self.assertEqual(self.window.selection.level_id, "bell_sands")
        self.key(Qt.Key.Key_Down)
        self.assertEqual(self.window.selection.level_id, "eel_sluice")
        self.key(Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
        copy = self.window.selection.level_id
        self.assertTrue(self.window.document.flow.level(copy).copied_from)
        self.assertIn("a copy to be looked at", self.panel.list.current.text)
        self.key(Qt.Key.Key_Delete)
        self.assertIsNone(self.window.document.flow.level(copy))
        self.key(Qt.Key.Key_Return)
        self.assertTrue(self.window.navigation.is_plan_open)

    def test_steps_tiles_and_things_are_chosen_in_their_views(self):
        self.window.selection.select("slipway", "east_gate")
        self.toggle(self.window.map)
        self.panel.show_view("Transition")
        self.settle()
        self.go_to("load")
        self.assertEqual(self.window.bench.crossing.deck.step, 2)
        self.panel.show_view("Plan")
        self.go_to("Deed Take two flasks")
        self.assertEqual(self.window.selection.parts, (Part("deeds", "take_oil"),))
        self.window.selection.select("shore_page")
        self.panel.show_view("Board")
        self.go_to("Tile t3")
        self.assertEqual(self.window.selection.parts, (Part("tiles", "t3"),))

    def test_what_is_selected_elsewhere_is_where_one_is(self):
        self.toggle(self.window.map)
        self.window.selection.select("pan_row", "east_gate")
        self.settle()
        self.assertIn("leads to", self.panel.list.current.text)
        self.assertEqual(self.panel.list.current.level, "pan_row")

    def test_it_lists_a_new_verdict(self):
        self.toggle(self.window.map)
        self.window.selection.select("net_loft", "hatch")
        self.window.requests.crossings.set("the destination", to=None)
        if self.window.proposal_bar.isVisible():
            self.window.proposal_bar.yes.click()
        self.wait_until(lambda: "Never reached" in texts(self.panel.list.lines.rows), "the shelf", 20)

    def test_hidden_it_costs_nothing(self):
        self.window.requests.levels.new()
        self.settle()
        self.assertEqual(self.panel.list.lines.rowCount(), 0)


if __name__ == "__main__":
    unittest.main()

"""The window, driven with mouse and keyboard."""

import unittest

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit, QPushButton, QWidget

from mossy_bridge.desk.map.placing import exit_rect
from mossy_bridge.desk.sentences.blank import Blank
from mossy_bridge.desk.sentences.popups import Picker
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.exchange.reading import read_flow
from tests.support.qt import DeskCase, open_popup

CONTROL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


class Drawing(DeskCase):
    def exit_pixel(self, level, exit_):
        card = self.window.map.card_of(level)
        rect = exit_rect(card.placed, card.placed.level.exit(exit_), True)
        return self.on_map(rect.center())

    def test_drag_an_exit_to_another_card_undo_save_and_reopen(self):
        self.open_demo("tidewick_unfinished")
        window = self.window
        self.assertIn("2 exits lead nowhere", window.verdict.sentence)
        window.map.fit()
        window.map.zoom(0.8 / window.map.scale)
        window.map.centre_on(window.map.card_of("weigh_house").placed.rect.center())
        start = self.exit_pixel("weigh_house", "yard_door")
        target = self.on_map(window.map.card_of("rope_walk").placed.rect.center() + QPointF(0, -30))
        self.drag(window.map, start, target)
        self.settle()
        to = window.document.flow.level("weigh_house").exit("yard_door").to
        self.assertEqual((to.level, to.spawn), ("rope_walk", "south"))
        self.assertIn("one exit leads nowhere", window.verdict.sentence)
        self.assertEqual(window.document.undo_name, "lead Weigh House: Yard door to Rope Walk")

        self.key(window, Qt.Key.Key_Z, CONTROL)
        self.assertIsNone(window.document.flow.level("weigh_house").exit("yard_door").to)
        self.key(window, Qt.Key.Key_Z, CONTROL | SHIFT)
        self.assertEqual(window.document.flow.level("weigh_house").exit("yard_door").to, to)

        path = self.folder / "flow.mossy"
        self.person.answers["save"] = path
        self.key(window, Qt.Key.Key_S, CONTROL)
        self.assertFalse(window.document.edited)
        self.assertEqual(read_flow(path), window.document.flow)
        self.person.answers["open"] = path
        saved = window.document.flow
        self.key(window, Qt.Key.Key_O, CONTROL)
        self.settle()
        self.assertEqual(window.document.flow, saved)
        self.assertEqual(window.files.recent[0].name, "flow.mossy")

    def test_dropping_on_a_spawn_point_lands_there(self):
        self.open_demo()
        window = self.window
        window.map.zoom(1.0 / window.map.scale)
        window.map.centre_on(window.map.card_of("eel_sluice").placed.rect.center())
        from mossy_bridge.desk.map.placing import landing_point

        end = self.on_map(landing_point(window.map.card_of("mud_flats").placed, "out", True))
        self.drag(window.map, self.exit_pixel("eel_sluice", "wicket"), end)
        self.assertEqual(window.document.flow.level("eel_sluice").exit("wicket").to.spawn, "out")

    def test_escape_leaves_no_trace_of_a_drag(self):
        self.open_demo()
        from PyQt6.QtCore import QEvent

        view, before = self.window.map, self.window.document.flow
        start = self.exit_pixel("slipway", "east_gate")
        end = self.on_map(self.window.map.card_of("title").placed.rect.center())
        self.mouse(view, QEvent.Type.MouseButtonPress, start)
        self.mouse(view, QEvent.Type.MouseMove, end)
        self.key(self.window.map, Qt.Key.Key_Escape)
        self.mouse(view, QEvent.Type.MouseButtonRelease, end)
        self.assertIs(self.window.document.flow, before)

    def test_dragging_a_card_keeps_it_within_its_column(self):
        self.open_demo()
        card = self.window.map.card_of("bell_sands").placed
        start = self.on_map(card.rect.topLeft() + QPointF(60, 10))
        self.drag(self.window.map, start, start + QPoint(400, 30))
        self.settle()
        after = self.window.map.card_of("bell_sands").placed
        self.assertIn("bell_sands", self.window.document.flow.map)
        self.assertEqual(after.column, card.column)
        self.assertLess(after.rect.left() - card.rect.left(), 40)
        self.assertGreater(after.rect.top(), card.rect.top())
        self.key(self.window, Qt.Key.Key_Z, CONTROL)
        self.assertNotIn("bell_sands", self.window.document.flow.map)

    def test_panning_and_zooming_change_nothing(self):
        self.open_demo()
        before = self.window.document.flow
        scale = self.window.map.scale
        self.drag(self.window.map, QPoint(500, 10), QPoint(450, 30))
        self.key(self.window, Qt.Key.Key_Minus, CONTROL)
        self.assertLess(self.window.map.scale, scale)
        for _ in range(40):
            self.window.map.zoom(0.5)
        self.window.map.grab()  # far away, cards are painted as beads
        self.key(self.window, Qt.Key.Key_0, CONTROL)
        self.assertGreater(self.window.map.scale, 0.2)
        self.assertIs(self.window.document.flow, before)


class Selecting(DeskCase):
    def test_one_selection_for_all_bands(self):
        self.open_demo()
        window = self.window
        self.click(window.strip, window.strip.bead_at("bell_sands").toPoint())
        self.assertEqual(window.selection.level_id, "bell_sands")
        self.assertEqual(window.bench.level.name.text(), "Bell Sands")
        self.key(window.strip, Qt.Key.Key_Right)
        self.assertEqual(window.selection.level_id, "eel_sluice")
        self.key(window.strip, Qt.Key.Key_End)
        self.assertEqual(window.selection.level_id, "credits")
        self.key(window, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
        self.assertEqual(window.selection.level_id, "retry")

    def test_arrow_keys_step_over_the_map(self):
        self.open_demo()
        self.window.selection.select("title")
        self.key(self.window.map, Qt.Key.Key_Right)
        self.assertEqual(self.window.selection.level_id, "slipway")
        self.key(self.window.map, Qt.Key.Key_Left)
        self.assertEqual(self.window.selection.level_id, "title")

    def test_a_finding_is_shown_where_it_is(self):
        self.open_demo("tidewick_unfinished")
        self.settle()
        card = self.card_of("exit-unconnected")
        next(link for link in card.findChildren(Link) if link.words == "Show").click()
        self.assertEqual((self.window.selection.level_id, self.window.selection.exit_id), ("weigh_house", "yard_door"))
        self.assertIs(self.window.bench.page, self.window.bench.crossing)

    def test_every_level_and_crossing_of_both_demos_can_be_shown_light_and_dark(self):
        for name, wish in (("tidewick", "dark"), ("tidewick_unfinished", "light")):
            self.open_demo(name)
            self.look.wear(wish)
            for level in self.window.document.flow.levels:
                self.window.selection.select(level.id)
                self.window.bench.grab()
                for exit_ in level.exits:
                    self.window.selection.select(level.id, exit_.id)
                    self.window.bench.grab()
            self.window.grab()


class Sentence(DeskCase):
    def blank(self, what):
        blanks = self.window.bench.crossing.sentence.findChildren(Blank)
        return next(blank for blank in blanks if blank.isVisible() and blank.accessibleName().startswith(what))

    def pick(self, what, typed):
        self.blank(what).click()
        picker = open_popup()
        self.assertIsInstance(picker, Picker)
        field = picker.findChild(QLineEdit)
        QTest.keyClicks(field, typed)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.settle()

    def test_level_spawn_point_and_transition_are_picked_by_typing(self):
        self.open_demo()
        self.window.selection.select("bell_sands", "east_gate")
        self.pick("the level:", "weigh")
        self.pick("the spawn point:", "yard")
        self.pick("the transition:", "slow")
        exit_ = self.window.document.flow.level("bell_sands").exit("east_gate")
        self.assertEqual((exit_.to.level, exit_.to.spawn, exit_.transition), ("weigh_house", "yard", "slow_fade"))
        for _ in range(3):
            self.key(self.window, Qt.Key.Key_Z, CONTROL)
        self.assertEqual(self.window.document.flow.level("bell_sands").exit("east_gate").to.level, "gull_stair")

    def test_what_does_not_exist_cannot_be_picked(self):
        self.open_demo()
        self.window.selection.select("bell_sands", "east_gate")
        before = self.window.document.flow
        self.pick("the level:", "no such level")
        self.assertTrue(self.window.document.flow is before)
        open_popup().close()


class Levels(DeskCase):
    def test_a_flow_from_nothing_by_keys(self):
        window = self.window
        self.assertEqual(window.verdict.sentence, "There is no level yet.")
        self.key(window, Qt.Key.Key_N, CONTROL | SHIFT)
        first = window.selection.level_id
        self.key(window, Qt.Key.Key_E, CONTROL)
        self.assertEqual(window.selection.exit_id, "exit_1")
        self.key(window, Qt.Key.Key_N, CONTROL | SHIFT)
        second = window.selection.level_id
        self.settle()
        self.assertIn("1 of 2 levels is never reached; one exit leads nowhere", window.verdict.sentence)
        window.requests.crossings.connect(first, "exit_1", second, "")
        self.settle()
        self.assertEqual(window.document.flow.start.level, first)
        self.assertEqual(window.result.survey.levels[second].answer, "yes")
        self.key(window, Qt.Key.Key_F2)
        self.assertIs(window.focusWidget(), window.bench.level.name)
        QTest.keyClicks(window.bench.level.name, "The Weir")
        QTest.keyClick(window.bench.level.name, Qt.Key.Key_Return)
        level = window.document.flow.level(second)
        self.assertEqual((level.name, level.id), ("The Weir", second))
        window.map.setFocus()
        self.key(window, Qt.Key.Key_Delete)
        self.assertEqual(len(window.document.flow.levels), 2)  # an exit would lead nowhere: that is told first
        self.key(window.proposal_bar.yes, Qt.Key.Key_Return)
        self.assertEqual(len(window.document.flow.levels), 1)
        self.key(window, Qt.Key.Key_Z, CONTROL)
        self.assertEqual(len(window.document.flow.levels), 2)

    def test_code_and_region_on_the_bench(self):
        self.open_demo()
        self.window.selection.select("net_loft")
        bench = self.window.bench.level
        bench.code.selectAll()
        QTest.keyClicks(bench.code, "1-9")
        QTest.keyClick(bench.code, Qt.Key.Key_Return)
        next(blank for blank in bench.sentence.blanks() if blank.what == "the region").click()
        popup = open_popup()
        QTest.keyClicks(popup.findChild(QLineEdit), "light")
        QTest.keyClick(popup.findChild(QLineEdit), Qt.Key.Key_Return)
        level = self.window.document.flow.level("net_loft")
        self.assertEqual((level.code, level.region), ("1-9", "light"))

    def test_what_is_typed_is_kept_when_another_level_is_selected(self):
        self.open_demo()
        self.window.selection.select("net_loft")
        self.window.bench.level.name.selectAll()
        QTest.keyClicks(self.window.bench.level.name, "Sail Loft")
        self.window.strip.step(1)
        self.assertEqual(self.window.document.flow.level("net_loft").name, "Sail Loft")
        self.assertEqual(self.window.bench.level.name.text(), "Salt Gate")
        self.assertEqual(self.window.document.flow.level("salt_gate").name, "Salt Gate")
        self.assertEqual(self.window.document.undo_name, "rename Net Loft")


class Findings(DeskCase):
    def link(self, check, begins):
        card = self.card_of(check)
        return next(link for link in card.findChildren(Link) if link.words.startswith(begins))

    def test_repairs_are_one_step_and_mend_the_finding(self):
        self.open_demo("tidewick_unfinished")
        for check in ("exit-unconnected", "exit-buried", "spawn-missing", "next-runs-out", "unknown-name"):
            with self.subTest(check):
                before = self.window.document.flow
                self.link(check, "Repair").click()
                self.assertIs(self.window.document.flow, before)
                self.agree()
                self.settle()
                left = [f.check for f in self.window.result.findings]
                self.assertNotIn(check, left)
                self.window.document.undo()
                self.assertEqual(self.window.document.flow, before)
                self.settle()

    def test_accept_with_a_reason_and_take_back(self):
        self.open_demo("tidewick_unfinished")
        self.link("exit-unconnected", "Accept").click()
        self.assertEqual(self.window.document.flow.waivers, ())
        self.person.answers["reason"] = "comes next week"
        self.link("exit-unconnected", "Accept").click()
        self.settle()
        finding = next(f for f in self.window.result.findings if f.check == "exit-unconnected")
        self.assertEqual(finding.waived, "comes next week")
        self.link("exit-unconnected", "Take back").click()
        self.assertEqual(self.window.document.flow.waivers, ())


class Files(DeskCase):
    def test_unsaved_changes_are_asked_about(self):
        self.open_demo()
        self.window.requests.levels.set("credits", name="Thanks")
        for answer, kept in (("cancel", True), ("discard", False)):
            self.person.answers["unsaved"] = answer
            self.window.files.new()
            self.assertEqual(bool(self.window.document.flow.levels), kept)

    def test_a_file_changed_on_disk_is_noticed_before_saving_over_it(self):
        self.open_demo()
        path = self.folder / "a.mossy"
        self.window.document.save(path)
        path.write_text('{"mossy_bridge": 1}\n')
        self.window.requests.levels.set("credits", name="Thanks")
        self.assertFalse(self.window.files.save())
        self.assertEqual(path.read_text(), '{"mossy_bridge": 1}\n')
        self.person.answers["overwrite"] = True
        self.assertTrue(self.window.files.save())
        self.assertEqual((self.folder / "a.mossy~").read_text(), '{"mossy_bridge": 1}\n')

    def test_a_damaged_file_is_told_and_changes_nothing(self):
        self.open_demo()
        before = self.window.document.flow
        for data in (b"", b"{", b'{"mossy_bridge": 9}', b"\xff\xfe", b'{"mossy_bridge": 1, "levels": 3}'):
            path = self.folder / "bad.mossy"
            path.write_bytes(data)
            self.assertFalse(self.window.files.open(path))
            self.assertIs(self.window.document.flow, before)
            self.assertEqual(path.read_bytes(), data)
        self.assertEqual(len(self.person.told), 5)
        self.assertIn("levels: expected a list", self.person.told[-1])

    def test_where_nothing_can_be_written_the_flow_stays_unsaved(self):
        self.open_demo()
        self.window.requests.levels.set("credits", name="Thanks")
        self.person.answers["save"] = self.folder / "nowhere" / "a.mossy"
        self.assertFalse(self.window.files.save())
        self.assertTrue(self.window.document.edited)
        self.assertIn("Not saved", self.person.told[-1])

    def test_a_recent_file_that_is_gone_is_told(self):
        self.assertFalse(self.window.files.open(self.folder / "gone.mossy"))
        self.assertIn("there is no such file", self.person.told[-1])


class Manners(DeskCase):
    def test_every_action_has_a_key_of_its_own_and_a_tip(self):
        keys = [entry.keys for entry in self.window.actions_made.table]
        self.assertTrue(all(keys))
        self.assertEqual(len(keys), len(set(keys)))
        for entry in self.window.actions_made.table:
            self.assertTrue(entry.tip and self.window.actions_made.made[entry.id].toolTip())

    def test_every_widget_to_work_with_has_an_accessible_name(self):
        self.open_demo("tidewick_unfinished")
        for widget in self.window.findChildren(QWidget):
            if isinstance(widget, QPushButton | QLineEdit) and widget.isVisible():
                self.assertTrue(widget.accessibleName() or widget.text(), widget)

    def test_contrast_of_words_is_at_least_four_and_a_half(self):
        from mossy_bridge.desk.widgets.colours import DARK, DARK_HIGH, LIGHT, LIGHT_HIGH

        def light(name):
            parts = [int(name[i : i + 2], 16) / 255 for i in (1, 3, 5)]
            parts = [p / 12.92 if p <= 0.03928 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
            return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]

        pairs = [("ink", g) for g in ("panel", "bench", "card", "ground", "sky")]
        pairs += [(w, g) for w in ("dim", "sound", "route", "suspicious", "broken") for g in ("panel", "bench", "card")]
        pairs += [(w, f"{w}_wash") for w in ("sound", "route", "suspicious", "broken")] + [("on_sound", "sound")]
        marks = [
            (m, g)
            for m in ("sound", "route", "suspicious", "broken", "ink")
            for g in ("ground", "column", "panel", "bench", "card", "sky")
        ]
        for colours, least in ((LIGHT, 4.5), (DARK, 4.5), (LIGHT_HIGH, 7), (DARK_HIGH, 7)):
            asked = [(*pair, least) for pair in pairs] + [(*pair, 3) for pair in marks]
            for words, ground, wanted in asked:
                a, b = sorted((light(getattr(colours, words)), light(getattr(colours, ground))))
                self.assertGreaterEqual((b + 0.05) / (a + 0.05), wanted, f"{words} on {ground}")

    def test_folding_the_survey(self):
        self.key(self.window, Qt.Key.Key_F9)
        self.assertTrue(self.window.survey_column.is_folded)
        self.key(self.window, Qt.Key.Key_F9)
        self.assertFalse(self.window.survey_column.is_folded)

    def test_only_the_latest_flow_is_surveyed(self):
        self.open_demo()
        for number in range(20):
            self.window.requests.door.edit("rename", lambda flow, n=number: _retitled(flow, str(n)))
            QApplication.processEvents()
        self.settle()
        self.assertIs(self.window.result.flow, self.window.document.flow)


def _retitled(flow, title):
    from msgspec.structs import replace

    return replace(flow, title=title)


if __name__ == "__main__":
    unittest.main()

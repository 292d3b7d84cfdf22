"""The survey column: going through findings by mouse and keys, what is listed, repairing and accepting many."""

import unittest

from PyQt6.QtCore import QPoint, Qt

from mossy_bridge.appraisal.grouping import grouped, key_of
from mossy_bridge.checks.finding import Finding
from mossy_bridge.checks.registry import CHECKS
from mossy_bridge.desk.survey.finding_rows import FindingFilter, rows_of
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.model.edits import levels as edits
from tests.support.build import flow, play_level, way
from tests.support.qt import DeskCase

EVERYTHING = FindingFilter()
CHAPTERS = {slug: check.chapter for slug, check in CHECKS.items()}


def finding(check, *at, severity="warning", message="", waived=""):
    return Finding(check, severity, at, message or f"{check} at {at}", "It matters.", waived=waived)


class Rows(unittest.TestCase):
    MANY = tuple(finding("can-be-missed", f"l{n}.coin", severity="hint") for n in range(31))
    BROKEN = (finding("exit-unconnected", "a.on", severity="error"),)

    def told(self, findings, wanted=EVERYTHING, **more):
        return [row.text for row in rows_of(grouped(findings), wanted, CHAPTERS, **more)]

    def test_many_of_one_check_are_one_line_until_opened(self):
        told = self.told([*self.BROKEN, *self.MANY])
        self.assertEqual(told, ["Broken 1", "exit-unconnected at ('a.on',)", "Worth knowing 31", "Can be missed: 31"])
        opened = self.told([*self.BROKEN, *self.MANY], turned={("hint", "can-be-missed")})
        self.assertEqual(len(opened), 4 + 31)

    def test_a_few_of_one_check_are_open_until_closed(self):
        few = self.MANY[:3]
        self.assertEqual(len(self.told(few)), 1 + 1 + 3)
        self.assertEqual(len(self.told(few, turned={("hint", "can-be-missed")})), 1 + 1)

    def test_filters(self):
        findings = [*self.BROKEN, *self.MANY[:2], finding("transition-empty", "fade")]
        self.assertEqual(self.told(findings, FindingFilter(frozenset({"hint"})))[0::2], ["Broken 1", "Suspicious 1"])
        self.assertEqual(self.told(findings, FindingFilter(chapter="transitions"))[0], "Suspicious 1")
        here = self.told(findings, FindingFilter(levels=frozenset({"l1"})))
        self.assertEqual(here, ["Worth knowing 1", "can-be-missed at ('l1.coin',)"])
        new = grouped(findings).new_since(set(map(key_of, self.MANY)))
        self.assertEqual(self.told(findings, FindingFilter(only_new=True), new=new)[0::2],
                         ["Broken 1", "Suspicious 1"])  # fmt: skip
        self.assertEqual(grouped(findings).new_since(None), set())

    def test_what_is_accepted_is_a_part_of_its_own(self):
        told = self.told([finding("can-be-missed", "a.coin", severity="hint", waived="a gift"), *self.BROKEN])
        self.assertEqual(told[0::2], ["Broken 1", "Accepted 1"])


class Column(DeskCase):
    def setUp(self):
        super().setUp()
        self.column = self.window.survey_column
        self.list = self.column.list

    def open_unfinished(self):
        self.open_demo("tidewick_unfinished")
        self.settle()

    def row_of(self, wanted):
        return next(at for at, row in enumerate(self.list.rows) if wanted(row))

    def click_row(self, number):
        self.list.scrollTo(self.list.model().index(number, 0))
        rect = self.list.visualRect(self.list.model().index(number, 0))
        self.click(self.list.viewport(), rect.topLeft() + QPoint(60, 8))

    def link(self, begins):
        return next(link for link in self.column.card.findChildren(Link) if link.words.startswith(begins))

    def test_a_click_points_at_a_finding_and_enter_shows_its_place(self):
        self.open_unfinished()
        at = self.row_of(lambda row: row.finding and row.finding.check == "exit-unconnected")
        self.click_row(at)
        self.assertEqual(self.column.card.finding.check, "exit-unconnected")
        self.key(self.list, Qt.Key.Key_Return)
        self.assertEqual(self.window.selection.level_id, "weigh_house")

    def test_a_group_opens_and_closes_by_click_and_by_keys(self):
        self.open_unfinished()
        at = self.row_of(lambda row: row.is_group)
        was = self.list.rows[at].is_open
        self.click_row(at)
        self.assertNotEqual(self.list.rows[at].is_open, was)
        self.key(self.list, Qt.Key.Key_Left if not was else Qt.Key.Key_Right)
        self.assertEqual(self.list.rows[at].is_open, was)

    def test_f8_goes_through_all_findings_and_shows_them(self):
        self.open_unfinished()
        seen = []
        for _ in range(len(self.window.result.open_findings())):
            self.key(self.window, Qt.Key.Key_F8)
            seen.append(self.column.card.finding)
        self.assertEqual(len(set(map(id, seen))), len(self.window.result.open_findings()))
        self.key(self.window, Qt.Key.Key_F8, Qt.KeyboardModifier.ShiftModifier)
        self.assertIs(self.column.card.finding, seen[-2])
        self.assertIn(self.window.selection.level_id, {at.split(".")[0] for at in seen[-2].at})

    def test_only_what_is_about_the_selected_levels(self):
        self.open_unfinished()
        self.window.selection.select("weigh_house")
        self.column.here.click()
        about = [row.finding for row in self.list.rows if row.finding]
        self.assertTrue(about)
        for one in about:
            self.assertIn("weigh_house", {at.split(".")[0] for at in one.at})
        self.window.selection.select("eel_sluice")
        self.assertNotEqual([row.finding for row in self.list.rows if row.finding], about)

    def test_new_since_the_last_save(self):
        self.open_unfinished()
        self.assertFalse(any(row.is_new for row in self.list.rows))
        self.window.requests.door.edit(
            "cut", lambda f: edits.set_exit(f, "bell_sands", "east_gate", to=None), shown=True)  # fmt: skip
        self.settle()
        new = [row.finding for row in self.list.rows if row.is_new and row.finding]
        self.assertIn(("exit-unconnected", "bell_sands.east_gate"), [(one.check, one.at[0]) for one in new])
        self.assertIn("new since the flow was saved or opened", self.column._told.text())
        self.column.new.click()
        self.assertEqual([row.finding for row in self.list.rows if row.finding], new)
        self.column.mark_saved()
        self.assertEqual(self.list.rows, [])

    def test_a_first_fault_in_a_sound_flow_is_new(self):
        self.open_demo()
        self.settle()
        self.assertEqual(self.window.result.open_findings(), [])
        self.window.requests.door.edit(
            "cut", lambda f: edits.set_exit(f, "bell_sands", "east_gate", to=None), shown=True)  # fmt: skip
        self.settle()
        count = len(self.window.result.open_findings())
        self.assertEqual(self.column._told.text(), f"{count} new since the flow was saved or opened")

    def test_accepting_and_taking_back_a_whole_group(self):
        self.open_unfinished()
        at = self.row_of(lambda row: row.is_group)
        check, count = self.list.rows[at].check, len(self.list.rows[at].findings)
        self.list.point_at(at)
        self.person.answers["reason"] = "all of these are meant so"
        self.link("Accept all").click()
        self.settle()
        accepted = [one for one in self.window.result.findings if one.check == check and one.waived]
        self.assertEqual(len(accepted), count)
        self.assertEqual(self.window.document.undo_name, f"accept {count} findings")
        self.list.point_at(self.row_of(lambda row: row.is_group and row.check == check))
        self.link("Take back all").click()
        self.settle()
        self.assertFalse([one for one in self.window.result.findings if one.check == check and one.waived])

    def test_repairing_a_whole_group_is_one_step(self):
        levels = [play_level(name, way("on", following)) for name, following in zip("abc", [*"bc", "won"], strict=True)]
        hint = {"kind": "flag", "rewinds": True}
        idle = flow(*levels, facts=[{"id": name, **hint} for name in ("oil", "rope", "bell")])
        self.window.document.take(idle)
        self.settle()
        self.list.point_at(self.row_of(lambda row: row.is_group and row.check == "rewind-idle"))
        self.link("Repair all 3").click()
        self.assertTrue(self.column.stop.isVisibleTo(self.window))
        self.wait_until(lambda: self.window.proposal_bar.proposal, "what the repairs change")
        self.assertFalse(self.column.stop.isVisibleTo(self.window))
        self.assertIn("3 mend", self.window.proposal_bar._told.text())
        self.agree()
        self.settle()
        self.assertEqual([fact.rewinds for fact in self.window.document.flow.facts], [False] * 3)
        self.window.document.undo()
        self.assertEqual(self.window.document.flow, idle)

    def test_repairs_under_way_can_be_stopped(self):
        self.open_unfinished()
        self.column.repair_all_wanted.emit(tuple(self.window.result.findings[:2]))
        self.column.stop.click()
        self.settle()
        self.wait_until(lambda: not self.window.finding_actions.mending.busy, "the repairs to stop")
        self.assertIsNone(self.window.proposal_bar.proposal)
        self.assertFalse(self.column.stop.isVisibleTo(self.window))

    def test_it_folds_while_there_is_nothing_to_say(self):
        self.column.folds_by_itself = True
        self.open_demo()
        self.settle()
        self.assertTrue(self.column.is_folded)
        self.window.requests.door.edit(
            "cut", lambda f: edits.set_exit(f, "bell_sands", "east_gate", to=None), shown=True)  # fmt: skip
        self.settle()
        self.wait_until(lambda: not self.column.is_folded, "the column to open")
        self.column.fold(True)  # by hand, it stays so while there is still something
        self.window.requests.levels.set("slipway", name="Slip")
        self.settle()
        self.assertTrue(self.column.is_folded)
        self.click(self.column.margin, QPoint(10, 60))
        self.assertFalse(self.column.is_folded)
        self.window.document.undo()
        self.window.document.undo()
        self.settle()
        self.assertFalse(self.column.is_folded)  # not at once, in the middle of the work
        self.wait_until(lambda: self.column.is_folded, "the column to fold")

    def test_five_thousand_findings_scroll_smoothly(self):
        found = [finding("can-be-missed", f"s{n}.on", severity="hint", message=f"Screen {n} can be missed for good, "
                         "as one can leave it by another way before it was seen.") for n in range(5_000)]  # fmt: skip
        self.open_demo()
        self.settle()
        self.column.show_result(replace_findings(self.window.result, found))
        self.list.point_at(1)
        self.key(self.list, Qt.Key.Key_Right)
        self.assertEqual(len(self.list.rows), 5_002)
        bar = self.list.verticalScrollBar()
        self.wait_until(lambda: bar.maximum() > 5_000 * 20, "all lines to be laid out")
        for step in range(20):
            bar.setValue(bar.maximum() * step // 20)
            self.list.viewport().grab()
        self.assertEqual(self.list.indexAt(QPoint(60, 20)).data().split()[0], "Screen")


def replace_findings(result, findings):
    return type(result)(result.flow, result.survey, findings, result.level_results)


if __name__ == "__main__":
    unittest.main()

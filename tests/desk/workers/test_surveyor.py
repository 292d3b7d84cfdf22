"""The survey beside the window: what is told when, and what the top line says meanwhile."""

import dataclasses
import threading
import unittest
from unittest import mock

from msgspec.structs import replace

from mossy_bridge.appraisal import appraise
from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.checks.finding import Finding
from mossy_bridge.checks.verdict import verdict_mark
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.reach.survey.verdicts import Verdict
from tests.support.build import flow, play_level, way
from tests.support.qt import DeskCase


class Telling(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo("tidewick")
        self.line = self.window.verdict

    def lock(self):
        """An edit after which a level is never reached."""
        opens = "never" if self.window.document.flow.level("salt_gate").opens != "never" else "not (always)"
        self.window.requests.door.edit("lock it", lambda flow: edits.set_level(flow, "salt_gate", opens=opens))

    def test_the_verdict_is_told_before_everything_is_checked(self):
        told = []
        self.window.surveyor.judged.connect(lambda answer: told.append(answer.sentence))
        self.window.surveyor.appraised.connect(lambda result: told.append(result))
        self.lock()
        self.wait_until(lambda: len(told) == 2, "the survey")
        self.assertIn("never reached", told[0])
        self.assertEqual(told[0], told[1].judgement.sentence)
        self.assertEqual(self.line.sentence, told[0])

    def test_while_it_takes_long_the_old_verdict_is_not_shown_as_new(self):
        before, gate, real = self.line.sentence, threading.Event(), appraise.survey_flow
        self.assertIn("All 25 levels reached", before)
        with mock.patch.object(appraise, "survey_flow", lambda *a, **k: gate.wait(20) and real(*a, **k)):
            self.lock()
            self.wait_until(lambda: self.line.sentence != before, "the line to change")
            self.assertEqual(self.line.sentence, f"Surveying… Before the last change: {before}")
            self.lock()
            gate.set()
            self.wait_until(lambda: "never reached" in self.line.sentence, "the verdict")
        self.assertNotIn("Before", self.line.sentence)

    def test_a_verdict_ends_the_wait(self):
        self.line._waiting.setInterval(60_000)
        self.lock()
        self.assertTrue(self.line._waiting.isActive())
        self.settle()
        self.assertFalse(self.line._waiting.isActive())
        self.assertIn("never reached", self.line.sentence)

    def test_of_another_file_nothing_old_is_said(self):
        gate, real = threading.Event(), appraise.survey_flow
        with mock.patch.object(appraise, "survey_flow", lambda *a, **k: gate.wait(20) and real(*a, **k)):
            self.window.files.open_demo("tidewick_unfinished")
            self.line._waiting.setInterval(1)
            self.wait_until(lambda: self.line.sentence == "Surveying…", "the line to change")
            self.lock()
            self.assertEqual(self.line.sentence, "Surveying…")
            gate.set()
            self.settle()
        self.assertIn("never reached", self.line.sentence)

    def test_what_is_not_decided_is_not_told_as_sound(self):
        f = flow(play_level("a", way("x", "won")))
        survey = appraise.survey_flow(f)
        self.assertEqual(verdict_mark(survey, ()), "sound")
        survey = dataclasses.replace(survey, stuck=Verdict("unknown"))
        self.assertEqual(verdict_mark(survey, ()), "suspicious")
        error = Finding("stuck", "error", ("a",), "", "")
        self.assertEqual(verdict_mark(survey, [error]), "broken")
        self.assertEqual(verdict_mark(survey, [replace(error, waived="so it is")]), "suspicious")
        self.assertEqual(verdict_mark(appraise.survey_flow(flow()), ()), "unknown")
        for before, told, shown in (("sound", "sound", "sound"), ("suspicious", "sound", "suspicious"),
                                    ("sound", "suspicious", "suspicious"), ("suspicious", "broken", "broken")):  # fmt: skip
            self.line._answer("before", before)
            self.line.show_answer(appraise.Judgement("now", told))
            self.assertEqual((self.line.sentence, self.line._mark), ("now", shown))

    def test_an_edit_ends_the_checks_under_way(self):
        gate, begun, real = threading.Event(), [], appraise.inspected

        def slow(*arguments, watch, **more):
            def watched(check, found):
                begun.append(check.slug)
                gate.wait(20)
                watch(check, found)

            return real(*arguments, watch=watched, **more)

        with mock.patch.object(appraise, "inspected", slow):
            self.lock()
            self.wait_until(lambda: begun, "the first check")
            self.window.document.undo()
            gate.set()
            self.settle()
        self.assertEqual(begun[1], begun[0])  # of the first survey's checks there was no second
        self.assertIn("All 25 levels reached", self.line.sentence)


class Charting(DeskCase):
    """What the map is drawn from is worked out last."""

    def setUp(self):
        super().setUp()
        self.open_demo("tidewick")
        self.gate, self.begun, real = threading.Event(), [], Appraisal.chart

        def slow(appraisal, check):
            self.begun.append(appraisal)
            self.gate.wait(20)
            check()
            real(appraisal, check)

        patched = mock.patch.object(Appraisal, "chart", slow)
        patched.start()
        self.addCleanup(patched.stop)
        self.addCleanup(self.gate.set)

    def lock(self, opens="never"):
        self.window.requests.door.edit("lock it", lambda flow: edits.set_level(flow, "salt_gate", opens=opens))

    def test_findings_are_shown_before_the_map_follows(self):
        window = self.window
        columns = window.map.scene.layout.columns
        self.lock()
        self.wait_until(lambda: self.begun, "the map's turn")
        self.wait_until(lambda: any(one.check == "never-holds" or "never reached" in one.message
                                    for one in window.result.findings), "the findings")  # fmt: skip
        self.assertIsNot(window.charted, window.result)
        self.assertEqual(window.map.scene.layout.columns, columns)
        self.gate.set()
        self.settle()
        self.assertIs(window.charted, window.result)
        self.assertTrue(window.map.card_of("salt_gate").placed.stranded)

    def test_the_next_edit_ends_it(self):
        told = []
        self.window.surveyor.charted.connect(told.append)
        self.lock()
        self.wait_until(lambda: self.begun, "the map's turn")
        self.lock("always")
        self.gate.set()
        self.settle()
        self.assertEqual((len(self.begun), len(told)), (2, 1))
        self.assertIs(told[0], self.begun[1])
        self.assertFalse(self.window.map.card_of("salt_gate").placed.stranded)

    def test_a_card_moved_meanwhile_stays_where_it_was_put(self):
        self.lock()
        self.wait_until(lambda: self.begun, "the map's turn")
        self.wait_until(lambda: self.window.result is self.begun[0], "the findings")
        self.window.requests.levels.place_card("net_loft", 10, 400)
        self.gate.set()
        self.settle()
        self.assertIs(self.window.charted.flow, self.window.document.flow)
        self.assertEqual(self.window.map.card_of("net_loft").placed.rect.top(), 400)
        self.assertTrue(self.window.map.card_of("salt_gate").placed.stranded)

    def test_before_the_first_survey_the_map_waits(self):
        def painted():
            self.window.map.repaint()
            return self.window.map.grab().toImage()

        self.window.files.open_demo("tidewick_unfinished")
        self.wait_until(lambda: self.begun, "the map's turn")
        self.wait_until(lambda: not self.window.map.busy, "the old map to go")
        self.assertEqual(self.window.map.scene.cards, {})
        noticed = self.window.map._until_said
        noticed.start(60_000)
        blank = painted()
        noticed.start(0)
        self.wait_until(lambda: painted() != blank, "words to wait by")
        self.assertEqual(self.window.map.scene.cards, {})
        self.gate.set()
        self.settle()
        self.assertIn("title", self.window.map.scene.cards)

    def test_where_the_first_survey_fails_the_map_is_shown_all_the_same(self):
        def fails(*_arguments, **_more):
            raise RuntimeError("made to fail")

        with mock.patch.object(appraise, "survey_flow", fails):
            self.window.files.open_demo("tidewick_unfinished")
            self.settle()
        self.assertEqual(set(self.faults), {"RuntimeError: made to fail"})  # again, where the files are read later
        self.faults.clear()
        self.assertIsNone(self.window.result)
        self.assertTrue(self.window.map.card_of("title").placed.stranded)


if __name__ == "__main__":
    unittest.main()

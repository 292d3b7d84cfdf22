"""The face Play-tests: logs added, narrowed, added up, laid over map and plans, walked again, taken over."""

import json
import unittest

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from mossy_bridge.desk.play_tests.level_table import LEAST_STAYS, MEANT, MEDIAN
from mossy_bridge.desk.play_tests.session_table import ANSWER, GOT_TO, NAME, PLAYED
from mossy_bridge.desk.play_tests.wording import minutes_text
from mossy_bridge.play.trial import QUIT
from tests.play_logs.test_explaining import arrive, begin, made
from tests.support.build import deed, flow, play_level, screen, way
from tests.support.qt import DeskCase

PLAN = {"width": 20, "height": 10}


def played(number, seconds, **more):
    """A session that fails once in Sands, and goes on to Light after so many seconds."""
    events = (begin(session=f"s{number}", **more), arrive("title"), made("exit", "title", "new"), arrive("sands", "p"),
              {"event": "at", "x": 4.5, "y": 8}, made("exit", "sands", "drown"), arrive("sands", "p"),
              made("deed", "sands", "dig"), made("exit", "sands", "gate"), arrive("light", "p"), {"event": "end"})  # fmt: skip
    return [{**event, "t": 0 if at < 4 else seconds} for at, event in enumerate(events)]


class PlayTestsCase(DeskCase):
    def setUp(self):
        super().setUp()
        sands = play_level("sands", way("gate", "light", opens="has key", area=[18, 6, 2, 2]), way("hole", "light", opens="never"),
                           way("drown", {"kind": "again"}, trigger={"kind": "fail"}), deeds=[deed("dig", "gain key"), deed("rest")],
                           name="Bell Sands", plan=PLAN, minutes=9)  # fmt: skip
        self.flow = flow(screen("title", way("new", "sands", fresh=True)), sands, play_level("light", way("lit", "won"), plan=PLAN),
                         facts=["key"])  # fmt: skip
        self.window.document.take(self.flow, edited=False)
        self.settle()
        self.face, self.tests = self.window.play_tests_face, self.window.play_tests

    def log(self, *sessions, name="play.jsonl"):
        path = self.folder / name
        path.write_text("".join(json.dumps(event) + "\n" for one in sessions for event in one), "utf-8")
        return path

    def add(self, *sessions, name="play.jsonl"):
        self.person.answers["logs"] = [self.log(*sessions, name=name)]
        self.key(self.window, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        self.done()

    def done(self):
        self.wait_until(lambda: not self.tests.busy and self.tests.progress is None, "the logs")

    def open_face(self):
        self.key(self.window, Qt.Key.Key_P, Qt.KeyboardModifier.AltModifier)
        self.assertTrue(self.face.isVisible())

    def cell(self, row, column):
        table = self.face.table.sessions
        return table.data(table.index(row, column))


class Face(PlayTestsCase):
    def test_an_empty_face_says_how_to_begin(self):
        self.open_face()
        self.assertEqual(self.face.pages.currentIndex(), 0)
        self.person.answers["logs"] = [self.log(played(1, 60))]
        QTest.mouseClick(self.face.add_first, Qt.MouseButton.LeftButton)
        self.done()
        self.assertEqual(
            (self.face.pages.currentIndex(), self.face.told.text()), (1, "1 session: 1 explained by the flow")
        )

    def test_sessions_listed_sorted_and_narrowed(self):
        cheat = [begin(session="s3", player="Bo", build="2"), arrive("title"), arrive("light")]
        self.add(played(1, 60, player="Ada", build="1"), played(2, 30, player="Ada", build="2"), cheat)
        self.open_face()
        self.assertEqual(self.face.told.text(), "3 sessions: 2 explained by the flow, 1 not")
        self.assertEqual([self.cell(row, ANSWER) for row in range(3)], ["✓", "✓", "✗"])
        self.assertEqual((self.cell(0, PLAYED), self.cell(0, GOT_TO)), ("1:00", "light"))
        header = self.face.table.horizontalHeader()
        QTest.mouseClick(header.viewport(), Qt.MouseButton.LeftButton,
                         pos=QPoint(header.sectionViewportPosition(PLAYED) + 10, 8))  # fmt: skip
        self.assertEqual([self.cell(row, NAME) for row in range(3)], ["s3", "s2", "s1"])
        for box, text, names in ((self.face.build, "2", ["s3", "s2"]), (self.face.player, "Ada", ["s2"]),
                                 (self.face.build, "any build", ["s2", "s1"]), (self.face.answer, "not explained", []),
                                 (self.face.player, "any player", ["s3"])):  # fmt: skip
            box.setCurrentText(text)
            box.activated.emit(box.currentIndex())
            self.done()
            found = [self.cell(row, NAME) for row in range(self.face.table.sessions.rowCount())]
            self.assertEqual(found, names, text)
        self.assertEqual(self.face.told.text(), "1 session: 0 explained by the flow, 1 not (of 3)")

    def test_what_is_impossible_is_told_and_shown(self):
        cheat = [
            begin(session="c"),
            arrive("title"),
            made("exit", "title", "new"),
            arrive("sands", "p"),
            made("exit", "sands", "gate"),
        ]
        self.add(cheat)
        self.open_face()
        self.face.table.selectRow(0)
        lines = self.face.details.list
        self.assertEqual(lines.item(0).text(), "line 5: exit Bell Sands: gate – needs key")
        lines.setCurrentRow(0)
        self.assertEqual(self.window.selection.level_id, "sands")

    def test_what_was_measured_is_taken_over_as_one_step(self):
        self.add(*(played(number, 60 * number) for number in range(1, LEAST_STAYS + 1)))
        self.open_face()
        self.face.tabs.setCurrentWidget(self.face.levels)
        model = self.face.levels.model
        self.assertEqual(
            [model.told(model.rows[0], column) for column in (0, MEDIAN, MEANT)], ["Bell Sands", "3:00", "9:00"]
        )
        self.assertEqual(self.face.levels.take.text(), "Take the median over as minutes of 1 level")
        QTest.mouseClick(self.face.levels.take, Qt.MouseButton.LeftButton)
        self.settle()
        self.assertEqual(self.window.document.flow.level("sands").minutes, 3)
        self.assertEqual(model.told(model.rows[0], MEANT), "3:00")
        self.assertFalse(self.face.levels.take.isEnabled())
        self.assertTrue(self.face.outdated.isVisible(), "judged by the flow as it was")
        QTest.mouseClick(self.face.again, Qt.MouseButton.LeftButton)
        self.done()
        self.assertFalse(self.face.outdated.isVisible())
        self.key(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.window.document.flow.level("sands").minutes, 9)

    def test_few_stays_are_taken_for_chance(self):
        self.add(*(played(number, 60) for number in range(LEAST_STAYS - 1)))
        self.open_face()
        self.face.tabs.setCurrentWidget(self.face.levels)
        self.assertFalse(self.face.levels.take.isEnabled())

    def test_what_nobody_used_and_whether_it_could_be(self):
        self.add(played(1, 60))
        self.open_face()
        self.face.tabs.setCurrentWidget(self.face.unused)
        listed = self.face.unused.model
        found = {listed.told(row, 0): listed.told(row, 2) for row in listed.rows}
        self.assertEqual(found, {"Bell Sands: rest": "yes, after 1 move", "light: lit": "yes, after 3 moves",
                                 "Bell Sands: hole": "no: it can never be used"})  # fmt: skip
        self.face.unused.table.selectRow([listed.told(row, 0) for row in listed.rows].index("light: lit"))
        self.assertEqual(self.window.selection.level_id, "light")
        QTest.mouseClick(self.face.unused.tick, Qt.MouseButton.LeftButton)
        self.assertTrue(self.window.tour.isVisible())
        QTest.mouseClick(self.window.tour.make, Qt.MouseButton.LeftButton)
        self.wait_until(lambda: not self.window.tour.busy, "the tour")
        self.assertIn("4 ticked off", self.window.tour.summary.text())

    def test_a_session_is_walked_again(self):
        quits = [*played(1, 60)[:-1], {"event": "quit"}, arrive("title")]
        self.add(quits)
        self.open_face()
        self.face.table.selectRow(0)
        QTest.mouseClick(self.face.details.walk, Qt.MouseButton.LeftButton)
        self.wait_until(lambda: self.window.walking.trial, "the walk")
        self.assertEqual(self.window.walking.trial.moves,
                         ("exit title.new", "exit sands.drown", "deed sands.dig", "exit sands.gate", QUIT))  # fmt: skip
        self.window.walking.leave()

    def test_one_that_cannot_be_explained_is_walked_up_to_there(self):
        self.add([*played(1, 60)[:-1], made("exit", "light", "hatch")])
        self.tests.walk(self.tests.all[0])
        self.wait_until(lambda: self.window.walking.trial, "the walk")
        self.assertEqual(self.window.walking.trial.moves[-1], "exit sands.gate")
        self.window.walking.leave()

    def test_a_walk_that_cannot_be_found_says_why(self):
        self.add(played(1, 60))
        (self.folder / "play.jsonl").unlink()
        self.tests.walk(self.tests.all[0])
        self.wait_until(lambda: self.person.told, "the reason")
        self.assertRegex(self.person.told[-1], "Not walked again: .*play.jsonl: No such file")

    def test_files_that_cannot_be_read_are_told_and_the_others_kept(self):
        self.person.answers["logs"] = [self.folder / "none.jsonl", self.log(played(1, 60))]
        self.window.play_test_commands.add()
        self.done()
        self.assertEqual(len(self.tests.all), 1)
        self.assertRegex(self.person.told[-1], "Not read: .*none.jsonl: No such file")

    def test_reading_is_stopped_by_hand(self):
        self.add(played(1, 60))
        self.open_face()
        self.tests.add([self.log(*(played(number, 60) for number in range(4000)), name="long.jsonl")])
        self.assertTrue(self.face.cancel.isVisible())
        self.assertRegex(self.face.told.text(), r"Reading play logs… \d+ %")
        QTest.mouseClick(self.face.cancel, Qt.MouseButton.LeftButton)
        self.done()
        self.assertEqual((len(self.tests.all), self.tests.files), (1, (self.folder / "play.jsonl",)))

    def test_another_flow_begins_without_them(self):
        self.add(played(1, 60))
        self.window.document.take(self.flow, edited=False)
        self.settle()
        self.done()
        self.assertEqual((self.tests.all, self.tests.shown), ((), ""))

    def test_times(self):
        self.assertEqual([minutes_text(seconds) for seconds in (0, 59.6, 65, 3600, 7384)],
                         ["0:00", "1:00", "1:05", "1:00:00", "2:03:04"])  # fmt: skip


class Overlaid(PlayTestsCase):
    def pixels(self):
        return self.window.map.grab().toImage()

    def test_map_and_plans_change_and_change_back(self):
        self.window.selection.select("sands")
        plan = self.window.bench.level.plan
        before, bare = self.pixels(), plan.grab().toImage()
        self.add(played(1, 60), played(2, 60))
        self.assertTrue(self.window.listening_sign.isVisible())
        times, heat = self.pixels(), plan.grab().toImage()
        self.assertNotEqual(times, before)
        self.assertNotEqual(heat, bare)
        self.key(self.window, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        self.assertEqual(self.tests.shown, "failures")
        self.assertNotEqual(self.pixels(), times)
        QTest.mouseClick(self.window.listening_sign, Qt.MouseButton.LeftButton)
        self.window.map.setFocus()
        self.assertEqual(self.tests.shown, "")
        self.assertFalse(self.window.listening_sign.isVisible())
        self.assertEqual(plan.grab().toImage(), bare)

    def test_what_is_laid_over(self):
        self.add(played(1, 60), played(2, 120))
        statistics = self.tests.statistics
        self.assertEqual(statistics.ways["title", "new", "sands"], 2)
        self.assertEqual(statistics.failed_at, {"sands": {(4, 7): 2}}, "feet on the ground are above it")
        self.assertEqual(statistics.spreads["sands"]["median"], 90)


class Curves(PlayTestsCase):
    def test_both_are_drawn_and_a_click_selects_a_level(self):
        self.add(played(1, 60))
        self.open_face()
        for curve in (self.face.far, self.face.time):
            self.face.tabs.setCurrentWidget(curve)
            self.wait_until(lambda curve=curve: curve.plot is not None, "the plot")
            self.assertGreater(len(curve.plot.getPlotItem().items), 1)
            view = curve.plot.getPlotItem().vb
            at = curve.plot.mapFromScene(view.mapViewToScene(view.viewRect().center()))
            right = curve.plot.mapFromScene(view.mapViewToScene(view.viewRect().topRight()))
            QTest.mouseClick(curve.plot.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(right.x() - 12, at.y()))
            self.assertEqual(self.window.selection.level_id, "light")
            self.window.selection.select("sands")


del PlayTestsCase
if __name__ == "__main__":
    unittest.main()

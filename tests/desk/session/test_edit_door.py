"""The one door for edits: what concerns others is shown first, whoever asked; views are told once."""

from unittest import mock

from msgspec.structs import replace

from mossy_bridge.desk.session.selection import Selected
from mossy_bridge.model.edits.levels import CannotEdit, set_level
from mossy_bridge.model.flow import Walk
from tests.support.qt import DeskCase

WALK = ("exit title.begin",)


class Door(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.door, self.document = self.window.requests.door, self.window.document
        self.proposed, self.refused = [], []
        self.door.proposed.connect(self.proposed.append)
        self.door.refused.connect(self.refused.append)

    def record(self):
        """Adds a recorded walk through the first exit."""
        self.door.edit("record", lambda flow: replace(flow, walks=(Walk(id="first", moves=WALK),)))

    def lock(self):
        """Asks to lock the exit that the walk goes through."""
        self.window.selection.select("title", "begin")
        self.window.requests.crossings.set("opens", opens="never")

    def opens(self):
        return self.document.flow.level("title").exit("begin").opens

    def test_an_edit_of_a_crossing_that_breaks_a_walk_is_shown_first(self):
        self.record()
        self.lock()
        self.assertEqual(self.opens(), "always")
        (proposal,) = self.proposed
        self.assertEqual([(one.what, one.at) for one in proposal.edit.consequences], [("walk", "first")])
        self.assertIn("would no longer work", proposal.edit.consequences[0].sentence)
        self.agree()
        self.assertEqual(self.opens(), "never")
        self.document.undo()
        self.assertEqual(self.opens(), "always")

    def test_one_that_concerns_nobody_is_made_at_once(self):
        self.lock()
        self.assertEqual((self.opens(), self.proposed), ("never", []))

    def test_a_proposal_for_a_flow_of_the_past_is_not_made(self):
        self.record()
        self.lock()
        self.window.requests.levels.set("slipway", name="Slip")
        present = self.document.flow
        self.door.carry_out(self.proposed[0])
        self.assertIs(self.document.flow, present)

    def test_one_of_two_ways_is_chosen(self):
        ways = [lambda flow, name=name: set_level(flow, "slipway", name=name) for name in ("One", "Other")]
        self.assertFalse(self.door.edit("name", ways[0], ("Call it otherwise", ways[1])))
        self.door.carry_out(self.proposed[0], other_way=True)
        self.assertEqual(self.document.flow.level("slipway").name, "Other")

    def test_an_impossible_one_changes_nothing_and_says_why(self):
        present = self.document.flow

        def impossible(_flow):
            raise CannotEdit("The tide is out.")

        self.assertFalse(self.door.edit("wade", impossible))
        self.assertFalse(self.door.edit("number", lambda flow: set_level(flow, "slipway", minutes=-1)))
        self.assertEqual(self.refused[0], "The tide is out.")
        self.assertIn("minutes", self.refused[1])
        self.assertIs(self.document.flow, present)

    def test_a_repair_that_is_impossible_is_refused_in_the_same_words(self):
        for ask in (self.door.edit, self.door.show_first):
            ask("number", lambda flow: set_level(flow, "slipway", minutes=-1))
        self.assertIn("Slipway", self.refused[0])
        self.assertEqual(self.refused[0], self.refused[1])

    def test_the_survey_of_the_flow_before_is_not_asked_about_another(self):
        self.settle()
        self.assertEqual(self.door.survey.flow.levels, self.document.flow.levels)
        self.window.files.open_demo("tidewick_unfinished")
        self.assertTrue(self.door.survey is None)
        self.settle()
        self.assertTrue(self.door.survey is self.window.result.survey)

    def test_what_is_to_be_selected_is_selected(self):
        self.door.edit(
            "name", lambda flow: (set_level(flow, "slipway", name="Slip"), Selected.of("bell_sands", "east_gate"))
        )
        self.assertEqual((self.window.selection.level_id, self.window.selection.exit_id), ("bell_sands", "east_gate"))


class Signals(DeskCase):
    def counted(self):
        """Counts from now on how often each band is shown the flow, and the surveys asked for."""
        window, calls = self.window, {}
        for name, owner, method in (("map", window.map.scene, "showing"), ("strip", window.strip, "show_flow"),
                                    ("column", window.survey_column, "show_flow"), ("bench", window.bench, "refresh"),
                                    ("survey", window.surveyor, "look_at")):  # fmt: skip
            patch = mock.patch.object(owner, method, wraps=getattr(owner, method))
            calls[name] = patch.start()
            self.addCleanup(patch.stop)
        return lambda: {name: call.call_count for name, call in calls.items()}

    def test_opening_shows_each_band_once(self):
        count = self.counted()
        self.window.files.open_demo("tidewick")
        self.assertEqual(count(), {"map": 1, "strip": 1, "column": 1, "bench": 1, "survey": 1})
        self.wait_until(lambda: not self.window.reading.busy, "the level files")
        self.settle()
        self.assertEqual(count()["survey"], 2)  # once more with what the level files hold

    def test_an_edit_says_what_was_before_and_after_once(self):
        self.open_demo()
        heard = []
        self.window.document.changed.connect(lambda before, after: heard.append((before, after)))
        before = self.window.document.flow
        count = self.counted()
        self.window.requests.levels.set("slipway", name="Slip")
        self.assertEqual(heard, [(before, self.window.document.flow)])
        self.assertEqual(count(), {"map": 1, "strip": 1, "column": 1, "bench": 1, "survey": 1})

    def test_moving_a_card_starts_no_survey_and_keeps_what_is_known(self):
        self.open_demo()
        known, count = self.window.result, self.counted()
        self.window.requests.levels.place_card("slipway", 40, 60)
        self.assertEqual(count()["survey"], 0)
        self.assertFalse(self.window.surveyor.busy)
        self.assertIs(self.window.result.survey, known.survey)
        self.assertIs(self.window.result.flow, self.window.document.flow)

    def test_moving_a_card_while_a_survey_is_under_way_shows_its_result(self):
        self.open_demo()
        self.window.requests.levels.set("slipway", ships=False)
        self.agree()
        self.window.requests.levels.place_card("slipway", 40, 60)
        self.settle()
        self.assertIs(self.window.result.flow, self.window.document.flow)
        self.assertFalse(self.window.result.survey.flow.level("slipway").ships)


if __name__ == "__main__":
    import unittest

    unittest.main()

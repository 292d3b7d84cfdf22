"""The usual screens made at once: wired so that nothing is broken, whatever the flow."""

import unittest

from mossy_bridge.appraisal.appraise import appraise
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.edits.templates import TEMPLATES, add_screen
from mossy_bridge.play.state import Ended
from mossy_bridge.reach.survey.budget import Budget
from tests.support.build import flow, play_level, state_after, way
from tests.support.faulty_flows import sound_flow


def line():
    """Three levels of a region one behind the other, each completed by leading on."""
    on = [way("on", name, completes=True) for name in ("b", "c")]
    last = way("on", {"kind": "end", "ending": "lit"}, completes=True)
    levels = [
        play_level(name, exit_, region="shore", status="ready") for name, exit_ in zip("abc", [*on, last], strict=True)
    ]
    return flow(*levels, endings=[{"id": "lit"}], regions=[{"id": "shore"}])


def grave(flow_):
    """What is broken or suspicious in a flow."""
    found = appraise(flow_, budget=Budget(20.0)).findings
    return {(one.check, one.at) for one in found if one.severity != "hint"}


class Templates(unittest.TestCase):
    def test_a_game_is_put_together_from_them_with_nothing_broken(self):
        f = line()
        for template in ("title", "retry", "level done", "credits", "world page", "pause"):
            f, new = add_screen(f, template, "c")
            self.assertEqual(grave(f), set(), template)
            self.assertIsNotNone(f.level(new))
        self.assertEqual(f.start.level, "title")
        end = state_after(
            f, "exit title.new_game", "exit a.on", "exit level_done.on", "exit b.fail", "exit try_again.try_again", "exit b.on",
            "exit level_done.on", "exit c.on", "exit credits.the_end",
        )  # fmt: skip
        self.assertEqual(end, Ended("lit"))
        paused = state_after(
            f, "exit title.new_game", "exit a.pause", "exit pause.give_up", "exit title.choose_a_world"
        )
        self.assertEqual(paused.place, "world_page")
        self.assertTrue(f.level("title").exit("new_game").fresh)
        self.assertEqual(f.level("title").exit("continue").to.kind, "resume")

    def test_what_is_missing_is_said(self):
        empty = flow(endings=[])
        for template in TEMPLATES:
            with self.subTest(template), self.assertRaises(CannotEdit):
                add_screen(empty, template)
        f, _ = add_screen(line(), "retry")
        with self.assertRaisesRegex(CannotEdit, "no play level lacks an exit to fail by"):
            add_screen(f, "retry")

    def test_sound_flows_stay_sound(self):
        made = 0
        for seed in range(60):
            f = sound_flow(seed)
            before = grave(f)
            for template in TEMPLATES:
                try:
                    after, _ = add_screen(f, template, "l0")
                except CannotEdit:
                    continue
                made += 1
                self.assertEqual(grave(after) - before, set(), (seed, template))
        self.assertGreater(made, 150)


if __name__ == "__main__":
    unittest.main()

"""The chapter Transitions: each check fires where it should and only there, and its repair mends it."""

import unittest

from mossy_bridge.checks.runner import inspected
from mossy_bridge.model import timing
from mossy_bridge.model.flow import CheckLimits
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import flow, play_level, way

CHAPTER = {
    "cut-in-view", "shown-too-early", "player-loose", "player-stuck", "never-black-out", "never-back",
    "message-unreadable", "message-left-over", "flash", "long-transition", "no-load", "transition-unused", "transition-empty", "timer-zero",
}  # fmt: skip


def hold(lasts, at=0):
    return {"do": "hold_player", "at": at, "lasts": lasts}


def out(at=0, lasts=1):
    return {"do": "fade_out", "at": at, "lasts": lasts}


def load(at=1, lasts=1):
    return {"do": "load", "at": at, "lasts": lasts}


def into(at=2, lasts=1):
    return {"do": "fade_in", "at": at, "lasts": lasts}


def message(text, at=0, lasts=2.0):
    return {"do": "show_message", "at": at, "lasts": lasts, "text": text}


SOUND = [hold(3), out(), load(), into()]


def with_steps(steps, used=True, **exit_fields):
    """A flow whose only transition has these steps."""
    door = way("x", exit_fields.pop("to", "b"), transition="fade" if used else "", **exit_fields)
    return flow(play_level("a", door), play_level("b", way("y", "won")), facts=("n:9",),
                transitions=[{"id": "fade", "name": "Slow fade", "steps": steps}])  # fmt: skip


def found(flow_):
    """The findings of the chapter, by check."""
    return {one.check: one for one in inspected(survey_flow(flow_), flow_) if one.check in CHAPTER}


class Timing(unittest.TestCase):
    def test_a_transition_in_time_raises_nothing(self):
        self.assertEqual(found(with_steps(SOUND)), {})
        self.assertEqual(set(found(with_steps([]))), {"transition-empty"})

    def test_each_check_fires_and_its_repair_mends_it(self):
        for check, steps in (
            ("cut-in-view", [hold(3), out(), load(0.8), into()]),
            ("shown-too-early", [hold(3), out(), load(), into(1.9)]),
            ("player-loose", [hold(1.5), out(), load(), into()]),
            ("player-loose", [out(), load(), into()]),
            ("player-loose", [hold(1), hold(2, 1.2), out(), load(), into()]),
            ("player-stuck", [hold(3.6), out(), load(), into()]),
            ("never-black-out", [hold(3), load(), into()]),
            ("never-back", [hold(2), out(), load()]),
            ("message-unreadable", [*SOUND, message("The tide is out", 0.5, 1.4)]),
            ("message-left-over", [*SOUND, message("Mind", 2, 1.5)]),
            ("flash", [hold(3), out(), load(1, 0), into(1.1)]),
            ("no-load", [hold(2.5), out(), into(1.5)]),
        ):
            with self.subTest(check=check, steps=steps):
                f = with_steps(steps)
                here = found(f)
                self.assertIn(check, here)
                self.assertEqual(here[check].at[0], "fade")
                mended = here[check].repair.edit(f)
                self.assertNotIn(check, found(mended))
                self.assertFalse(
                    {"cut-in-view", "shown-too-early", "player-loose"} & found(mended).keys() - here.keys()
                )

    def test_thresholds_are_those_of_the_flow_and_hold_on_both_sides(self):
        for check, below, above, limits in (
            ("player-stuck", [hold(3.5), out(), load(), into()], [hold(3.6), out(), load(), into()], {}),
            (
                "player-stuck",
                [hold(3.6), out(), load(), into()],
                [hold(3.8), out(), load(), into()],
                {"held_after": 0.7},
            ),
            ("flash", [hold(3), out(), load(1, 0.15), into(1.15)], [hold(3), out(), load(1, 0.14), into(1.14)], {}),
            (
                "message-unreadable",
                [*SOUND, message("Mind the tide", 0, 1.25)],
                [*SOUND, message("Mind the tide", 0, 1.24)],
                {},
            ),
            (
                "message-unreadable",
                [*SOUND, message("Mind", 0, 2)],
                [*SOUND, message("Mind", 0, 1.9)],
                {"read_start": 1.75},
            ),
            ("long-transition", [hold(6), out(), load(), into(2, 4)], [hold(6.1), out(), load(), into(2, 4.1)], {}),
            ("cut-in-view", [hold(3), out(), load(1), into()], [hold(3), out(), load(0.99), into()], {}),
        ):
            with self.subTest(check=check, limits=limits):
                for steps, expected in ((below, False), (above, True)):
                    f = with_steps(steps)
                    if limits:
                        f = type(f)(
                            **{name: getattr(f, name) for name in f.__struct_fields__}
                            | {"limits": CheckLimits(**limits)}
                        )
                    self.assertEqual(check in found(f), expected, steps)

    def test_a_loose_player_is_an_error_where_the_exit_counts(self):
        loose = [out(), load(), into()]
        self.assertEqual(found(with_steps(loose))["player-loose"].severity, "warning")
        counting = found(with_steps(loose, effects=["add 1 n"]))["player-loose"]
        self.assertEqual((counting.severity, counting.at), ("error", ("fade", "a.x")))

    def test_no_load_is_needed_to_stay_or_to_end(self):
        steps = [hold(3), out(), into()]
        for to in ({"kind": "again"}, {"kind": "end", "ending": "won"}, {"kind": "level", "level": "a"}):
            self.assertNotIn("no-load", found(with_steps(steps, to=to)))
        for to in ({"kind": "next"}, {"kind": "again", "otherwise": {"kind": "level", "level": "b"}}):
            self.assertIn("no-load", found(with_steps(steps, to=to)))

    def test_an_unused_transition_can_be_removed(self):
        f = with_steps(SOUND, used=False)
        unused = found(f)["transition-unused"]
        self.assertEqual(unused.repair.edit(f).transitions, ())

    def test_a_scene_or_a_button_may_take_its_time(self):
        steps = [hold(9), out(), load(), {"do": "scene", "at": 2, "lasts": 6}, into(8)]
        self.assertNotIn("long-transition", found(with_steps(steps)))


class Edits(unittest.TestCase):
    def test_what_follows_is_put_off_together_and_the_hold_with_it(self):
        transition = with_steps(SOUND).transitions[0]
        later = timing.delayed(transition, 1, 0.5)
        self.assertEqual(
            [(s.do, s.at, s.lasts) for s in later.steps],
            [("hold_player", 0, 3.5), ("fade_out", 0, 1), ("load", 1.5, 1), ("fade_in", 2.5, 1)],
        )
        self.assertEqual((timing.control(later), timing.loaded(later), later.seconds), (3.5, 2.5, 3.5))

    def test_no_step_and_no_time(self):
        self.assertEqual(found(with_steps([]))["transition-empty"].at, ("a.x",))
        self.assertNotIn("transition-empty", found(with_steps([], to="won")))
        self.assertNotIn("transition-empty", found(with_steps([], used=False)))
        empty = with_steps([])
        self.assertEqual(found(found(empty)["transition-empty"].repair.edit(empty)), {})
        for seconds, at in ((0, ("a.x",)), (0.5, None)):
            timed = with_steps(SOUND, trigger={"kind": "timer", "seconds": seconds})
            told = found(timed).get("timer-zero")
            self.assertEqual(told and told.at, at)
            if told:
                self.assertEqual(found(told.repair.edit(timed)), {})

    def test_places_are_the_transition_and_its_users(self):
        late = found(with_steps([hold(3), out(), load(0.5), into()]))["cut-in-view"]
        self.assertEqual(late.at, ("fade", "a.x"))


if __name__ == "__main__":
    unittest.main()

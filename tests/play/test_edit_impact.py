"""What an edit does to others, told before."""

import unittest

from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import order as ordering
from mossy_bridge.play.edit_impact import MOST_REPLAYED, consequences
from mossy_bridge.play.rules import Rules
from tests.support.build import board, deed, flow, play_level, screen, way

NEXT = {"kind": "next"}


def line(**fields):
    levels = [play_level(name, way("on", NEXT), name=name.upper(), code=f"1-{i}") for i, name in enumerate("abc")]
    last = play_level("d", way("win", "won"), opens="seen b", name="D")
    return flow(*levels, last, **fields)


def told(before, after):
    return [(one.what, one.at) for one in consequences(before, after)]


class Consequences(unittest.TestCase):
    def test_moving_a_level_turns_next_exits(self):
        f = line()
        found = consequences(f, ordering.move_levels(f, ["b"], "d"))
        self.assertEqual({(one.what, one.at) for one in found},
                         {("elsewhere", "a.on"), ("elsewhere", "b.on"), ("elsewhere", "c.on")})  # fmt: skip
        self.assertIn("A: on would lead to C instead of to B.", [one.sentence for one in found])

    def test_inserting_turns_the_exit_before(self):
        f = line()
        self.assertEqual(told(f, edits.add_level(f, "New", "a")[0]), [("elsewhere", "a.on")])

    def test_removing_tells_who_refers(self):
        walk = {"id": "w", "moves": ["exit a.on", "exit b.on"]}
        promise = {"id": "p", "kind": "can", "level": "b"}
        f = line(walks=[walk], promises=[promise])
        self.assertEqual(
            told(f, edits.remove_levels(f, ["b"])),
            [("elsewhere", "a.on"), ("refers", "d"), ("refers", "p"), ("walk", "w")],
        )

    def test_a_lock_that_breaks_a_walk_is_told(self):
        f = line(walks=[{"id": "w", "moves": ["exit a.on", "exit b.on"]}])
        for rules in (None, Rules(f, resuming=True)):
            (found,) = consequences(f, edits.set_exit(f, "b", "on", opens="never"), rules)
            self.assertEqual((found.what, found.at), ("walk", "w"))
            self.assertEqual(found.sentence, "The recorded walk “w” would no longer work at move 2 (B: on).")
        self.assertEqual(told(f, edits.set_exit(f, "b", "on", name="Gate")), [])

    def test_of_very_many_walks_those_through_what_is_changed_are_tried_first(self):
        again = deed("d", repeats="always")
        a, b = play_level("a", way("on", "b"), deeds=[again]), play_level("b", way("on", "won"))
        long = {"moves": ["deed a.d"] * (MOST_REPLAYED // 2)}
        walks = [{"id": f"w{number}", **long} for number in range(8)]
        f = flow(a, b, walks=[*walks, {"id": "last", "moves": ["exit a.on", "exit b.on"]}])
        self.assertEqual(told(f, edits.set_exit(f, "b", "on", opens="never")), [("walk", "last")])

    def test_what_stops_shipping_leads_nowhere(self):
        hub = board("m", {"id": "t", "level": "b"}, exits=[way("q", "b")])
        f = flow(play_level("a", way("x", "b")), play_level("b", way("w", "won")), hub, start={"level": "b"})
        found = told(f, edits.set_level(f, "b", ships=False))
        self.assertEqual(found, [("nowhere", "a.x"), ("nowhere", "m.q"), ("nowhere", "b"), ("nowhere", "m.t")])

    def test_screens_that_lead_on_are_told_level_by_level(self):
        result = screen("r", way("go", NEXT))
        f = flow(play_level("a", way("x", "r")), play_level("b", way("w", "won")), play_level("c"), result)
        found = consequences(f, edits.remove_levels(f, ["b"]))
        self.assertEqual([one.sentence for one in found], ["r: go would, after a, lead to c instead of b."])

    def test_a_code_in_use_is_told(self):
        f = line()
        found = consequences(f, edits.set_level(f, "c", code="1-0"))
        self.assertEqual([one.sentence for one in found], ["A has the code 1-0 already."])

    def test_what_changes_nothing_for_others_tells_nothing(self):
        f = line()
        self.assertEqual(told(f, edits.set_level(f, "c", name="Other", notes="x")), [])

"""What an edit takes away from others, and what it must not claim."""

import unittest

from msgspec.structs import replace

from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import order as ordering
from mossy_bridge.play.edit_impact import consequences
from tests.support.build import deed, fact, flow, play_level, screen, way


def told(before, after, **options):
    return [(one.what, one.at, one.sentence) for one in consequences(before, after, **options)]


class Losses(unittest.TestCase):
    def setUp(self):
        gate = {
            "id": "gate",
            "name": "Gate",
            "trigger": {"kind": "touch", "by": ["player", "crab"]},
            "to": {"level": "c"},
        }
        self.flow = flow(
            play_level("a", way("on", "b"), way("end", "won"), deeds=[deed("rest", checkpoint="q")],
                       spawns=[{"id": "p"}, {"id": "q", "name": "Quay"}]),
            play_level("b", gate, cast=["crab"], zones=[{"id": "low", "name": "Beach"}, {"id": "high"}],
                       paths=[{"from": "low", "to": "high"}], deeds=[deed("dig", zone="low")], opens="at least 2 oil"),
            play_level("c", way("back", "a")),
            facts=("oil:9", "key"), actors=["player", "crab"],
        )  # fmt: skip

    def test_what_leads_nowhere_or_is_cut_off(self):
        after = edits.remove_thing(self.flow, "a", "exits", "on")
        self.assertEqual(told(self.flow, after), [
            ("nowhere", "b", "b would be cut off: no way would lead there."),
            ("nowhere", "c", "c would be cut off: no way would lead there."),
            ("nowhere", "a.on", "a: on, which leads to b, would be gone."),
        ])  # fmt: skip
        led = edits.connect(self.flow, "a", "on", "c")
        self.assertEqual(told(self.flow, led), [("nowhere", "b", "b would be cut off: no way would lead there.")])
        both = edits.add_exit(self.flow, "a", "Short cut", replace(self.flow.level("a").exits[0].to, level="c"))[0]
        self.assertEqual(told(self.flow, both), [])
        self.assertEqual(told(both, edits.connect(both, "b", "gate", "a")), [])

    def test_a_level_just_made_cuts_nothing_off(self):
        line = flow(
            *[play_level(name, way("on", {"kind": "next"})) for name in "ab"], play_level("c", way("end", "won"))
        )
        after, _ = edits.add_level(line, "New", "a")
        self.assertEqual([one[:2] for one in told(line, after)], [("elsewhere", "a.on")])

    def test_things_that_something_uses(self):
        def gone(kind, level, name):
            return [one[2] for one in told(self.flow, edits.remove_thing(self.flow, level, kind, name))]

        self.assertEqual(gone("spawns", "a", "q"), ["a: rest would be no checkpoint; now one reappears at Quay."])
        self.assertEqual(gone("spawns", "a", "p"), [])  # whoever names none appears at the first that is left
        self.assertEqual(gone("zones", "b", "low"), [
            "b: dig lies in Beach, which would be gone.", "b: a path leads by Beach, which would be gone."])  # fmt: skip
        no_ending = replace(self.flow, endings=())
        self.assertEqual(told(self.flow, no_ending),
                         [("nowhere", "a.end", "a: end would lead nowhere; now it ends with “won”.")])  # fmt: skip
        no_crab = replace(self.flow, actors=("player",))
        self.assertEqual([one[2] for one in told(self.flow, no_crab)], [
            "b: crab roams there, and would be no actor any more.",
            "b: Gate is set off by crab, who would be no actor any more."])  # fmt: skip

    def test_facts_that_are_otherwise(self):
        def with_oil(**more):
            oil = replace(self.flow.facts[0], **more)
            return [one[2] for one in told(self.flow, replace(self.flow, facts=(oil, self.flow.facts[1])))]

        self.assertEqual(with_oil(lifetime="visit"), ["oil would start afresh at each arrival."])
        self.assertEqual(with_oil(rewinds=True), ["oil would go back when the player fails."])
        self.assertEqual(with_oil(high=1), ["b asks for at least 2 oil, which could never be."])
        self.assertEqual(with_oil(high=2, name="Oil flasks"), [])
        idle = replace(self.flow.facts[1], lifetime="profile")  # nothing asks for the key
        self.assertEqual(told(self.flow, replace(self.flow, facts=(self.flow.facts[0], idle))), [])
        self.assertEqual(fact("oil:9")["high"], 9)

    def test_only_what_can_happen(self):
        """A screen's *next* depends on where one comes from: only such levels are told of."""
        f = flow(screen("title", way("on", "a")), play_level("a", way("win", "tally")), play_level("b", way("end", "won")),
                 play_level("c", way("end", "won")), screen("tally", way("next", {"kind": "next"})))  # fmt: skip
        moved = ordering.move_levels(f, ["c"], "b")  # a, c, b
        self.assertGreater(len(told(f, moved)), 1)
        self.assertEqual([one[2] for one in told(f, moved, origins=lambda _screen: {"a"})],
                         ["tally: next would, after a, lead to c instead of b."])  # fmt: skip
        self.assertEqual(told(f, moved, origins=lambda _screen: set()), [])


if __name__ == "__main__":
    unittest.main()

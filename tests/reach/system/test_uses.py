"""The first use of everything that moves use."""

import unittest

import numpy as np

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.uses import first_uses
from tests.support.build import board, deed, flow, play_level, way

ZONES = [{"id": "low"}, {"id": "high"}]
PATHS = [{"from": "low", "to": "high", "both_ways": True}]


class FirstUses(unittest.TestCase):
    def setUp(self):
        self.program = ProgramGraph(Rules(flow(
            play_level("quay", way("out", "reeds"), way("over", "won"), way("lost", {"kind": "end", "ending": "lost"}),
                       deeds=[deed("bell", repeats="always")], zones=ZONES, paths=PATHS),
            play_level("reeds", way("on", "map")),
            board("map", {"id": "one", "level": "quay"}),
            endings=[{"id": "won"}, {"id": "lost"}],
        )))  # fmt: skip
        self.program.compile_all(lambda: False)

    def used(self, states):
        """By kind and name the state and the move of the first use, where ``states`` tells it for each transition."""
        program = self.program
        first = np.array([states(transition) for transition in program.transitions])
        found = {}
        for kind, used in first_uses(program.transitions, program.columns, first).items():
            names = list(program.things.numbers[kind])
            self.assertEqual(used.things, sorted(used.things))
            for number, state, transition in zip(*used, strict=True):
                found[kind, names[number]] = state, str(program.transitions[transition].move)
        return found

    def test_of_several_uses_the_one_in_the_first_state_is_told(self):
        high = self.used(lambda one: 2 if self.program.locations[one.location].zone == "high" else 5)
        self.assertEqual(high["path", ("quay", "low", "high")], (2, "path quay.high.low"))
        self.assertEqual(high["exit", ("quay", "out")], (2, "exit quay.out"))
        self.assertEqual(high["exit", ("reeds", "on")], (5, "exit reeds.on"))
        low = self.used(lambda one: 7 if self.program.locations[one.location].zone == "high" else 5)
        self.assertEqual(low["path", ("quay", "low", "high")], (5, "path quay.low.high"))

    def test_everything_is_told_by_its_kind(self):
        names = {"quay.out": ("quay", "out"), "quay.over": ("quay", "over"), "quay.lost": ("quay", "lost"),
                 "reeds.on": ("reeds", "on")}  # fmt: skip
        self.assertEqual(
            set(self.used(lambda _one: 0)),
            {("exit", name) for name in names.values()}
            | {("deed", ("quay", "bell")), ("path", ("quay", "low", "high")), ("tile", ("map", "one"))}
            | {("ending", "won"), ("ending", "lost")},
        )

    def test_what_is_never_enabled_is_not_used(self):
        used = self.used(lambda one: -1 if one.move.thing in ("out", "lost") else 3)
        self.assertNotIn(("exit", ("quay", "out")), used)
        self.assertNotIn(("ending", "lost"), used)
        self.assertEqual(used["ending", "won"], (3, "exit quay.over"))


if __name__ == "__main__":
    unittest.main()

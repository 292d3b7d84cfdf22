"""Updates of state vectors, by hand."""

import unittest

import numpy as np

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.system.guards import machine_words, unpacked
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.state_vector import Field
from mossy_bridge.reach.system.updates import Assign, Bound, Copy, Shift, applied, weakest_precondition
from tests.support.build import deed, flow, play_level, way


def compiled(*conditions, facts=(), **fields):
    """The machine of a flow whose first level has an exit for each condition."""
    exits = [way(f"x{at}", "won", opens=text) for at, text in enumerate(conditions)]
    made = ProgramGraph(Rules(flow(play_level("a", *exits, **fields), facts=facts)))
    made.compile_all(lambda: False)
    return made


class Effects(unittest.TestCase):
    def test_assignments_join_and_counts_stay_between_their_ends(self):
        made = compiled("exactly 2 oil", "has key", facts=("oil:3", "key"),
                          deeds=[deed("d", "gain key", "add 2 oil", "lose key"), deed("e", "take 9 oil")])  # fmt: skip
        oil = made.layout.facts["oil"]
        transitions = {transition.move.thing: transition for transition in made.transitions}
        self.assertEqual([type(part) for part in transitions["d"].update], [Assign, Shift, Assign])
        after = [oil.value(applied(transitions["d"].update, oil.bits(value))) for value in range(4)]
        self.assertEqual(after, [2, 3, 3, 3])
        self.assertEqual({oil.value(applied(transitions["e"].update, oil.bits(value))) for value in range(4)}, {0})

    def test_a_fresh_exit_and_an_arrival_are_one_assignment(self):
        f = flow(play_level("a", way("x", "b", fresh=True, effects=["gain key"])),
                 play_level("b", way("y", "won", opens="has key and seen b")), facts=("key",))  # fmt: skip
        made = ProgramGraph(Rules(f))
        made.compile_all(lambda: False)
        transition = next(transition for transition in made.transitions if transition.move.thing == "x")
        self.assertEqual(len(transition.update), 1)
        self.assertEqual(applied(transition.update, made.layout.facts["key"].mask), made.layout.seen["b"])


class Copies(unittest.TestCase):
    def test_bits_are_copied_all_at_once_within_and_between_machine_words(self):
        swap = Copy(((0b11, 62), (0b11 << 62, -62), (1 << 64, 66)), 0b11 | 0b11 << 62 | 1 << 130)
        for vector in (0b01, 0b10 << 62, 0b01 | 0b10 << 62 | 1 << 64, 1 << 130 | 1 << 70):
            low, high = vector & 0b11, vector >> 62 & 0b11
            expected = vector & ~swap.targets | low << 62 | high | (vector >> 64 & 1) << 130
            vectors = np.array([machine_words(vector, 3)], dtype=np.uint64)
            swap.apply(vectors)
            self.assertEqual((swap.applied(vector), unpacked(vectors[0])), (expected, expected))

    def test_what_must_be_set_before_a_copy_is_what_is_copied(self):
        copy = Copy(((0b11, 4),), 0b11 << 4)
        self.assertEqual(weakest_precondition((copy,), 0b10 << 4 | 1 << 9), 0b10 | 1 << 9)
        self.assertEqual(weakest_precondition((copy, Assign(0b11, 0)), 0b01 << 4), 0b01)
        self.assertIsNone(weakest_precondition((Assign(0b11, 0), copy), 0b01 << 4))


class Fields(unittest.TestCase):
    def test_counts_in_binary_climb_and_fall_between_their_ends(self):
        field = Field("binary", 66, 7, 10, 110)
        for value, part, after in (
            (10, Shift(field, -4), 10),
            (100, Shift(field, 30), 110),
            (50, Shift(field, 5), 55),
            (50, Bound(field, 70, True), 80),
            (50, Bound(field, 20, False), 30),
            (50, Bound(field, 60, False), 50),
        ):
            vector = field.bits(value) | 1
            vectors = np.array([machine_words(vector, 2)], dtype=np.uint64)
            part.apply(vectors)
            self.assertEqual(field.value(applied((part,), vector)), after)
            self.assertEqual(int(vectors[0, 0]) | int(vectors[0, 1]) << 64, applied((part,), vector))

    def test_far_counts_are_asked_and_changed_in_binary(self):
        coins = [{"id": "coins", "kind": "count", "high": 100}]
        dig = deed("dig", "add 7 coins", repeats="always")
        pay = deed("pay", "take 90 coins", when="exactly 98 coins", repeats="always")
        f = flow(
            play_level("a", way("x", "won", opens="at least 8 coins and at most 8 coins"), deeds=[dig, pay]),
            facts=coins,
        )
        survey = survey_flow(f)
        self.assertEqual(
            [str(move) for move in survey.endings["won"].route], ["deed a.dig"] * 14 + ["deed a.pay", "exit a.x"]
        )


if __name__ == "__main__":
    unittest.main()

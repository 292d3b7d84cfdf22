"""Facts as bits, conditions as cubes and effects on words, worked out by hand."""

import unittest

import numpy as np

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.limits import LIMITS
from mossy_bridge.reach.system.guards import ALWAYS, NEVER, Combined, Cubes, TileInReach
from mossy_bridge.reach.system.program_graph import ProgramGraph
from tests.support.build import board, deed, flow, play_level, way


def compiled(*conditions, facts=(), **fields):
    """The machine of a flow whose first level has an exit for each condition."""
    exits = [way(f"x{at}", "won", opens=text) for at, text in enumerate(conditions)]
    made = ProgramGraph(Rules(flow(play_level("a", *exits, **fields), facts=facts)))
    made.compile_all(lambda: False)
    return made


class Layouts(unittest.TestCase):
    def test_a_flag_takes_a_bit_and_a_count_one_for_each_step(self):
        layout = compiled("has key", "exactly 3 oil", facts=("key", "oil:4")).layout
        self.assertEqual([layout.facts[name].coding for name in ("key", "oil")], ["bit", "unary"])
        self.assertEqual([layout.facts[name].width for name in ("key", "oil")], [1, 4])
        self.assertEqual(layout.facts["oil"].bits(3) >> layout.facts["oil"].offset, 0b111)
        self.assertEqual(layout.facts["oil"].value(layout.facts["oil"].bits(2)), 2)

    def test_what_nothing_asks_takes_no_bits(self):
        self.assertEqual(compiled("has key", facts=("key", "rope")).layout.facts.keys(), {"key"})

    def test_a_count_is_cut_above_what_is_asked_unless_something_takes_from_it(self):
        asked = compiled("at least 2 oil", facts=("oil:9",)).layout.facts["oil"]
        self.assertEqual((asked.top, asked.value(asked.bits(7))), (3, 3))
        taken = compiled("at least 2 oil", facts=("oil:9",), deeds=[deed("d", "take 1 oil")]).layout.facts["oil"]
        self.assertEqual((taken.top, taken.value(taken.bits(7))), (9, 7))

    def test_far_counts_and_many_values_are_kept_in_binary(self):
        values = ",".join(f"v{i}" for i in range(LIMITS.longest_unary + 4))
        layout = compiled("at least 90 oil", "tide is v3", facts=("oil:99", f"tide={values}")).layout
        self.assertEqual({field.coding for field in layout.facts.values()}, {"binary"})
        tide = layout.facts["tide"]
        self.assertEqual([tide.value(tide.bits(f"v{i}")) for i in (0, 7, 19)], ["v0", "v7", "v19"])

    def test_no_field_crosses_a_border_of_machine_words(self):
        facts = tuple(f"n{i}:15" for i in range(20))
        layout = compiled(*(f"exactly 14 n{i}" for i in range(20)), facts=facts).layout
        for field in layout.facts.values():
            self.assertEqual(field.offset // 64, (field.offset + field.width - 1) // 64)
        self.assertGreater(layout.width, 4)


class Conditions(unittest.TestCase):
    def guard(self, text, *facts):
        made = compiled(text, facts=facts)
        return made, made.guards.of(text)

    def test_simple_ones_are_one_cube(self):
        for text in ("has key", "lacks key", "at least 2 oil", "tide is ebb", "has key and at most 1 oil"):
            _, guard = self.guard(text, "key", "oil:4", "tide=ebb,flood")
            self.assertIsInstance(guard, Cubes, text)
            self.assertEqual(len(guard.cubes), 1, text)

    def test_constants_and_contradictions_are_known_at_once(self):
        self.assertIs(self.guard("always")[1], ALWAYS)
        self.assertIs(self.guard("never")[1], NEVER)
        self.assertEqual(self.guard("has key and lacks key", "key")[1], NEVER)
        self.assertIs(self.guard("has nothing_such", "key")[1], NEVER)

    def test_many_of_many_are_counted_instead_of_listed(self):
        parts = ", ".join(f"has f{i}" for i in range(12))
        made, guard = self.guard(f"at least 6 of ({parts})", *(f"f{i}" for i in range(12)))
        self.assertIsInstance(guard, Combined)
        vectors = np.array([[(1 << count) - 1] for count in range(13)], dtype=np.uint64)
        self.assertEqual(guard.fits(vectors).tolist(), [count >= 6 for count in range(13)])
        self.assertEqual([guard.holds(int(vector)) for vector in vectors[:, 0]], guard.fits(vectors).tolist())
        self.assertEqual(made.layout.width, 1)

    def test_what_a_condition_surely_needs(self):
        made, guard = self.guard("has key and (has rope or has oilcan)", "key", "rope", "oilcan")
        self.assertEqual(guard.required(), made.layout.facts["key"].mask)
        self.assertEqual(NEVER.required(), 0)

    def test_a_cursor_that_winds_among_many_ways_is_followed_tile_by_tile(self):
        size = 4
        tiles = [
            {"id": f"t{x}{y}", "level": f"l{x}{y}", "right": f"t{x + 1}{y}", "down": f"t{x}{y + 1}", "left": f"t{x - 1}{y}",
             "up": f"t{x}{y - 1}"}
            for y in range(size) for x in range(size)
        ]  # fmt: skip
        levels = [play_level(f"l{x}{y}", way("back", "map", completes=True), opens=f"has f{x}{y}")
                  for y in range(size) for x in range(size)]  # fmt: skip
        facts = tuple(f"f{x}{y}" for y in range(size) for x in range(size))
        made = ProgramGraph(Rules(flow(board("map", *tiles, cursor="open"), *levels, facts=facts)))
        made.compile_all(lambda: False)
        far = next(transition for transition in made.transitions if transition.move.thing == "t33")
        self.assertIsInstance(far.guard, Combined)
        self.assertTrue(any(isinstance(part, TileInReach) for part in far.guard.parts))
        bits = {name: made.layout.facts[name].mask for name in facts}
        path = sum(bits[f"f{x}{y}"] for x, y in ((1, 0), (1, 1), (2, 1), (3, 1), (3, 2), (3, 3)))
        vectors = np.array([[path], [path & ~bits["f21"]], [sum(bits.values())], [bits["f33"]]], dtype=np.uint64)
        self.assertEqual(far.guard.fits(vectors).tolist(), [True, False, True, False])
        self.assertEqual([far.guard.holds(int(vector)) for vector in vectors[:, 0]], [True, False, True, False])


if __name__ == "__main__":
    unittest.main()

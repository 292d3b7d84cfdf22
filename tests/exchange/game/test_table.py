"""The game table: its fields by small flows worked out by hand, and its schema by random ones."""

import unittest
from pathlib import Path

from jsonschema import Draft202012Validator

import mossy_bridge
from mossy_bridge.exchange.game.table import game_table, table_bytes
from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.exchange.schema import table_schema
from tests.support.build import board, deed, fact, flow, play_level, screen, way
from tests.support.random_flows import four_kinds

DEMO = Path(mossy_bridge.__file__).parent / "demo"


def level(f, name="a"):
    return next(one for one in game_table(f)["levels"] if one["id"] == name)


def exit_to(to, **more):
    return {"id": "on", "trigger": {"kind": "choose"}, "to": to, **more}


class Conditions(unittest.TestCase):
    def said(self, text):
        facts = [fact("key"), fact("oil:5"), fact("tide=ebb,flood")]
        return level(flow(play_level("a", opens=text), play_level("gone", ships=False), facts=facts))["opens"]

    def test_as_nested_lists(self):
        for text, wanted in (
            ("always", ["always"]),
            ("lacks key", ["lacks", 0]),
            ("at least 3 oil", ["at least", 3, 1]),
            ("tide is not flood", ["is not", 2, 1]),
            ("seen a and not done a", ["and", ["seen", 0], ["not", ["done", 0]]]),
            ("has key or tide is ebb", ["or", ["has", 0], ["is", 2, 0]]),
            ("exactly 1 of (has key, seen a)", ["of", "exactly", 1, [["has", 0], ["seen", 0]]]),
            ("has key and not seen gone", ["and", ["has", 0], ["not", ["never"]]]),
            ("has key or has rope", ["never"]),
            ("at least 1 key", ["never"]),
        ):
            with self.subTest(text):
                self.assertEqual(self.said(text), wanted)

    def test_effects_and_those_left_out(self):
        effects = [
            "gain key",
            "add 2 oil",
            "raise oil to 4",
            "turn tide to flood",
            "clear tide",
            "gain rope",
            "add 1 key",
        ]
        f = flow(play_level("a", on_arrival=effects), facts=[fact("key"), fact("oil:5"), fact("tide=ebb,flood")])
        self.assertEqual(
            level(f)["on_arrival"], [["gain", 0], ["add", 2, 1], ["raise", 4, 1], ["turn", 2, 1], ["clear", 2]]
        )


class Tables(unittest.TestCase):
    def test_facts_as_numbers(self):
        f = flow(play_level("a"), facts=[fact("key", initial=True), fact("oil:5", initial=2), fact("tide=ebb,flood")])
        shown = [(one["low"], one["high"], one["initial"], one.get("values")) for one in game_table(f)["facts"]]
        self.assertEqual(shown, [(0, 1, 1, None), (0, 5, 2, None), (0, 1, 0, ["ebb", "flood"])])

    def test_destinations(self):
        last = screen("s", way("x", "a"))
        for label, to, wanted in (
            ("the first spawn point", {"level": "a"}, {"kind": "level", "level": 0, "spawn": 0}),
            ("a screen without", {"level": "s"}, {"kind": "level", "level": 2, "spawn": -1}),
            ("an ending", {"kind": "end", "ending": "won"}, {"kind": "end", "ending": 0}),
            ("again", {"kind": "again"}, {"kind": "again"}),
            ("next, else an ending", {"kind": "next", "otherwise": {"kind": "end", "ending": "won"}},
             {"kind": "next", "otherwise": {"kind": "end", "ending": 0}}),
            ("back, else nowhere", {"kind": "back", "otherwise": {"level": "gone"}}, {"kind": "back", "otherwise": None}),
        ):  # fmt: skip
            with self.subTest(label):
                f = flow(play_level("a", exit_to(to)), play_level("b"), last)
                self.assertEqual(level(f)["exits"][0]["to"], wanted)

    def test_what_can_never_be_is_left_out_and_named(self):
        zones = [{"id": "low"}]
        for label, a, wanted in (
            ("no such level", {"exits": [exit_to({"level": "gone"})]}, ["hidden", "a.on"]),
            ("one that does not ship", {"exits": [exit_to({"level": "hidden"})]}, ["hidden", "a.on"]),
            ("no such spawn point", {"exits": [exit_to({"level": "a", "spawn": "q"})]}, ["hidden", "a.on"]),
            ("not connected", {"exits": [exit_to(None)]}, ["hidden", "a.on"]),
            ("a touch exit in no zone there is",
             {"zones": zones, "exits": [{"id": "on", "zone": "high", "to": {"level": "a"}}]}, ["hidden", "a.on"]),
            ("a choice in no zone there is",
             {"zones": zones, "exits": [exit_to({"level": "a"}, zone="high")]}, ["hidden"]),
            ("a deed in no zone there is", {"zones": zones, "deeds": [deed("d", zone="high")]}, ["hidden", "a.d"]),
            ("a path to no zone there is",
             {"zones": zones, "paths": [{"from": "low", "to": "high"}]}, ["hidden", "a.low.high"]),
        ):  # fmt: skip
            with self.subTest(label):
                exits = a.pop("exits", [])
                f = flow(play_level("a", *exits, **a), play_level("hidden", ships=False))
                self.assertEqual(game_table(f)["left_out"], wanted)

    def test_levels_beside_tiles_and_checkpoints(self):
        f = flow(screen("menu", way("x", "a")), play_level("a", deeds=[deed("d", checkpoint="p"), deed("e", checkpoint="q")]),
                 play_level("hidden", ships=False), play_level("b"),
                 board("map", {"id": "t1", "level": "a"}, {"id": "t2", "level": "hidden"}, first_tile="t2"))  # fmt: skip
        self.assertEqual([(one["next"], one["previous"]) for one in game_table(f)["levels"]],
                         [(-1, -1), (2, -1), (-1, 1), (-1, -1)])  # fmt: skip
        self.assertEqual([one["checkpoint"] for one in level(f)["deeds"]], [0, -1])
        self.assertEqual([one["level"] for one in level(f, "map")["tiles"]], [1, -1])
        self.assertEqual(level(f, "map")["first_tile"], 1)

    def test_patterns_are_filled_in(self):
        pattern = {"id": "hall", "exits": [exit_to({"level": "a"})], "spawns": [{"id": "p"}]}
        f = flow({"id": "a", "pattern": "hall"}, patterns=[pattern])
        self.assertEqual([one["id"] for one in level(f)["exits"]], ["on"])

    def test_a_start_that_cannot_be(self):
        self.assertEqual(
            game_table(flow(play_level("a"), start={"level": "gone"}))["start"], {"level": -1, "spawn": -1}
        )


class Schema(unittest.TestCase):
    def setUp(self):
        self.validator = Draft202012Validator(table_schema())

    def test_it_is_one(self):
        Draft202012Validator.check_schema(table_schema())

    def test_demos_and_random_flows_keep_it(self):
        flows = [
            flow_from_bytes((DEMO / name).read_bytes()) for name in ("tidewick.mossy", "tidewick_unfinished.mossy")
        ]
        for f in [*flows, *four_kinds(12)]:
            self.assertEqual([error.message for error in self.validator.iter_errors(game_table(f))], [])

    def test_it_finds_what_is_wrong(self):
        for change in ({"levels": [{}]}, {"start": {"level": -2, "spawn": 0}}, {"more": 1}, {"facts": [{"id": "x"}]}):
            with self.subTest(change):
                table = game_table(flow(play_level("a"))) | change
                self.assertTrue(list(self.validator.iter_errors(table)))

    def test_a_table_is_written_the_same_twice(self):
        f = flow_from_bytes((DEMO / "tidewick.mossy").read_bytes())
        self.assertEqual(table_bytes(game_table(f)), table_bytes(game_table(f)))


if __name__ == "__main__":
    unittest.main()

"""Reading, writing and saving flow files."""

import json
import os
import stat
import tempfile
import unittest
from importlib.resources import files
from pathlib import Path
from unittest import mock

import jsonschema
from hypothesis import HealthCheck, given, settings
from msgspec.structs import replace

from mossy_bridge.exchange.delivered import delivered
from mossy_bridge.exchange.reading import CannotRead, flow_from_bytes, flow_from_tree, read_flow
from mossy_bridge.exchange.saving import CannotSave, replace_file, save_flow
from mossy_bridge.exchange.schema import flow_schema
from mossy_bridge.exchange.writing import flow_text, json_text
from mossy_bridge.model.flow import Flow
from tests.support.random_flows import flows

WHOLE = """{
  "mossy_bridge": 1,
  "title": "Everything",
  "start": {"level": "title"},
  "progress": "profile",
  "saving": "deed",
  "units": {"name": "metre", "y": "up"},
  "walker": {"width": 0.75, "view": "top"},
  "limits": {"flash_seconds": 0.2},
  "actors": ["player", "crab"],
  "regions": [{"id": "shore", "name": "The Shore"}],
  "endings": [{"id": "lit", "name": "The lamp is lit"}],
  "facts": [
    {"id": "clapper", "kind": "flag", "lifetime": "visit", "initial": true},
    {"id": "oil", "name": "Ölflaschen", "kind": "count", "low": 1, "high": 12, "initial": 2},
    {"id": "tide", "kind": "choice", "values": ["ebb", "flood"], "initial": "flood"}
  ],
  "transitions": [
    {"id": "fade", "steps": [{"do": "fade_out", "lasts": 0.4}, {"do": "load", "at": 0.4}]}
  ],
  "patterns": [{"id": "cell", "spawns": [{"id": "p"}], "exits": [{"id": "out"}]}],
  "levels": [
    {"id": "title", "kind": "screen", "exits": [{"id": "go", "to": {}}]},
    {
      "id": "slipway",
      "code": "1-1",
      "pattern": "cell",
      "ships": true,
      "file": "levels/slipway.map",
      "opens": "always",
      "copied_from": "title",
      "ticked": ["music"],
      "unreviewed": ["exit out", "file"],
      "minutes": 2.5,
      "plan": {"width": 64, "height": 18, "solids": [[0, 16, 64, 2]]},
      "zones": [{"id": "low"}, {"id": "high"}],
      "paths": [{"from": "low", "to": "high", "both_ways": true, "when": "has clapper"}],
      "on_arrival": ["add 1 oil"],
      "spawns": [],
      "deeds": [{"id": "ring", "effects": ["turn tide to ebb"], "repeats": "visit", "saves": true}],
      "exits": [
        {
          "id": "gate",
          "area": [61, 12.5, 2, 4],
          "trigger": {"kind": "press", "by": ["player", "crab"], "armed_on_arrival": false},
          "opens": "has clapper or at least 3 oil",
          "fresh": true,
          "to": {"kind": "next", "otherwise": {"kind": "end", "ending": "lit"}}
        }
      ]
    }
  ],
  "promises": [{"id": "dry", "kind": "never", "ending": "lit", "when": "at most 1 oil"}],
  "walks": [{"id": "happy", "moves": ["exit title.go"], "expect": "ends:lit"}],
  "checklist": [{"id": "music", "text": "Has music", "kinds": ["play"]}],
  "trial_settings": [
    {"at": "levels.slipway.exits.gate.opens", "ships_as": "at least 5 oil", "why": "quicker"}
  ],
  "waivers": [{"check": "long-transition", "at": "slipway.gate", "why": "story"}],
  "map": {"slipway": {"x": 120, "y": 40.5}}
}
"""


class Canonical(unittest.TestCase):
    def test_reading_and_writing_a_canonical_file_changes_no_byte(self):
        demo = files("mossy_bridge.demo")
        texts = [WHOLE, *(demo.joinpath(f"{n}.mossy").read_text("utf-8") for n in ("tidewick", "tidewick_unfinished"))]
        for text in texts:
            self.assertEqual(flow_text(flow_from_bytes(text.encode())), text)

    @settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
    @given(flows())
    def test_what_is_written_reads_the_same(self, flow):
        text = flow_text(flow)
        self.assertEqual(flow_from_bytes(text.encode()), flow)
        self.assertEqual(flow_text(flow_from_bytes(text.encode())), text)

    def test_a_line_of_one_hundred_code_points_stays_a_line(self):
        for extra in (0, 1):
            row = {"id": "a", "name": "ä" * (100 - 4 - len('{"id": "a", "name": ""}') + extra)}
            lines = json_text({"k": [row, row]}).split("\n")
            self.assertEqual(len(lines), 12 if extra else 6)
            if not extra:
                self.assertEqual(len(lines[2].rstrip(",")), 100)

    def test_numbers_are_short(self):
        for value, text in (
            (2.0, "2"),
            (-0.0, "0"),
            (0.1, "0.1"),
            (1e-7, "1e-7"),
            (1e22, "1e22"),
            (0.0166667, "0.0166667"),
        ):
            self.assertEqual(json_text(value), text)

    def test_spellings_are_tidied(self):
        tree = {"mossy_bridge": 1, "levels": [{"opens": "(has  key)", "id": "a", "kind": "play", "minutes": 3.0}],
                "facts": [{"id": "key", "kind": "flag", "initial": False}]}  # fmt: skip
        text = flow_text(flow_from_tree(tree))
        self.assertIn('"facts": [{"id": "key", "kind": "flag"}]', text)
        self.assertIn('{"id": "a", "opens": "has key", "minutes": 3}', text)

    def test_an_empty_flow_is_one_line(self):
        self.assertEqual(flow_text(Flow()), '{"mossy_bridge": 1}\n')

    def test_null_and_empty_destinations_and_plans_differ(self):
        tree = {"mossy_bridge": 1, "levels": [{"id": "a", "plan": {}, "exits": [{"id": "x", "to": {}}, {"id": "y"}]}]}
        level = flow_from_tree(tree).levels[0]
        self.assertEqual((level.plan.width, level.exits[0].to.level, level.exits[1].to), (0, "", None))
        self.assertIn('"plan": {}, "exits": [{"id": "x", "to": {}}, {"id": "y"}]', flow_text(flow_from_tree(tree)))


class Schema(unittest.TestCase):
    def test_files_fit_it_and_faults_do_not(self):
        schema = flow_schema()
        jsonschema.Draft202012Validator.check_schema(schema)
        validator = jsonschema.Draft202012Validator(schema)
        for name in ("tidewick", "tidewick_unfinished"):
            validator.validate(json.loads(files("mossy_bridge.demo").joinpath(f"{name}.mossy").read_bytes()))
        validator.validate(json.loads(WHOLE))
        for tree in ({}, {"mossy_bridge": 1, "levels": [{}]}, {"mossy_bridge": 1, "title": 3}, {"mossy_bridge": 1, "x": 1},
                     {"mossy_bridge": 1, "levels": [{"id": "a", "set_here": []}]}):  # fmt: skip
            self.assertFalse(validator.is_valid(tree), tree)

    def test_the_one_that_ships_is_the_generated_one(self):
        # Made anew with: mossy-bridge schema > mossy_bridge/exchange/flow.schema.json
        shipped = files("mossy_bridge.exchange").joinpath("flow.schema.json").read_text("utf-8")
        self.assertEqual(json.loads(shipped), flow_schema())


class Faults(unittest.TestCase):
    def problems(self, tree):
        with self.assertRaises(CannotRead) as caught:
            if isinstance(tree, bytes):
                flow_from_bytes(tree)
            else:
                flow_from_tree({"mossy_bridge": 1, **tree})
        return caught.exception.problems

    def test_each_fault_names_its_place(self):
        level = {"id": "a"}
        cases = [
            ({"levels": [level, level]}, "levels[1].id: the id “a” is already used by levels[0]"),
            ({"levels": [{"id": "A"}]}, "levels[0].id: “A” is not an id"),
            ({"levels": [{"id": "has"}]}, "levels[0].id: “has” is a keyword"),
            ({"levels": [{"name": "x"}]}, "levels[0].id: is missing"),
            ({"levels": [{**level, "exits": [{"id": "x", "trigger": {"kind": "tuch"}}]}]}, "levels[0].exits[0].trigger.kind:"),
            ({"levels": [{**level, "nmae": "x"}]}, "levels[0].nmae: unknown field; did you mean “name”?"),
            ({"levels": [{**level, "set_here": []}]}, "levels[0].set_here: unknown field"),
            ({"levels": [{**level, "opens": "has"}]}, "levels[0].opens: in “has”"),
            ({"levels": [{**level, "on_arrival": ["gain"]}]}, "levels[0].on_arrival[0]: in “gain”"),
            ({"levels": [{**level, "exits": [{"id": "x", "area": [0, 0, -1, 1]}]}]}, "levels[0].exits[0].area[2]: may not be"),
            ({"levels": [{**level, "exits": [{"id": "x", "area": [0, 0, 1]}]}]}, "levels[0].exits[0].area: expected 4 numbers"),
            ({"levels": [{**level, "difficulty": 1.5}]}, "levels[0].difficulty: expected a whole number"),
            ({"levels": [{**level, "ships": "yes"}]}, "levels[0].ships: expected true or false"),
            ({"levels": [{**level, "paths": [{"from": "a", "to": "b"}] * 2}]}, "levels[0].paths[1]: a path “a to b”"),
            ({"levels": [{**level, "plan": {"width": 2**70}}]}, "levels[0].plan.width: the number is too large"),
            ({"levels": [{**level, "name": "\ud800"}]}, "levels[0].name: the text holds half a character"),
            ({"units": None}, "units: expected an object"),
            ({"facts": [{"id": "n", "kind": "count", "low": -1}]}, "facts[0].low: a count cannot go below 0"),
            ({"facts": [{"id": "n", "kind": "count", "low": 5, "high": 3}]}, "facts[0].low: 5 is above high"),
            ({"facts": [{"id": "n", "kind": "count", "low": 1}]}, "facts[0].initial: 0 is not between"),
            ({"facts": [{"id": "n", "kind": "count", "initial": True}]}, "facts[0].initial: expected a whole number"),
            ({"facts": [{"id": "n", "kind": "flag", "initial": 1}]}, "facts[0].initial: expected true or false"),
            ({"facts": [{"id": "c", "kind": "choice"}]}, "facts[0].values: a choice needs at least one value"),
            ({"facts": [{"id": "c", "kind": "choice", "values": ["x", "x"]}]}, "facts[0].values[1]: the id “x” is already"),
            ({"facts": [{"id": "c", "kind": "choice", "values": ["x"], "initial": "y"}]}, "facts[0].initial: “y” is none"),
            ({"facts": [{"id": "c"}]}, "facts[0].kind: is missing"),
            ({"patterns": [{"id": "p", "pattern": "q"}]}, "patterns[0].pattern: a pattern cannot have a pattern"),
            ({"walks": [{"id": "w", "expect": "wins"}]}, "walks[0].expect: “wins” is not one of"),
            ({"map": {"A": {}}}, "map.A: “A” is not an id"),
            (b'{"mossy_bridge": 1, "map": {}, "map": {}}', "map: stands twice"),
            (b'{"mossy_bridge": 1,\n "title": }', "line 2, column 11: is not valid JSON"),
            (b'{"mossy_bridge": 2}', "mossy_bridge: the file has format 2, made by a newer version"),
            (b'{"mossy_bridge": 1, "title": NaN}', "NaN is not a number"),
            (b'{"mossy_bridge": 1, "map": {"a": {"x": 1e999}}}', "1e999 is too large"),
            (b'{"mossy_bridge": 1, "map": {"a": {"x": ' + b"9" * 9999 + b"}}}", "map.a.x: the number is too large"),
            (b"[1]", "is not a flow"),
            (b" \n", "is empty"),
            (b"\xef\xbb\xbf{}", "byte order mark"),
            (b'{\n"a": "\xff"}', "line 2: is not UTF-8"),
            (b"[" * 99999, "nested too deeply"),
        ]  # fmt: skip
        for tree, expected in cases:
            with self.subTest(expected):
                found = self.problems(tree)
                self.assertTrue(any(expected in text for text in found), found)

    def test_all_are_told_at_once(self):
        tree = {
            "title": 3,
            "levels": [{"id": "A"}, {"id": "b", "opens": "maybe"}],
            "facts": [{"id": "n", "kind": "sum"}],
        }
        self.assertEqual(len(self.problems(tree)), 4)

    def test_dangling_references_are_no_reading_errors(self):
        exits = [
            {"id": "x", "zone": "z", "transition": "t", "to": {"level": "nowhere", "spawn": "s"}, "opens": "has y"}
        ]
        tree = {"mossy_bridge": 1, "start": {"level": "gone"}, "levels": [{"id": "a", "region": "r", "exits": exits}]}
        self.assertEqual(flow_from_tree(tree).levels[0].exits[0].to.level, "nowhere")


class Delivered(unittest.TestCase):
    def flow(self, at, ships_as):
        tree = json.loads(WHOLE)
        tree["trial_settings"] = [{"at": at, "ships_as": ships_as}]
        return flow_from_tree(tree)

    def test_values_to_deliver_take_their_places(self):
        gate = delivered(self.flow("levels.slipway.exits.gate.trigger.when", "has clapper")).level("slipway").exits[0]
        self.assertEqual((gate.trigger.when, gate.trigger.kind), ("has clapper", "press"))
        self.assertEqual(delivered(self.flow("walker.speed", 9)).walker.speed, 9)
        self.assertEqual(delivered(self.flow("facts.oil.high", 20)).facts[1].high, 20)
        self.assertEqual(delivered(self.flow("transitions.fade.steps.0.lasts", 2)).transitions[0].steps[0].lasts, 2)
        unchanged = self.flow("levels.gone.name", "x")
        self.assertEqual(delivered(unchanged), unchanged)

    def test_a_value_that_cannot_stand_there_is_told(self):
        with self.assertRaises(CannotRead) as caught:
            delivered(self.flow("walker.speed", "fast"))
        self.assertIn("walker.speed: expected a number", str(caught.exception))


class Saving(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = self.folder / "a.mossy"

    def test_keeps_the_version_before_and_the_mode(self):
        save_flow(Flow(title="one"), self.path)
        self.path.chmod(0o640)
        save_flow(Flow(title="two"), self.path)
        self.assertEqual(read_flow(self.path).title, "two")
        self.assertEqual(read_flow(self.folder / "a.mossy~").title, "one")
        self.assertEqual(stat.S_IMODE(self.path.stat().st_mode), 0o640)
        self.assertEqual(sorted(p.name for p in self.folder.iterdir()), ["a.mossy", "a.mossy~"])

    def test_a_failure_at_any_step_leaves_the_file_as_it_was(self):
        save_flow(Flow(title="one"), self.path)
        for step in ("os.fsync", "shutil.copy2", "pathlib.Path.replace"):
            with self.subTest(step), mock.patch(step, side_effect=OSError(28, "No space left on device")):
                with self.assertRaises(CannotSave) as caught:
                    save_flow(Flow(title="two"), self.path)
                self.assertIn("No space left", str(caught.exception))
            self.assertEqual(read_flow(self.path).title, "one")
            self.assertFalse([p for p in self.folder.iterdir() if p.name.startswith(".a")])

    def test_a_link_stays_a_link(self):
        save_flow(Flow(), self.path)
        link = self.folder / "link.mossy"
        os.symlink(self.path, link)
        replace_file(link, b'{"mossy_bridge": 1, "title": "x"}')
        self.assertTrue(link.is_symlink())
        self.assertEqual(read_flow(self.path).title, "x")

    def test_unreadable_files(self):
        huge = self.folder / "huge.mossy"
        with huge.open("wb") as file:
            file.truncate(50 * 2**20)
        for path, words in (
            (self.folder, "is a folder"),
            (self.folder / "gone", "no such file"),
            (huge, "larger than"),
        ):
            with self.subTest(words), self.assertRaises(CannotRead) as caught:
                read_flow(path)
            self.assertIn(words, str(caught.exception))


class Patterns(unittest.TestCase):
    def test_what_a_level_sets_itself_is_written_even_at_its_default(self):
        flow = flow_from_tree(json.loads(WHOLE))
        self.assertIn("opens", flow.level("slipway").set_here)
        self.assertIn('"opens": "always"', flow_text(flow))
        self.assertEqual(replace(flow, title="").level("slipway"), flow.level("slipway"))


if __name__ == "__main__":
    unittest.main()

"""Reading, writing and saving flow files."""

import errno
import fcntl
import json
import os
import resource
import stat
import tempfile
import unittest
from importlib.resources import files
from pathlib import Path
from unittest import mock

import jsonschema
from hypothesis import HealthCheck, given, settings
from msgspec.structs import replace

from mossy_bridge.exchange.reading import LARGEST_FILE, CannotRead, flow_from_bytes, flow_from_tree, read_flow
from mossy_bridge.exchange.saving import TEMPORARY, CannotSave, backup_of, replace_file, save_flow
from mossy_bridge.exchange.schema import flow_schema
from mossy_bridge.exchange.shipping_values import delivered
from mossy_bridge.exchange.writing import flow_text, json_text, tree_of
from mossy_bridge.model.flow import Fact, Flow, MapPlace, TrialSetting
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
    {"id": "tide", "kind": "choice", "values": ["ebb", "flood"], "initial": "flood"},
    {"id": "coins", "kind": "count", "rewinds": true}
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


def nested(times, key="in"):
    tree = {}
    for _ in range(times):
        tree = {key: tree}
    return tree


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
            ({"walker": {"width": 0}}, "walker.width: must be above 0"),
            ({"walker": {"gravity": -1}}, "walker.gravity: must be above 0"),
            ({"walker": {"speed": 1e300}}, "walker.speed: may not be above 1,000,000"),
            ({"limits": {"read_start": -1}}, "limits.read_start: may not be negative"),
            ({"limits": {"flash_seconds": 1e5}}, "limits.flash_seconds: may not be above 86,400"),
            ({"map": {"a": {"x": 1e7}}}, "map.a.x: may not be above 1,000,000"),
            ({"levels": [{**level, "spawns": [{"id": "p", "y": -1e7}]}]}, "spawns[0].y: may not be below −1,000,000"),
            ({"levels": [{**level, "plan": {"solids": [[0, 0, 1e300, 1]]}}]}, "solids[0][2]: may not be above 1,000,000"),
            ({"levels": [{**level, "minutes": 1e6}]}, "levels[0].minutes: may not be above 100,000"),
            ({"levels": [{**level, "difficulty": -1001}]}, "levels[0].difficulty: may not be below −1,000"),
            ({"levels": [{**level, "name": "n" * 1001}]}, "levels[0].name: is longer than 1,000 characters"),
            ({"levels": [{**level, "notes": "n" * 100_001}]}, "levels[0].notes: is longer than 100,000 characters"),
            ({"levels": [{**level, "name": "a\nb"}]}, "levels[0].name: the text may have one line only"),
            ({"levels": [{**level, "name": "a\x1b[31m"}]}, "levels[0].name: the text holds a control character (U+001B)"),
            ({"levels": [{**level, "notes": "a\x00"}]}, "levels[0].notes: the text holds a control character (U+0000)"),
            ({"levels": [{**level, "opens": "at least 1000001 oil"}]}, "levels[0].opens: in “at least 1000001 oil”: 1000001 is too"),
            ({"levels": [{**level, "opens": " or ".join(["always"] * 1500)}]}, "this is longer than 10,000 characters"),
            ({"levels": [{"id": "a" * 101}]}, "is longer than 100 characters, which no id may be"),
            ({"levels": [{**level, "kind": "board", "tiles": [{"id": "t", "col": 1e5}]}]}, "tiles[0].col: may not be above 10,000"),
            ({"facts": [{"id": "n", "kind": "count", "high": 10**7}]}, "facts[0].high: may not be above 1,000,000"),
            ({"promises": [{"id": "p", "kind": "within", "crossings": -1}]}, "promises[0].crossings: may not be negative"),
            ({"trial_settings": [{"ships_as": "\udc80"}]}, "trial_settings[0].ships_as: the text holds half a character"),
            ({"trial_settings": [{"ships_as": nested(50)}]}, "is nested more than 40 deep"),
            ({"levels": [{**level, "exits": [{"id": "x", "to": nested(60, "otherwise")}]}]}, "has more than 40 destinations"),
            ({"facts": [{"id": "n", "kind": "count", "low": -1}]}, "facts[0].low: may not be negative"),
            ({"facts": [{"id": "n", "kind": "count", "low": 5, "high": 3}]}, "facts[0].low: 5 is above high"),
            ({"facts": [{"id": "n", "kind": "count", "low": 1}]}, "facts[0].initial: 0 is not between"),
            ({"facts": [{"id": "n", "kind": "count", "initial": True}]}, "facts[0].initial: expected a whole number"),
            ({"facts": [{"id": "n", "kind": "flag", "lifetime": "visit", "rewinds": True}]},
             "facts[0].rewinds: only a fact that lasts a run can rewind; this one lasts a visit"),
            ({"facts": [{"id": "n", "kind": "flag", "rewinds": 1}]}, "facts[0].rewinds: expected true or false"),
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

    def test_numbers_at_their_bounds_and_texts_of_several_lines_are_read(self):
        level = {
            "id": "a",
            "notes": "one\n\ttwo",
            "minutes": 100_000,
            "plan": {"width": 1e6, "solids": [[-1e6, 1e6, 0, 1e6]]},
        }
        step = {"do": "show_message", "at": 86_400, "text": "one\ntwo"}
        tile = {"id": "t", "col": 0.5, "row": -10_000}
        read = flow_from_tree({"mossy_bridge": 1, "levels": [level, {"id": "b", "kind": "board", "tiles": [tile]}],
                               "transitions": [{"id": "t", "steps": [step]}], "walker": {"tick": 1e-9}})  # fmt: skip
        self.assertEqual(flow_from_bytes(flow_text(read).encode()), read)

    def test_of_very_many_faults_the_first_are_told_and_how_many_more(self):
        unknown = {f"unknown_{number}": 1 for number in range(100_000)}
        found = self.problems({"levels": [{"id": "a", **unknown}]})
        self.assertEqual((len(found), found[-1]), (101, "the file: 99,900 more problems like these"))
        twice = ", ".join(f'"key{number}": 1' for number in [*range(30_000), 5])
        found = self.problems(f'{{"mossy_bridge": 1, "map": {{{twice}}}}}'.encode())
        self.assertIn("map.key5: stands twice in the same object; remove one", found)

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

    def test_only_the_level_concerned_is_read_and_told_of_as_if_all_were(self):
        whole = flow_from_tree(json.loads(WHOLE))
        levels = tuple(replace(whole.level("slipway"), id=f"l{number}", code="") for number in range(5))
        start = replace(whole, levels=(*levels, *whole.levels), trial_settings=())
        for at, value in [
            ("levels.l3.exits.gate.trigger.when", "has clapper"), ("levels.3.name", "Third"), ("levels.l2.name", 7),
            ("levels.l2.exits.gate.completes", 3), ("levels.l4.id", "l1"), ("levels.l4.id", "l9"), ("levels.l4", {"id": "l9"}),
            ("levels", []), ("levels", [{"id": "a"}, {"id": "a"}]), ("walker.speed", 3), ("levels.l1.opens", "has"), ("levels.gone.name", "x"),
        ]:  # fmt: skip
            with self.subTest(at, value=value):
                found = _problems_or(lambda at=at, value=value: _with_value(start, at, value))
                self.assertEqual(found, _problems_or(lambda at=at, value=value: _read_whole(start, at, value)))
                if isinstance(found, Flow) and at not in ("levels", "levels.l4", "levels.l4.id"):
                    kept = sum(one is other for one, other in zip(found.levels, start.levels, strict=True))
                    self.assertEqual(kept, len(start.levels) - (at.startswith("levels.") and "gone" not in at))


def _with_value(flow, at, value):
    """The flow delivered with a value at a place."""
    return replace(delivered(replace(flow, trial_settings=(TrialSetting(at=at, ships_as=value),))), trial_settings=())


def _read_whole(flow, at, value):
    """The same, all of it read anew."""
    tree = here = tree_of(flow)
    *way, last = at.split(".")
    for step in way:
        here = _inside(here, step) if isinstance(here, list) else here.get(step)
    if isinstance(here, list):
        here[here.index(_inside(here, last))] = value
    elif here is not None:
        here[last] = value
    return flow_from_tree(tree)


def _inside(parts, step):
    """The part of a list of plain values with an id, or else with a number."""
    named = [part for part in parts if part.get("id") == step]
    return named[0] if named else parts[int(step)] if step.isdecimal() else None


def _problems_or(made):
    """A flow, or what is wrong with it."""
    try:
        return made()
    except CannotRead as error:
        return [problem.removeprefix("trial_settings: as delivered, ") for problem in error.problems]


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

    def names(self):
        return sorted(path.name for path in self.folder.iterdir())

    def test_a_failure_at_any_step_leaves_file_and_backup_as_they_were(self):
        save_flow(Flow(title="nought"), self.path)
        save_flow(Flow(title="one"), self.path)
        full = OSError(errno.ENOSPC, "No space left on device")
        sync, swap = os.fsync, Path.replace
        for step, real in (("os.fsync", sync), ("pathlib.Path.replace", swap)):
            for good in range(2):  # the new file, and the copy of the old one
                effects = [*([real] * good), None]
                calls = iter(effects)

                def fails(*args, calls=calls):
                    call = next(calls, None)
                    if call is None:
                        raise full
                    return call(*args)

                swaps = step.endswith("replace") and good == 1
                with self.subTest(step, good=good), mock.patch(step, fails):
                    with self.assertRaises(CannotSave) as caught:
                        save_flow(Flow(title="two"), self.path)
                    self.assertIn("No space left", str(caught.exception))
                self.assertEqual(read_flow(self.path).title, "one")
                self.assertEqual(read_flow(self.folder / "a.mossy~").title, "one" if swaps else "nought")
                self.assertEqual(self.names(), ["a.mossy", "a.mossy~"])

    def test_a_full_disk_leaves_file_and_backup_as_they_were(self):
        save_flow(Flow(title="nought"), self.path)
        save_flow(Flow(title="one", map={f"l{i}": MapPlace(x=i) for i in range(500)}), self.path)
        before = [path.read_bytes() for path in sorted(self.folder.iterdir())]
        for most in (100, 5_000):  # neither the new file fits, or only that
            limits = resource.getrlimit(resource.RLIMIT_FSIZE)
            resource.setrlimit(resource.RLIMIT_FSIZE, (most, limits[1]))
            try:
                with self.assertRaises(CannotSave):
                    save_flow(Flow(title="t" * 900), self.path)
            finally:
                resource.setrlimit(resource.RLIMIT_FSIZE, limits)
            self.assertEqual([path.read_bytes() for path in sorted(self.folder.iterdir())], before)

    def test_what_does_not_read_back_replaces_nothing(self):
        save_flow(Flow(title="one"), self.path)
        bad = Flow(facts=(Fact(id="tide", kind="choice", values=("low-tide",)),))
        not_canonical = Flow(facts=(Fact(id="oil", kind="count", initial=0),))
        for flow, words in ((bad, "“low-tide” is not an id"), (not_canonical, "does not read back the same")):
            with self.subTest(words), self.assertRaises(CannotSave) as caught:
                save_flow(flow, self.path)
            self.assertIn(words, str(caught.exception))
            self.assertEqual(read_flow(self.path).title, "one")
        self.assertEqual(self.names(), ["a.mossy"])

    def test_files_that_are_to_stay_as_they_are_do(self):
        save_flow(Flow(title="one"), self.path)
        os.link(self.path, self.folder / "other.mossy")
        save_flow(Flow(title="two"), self.path)
        self.assertEqual(read_flow(self.folder / "other.mossy").title, "two")
        self.assertEqual(read_flow(self.folder / "a.mossy~").title, "one")
        self.path.chmod(0o444)
        with self.assertRaises(CannotSave) as caught:
            save_flow(Flow(title="three"), self.path)
        self.assertIn("write-protected", str(caught.exception))
        self.assertEqual(read_flow(self.path).title, "two")

    def test_the_owner_stays_the_owner(self):
        save_flow(Flow(title="one"), self.path)
        mine = self.path.stat()
        with (
            mock.patch("os.chown", side_effect=PermissionError) as given,
            mock.patch.object(Path, "stat", autospec=True) as stat_,
        ):
            real = os.stat
            stat_.side_effect = lambda path, **more: real(path, **more)
            with mock.patch("mossy_bridge.exchange.saving._ordinary") as found:
                found.return_value = os.stat_result((mine.st_mode, 0, 0, 1, mine.st_uid + 1, mine.st_gid, 0, 0, 0, 0))
                save_flow(Flow(title="two"), self.path)
        self.assertEqual(given.call_args.args[1:], (mine.st_uid + 1, mine.st_gid))
        self.assertEqual((self.path.stat().st_ino, read_flow(self.path).title), (mine.st_ino, "two"))

    def test_what_is_no_ordinary_file_is_refused_at_once(self):
        os.mkfifo(self.folder / "pipe")
        (self.folder / "folder").mkdir()
        (self.folder / "folder~").write_text("kept")
        os.symlink("loop", self.folder / "loop")
        for name, words in (
            ("pipe", "it is no ordinary file"), ("folder", "a folder has this name"), ("loop", "links lead in a circle"),
            ("a\0b", "null"), ("gone/a.mossy", "No such file"),
        ):  # fmt: skip
            with self.subTest(name), self.assertRaises(CannotSave) as caught:
                replace_file(self.folder / name, b"x")
            self.assertIn(words, str(caught.exception))
        self.assertEqual((self.folder / "folder~").read_text(), "kept")

    def test_names_as_long_as_names_can_be(self):
        for name in ("n" * 249 + ".mossy", "ü" * 124 + ".mossy", "n" * 246):
            path = self.folder / name
            save_flow(Flow(title="one"), path)
            save_flow(Flow(title="two"), path)
            self.assertEqual(read_flow(path).title, "two")
            self.assertEqual(read_flow(backup_of(path)).title, "one")

    def test_leftovers_of_programs_that_were_killed_are_cleared(self):
        left, used = (self.folder / f"{TEMPORARY}{name}" for name in ("left", "used"))
        left.write_bytes(b"half")
        with used.open("wb") as file:
            fcntl.flock(file, fcntl.LOCK_EX)
            save_flow(Flow(), self.path)
            self.assertEqual(self.names(), [used.name, "a.mossy"])

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
            file.truncate(LARGEST_FILE + 1)
        pipe = self.folder / "pipe"
        os.mkfifo(pipe)
        for path, words in (
            (self.folder, "is a folder"),
            (self.folder / "gone", "no such file"),
            (huge, "larger than"),
            (pipe, "is no ordinary file"),
            ("a\0b", "no file can have such a name"),
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

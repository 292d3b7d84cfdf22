"""The command line: results, exit statuses, and what it must not load."""

import json
import os
import re
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import unittest
from dataclasses import replace
from importlib.resources import files
from pathlib import Path
from unittest import mock

from click.testing import CliRunner
from jsonschema import Draft202012Validator

from mossy_bridge.checks.reports.survey_report import survey_text, survey_values
from mossy_bridge.checks.runner import inspected
from mossy_bridge.command import cli, exchanging
from mossy_bridge.exchange.game.constants import LANGUAGES
from mossy_bridge.exchange.writing import flow_bytes, flow_text
from mossy_bridge.play.state import parse_move
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.survey.verdicts import Verdict
from mossy_bridge.reach.system.routes import SomeRoute
from tests.support.build import deed, flow, play_level, screen, way
from tests.support.faulty_flows import faulty_flow

DEMO = str(files("mossy_bridge.demo").joinpath("tidewick.mossy"))
UNFINISHED = str(files("mossy_bridge.demo").joinpath("tidewick_unfinished.mossy"))


class Calls(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def call(self, *arguments, stdin=""):
        return CliRunner().invoke(cli, [str(a) for a in arguments], input=stdin)

    def written(self, flow_):
        path = self.folder / "flow.mossy"
        path.write_text(flow_text(flow_), "utf-8")
        return path

    def small(self):
        return self.written(
            flow(
                screen("title", way("go", "a", fresh=True), way("resume", {"kind": "resume"})),
                play_level("a", way("x", "won", opens="has key"), way("quit", "title"), deeds=[deed("d", "gain key")]),
                play_level("b", way("x", "a")),
                facts=["key"],
                title="Small",
                promises=[
                    {"id": "p", "kind": "never", "level": "a", "when": "has key"},
                    {"id": "q", "kind": "can", "level": "b"},
                ],
                walks=[
                    {"id": "w", "moves": ["exit title.go", "exit a.x"]},
                    {"id": "v", "moves": ["exit title.go"], "expect": "at:a"},
                ],
            )
        )

    def test_a_flow_of_level_files_by_a_reader_held_against_them(self):
        demo = self.folder / "game"
        shutil.copytree(Path(DEMO).with_suffix("") / "town", demo / "town")
        readers = json.loads(Path(DEMO).read_text())["readers"]
        reader = next(one for one in readers if one["form"] == "json")
        (demo / "reader.json").write_text(json.dumps({**reader, "files": "town/*.json"}))
        made = self.call("new", demo, "--reader", demo / "reader.json", "--title", "Town")
        self.assertEqual(made.exit_code, 0, made.stderr)
        self.assertIn("town.mossy: 6 levels", made.stdout)
        self.assertIn("to the level “tide_chart”, which there is not", made.stdout)
        flow = demo / "town.mossy"
        (demo / "town/pan_row.json").write_text(
            (demo / "town/pan_row.json").read_text().replace('"box": [46, ', '"box": [44, ')
        )
        told = self.call("read", flow)
        self.assertEqual(told.exit_code, 1)
        self.assertIn("but in town/pan_row.json at 44, 12", told.stdout)
        before = flow.read_bytes()
        self.assertEqual(self.call("read", flow).exit_code, 1)
        self.assertEqual(flow.read_bytes(), before)
        self.assertIn("rewritten", self.call("read", flow, "--take", "places").stdout)
        self.assertNotIn("but in town/pan_row.json at", self.call("read", flow).stdout)
        self.assertEqual(self.call("read", DEMO).exit_code, 0)

    def test_a_table_that_is_not_built_as_its_schema_says(self):
        table = self.folder / "table.json"
        self.call("export", DEMO, "--to", "table", "-o", table)
        sound = table.read_text("utf-8")
        for spoil, says in (
            (lambda t: t["levels"][5]["exits"][0].pop("armed_on_arrival"), "$.levels[5].exits[0]: 'armed_on_arrival'"),
            (lambda t: t["facts"][0].update(initial=None), "$.facts[0].initial: None is not"),
            (lambda t: t["levels"][0].update(next=900), "levels[0].next is 900, which is no place"),
        ):
            spoiled = json.loads(sound)
            spoil(spoiled)
            table.write_text(json.dumps(spoiled), "utf-8")
            refused = self.call("stand-in", table, "--moves", "-")
            self.assertEqual(refused.exit_code, 2)
            self.assertIn(says, refused.stderr)

    def test_made_up_play_tests_of_the_demo(self):
        log = self.folder / "log.jsonl"
        self.assertEqual(self.call("demo", "--log", log).exit_code, 0)
        told = self.call("logs", DEMO, log)
        self.assertEqual(told.exit_code, 1)
        self.assertIn("40 sessions: 38 explained by the flow, 2 not, 0 unknown", told.stdout)
        nowhere = self.call("demo", "--log", self.folder / "no" / "log.jsonl")
        self.assertEqual(nowhere.exit_code, 2)
        self.assertIn("No such file or directory", nowhere.stderr)

    def test_what_cannot_be_read_or_made(self):
        (self.folder / "flow.mossy").write_text('{"mossy_bridge": 1}')
        self.assertIn("has no readers", self.call("read", self.folder / "flow.mossy").stderr)
        (self.folder / "reader.json").write_text('{"id": "maps", "files": "*.xml", "form": "xml"}')
        none = self.call("new", self.folder, "--reader", self.folder / "reader.json")
        self.assertEqual(none.exit_code, 2)
        self.assertIn("no file fits *.xml", none.stderr)
        (self.folder / "reader.json").write_text('{"id": "maps", "files": "*.xml", "form": "xml", "rules": [{}]}')
        wrong = self.call("new", self.folder, "--reader", self.folder / "reader.json")
        self.assertEqual(wrong.exit_code, 2)
        self.assertIn("reader.json: readers[0].rules[0].makes: is missing", wrong.stderr)

    def test_tables_out_and_in(self):
        for kind, out in (("csv", "csv"), ("tsv", "tsv"), ("graphml", "t.graphml"), ("dot", "t.dot")):
            done = self.call("export", DEMO, "--to", kind, "-o", self.folder / out)
            self.assertEqual(done.exit_code, 0, done.stderr)
            self.assertIn("not in there: ", done.stdout)
        for source in ("csv", "tsv", "t.graphml"):
            made = self.call("import", self.folder / source, "-o", self.folder / f"{source}.mossy", "--title", "T")
            self.assertEqual(made.exit_code, 0, made.stderr)
            self.assertIn("25 levels", made.stdout)
        self.assertEqual((self.folder / "csv.mossy").read_bytes(), (self.folder / "tsv.mossy").read_bytes())
        again = self.call("import", self.folder / "csv", "-o", self.folder / "csv.mossy")
        self.assertEqual(again.exit_code, 2)
        (self.folder / "bad.csv").write_text("from,two\na,b\n")
        bad = self.call("import", self.folder / "bad.csv", "-o", self.folder / "bad.mossy")
        self.assertEqual((bad.exit_code, (self.folder / "bad.mossy").exists()), (2, False))
        self.assertEqual(len(bad.stderr.strip().splitlines()), 2)

    def test_the_map_as_a_picture(self):
        for kind, begins in (("svg", b"<?xml"), ("png", b"\x89PNG"), ("pdf", b"%PDF")):
            out = self.folder / f"map.{kind}"
            done = self.call("export", DEMO, "--to", kind, "-o", out)
            self.assertEqual((done.exit_code, done.stdout), (0, f"{out}\n"), done.stderr)
            self.assertTrue(out.read_bytes().startswith(begins))

    def test_what_the_game_reads(self):
        done = self.call("export", DEMO, "--to", "table", "--final", "-o", self.folder / "t.json")
        self.assertEqual((done.exit_code, done.stdout), (0, f"{self.folder / 't.json'}\n"), done.stderr)
        table = json.loads((self.folder / "t.json").read_text("utf-8"))
        Draft202012Validator(json.loads(self.call("schema", "table").stdout)).validate(table)
        self.assertEqual(self.call("export", DEMO, "--to", "constants", "-o", self.folder / "t.h").exit_code, 2)
        done = self.call("export", DEMO, "--to", "constants", "--language", "c", "-o", self.folder / "t.h")
        self.assertEqual(done.exit_code, 0, done.stderr)
        self.assertIn("LEVEL_SLIPWAY = ", (self.folder / "t.h").read_text())
        self.assertEqual(exchanging.LANGUAGES, LANGUAGES)
        refused = self.call("export", UNFINISHED, "--to", "table", "--final", "-o", self.folder / "u.json")
        self.assertEqual((refused.exit_code, (self.folder / "u.json").exists()), (1, False))
        self.assertIn("drip_cave: Drip Cave is never reached", refused.stderr)
        done = self.call("export", UNFINISHED, "--to", "table", "-o", self.folder / "u.json")
        self.assertIn("not in there: ", done.stdout)

    def test_the_stand_in_plays_a_table(self):
        table = self.folder / "t.json"
        self.call("export", DEMO, "--to", "table", "-o", table)
        played = self.call("stand-in", table, "--moves", "-", "--player", "Ada", stdin="exit title.begin\n")
        self.assertEqual(played.exit_code, 0, played.stderr)
        events = [json.loads(line) for line in played.stdout.splitlines()]
        self.assertEqual((events[0]["event"], events[0]["player"]), ("begin", "Ada"))
        self.assertEqual([one.get("level") for one in events if one["event"] == "arrive"], ["title", "slipway"])
        stopped = self.call("stand-in", table, "--moves", "-", stdin="exit slipway.east_gate\n")
        self.assertEqual(stopped.exit_code, 1)
        self.assertIn("is not possible in title", stopped.stderr)
        spoiled = json.loads(table.read_text("utf-8"))
        spoiled["start"]["level"] = 99
        for content, says in ((DEMO, "is a flow; export"), ("[]", "is no game table"), ("{", "is no JSON"),
                              (json.dumps(spoiled), "start.level is 99")):  # fmt: skip
            (self.folder / "u.json").write_text(Path(content).read_text("utf-8") if content == DEMO else content)
            refused = self.call("stand-in", self.folder / "u.json", "--moves", "-", stdin="")
            self.assertEqual(refused.exit_code, 2)
            self.assertIn(says, refused.stderr)

    def test_play_logs(self):
        table, log = self.folder / "t.json", self.folder / "log.jsonl"
        self.call("export", DEMO, "--to", "table", "-o", table)
        moves = "exit title.begin\ndeed slipway.take_oil\nexit slipway.east_gate\nquit\n"
        log.write_text(self.call("stand-in", table, "--moves", "-", stdin=moves).stdout, "utf-8")
        told = self.call("logs", DEMO, log)
        self.assertEqual(told.exit_code, 0, told.stderr)
        self.assertIn("1 session: 1 explained by the flow", told.stdout)
        log.write_text(log.read_text("utf-8").replace("east_gate", "sluice_stair") + "broken\n", "utf-8")
        wrong = json.loads(self.call("logs", DEMO, log, "--format", "json").stdout)
        self.assertEqual([one["event"]["level"] for one in wrong["sessions"][0]["impossible"]], ["bell_sands"])
        self.assertEqual((wrong["sessions"][0]["unread_lines"], wrong["deeds"]["slipway.take_oil"]), (1, 1))
        told = self.call("logs", DEMO, log, "--format", "markdown")
        self.assertEqual(told.exit_code, 1)
        self.assertIn("an arrival in Eel Sluice, at Sluice foot, was expected", told.stdout)
        self.assertEqual(self.call("logs", DEMO, self.folder / "none").exit_code, 2)

    def test_listening_until_it_is_ended(self):
        for ends, status in ((signal.SIGINT, 0), (signal.SIGTERM, 1)):
            call = [sys.executable, "-m", "mossy_bridge", "listen", DEMO, "--port", "0"]
            program = subprocess.Popen(call, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
            self.addCleanup(program.kill)
            port = int(re.search(r"port (\d+)", program.stderr.readline())[1])
            with socket.create_connection(("127.0.0.1", port)) as game:
                for event in ({"event": "begin", "new": True, "player": "Ada"}, {"event": "arrive", "level": "title"},
                              *([{"event": "arrive", "level": "lamp_room"}] if status else [])):  # fmt: skip
                    game.sendall(json.dumps(event).encode() + b"\n")
                self.assertIn("begins to log", program.stderr.readline())
                told = [program.stdout.readline() for _ in range(1 + status)]
            self.assertIn("logs nothing more", program.stderr.readline())
            program.send_signal(ends)
            rest, _ = program.communicate(timeout=60)
            self.assertEqual(program.returncode, status)
            self.assertIn("Ada is in title\n" if not status else "Ada is in lamp_room\n", told)
            self.assertIn("1 session: 0 explained by the flow, 1 not" if status else "1 explained by the flow", rest)
        self.assertIn("line 3: arrive lamp_room: the player is in", told[0])

    def test_listening_to_what_cannot_be_listened_to(self):
        for arguments, why in (((), "either --port or --log"), (("--port", 1, "--log", "x"), "either --port or --log"),
                               (("--log", self.folder), "is no file")):  # fmt: skip
            before = signal.getsignal(signal.SIGTERM)
            told = self.call("listen", DEMO, *arguments)
            self.assertEqual(told.exit_code, 2)
            self.assertIn(why, told.stderr)
            self.assertIs(signal.getsignal(signal.SIGTERM), before)

    def test_several_flows_and_what_build_servers_read(self):
        text = self.call("survey", DEMO, UNFINISHED)
        self.assertEqual(text.exit_code, 1)
        self.assertIn(f"{DEMO}: All 25 levels reached", text.stdout)
        self.assertIn(f"exit-unconnected  {UNFINISHED}: weigh_house.yard_door", text.stdout)
        several = json.loads(self.call("survey", DEMO, UNFINISHED, "--format", "json").stdout)
        self.assertEqual([one["flow"] for one in several], ["Tidewick", "Tidewick, unfinished"])
        sarif = self.call("survey", DEMO, UNFINISHED, "--format", "sarif")
        self.assertEqual((sarif.exit_code, len(json.loads(sarif.stdout)["runs"][0]["artifacts"])), (1, 2))
        junit = self.call("survey", DEMO, "--format", "junit", "--only", "stuck")
        self.assertEqual(junit.exit_code, 0)
        self.assertIn('<testsuites name="Mossy Bridge" tests="1" failures="0"', junit.stdout)
        self.assertEqual(self.call("survey", DEMO, self.folder / "none").exit_code, 2)

    def test_comparing(self):
        same = self.call("compare", DEMO, DEMO)
        self.assertEqual(same.exit_code, 0)
        self.assertIn("whether it can be resumed is not known for all games", same.stdout)
        told = self.call("compare", DEMO, UNFINISHED, "--format", "json")
        self.assertEqual(told.exit_code, 1, told.stderr)
        values = json.loads(told.stdout)
        self.assertEqual(list(values), ["changes", "findings", "verdicts", "leads", "saved_games"])
        self.assertIn({"at": "nobody gets stuck", "old": "yes", "new": "no"}, values["verdicts"])
        self.assertIn("Weigh House: Yard door: leads to nothing instead of Rope Walk, South end",
                      [change["words"] for change in values["changes"]])  # fmt: skip
        self.assertEqual(self.call("compare", DEMO, self.folder / "none").exit_code, 2)

    def test_merging(self):
        versions = {}
        for name, level in (
            ("base", {}),
            ("ours", {"name": "Fen"}),
            ("theirs", {"minutes": 2}),
            ("clash", {"name": "Bog"}),
        ):
            versions[name] = self.folder / f"{name}.mossy"
            versions[name].write_text(flow_text(flow(play_level("a", way("x", "won"), **level))), "utf-8")
        out = self.folder / "out.mossy"
        done = self.call("merge", versions["base"], versions["ours"], versions["theirs"], "-o", out)
        self.assertEqual((done.exit_code, done.stdout), (0, ""))
        self.assertIn('"name": "Fen",\n', out.read_text("utf-8"))
        clash = ("merge", versions["base"], versions["ours"], versions["clash"], "-o", out)
        done = self.call(*clash)
        self.assertEqual((done.exit_code, done.stdout), (1, 'levels.a.name\t-\t"Fen"\t"Bog"\n'))
        self.assertEqual(out.read_bytes(), versions["ours"].read_bytes(), "ours is kept in the place")
        self.assertEqual(self.call(*clash, "--markers").exit_code, 1)
        self.assertIn("<<<<<<< ours", out.read_text("utf-8"))
        self.assertEqual(self.call("merge", versions["base"], out, out, "-o", out).exit_code, 2)

    def test_a_new_flow_of_a_folders_level_files(self):
        for name in ("level_2.map", "level_10.map", "level_1.map", "readme.md"):
            (self.folder / name).write_text("")
        made = self.call("new", self.folder, "--title", "Marsh Lamp")
        self.assertEqual(
            (made.exit_code, made.stdout.split(": ")[1]), (0, "3 levels\nfound by --pattern level_*.map\n")
        )
        survey_flow = self.call("survey", self.folder / "marsh_lamp.mossy")
        self.assertTrue(survey_flow.stdout.startswith("All 3 levels reached"))
        again = self.call("new", self.folder, "--title", "Marsh Lamp")
        self.assertEqual(again.exit_code, 2)
        self.assertIn("is there already", again.stderr)
        nothing = self.call("new", self.folder, "--pattern", "none_*.map", "-o", self.folder / "x.mossy")
        self.assertEqual((nothing.exit_code, (self.folder / "x.mossy").exists()), (2, False))
        (self.folder / "maps").mkdir()
        (self.folder / "maps" / "cave_1.map").write_text("")
        above = self.folder / "above.mossy"
        self.assertEqual(self.call("new", self.folder / "maps", "-o", above).exit_code, 0)
        self.assertIn('"file": "maps/cave_1.map"', above.read_text())
        beside = self.call("new", self.folder / "maps", "-o", self.folder / "elsewhere" / "x.mossy")
        self.assertEqual((beside.exit_code, "in the folder of its level files" in beside.stderr), (2, True))

    def test_survey_text_and_status(self):
        clean = self.call("survey", DEMO)
        self.assertEqual(clean.exit_code, 0)
        self.assertTrue(
            clean.stdout.startswith("All 25 levels reached, both endings reachable, nobody gets stuck — proven")
        )
        self.assertEqual(self.call("survey", UNFINISHED).exit_code, 1)
        only = self.call("survey", UNFINISHED, "--only", "duplicate-code")
        self.assertEqual(only.exit_code, 0)
        self.assertEqual(
            self.call("survey", UNFINISHED, "--only", "duplicate-code", "--fail-on", "warning").exit_code, 1
        )

    def test_survey_json(self):
        result = self.call("survey", self.small(), "--format", "json")
        values = json.loads(result.stdout)
        self.assertEqual(result.exit_code, 1)
        self.assertEqual(
            list(values),
            [
                "flow",
                "settled",
                "states",
                "seconds",
                "levels",
                "exits",
                "deeds",
                "paths",
                "tiles",
                "endings",
                "stuck",
                "loops",
                "promises",
                "walks",
                "findings",
            ],
        )
        self.assertEqual((values["flow"], values["settled"]), ("Small", True))
        self.assertEqual(
            values["levels"]["a"], {"verdict": "yes", "crossings": 1, "route": ["exit title.go"], "missed": "no"}
        )
        self.assertEqual(values["levels"]["b"], {"verdict": "no", "crossings": None, "missed": "no"})
        self.assertEqual(values["exits"]["title.resume"], {"verdict": "no"})
        self.assertEqual(
            values["deeds"]["a.d"], {"verdict": "yes", "route": ["exit title.go", "deed a.d"], "missed": "no"}
        )
        self.assertEqual(values["stuck"], {"verdict": "no"})
        self.assertEqual(values["promises"]["p"], {"holds": "no", "route": ["exit title.go", "deed a.d"]})
        self.assertEqual(values["promises"]["q"], {"holds": "no"})
        self.assertEqual(
            values["walks"], {"w": {"holds": "no", "stopped_at": 1}, "v": {"holds": "yes", "stopped_at": None}}
        )
        self.assertEqual(
            list(values["findings"][0]), ["check", "severity", "at", "message", "why", "route", "repair", "waived"]
        )

    def test_final_judges_what_is_delivered(self):
        path = self.written(
            flow(
                play_level("a", way("x", "won")), trial_settings=[{"at": "levels.a.exits.x.opens", "ships_as": "never"}]
            )
        )
        self.assertEqual(self.call("survey", path).exit_code, 0)
        self.assertEqual(self.call("survey", path, "--final").exit_code, 1)

    def test_route(self):
        small = self.small()
        found = self.call("route", small, "won")
        self.assertEqual(found.exit_code, 0)
        self.assertEqual(
            [line.split(":")[0] for line in found.stdout.splitlines()],
            ["start", "1. exit title.go", "2. deed a.d", "3. exit a.x"],
        )
        self.assertIn("key yes (was no)", found.stdout)
        self.assertEqual(self.call("route", small, "b").exit_code, 1)
        self.assertEqual(self.call("route", small, "a", "--avoid", "title").exit_code, 1)
        self.assertIn("2. deed a.d", self.call("route", small, "a", "--when", "has key").stdout)
        self.assertIn("deed a.d", self.call("route", small, "a.d").stdout)
        for wrong in (("c",), ("a", "--avoid", "zz"), ("a", "--when", "has")):
            self.assertEqual(self.call("route", small, *wrong).exit_code, 2)

    def test_a_route_that_may_not_be_the_shortest_says_so(self):
        small = self.small()
        known = Verdict("yes", lambda: SomeRoute(map(parse_move, ("exit title.go", "deed a.d", "exit a.x"))))
        self.assertEqual(self.call("route", small, "won").stderr, "")
        with mock.patch("mossy_bridge.reach.survey.route_query.route_to", return_value=known):
            found = self.call("route", small, "won")
        self.assertEqual((found.exit_code, len(found.stdout.splitlines())), (0, 4))
        self.assertIn("may be a shorter route", found.stderr)

    def test_a_survey_says_of_which_routes_it_is_not_sure_that_they_are_the_shortest(self):
        f = flow(play_level("a", way("x", "pit"), way("y", "won")), play_level("pit"))
        survey = survey_flow(f)
        self.assertNotIn("shortest", survey_values(survey, inspected(survey, f))["stuck"])
        survey = replace(survey, stuck=Verdict("yes", lambda: SomeRoute([parse_move("exit a.x")])))
        findings = inspected(survey, f, only=["stuck"])
        values = survey_values(survey, findings)
        self.assertEqual(values["stuck"], {"verdict": "yes", "route": ["exit a.x"], "shortest": False})
        self.assertIs(values["findings"][0]["shortest"], False)
        self.assertIn("    route (not surely the shortest): exit a.x", list(survey_text(survey, findings)))

    def test_walk(self):
        small = self.small()
        moves = "# to the end\nexit title.go\ndeed a.d\nexit a.x\n"
        done = self.call("walk", small, stdin=moves)
        self.assertEqual(done.exit_code, 0)
        self.assertIn("3. exit a.x: ends with won", done.stdout)
        stopped = self.call("walk", small, stdin="exit title.go\nexit a.x\ndeed a.d\n")
        self.assertEqual(stopped.exit_code, 1)
        self.assertIn("stops at move 2, “exit a.x”: needs key", stopped.stdout)
        resumed = self.call("walk", small, stdin="exit title.go\nexit a.quit\nexit title.resume\n")
        self.assertEqual(resumed.exit_code, 0)
        self.assertIn("is not written as a move", self.call("walk", small, stdin="jump\n").stdout)

    def test_tour(self):
        path = self.small()
        result = self.call("tour", path)
        self.assertEqual(result.exit_code, 0)
        self.assertIn("exits, deeds, paths and tiles in", result.output)
        values = json.loads(self.call("tour", path, "--format", "json").output)
        self.assertEqual(values["things"], 4)
        self.assertGreaterEqual(values["moves"], values["least"])
        self.assertTrue(self.call("tour", path, "--format", "csv").output.startswith("walk,step,move,do,place"))
        self.assertIn("- [ ] 1.", self.call("tour", path, "--format", "markdown").output)

    def test_mend(self):
        path, out = self.folder / "a.mossy", self.folder / "b.mossy"
        path.write_bytes(flow_bytes(faulty_flow(3)))
        before = path.read_bytes()
        told = self.call("mend", path, "--dry-run", "-o", out)
        self.assertIn(told.exit_code, (0, 1))
        self.assertEqual((path.read_bytes(), out.exists()), (before, False))
        self.assertIn("repaired", told.stdout.splitlines()[-1])
        checks = {line.split()[0] for line in told.stdout.splitlines() if line and line[0] != " "}
        self.call("mend", path, "-o", out)
        self.assertEqual(path.read_bytes(), before)
        self.assertNotEqual(out.read_bytes(), before)
        self.assertEqual(self.call("mend", out).stdout.splitlines()[-1].split()[0], "0")
        nothing = self.call("mend", path, "--at", "nowhere", "-o", out)  # OUT is always written
        self.assertEqual((nothing.exit_code, out.read_bytes()), (0, before))
        self.assertEqual(self.call("mend", path, "--only", "stock").exit_code, 2)
        self.assertGreater(len(checks), 1)
        self.call("mend", path)
        self.assertNotEqual(path.read_bytes(), before)

    def test_route_refuses_what_does_not_exist(self):
        told = self.call("route", DEMO, "slipway", "--when", "has ropes")
        self.assertEqual((told.exit_code, told.stdout), (2, ""))
        self.assertIn("--when: there is no flag “ropes”; did you mean “rope”?", told.stderr)

    def test_long_routes_are_shortened_in_text(self):
        rooms = [
            play_level(f"l{n}", way("on", f"l{n + 1}" if n < 30 else "won"), deeds=[deed("coin")]) for n in range(31)
        ]
        path = self.folder / "long.mossy"
        path.write_bytes(flow_bytes(flow(*rooms)))
        told = self.call("survey", path).stdout
        self.assertIn("exit l5.on, … 22 more moves, exit l28.on, exit l29.on", told)
        self.assertIn("exit l0.on", told)
        found = json.loads(self.call("survey", path, "--format", "json").stdout)
        self.assertEqual(max(len(one["route"]) for one in found["findings"]), 30)

    def test_tidy(self):
        path = self.folder / "a.mossy"
        path.write_text('{"title": "x", "mossy_bridge": 1}')
        self.assertEqual(self.call("tidy", path).exit_code, 0)
        self.assertEqual(path.read_text(), '{"mossy_bridge": 1, "title": "x"}\n')
        self.assertIn("tidy already", self.call("tidy", path).stdout)

    def test_unusable_input_is_told_a_line_a_problem_and_left_alone(self):
        path = self.folder / "a.mossy"
        path.write_text('{"mossy_bridge": 1, "title": 3, "levels": [{"id": "A"}]}')
        for call in (("survey", path), ("tidy", path), ("walk", path), ("route", path, "a")):
            result = self.call(*call)
            self.assertEqual((result.exit_code, result.stdout), (2, ""))
            self.assertEqual(len(result.stderr.splitlines()), 2)
            self.assertNotIn("Traceback", result.stderr)
        self.assertEqual(self.call("survey", self.folder / "gone").exit_code, 2)
        self.assertEqual(self.call("survey", self.folder).exit_code, 2)
        self.assertEqual(self.call("survey", DEMO, "--only", "stock").exit_code, 2)
        self.assertEqual(self.call("survey", DEMO, "--format", "xml").exit_code, 2)

    def test_an_empty_flow_is_surveyed(self):
        path = self.folder / "a.mossy"
        path.write_text('{"mossy_bridge": 1}\n')
        result = self.call("survey", path)
        self.assertEqual(result.exit_code, 1)
        self.assertIn("There is no level yet.", result.stdout)

    def test_open_without_a_display(self):
        with mock.patch.dict(os.environ, {"QT_QPA_PLATFORM": "", "DISPLAY": "", "WAYLAND_DISPLAY": ""}):
            result = self.call("open", DEMO)
        self.assertEqual(result.exit_code, 2)
        self.assertIn("no display", result.stderr)

    def test_schema(self):
        self.assertIn("2020-12", json.loads(self.call("schema").stdout)["$schema"])


class Loading(unittest.TestCase):
    def test_the_computing_commands_load_no_qt(self):
        script = f"""
import sys
from mossy_bridge.__main__ import main
sys.argv = ["mossy-bridge", "survey", {DEMO!r}]
try:
    main()
except SystemExit as end:
    assert end.code == 0, end.code
assert not [name for name in sys.modules if name.startswith(("PyQt6", "mossy_bridge.desk"))]
"""
        subprocess.run([sys.executable, "-c", script], check=True, stdout=subprocess.DEVNULL)


if __name__ == "__main__":
    unittest.main()

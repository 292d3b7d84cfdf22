"""What build servers read: SARIF by its schema, JUnit by its readers, and the scripts of the handbook as they stand."""

import json
import os
import re
import stat
import subprocess
import sys
import tempfile
import unittest
from importlib.resources import files
from pathlib import Path

from jsonschema import Draft202012Validator
from junitparser import JUnitXml

from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.appraisal.junit import _clean, junit_bytes
from mossy_bridge.appraisal.sarif import JudgedFile, sarif_values
from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.exchange.writing import flow_text
from mossy_bridge.model.edits.levels import accept, set_level
from tests.support.build import flow, play_level, screen, way

ROOT = Path(__file__).parents[2]
SCHEMA = Draft202012Validator(json.loads((ROOT / "tests" / "support" / "sarif-2.1.0.json").read_text("utf-8")))
"""From the package @microsoft/sarif-multitool-linux, MIT."""


def faulty():
    return flow(screen("title", way("new", "a")), play_level("a", way("on", "won"), way("off", "nowhere"), name="Fen & Bog"),
                play_level("b", way("on", "a")), play_level("c"))  # fmt: skip


def judged(flow_, name="flows/marsh land.mossy", text=None):
    return JudgedFile(Path(name), text or flow_text(flow_), appraise(flow_, budget=default_budget(flow_)))


class Sarif(unittest.TestCase):
    def run_of(self, *found, only=()):
        values = json.loads(json.dumps(sarif_values(found, only)))
        SCHEMA.validate(values)
        return values["runs"][0]

    def test_valid_with_places_and_rules(self):
        run = self.run_of(judged(faulty()))
        rules = run["tool"]["driver"]["rules"]
        result = next(one for one in run["results"] if one["ruleId"] == "destination-missing")
        self.assertEqual(rules[result["ruleIndex"]]["id"], "destination-missing")
        self.assertIn("To mend:", rules[result["ruleIndex"]]["help"]["text"])
        self.assertEqual(result["level"], "error")
        place = result["locations"][0]
        self.assertEqual(place["logicalLocations"], [{"fullyQualifiedName": "a.off", "name": "off"}])
        physical = place["physicalLocation"]
        self.assertEqual(physical["artifactLocation"]["uri"], "flows/marsh%20land.mossy")
        line = flow_text(faulty()).splitlines()[physical["region"]["startLine"] - 1]
        self.assertTrue(line[physical["region"]["startColumn"] - 1 :].startswith('{"id": "off"'), line)
        self.assertEqual(len(run["results"]), len(judged(faulty()).appraisal.findings))

    def test_what_was_accepted_is_suppressed(self):
        run = self.run_of(judged(accept(faulty(), "destination-missing", "a.off", "comes later")))
        told = {one["ruleId"]: one.get("suppressions") for one in run["results"]}
        self.assertEqual(
            told["destination-missing"], [{"kind": "inSource", "status": "accepted", "justification": "comes later"}]
        )
        self.assertIsNone(told["level-unreachable"])

    def test_fingerprints_survive_unrelated_edits_and_differ(self):
        before, after = (
            self.run_of(judged(one)) for one in (faulty(), set_level(faulty(), "b", name="Weir", minutes=3))
        )
        marks = [[one["partialFingerprints"]["findingAt/v1"] for one in run["results"]] for run in (before, after)]
        self.assertEqual(sorted(marks[0]), sorted(marks[1]))
        self.assertEqual(len(set(marks[0])), len(marks[0]))

    def test_several_files_and_some_checks(self):
        run = self.run_of(judged(faulty()), judged(faulty(), "/other.mossy"), only=["destination-missing"])
        self.assertEqual(len(run["tool"]["driver"]["rules"]), 1)
        self.assertEqual(run["artifacts"][1]["location"]["uri"], "file:///other.mossy")


class JUnit(unittest.TestCase):
    def read(self, *found, severities=("error",), only=()):
        return JUnitXml.fromroot(JUnitXml.fromstring(junit_bytes(found, severities, only))._elem)

    def test_a_case_for_each_check_and_a_failure_with_all_findings(self):
        document = self.read(judged(faulty()))
        suites = {suite.name: suite for suite in document}
        reach = suites["flows/marsh land.mossy: reachability"]
        case = next(case for case in reach if case.name == "Level unreachable")
        text = case.result[0].text
        self.assertEqual(case.result[0].message, "b is never reached. No exit and no tile leads there. (and 1 more)")
        self.assertRegex(text, r"(?s)marsh land.mossy:\d+:\d+: b is never.*marsh land.mossy:\d+:\d+: c is never")
        self.assertEqual(document.failures, sum(suite.failures for suite in document))
        self.assertGreater(document.tests, 80)
        well = next(case for case in reach if case.name == "Stuck")
        self.assertEqual(well.result, [])

    def test_what_does_not_fail_the_run_is_no_failure(self):
        accepted = accept(faulty(), "destination-missing", "a.off", "comes later")
        self.assertEqual(self.read(judged(accepted), only=["destination-missing"]).failures, 0)
        self.assertEqual(self.read(judged(faulty()), severities=(), only=()).failures, 0)

    def test_characters_that_xml_forbids(self):
        self.assertEqual(_clean("a\x00b\ufffe\ud800c\n😀"), "a\ufffdb\ufffd\ufffdc\n😀")


class Scripts(unittest.TestCase):
    """The scripts of the page on builds, as they stand there."""

    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        text = (ROOT / "docs" / "builds.md").read_text("utf-8")
        self.job, self.hook = re.findall(r"```sh\n(.*?)```", text, re.DOTALL)
        tools = self.folder / "tools"
        tools.mkdir()
        self.script(tools / "mossy-bridge", f'#!/bin/sh\nexec "{sys.executable}" -m mossy_bridge "$@"\n')
        self.environment = {"PATH": f"{tools}:{os.environ['PATH']}", "PYTHONPATH": str(ROOT), "HOME": str(self.folder),
                            **{f"GIT_{who}_{what}": "ada@localhost" for who in ("AUTHOR", "COMMITTER") for what in ("NAME", "EMAIL")}}  # fmt: skip
        self.work = self.folder / "work"
        self.work.mkdir()

    def script(self, path, text):
        path.write_text(text, "utf-8")
        path.chmod(path.stat().st_mode | stat.S_IXUSR)

    def run_it(self, *command):
        return subprocess.run(command, cwd=self.work, env=self.environment, capture_output=True, text=True, check=False)

    def test_the_build_job(self):
        demo = files("mossy_bridge.demo").joinpath("tidewick_unfinished.mossy").read_bytes()
        self.assertTrue(flow_from_bytes(demo).levels)
        for name, flow_, status in (("sound", flow(play_level("a", way("on", "won"))), 0), ("faulty", faulty(), 1)):
            (self.work / f"{name}.mossy").write_text(flow_text(flow_), "utf-8")
            self.script(self.folder / "job", self.job)
            done = self.run_it(str(self.folder / "job"))
            self.assertEqual(done.returncode, status, done.stderr)
        SCHEMA.validate(json.loads((self.work / "build" / "flows.sarif").read_text("utf-8")))
        document = JUnitXml.fromstring((self.work / "build" / "flows.xml").read_bytes())
        self.assertGreater(document.failures, 0)

    def test_the_commit_hook(self):
        self.run_it("git", "init", "-q", "-b", "main", ".")
        self.script(self.work / ".git" / "hooks" / "pre-commit", self.hook)
        for name, flow_, status in (("sound", flow(play_level("a", way("on", "won"))), 0), ("faulty", faulty(), 1)):
            (self.work / f"{name}.mossy").write_text(flow_text(flow_), "utf-8")
            self.run_it("git", "add", ".")
            done = self.run_it("git", "commit", "-q", "-m", "a flow")
            self.assertEqual(done.returncode, status, done.stderr)
        self.assertIn("faulty.mossy:", done.stdout + done.stderr)
        (self.work / "faulty.mossy").write_text(flow_text(flow(play_level("a", way("on", "won")))), "utf-8")
        self.assertEqual(self.run_it("git", "commit", "-q", "-m", "a flow").returncode, 1, "what is staged counts")
        self.run_it("git", "add", ".")
        self.assertEqual(self.run_it("git", "commit", "-q", "-m", "a flow").returncode, 0)


if __name__ == "__main__":
    unittest.main()

"""Constants in every language: compiled or run where the tools are here, and read by their spelling everywhere."""

import json
import re
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path

import mossy_bridge
from mossy_bridge.exchange.game.constants import LANGUAGES, constants_text
from mossy_bridge.exchange.game.table import game_table
from mossy_bridge.exchange.reading import flow_from_bytes
from tests.support.build import deed, fact, flow, play_level, way

DEMO = Path(mossy_bridge.__file__).parent / "demo" / "tidewick.mossy"
ODD = ("none", "true", "loop", "match", "exit", "level", "spawn", "string", "a_1", "a1", "to_string", "self", "super")
"""Ids that are words of some language, or names of the program's own, or alike once spelled."""


def odd_flow():
    """A flow in which everything has such a name."""
    levels = [
        play_level(name, *(way(other, "none") for other in ODD), deeds=[deed(other) for other in ODD]) for name in ODD
    ]
    names = [name for name in ODD if name not in ("none", "true", "to_string")]
    return flow(*levels, facts=[*(fact(name) for name in names), fact("tide=ebb,true,a_1,a1")])


class Constants(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.tables = {"demo": game_table(flow_from_bytes(DEMO.read_bytes())), "odd": game_table(odd_flow())}

    def write(self, table, language, name):
        (self.folder / name).write_text(constants_text(table, language, Path(name).stem), "utf-8")
        return name

    def run_tool(self, *command):
        done = subprocess.run(command, cwd=self.folder, capture_output=True, text=True, timeout=120, check=False)
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        return done.stdout.strip()

    def each(self, tool):
        """The tables, where a tool is here; one of the tools at least is on every machine that runs tests: Python."""
        return self.tables.items() if shutil.which(tool) else ()

    def test_python(self):
        for label, table in self.tables.items():
            with self.subTest(label):
                scope = {}
                exec(constants_text(table, "python", "flow"), scope)
                for place, level in enumerate(table["levels"]):
                    self.assertIn(place, vars(scope["Level"]).values())
                    self.assertTrue(any(place == value for name, value in vars(scope["Level"]).items()
                                        if name.rstrip("_").lower() == level["id"]), level["id"])  # fmt: skip

    def test_c(self):
        for label, table in self.each("cc"):
            with self.subTest(label):
                self.write(table, "c", "flow.h")
                last = len(table["levels"]) - 1
                names = re.findall(r"\bLEVEL_\w+ = (\d+)", (self.folder / "flow.h").read_text())
                self.assertEqual(names, [str(at) for at in range(last + 1)])
                (self.folder / "m.c").write_text(
                    '#include "flow.h"\n#include <stdio.h>\nint main(void) { return 0; }\n'
                )
                self.run_tool("cc", "-Wall", "-Werror", "-o", "m", "m.c")

    def test_javascript(self):
        for label, table in self.each("node"):
            with self.subTest(label):
                self.write(table, "javascript", "flow.mjs")
                (self.folder / "m.mjs").write_text(
                    "import * as f from './flow.mjs'; console.log(JSON.stringify(f.Level));"
                )
                told = json.loads(self.run_tool("node", "m.mjs"))
                self.assertEqual(sorted(told.values()), list(range(len(table["levels"]))))

    def test_rust(self):
        for label, table in self.each("rustc"):
            with self.subTest(label):
                self.write(table, "rust", "flow.rs")
                self.run_tool("rustc", "--crate-type", "lib", "--edition", "2021", "-o", "flow.rlib", "flow.rs")

    def test_java(self):
        for label, table in self.each("javac"):
            with self.subTest(label):
                self.run_tool("javac", self.write(table, "java", "Flow.java"))

    def test_every_language_names_every_level_once(self):
        for language in LANGUAGES:
            for label, table in self.tables.items():
                with self.subTest(f"{language}, {label}"):
                    text = constants_text(table, language, "tidewick")
                    self.assertTrue(text.endswith("\n"))
                    lines = [line.strip() for line in text.splitlines()]
                    for place, level in enumerate(table["levels"]):
                        plain = level["id"].replace("_", "")
                        found = [line for line in lines if re.search(rf"(^|\W|level_?){plain}_*\W.*\b{place}\b",
                                                                     line.lower().replace("_", ""))]  # fmt: skip
                        self.assertTrue(found, level["id"])

    def test_clashes_get_a_sign_behind_them(self):
        text = constants_text(self.tables["odd"], "go", "flow")
        self.assertIn("LevelA1 =", text)
        self.assertIn("LevelA1_ =", text)
        self.assertIn("pub mod loop_ {", constants_text(self.tables["odd"], "rust", "flow"))


if __name__ == "__main__":
    unittest.main()

"""The examples for programmers run as they stand, on what the program exports of the demo."""

import contextlib
import io
import os
import re
import shutil
import socket
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import mossy_bridge
from mossy_bridge.exchange.game.constants import constants_text
from mossy_bridge.exchange.game.table import game_table, table_bytes
from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.play_logs.reading import sessions_of

ROOT = Path(mossy_bridge.__file__).parent
DEMO = ROOT / "demo" / "tidewick.mossy"
DOORS = """#include "flow.h"
struct door { int level, spawn; };
struct door doors[64][32] = {[LEVEL_SLIPWAY] = {[EXIT_SLIPWAY_EAST_GATE] = {LEVEL_BELL_SANDS, 0}}};
"""


class Examples(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        table = game_table(flow_from_bytes(DEMO.read_bytes()))
        (self.folder / "flow.json").write_bytes(table_bytes(table))
        for language, name in (("javascript", "flow.mjs"), ("c", "flow.h")):
            (self.folder / name).write_text(constants_text(table, language, "flow"), "utf-8")
        text = (ROOT.parent / "docs" / "handbook" / "for-programmers.md").read_text("utf-8")
        self.code, self.sending = {}, {}
        for language, code in re.findall(r"```(python|javascript|c)\n(.*?)```", text, re.DOTALL):
            (self.sending if "47821" in code else self.code)[language] = code

    def run_tool(self, *command):
        done = subprocess.run(command, cwd=self.folder, capture_output=True, text=True, timeout=60, check=False)
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        return done.stdout.strip()

    def test_python(self):
        before = Path.cwd()
        self.addCleanup(os.chdir, before)
        os.chdir(self.folder)
        scope, said = {}, io.StringIO()
        with contextlib.redirect_stdout(said):
            exec(self.code["python"], scope)
            scope["go_through"](scope["levels"][scope["here"]]["exits"][0]["id"])
        self.assertEqual(said.getvalue().strip(), "now in The Slipway")

    def test_javascript(self):
        self.assertIn("javascript", self.code)
        if shutil.which("node"):
            (self.folder / "example.mjs").write_text(self.code["javascript"])
            self.assertEqual(self.run_tool("node", "example.mjs"), "now in Bell Sands with 0 oil")

    def test_c(self):
        self.assertIn("c", self.code)
        if shutil.which("cc"):
            (self.folder / "example.c").write_text(self.code["c"])
            (self.folder / "doors.c").write_text(DOORS)
            self.run_tool("cc", "-Wall", "-Werror", "-o", "example", "example.c", "doors.c")
            self.run_tool("./example")

    def sent(self, language, more, *command):
        """What a listener is told by the code that sends events."""
        with socket.create_server(("127.0.0.1", 0)) as server:
            code = self.sending[language].replace("47821", str(server.getsockname()[1])) + more
            (self.folder / "sending").with_suffix(command[-1]).write_text(code)
            server.settimeout(60)
            program = subprocess.Popen([*command[:-1], f"sending{command[-1]}"], cwd=self.folder)
            self.addCleanup(program.kill)
            game, _ = server.accept()
            with game, game.makefile("rb") as lines:
                found = next(sessions_of("wire", lines))
            self.assertEqual(program.wait(60), 0)
            return found

    def test_sending_what_is_played(self):
        python = 'log("begin", player="Ada")\nlog("arrive", level="title")\n'
        ways = [("python", python, sys.executable, ".py")]
        if shutil.which("node"):
            script = 'log("begin", { player: "Ada" }); log("arrive", { level: "title" }); wire.end();'
            ways.append(("javascript", script, "node", ".mjs"))
        for language, *way in ways:
            session = self.sent(language, *way)
            found = [(event.kind, event.values["level"]) for event in session.events]
            self.assertEqual((session.player, found, session.unread_lines), ("Ada", [("arrive", "title")], 0))


if __name__ == "__main__":
    unittest.main()

"""Somebody who only hears the window: a level added and joined, a finding heard and repaired, by the accessible tree
and the keyboard alone."""

import subprocess
import sys
import unittest
from importlib.resources import files
from pathlib import Path

from mossy_bridge.exchange.reading import flow_from_bytes
from tests.support.virtual_display import DisplayCase

SESSION = Path(__file__).resolve().parents[1] / "support" / "accessible_session.py"
SYSTEM_PYTHON = "/usr/bin/python3"
"""The one that Debian's bindings to AT-SPI are made for."""


class Accessible(DisplayCase):
    tools = (*DisplayCase.tools, "dbus-run-session")

    def test_a_level_is_added_and_joined_and_a_finding_is_repaired(self):
        path = self.folder / "flow.mossy"
        path.write_bytes(files("mossy_bridge.exchange.starters").joinpath("branches.mossy").read_bytes())
        runtime = self.folder / "runtime"
        runtime.mkdir(mode=0o700)
        done = subprocess.run(
            ["dbus-run-session", "--", SYSTEM_PYTHON, SESSION, sys.executable, path],
            env={**self.env, "XDG_RUNTIME_DIR": str(runtime), "GTK_MODULES": ""},
            capture_output=True, text=True, check=False, timeout=300,
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        self.assertNotIn("Traceback", done.stderr)
        heard = [line.partition("“")[2] for line in done.stdout.splitlines() if line.startswith("heard: ")]
        self.assertTrue(any(line.startswith("Verdict: All 9 levels reached") for line in heard), done.stdout)
        flow = flow_from_bytes(path.read_bytes())
        made = next(level for level in flow.levels if level.name == "New level")
        leads = {(level.id, exit_.to.level) for level in flow.levels for exit_ in level.exits if exit_.to}
        self.assertLessEqual({(made.id, "level_4"), ("level_4", made.id), ("level_3", "level_2")}, leads)
        self.assertIsNone(flow.level("level_3").exit("west_door"), "what leads back now was made by the repair")


if __name__ == "__main__":
    unittest.main()

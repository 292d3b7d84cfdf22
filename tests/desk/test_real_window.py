"""One real window, on a virtual display: it starts, paints, takes keys from outside, saves and closes; and a second
start joins it."""

import subprocess
import sys
import time
import unittest
from importlib.resources import files

from tests.support.virtual_display import DisplayCase


class RealWindow(DisplayCase):
    def tool(self, *arguments):
        result = subprocess.run(["xdotool", *arguments], env=self.env, capture_output=True, text=True, check=False)
        return result.stdout.strip()

    def wait_for(self, condition, message):
        end = time.monotonic() + 90
        while not (found := condition()):
            self.assertLess(time.monotonic(), end, f"waited in vain for {message}")
            time.sleep(0.05)
        return found

    def test_open_add_a_level_save_and_quit(self):
        path = self.folder / "flow.mossy"
        path.write_bytes(files("mossy_bridge.demo").joinpath("tidewick.mossy").read_bytes())
        program = subprocess.Popen(
            [sys.executable, "-m", "mossy_bridge", "open", str(path)], env=self.env, stderr=subprocess.PIPE, text=True
        )
        self.addCleanup(program.stderr.close)
        window = self.wait_for(
            lambda: self.tool("search", "--name", "^Tidewick — Mossy Bridge$"), "the window"
        ).split()[0]
        self.tool("windowfocus", "--sync", window)
        self.tool("key", "ctrl+shift+n")
        self.wait_for(lambda: self.tool("search", "--name", "^• Tidewick — Mossy Bridge$"), "an edited title")
        self.tool("key", "ctrl+s")
        self.wait_for(lambda: "New level" in path.read_text("utf-8"), "the saved file")
        self.tool("key", "ctrl+q")
        self.assertEqual(program.wait(30), 0)
        self.assertNotIn("Traceback", program.stderr.read())
        self.assertTrue((self.folder / "flow.mossy~").exists())

    def test_a_second_start_opens_its_flow_in_the_program_that_runs(self):
        runtime = self.folder / "runtime"
        runtime.mkdir(mode=0o700)
        self.env["XDG_RUNTIME_DIR"] = str(runtime)
        demo = files("mossy_bridge.demo")
        for name in ("tidewick", "tidewick_unfinished"):
            (self.folder / f"{name}.mossy").write_bytes(demo.joinpath(f"{name}.mossy").read_bytes())
        call = [sys.executable, "-m", "mossy_bridge", "open"]
        first = subprocess.Popen([*call, str(self.folder / "tidewick.mossy")], env=self.env)
        self.wait_for(lambda: self.tool("search", "--name", "^Tidewick — Mossy Bridge$"), "the window")
        second = subprocess.run([*call, str(self.folder / "tidewick_unfinished.mossy")], env=self.env, timeout=60)
        self.assertEqual(second.returncode, 0)
        window = self.wait_for(
            lambda: self.tool("search", "--name", "^Tidewick, unfinished — Mossy Bridge$"), "the second window"
        ).split()[0]
        self.assertIsNone(first.poll())
        self.tool("windowfocus", "--sync", window)
        self.tool("key", "ctrl+q")
        self.assertEqual(first.wait(30), 0)


if __name__ == "__main__":
    unittest.main()

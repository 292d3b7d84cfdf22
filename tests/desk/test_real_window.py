"""One real window, on a virtual display: it starts, paints, takes keys from outside, saves and closes."""

import os
import shutil
import subprocess
import sys
import tempfile
import time
import unittest
from importlib.resources import files
from pathlib import Path


class RealWindow(unittest.TestCase):
    def setUp(self):
        for tool in ("Xvfb", "xdotool"):
            self.assertIsNotNone(shutil.which(tool), f"{tool} is missing; ./mossy test installs it")
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        read, write = os.pipe()
        self.server = subprocess.Popen(
            ["Xvfb", "-displayfd", str(write), "-screen", "0", "1280x800x24", "-nolisten", "tcp"],
            pass_fds=[write], stderr=subprocess.DEVNULL,
        )  # fmt: skip
        os.close(write)
        self.addCleanup(self._stop, self.server)
        with os.fdopen(read) as pipe:
            number = pipe.readline().strip()
        self.env = {**os.environ, "DISPLAY": f":{number}", "QT_QPA_PLATFORM": "xcb", "HOME": str(self.folder)}

    def _stop(self, process):
        process.terminate()
        process.wait(20)

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


if __name__ == "__main__":
    unittest.main()

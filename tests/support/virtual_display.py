"""A display that nobody sees, for tests that need a real window."""

import os
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path


class DisplayCase(unittest.TestCase):
    """A test with a display of its own: ``env`` leads to it, ``folder`` is its home."""

    tools: tuple[str, ...] = ("Xvfb", "xdotool")

    def setUp(self):
        for tool in self.tools:
            self.assertIsNotNone(shutil.which(tool), f"{tool} is missing; ./mossy test installs it")
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        read, write = os.pipe()
        server = subprocess.Popen(
            # without a reset whenever its last client has gone: a program that comes just then is turned away
            ["Xvfb", "-displayfd", str(write), "-screen", "0", "1280x800x24", "-nolisten", "tcp", "-noreset"],
            pass_fds=[write], stderr=subprocess.DEVNULL,
        )  # fmt: skip
        os.close(write)
        self.addCleanup(self._stop, server)
        with os.fdopen(read) as pipe:
            number = pipe.readline().strip()
        self.env = {**os.environ, "DISPLAY": f":{number}", "QT_QPA_PLATFORM": "xcb", "HOME": str(self.folder)}

    def _stop(self, process):
        process.terminate()
        process.wait(20)

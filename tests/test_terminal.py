"""The program on terminals of all kinds: what they cannot show, what is closed or full, and Ctrl+C."""

import contextlib
import json
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from importlib.resources import files
from pathlib import Path

import mossy_bridge

ROOT = Path(mossy_bridge.__file__).parent.parent
DEMO = str(files("mossy_bridge.demo").joinpath("tidewick.mossy"))


class Terminal(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def run_it(self, *arguments, env=None, **more):
        result = subprocess.run(
            [sys.executable, "-m", "mossy_bridge", *map(os.fspath, arguments)],
            cwd=ROOT, env={**os.environ, **(env or {})}, capture_output="stdout" not in more, check=False, timeout=60, **more,
        )  # fmt: skip
        self.assertNotIn(b"Traceback", (result.stdout or b"") + (result.stderr or b""))
        return result

    def written(self, text, name="a.mossy"):
        path = self.folder / name
        path.write_text(text, "utf-8")
        return path

    def test_letters_that_a_terminal_cannot_show_are_written_as_escapes(self):
        path = self.written('{"mossy_bridge": 1, "title": "Mörsch ☂", "levels": [{"id": "a", "name": "☂ 😀"}]}')
        latin = {"PYTHONIOENCODING": "latin-1", "PYTHONUTF8": "0"}
        text = self.run_it("survey", path, env=latin)
        self.assertEqual(text.returncode, 1)
        self.assertIn(b"\\u2602", text.stdout)
        self.assertEqual(
            json.loads(self.run_it("survey", path, "--format", "json", env=latin).stdout)["flow"], "Mörsch ☂"
        )
        self.assertIn("☂", self.run_it("survey", path, env={"PYTHONIOENCODING": "utf-8"}).stdout.decode())

    def test_no_name_reaches_the_terminal_as_a_command_to_it(self):
        escape = "\\u001b[31m\\u0007"
        refused = self.run_it("survey", self.written(f'{{"mossy_bridge": 1, "{escape}": "{escape}"}}'))
        self.assertEqual(refused.returncode, 2)
        self.assertNotIn(b"\x1b", refused.stderr)
        self.assertIn(b"\\x1b[31m\\x07: unknown field", refused.stderr)
        gone = self.run_it("survey", self.folder / "a\x1b]0;x\x07.mossy")
        self.assertIn(b"\\x1b]0;x\\x07.mossy: there is no such file", gone.stderr)
        self.assertIn(b"nothing in this flow", self.run_it("route", DEMO, "\x1b[2J").stderr)

    def test_a_file_whose_name_is_no_text(self):
        name = os.fsencode(self.folder) + b"/\xff.mossy"
        Path(os.fsdecode(name)).write_text('{"mossy_bridge": 1}')
        self.assertIn(b"There is no level yet", self.run_it("survey", os.fsdecode(name)).stdout)
        self.assertIn(b"rewritten", self.run_it("tidy", os.fsdecode(name)).stdout)
        maps = self.folder / "maps"
        maps.mkdir()
        for file in ("²_1.map", "1_²_2.map", "2_b.map", "9" * 100 + ".map", os.fsdecode(b"\xff_3.map")):
            (maps / file).write_text("")
        made = self.run_it("new", maps, "--pattern", "*.map", "--title", "T")
        self.assertEqual((made.returncode, made.stderr), (0, b""))
        self.assertIn(b"4 levels", made.stdout)

    def test_output_that_cannot_be_written(self):
        with open("/dev/full", "w") as full:
            for call in (["survey", DEMO], ["schema"], ["--help"], ["survey", DEMO, "--format", "json"]):
                result = self.run_it(*call, stdout=full, stderr=subprocess.PIPE)
                self.assertEqual(result.returncode, 2, call)
                self.assertIn(b"No space left on device", result.stderr)
        reads_little = subprocess.Popen([sys.executable, "-m", "mossy_bridge", "schema"], cwd=ROOT, stdout=subprocess.PIPE,
                                        stderr=subprocess.PIPE)  # fmt: skip
        reads_little.stdout.read(1)
        reads_little.stdout.close()
        self.assertEqual((reads_little.stderr.read(), reads_little.wait(30)), (b"", 0))
        reads_little.stderr.close()

    def test_streams_that_are_closed(self):
        for redirected in ("<&-", ">&-", "2>&-", "<&- >&- 2>&-"):
            for call in (f"walk {DEMO}", f"survey {DEMO}", "schema", "survey /nowhere"):
                line = f'"{sys.executable}" -m mossy_bridge {call} {redirected}'
                result = subprocess.run(["sh", "-c", line], cwd=ROOT, capture_output=True, check=False, timeout=60)
                self.assertNotIn(b"Traceback", result.stdout + result.stderr, line)
                self.assertNotIn(b"Exception", result.stdout + result.stderr, line)
                self.assertIn(result.returncode, (0, 2), line)

    def test_ctrl_c_at_any_moment(self):
        for after in (0.03, 0.06, 0.1, 0.15, 0.2, 0.3):
            program = subprocess.Popen(
                [sys.executable, "-m", "mossy_bridge", "walk", DEMO], cwd=ROOT, stdin=subprocess.PIPE,
                stdout=subprocess.PIPE, stderr=subprocess.PIPE,
            )  # fmt: skip
            time.sleep(after)
            program.send_signal(signal.SIGINT)
            with contextlib.suppress(subprocess.TimeoutExpired):
                program.wait(10)
            program.send_signal(signal.SIGINT)  # Python itself may lose one while it starts; an ended program gets none
            _, errors = program.communicate(timeout=30)
            if program.returncode != -signal.SIGINT and b"<frozen" not in errors:  # before any line of ours is run
                self.assertEqual((program.returncode, errors), (130, b"interrupted\n"), after)

    def test_a_fault_of_the_program_is_told_in_a_sentence(self):
        script = "import mossy_bridge.command, mossy_bridge.__main__ as m, sys; sys.argv = ['m', 'schema'];"
        script += "mossy_bridge.command.files.say_json = lambda _: 1 / 0; m.main()"
        result = subprocess.run([sys.executable, "-c", script], cwd=ROOT, capture_output=True, check=False)
        self.assertEqual(result.returncode, 2)
        self.assertIn(b"Something went wrong inside the program (ZeroDivisionError: division by zero).", result.stderr)
        self.assertNotIn(b"Traceback", result.stderr)


class Starter(unittest.TestCase):
    def test_files_are_named_from_where_one_stands(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        shutil.copy(DEMO, Path(folder.name) / "mine.mossy")
        shutil.copytree(DEMO.removesuffix(".mossy"), Path(folder.name) / "tidewick")
        (Path(folder.name) / "click.py").write_text("raise SystemExit('loaded from where one stands')")
        result = subprocess.run(
            [ROOT / "mossy", "survey", "mine.mossy"], cwd=folder.name, capture_output=True, check=False
        )
        self.assertEqual(result.returncode, 0, result.stderr)
        self.assertIn(b"All 25 levels", result.stdout)


if __name__ == "__main__":
    unittest.main()

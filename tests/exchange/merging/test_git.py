"""With real git: two branches that both changed the flow, clean and in conflict; differences in words; taken back."""

import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from mossy_bridge.exchange.merging.git import CannotSetUp, Repository
from mossy_bridge.exchange.reading import CannotRead, read_flow
from mossy_bridge.exchange.saving import save_flow
from mossy_bridge.model.edits.levels import set_level
from tests.support.build import flow, play_level, way

ROOT = Path(__file__).parents[3]


class Git(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.file = self.folder / "flow.mossy"
        kept = {name: os.environ[name] for name in ("PATH", "HOME") if name in os.environ}
        self.environment = {**kept, "PYTHONPATH": str(ROOT), "GIT_CONFIG_NOSYSTEM": "1", "GIT_PAGER": "cat"}
        for name in ("AUTHOR", "COMMITTER"):
            self.environment |= {f"GIT_{name}_NAME": "Ada", f"GIT_{name}_EMAIL": "ada@localhost"}
        self.git("init", "-q", "-b", "main", ".")
        self.said = list(Repository(self.folder).set_up())
        self.flow = flow(play_level("a", way("on", "b"), name="Fen"), play_level("b", name="Weir"))
        self.commit(self.flow)
        self.git("branch", "other")

    def git(self, *arguments, status=0):
        done = subprocess.run(
            ["git", *arguments], cwd=self.folder, env=self.environment, capture_output=True, text=True, check=False
        )
        self.assertEqual(done.returncode, status, done.stdout + done.stderr)
        return done.stdout

    def commit(self, flow_):
        save_flow(flow_, self.file)
        self.git("add", "flow.mossy")
        self.git("commit", "-q", "-m", "a change")

    def branches(self, ours, theirs):
        self.commit(set_level(self.flow, *ours[:1], **ours[1]))
        self.git("checkout", "-q", "other")
        self.commit(set_level(self.flow, *theirs[:1], **theirs[1]))
        self.git("checkout", "-q", "main")

    def test_clean(self):
        self.branches(("a", {"minutes": 3}), ("a", {"name": "Marsh"}))
        self.git("merge", "-q", "other", "-m", "merged")
        merged = read_flow(self.file).level("a")
        self.assertEqual((merged.name, merged.minutes), ("Marsh", 3))

    def test_in_conflict(self):
        self.branches(("a", {"name": "Bog"}), ("a", {"name": "Marsh"}))
        told = self.git("merge", "other", status=1)
        self.assertIn('levels.a.name\t"Fen"\t"Bog"\t"Marsh"', told)
        text = self.file.read_text("utf-8")
        self.assertIn("<<<<<<< ours", text)
        with self.assertRaises(CannotRead):
            read_flow(self.file)
        self.git("checkout", "-q", "--theirs", "flow.mossy")
        self.assertEqual(read_flow(self.file).level("a").name, "Marsh")

    def test_differences_in_words(self):
        save_flow(set_level(self.flow, "a", name="Bog", minutes=2), self.file)
        self.assertEqual(
            self.git("diff").splitlines(),
            ["flow flow.mossy", "~ level Fen renamed to Bog", "~ Bog: minutes 2 instead of 0"],
        )
        self.file.write_text("{", "utf-8")
        self.assertIn("! cannot be read", self.git("diff"))
        self.git("rm", "-q", "-f", "flow.mossy")
        self.assertIn("- level Fen removed", self.git("diff", "--cached"))

    def test_taken_back(self):
        self.assertIn("--undo takes it back", self.said[-1])
        attributes = self.folder / ".git" / "info" / "attributes"
        attributes.write_text("*.png binary\n" + attributes.read_text("utf-8"), "utf-8")
        list(Repository(self.folder).set_up())
        self.assertEqual(attributes.read_text("utf-8").count("merge=mossy"), 1, "twice is once")
        list(Repository(self.folder).take_back())
        self.assertEqual(attributes.read_text("utf-8"), "*.png binary\n")
        self.assertNotIn("mossy", self.git("config", "--local", "--list"))
        self.assertIn("was not set", next(Repository(self.folder).take_back()))

    def test_without_a_repository(self):
        outside = Path(self.enterContext(tempfile.TemporaryDirectory()))
        with self.assertRaisesRegex(CannotSetUp, "not a git repository"):
            Repository(outside)

    def test_what_git_runs_is_this_program(self):
        driver = self.git("config", "merge.mossy.driver")
        self.assertTrue(driver.startswith(sys.executable), driver)


if __name__ == "__main__":
    unittest.main()

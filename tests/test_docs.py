"""What the documents name exists: files, folders, pages and pictures."""

import re
import unittest
from pathlib import Path

ROOT = Path(__file__).parents[1]
DOCUMENTS = (ROOT / "README.md", *sorted((ROOT / "docs").rglob("*.md")))
NAMED = re.compile(r"`([\w./-]+(?:\.(?:py|lark|md|json|mossy)|/))`")
LINKED = re.compile(r"\]\(([^)#:]+)[^)]*\)")
FEWEST_ROWS = 30


def named(text):
    """The files and folders that a document names between backticks."""
    return NAMED.findall(text)


def exists(name):
    """Whether there is such a file or folder; the program's own are named from its package."""
    return any((base / name).exists() for base in (ROOT, ROOT / "mossy_bridge"))


class Documents(unittest.TestCase):
    def test_the_files_they_name_exist(self):
        total = 0
        for document in DOCUMENTS:
            names = [
                name for name in named(document.read_text("utf-8")) if not name.startswith(("build/", "dist/", "~"))
            ]
            total += len(names)
            for name in names:
                with self.subTest(f"{document.name}: {name}"):
                    self.assertTrue(exists(name))
        self.assertGreater(total, 150)

    def test_the_pages_and_pictures_they_link_exist(self):
        for document in DOCUMENTS:
            for link in LINKED.findall(document.read_text("utf-8")):
                with self.subTest(f"{document.name}: {link}"):
                    self.assertTrue((document.parent / link).exists())

    def test_a_file_that_is_gone_would_be_seen(self):
        self.assertEqual(named("see `play/rules.py` and `reach/machine.py`"), ["play/rules.py", "reach/machine.py"])
        self.assertTrue(exists("play/rules.py"))
        self.assertFalse(exists("reach/machine.py"))

    def test_the_table_of_where_to_find_things_is_long_and_names_each_file_once(self):
        text = (ROOT / "docs" / "architecture.md").read_text("utf-8").partition("## Where do I find")[2]
        files = re.findall(r"^\| .* \| `([^`]+)` \|$", text, re.MULTILINE)
        self.assertGreaterEqual(len(files), FEWEST_ROWS)
        self.assertEqual(len(set(files)), len(files))


if __name__ == "__main__":
    unittest.main()

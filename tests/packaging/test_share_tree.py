"""What a desktop reads of the program, and what a release is made of."""

import configparser
import re
import shutil
import subprocess
import sys
import tempfile
import unittest
from importlib.metadata import version as installed_version
from importlib.util import module_from_spec, spec_from_file_location
from pathlib import Path
from unittest import mock
from xml.etree import ElementTree

from PyQt6.QtGui import QImage

import mossy_bridge
from mossy_bridge.command import cli
from tests.support.qt import make_application

PACKAGING = Path(__file__).resolve().parents[2] / "packaging"
MIME = "{http://www.freedesktop.org/standards/shared-mime-info}"


def script(name):
    """A script of the packaging folder, as a module."""
    spec = spec_from_file_location(name, PACKAGING / f"{name}.py")
    module = module_from_spec(spec)
    with mock.patch.object(sys, "path", [str(PACKAGING), *sys.path]):
        spec.loader.exec_module(module)
    return module


share_tree, deb, release = script("share_tree"), script("deb"), script("release")


class ShareTree(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        make_application()  # which stays for other tests
        cls.out = Path(tempfile.mkdtemp())
        cls.addClassCleanup(shutil.rmtree, cls.out)
        share_tree.make_share_tree(cls.out)

    def test_validators_find_nothing(self):
        told = []
        self.assertTrue(share_tree.validate(self.out, told.append), told)

    def test_a_validator_that_complains_is_heard(self):
        with tempfile.TemporaryDirectory() as folder:
            spoiled = Path(folder) / "share"
            shutil.copytree(self.out, spoiled)
            page = spoiled / "man" / "man1" / "mossy-bridge-tidy.1"
            page.write_text(page.read_text("utf-8") + ".XX\n", "utf-8")
            entry = spoiled / "applications" / "mossy-bridge.desktop"
            entry.write_text(entry.read_text("utf-8").replace("Type=Application\n", ""), "utf-8")
            told = []
            self.assertFalse(share_tree.validate(spoiled, told.append))
        self.assertEqual([line.partition(":")[0] for line in told[:-1]], ["desktop-file-validate", "mandoc"])

    def test_every_call_has_a_page_that_begins_with_what_it_does(self):
        pages = {page.name: page.read_text("utf-8") for page in (self.out / "man" / "man1").iterdir()}
        calls = {name for name, command in cli.commands.items() if not command.hidden}
        self.assertEqual(set(pages), {"mossy-bridge.1", *(f"mossy-bridge-{name}.1" for name in calls)})
        for name, page in pages.items():
            self.assertNotIn("...\n.SH SYNOPSIS", page, name)
            self.assertIn(installed_version("mossy-bridge"), page)

    def test_completion_offers_the_calls(self):
        program = Path(sys.executable).with_name("mossy-bridge")
        self.assertIn("mossy-bridge", (self.out / share_tree.COMPLETION["zsh"]).read_text("utf-8"))
        self.assertIn("complete", (self.out / share_tree.COMPLETION["fish"]).read_text("utf-8"))
        asks = f"source {self.out / share_tree.COMPLETION['bash']}; COMP_WORDS=(mossy-bridge su); COMP_CWORD=1; " \
               "_mossy_bridge_completion mossy-bridge su mossy-bridge; echo ${COMPREPLY[@]}"  # fmt: skip
        done = subprocess.run(
            ["bash", "-c", asks], env={"PATH": f"{program.parent}:/usr/bin:/bin"}, capture_output=True, text=True
        )
        self.assertEqual(done.stdout.split(), ["survey"], done.stderr)

    def test_icons_in_all_sizes_show_something(self):
        for size in share_tree.SIZES:
            for place in ("apps/mossy-bridge", f"mimetypes/{share_tree.FLOW_ICON}"):
                image = QImage(str(self.out / "icons" / "hicolor" / f"{size}x{size}" / f"{place}.png"))
                self.assertEqual((image.width(), image.height()), (size, size))
                colours = {image.pixel(x, y) for x in range(size) for y in range(size)}
                self.assertGreater(len(colours), 8, (size, place))

    def test_the_kind_of_file_fits_what_the_program_writes(self):
        kind = ElementTree.parse(self.out / "mime" / "packages" / "mossy-bridge.xml").getroot().find(f"{MIME}mime-type")
        match = kind.find(f"{MIME}magic/{MIME}match")
        low, high = map(int, match.get("offset").split(":"))
        demo = Path(mossy_bridge.__file__).parent / "demo" / "tidewick.mossy"
        self.assertTrue(low <= demo.read_text("utf-8").index(match.get("value")) <= high)
        self.assertEqual(kind.find(f"{MIME}glob").get("pattern"), "*.mossy")
        entry = configparser.RawConfigParser()
        entry.optionxform = str
        entry.read(self.out / "applications" / "mossy-bridge.desktop")
        self.assertIn(kind.get("type"), entry["Desktop Entry"]["MimeType"])
        self.assertEqual(entry["Desktop Entry"]["Icon"], "mossy-bridge")

    def test_pictures_of_the_metainfo_are_there(self):
        [path] = (self.out / "metainfo").iterdir()
        shown = [image.text.rpartition("/")[2] for image in ElementTree.parse(path).iter("image")]
        self.assertGreaterEqual(len(shown), 3)
        for name in shown:
            self.assertTrue((PACKAGING.parent / "docs" / "screenshots" / name).exists(), name)


class Releases(unittest.TestCase):
    def test_one_version_in_one_place(self):
        self.assertEqual(share_tree.version(), installed_version("mossy-bridge"))
        self.assertEqual(share_tree.releases()[0].version, share_tree.version())
        for one in share_tree.releases():
            self.assertRegex(one.date, r"^20\d\d-\d\d-\d\d$")
            self.assertTrue(one.lines)

    def test_a_list_of_changes_that_lags_behind_is_told(self):
        with mock.patch.object(release, "version", return_value="9.9"):
            self.assertRegex(
                "\n".join(release.problems()), r"CHANGELOG.md begins with \S+, and mossy_bridge/__init__.py says 9.9"
            )

    def test_the_package_asks_for_the_python_its_libraries_are_made_for(self):
        with tempfile.TemporaryDirectory() as folder:
            control = deb._control(Path(folder))
        major, minor = sys.version_info[:2]
        self.assertIn(f"python3 (>= {major}.{minor}), python3 (<< {major}.{minor + 1})", control)
        self.assertIsNone(re.search(r"^Description: .{81,}", control, re.MULTILINE))

    def test_the_launcher_takes_the_libraries_brought_along_and_none_besides(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "start"
            home = Path(mossy_bridge.__file__).parents[1]
            path.write_text(deb.LAUNCHER.replace("/usr/lib/mossy-bridge", str(home)), "utf-8")
            done = subprocess.run([sys.executable, "-I", str(path), "--version"], capture_output=True, text=True)
        self.assertIn(installed_version("mossy-bridge"), done.stdout + done.stderr)


if __name__ == "__main__":
    unittest.main()

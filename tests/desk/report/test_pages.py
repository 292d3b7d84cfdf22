"""Reports on pages: what stands on each, and that contents say where."""

import re
import threading
import unittest
from unittest import mock

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, Qt
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtTest import QTest

from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.demo.showing import demo_flow
from mossy_bridge.desk.report.writing import report_bytes, report_kind, report_parts
from mossy_bridge.desk.session import report_commands
from mossy_bridge.desk.session.report_commands import telling
from mossy_bridge.exchange.saving import save_flow
from tests.support.build import flow, play_level, way
from tests.support.qt import DeskCase


def pages_of(data):
    """The text of each page of a PDF."""
    buffer, document = QBuffer(), QPdfDocument(None)
    buffer.setData(QByteArray(data))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    document.load(buffer)
    texts = [document.getAllText(page).text().replace("\r\n", "\n") for page in range(document.pageCount())]
    document.close()
    return texts


class Pages(DeskCase):
    def report(self, flow_, since=None):
        return report_parts(appraise(flow_, budget=default_budget(flow_)), self.look, since)

    def test_every_level_stands_on_the_page_that_the_contents_name(self):
        report, map_svg = self.report(demo_flow())
        done = []
        pages = pages_of(report_bytes(report, map_svg, "pdf", done.append))
        self.assertEqual((done, done[-1]), (sorted(done), 1))
        named = dict((title.strip(), int(page)) for page, title in re.findall(r"^(\d+) +(.+)$", pages[0], re.MULTILINE))
        for level in report.levels:
            self.assertIn(level.title, pages[named[level.title] - 1], named)
        for heading in ("Map", "Findings", "Levels", "Facts", "Boards", "Transitions", "Pace", "Promises", "Tour"):
            self.assertIn(heading, pages[named[heading] - 1])
        for number, text in enumerate(pages, 1):
            self.assertIn(f"{number} / {len(pages)}", text)

    def test_no_heading_stands_at_the_foot_of_a_page(self):
        many = [
            play_level(f"a{at}", way("on", f"a{at + 1}" if at < 59 else "won"), way("off", "won"), notes="reed " * at)
            for at in range(60)
        ]
        report, map_svg = self.report(flow(*many, title="Fen"))
        for text in pages_of(report_bytes(report, map_svg, "pdf")):
            lines = map(str.strip, text.replace("Fen", "").split("\n"))
            *_, last = (line for line in lines if not re.fullmatch(r"[\d /]*", line))  # the foot has but numbers
            self.assertNotIn(last, ("Ways in", "Ways out", "Deeds", "Findings", "Facts", "Boards", "Pace", "Tour"))
            self.assertNotRegex(last, "^(Walk |Broken:|Suspicious:)")

    def test_a_small_flow_has_no_contents_and_says_what_changed(self):
        old = flow(play_level("a", way("on", "won"), name="Fen"), title="Marsh")
        new = flow(play_level("a", way("on", "won"), name="Bog"), title="Marsh")
        text = "".join(pages_of(report_bytes(*self.report(new, ("last week", old)), "pdf")))
        self.assertNotIn("Contents", text)
        self.assertIn("level Fen renamed to Bog", text)

    def test_an_empty_flow(self):
        self.assertIn("There are none.", "".join(pages_of(report_bytes(*self.report(flow()), "pdf"))))

    def test_kinds_by_the_ending(self):
        self.assertEqual(
            [report_kind(self.folder / name) for name in ("a.HTML", "a.pdf", "a.doc", "a")], ["html", "pdf", None, None]
        )


class FromTheWindow(DeskCase):
    def setUp(self):
        super().setUp()
        self.open_demo()
        self.out = self.folder / "r.pdf"

    def export(self, name, kind):
        self.person.answers["export"] = self.folder / name, kind
        self.window.exchange.export()

    def wait(self):
        self.wait_until(lambda: not self.window.reports.busy, "the report")

    def print(self):
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setOutputFileName(str(self.out))
        self.person.answers["printer"] = printer
        self.key(self.window, Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)

    def test_exported_and_printed(self):
        for name, kind, begins in (
            ("r.html", "report as html", b"<!DOCTYPE html>"),
            ("r.pdf", "report as pdf", b"%PDF"),
        ):
            self.export(name, kind)
            self.wait()
            self.assertTrue((self.folder / name).read_bytes().startswith(begins))
            self.assertIn(f"Exported: {name}", self.person.told[-1])
        self.print()
        self.wait()
        self.assertIn("Tidewick", pages_of(self.out.read_bytes())[0])

    def test_beside_another_version_it_says_what_changed_since(self):
        save_flow(flow(play_level("a", way("on", "won")), title="Old"), self.folder / "old.mossy")
        self.window.other_version.open(self.folder / "old.mossy")
        self.export("r.html", "report as html")
        self.wait()
        self.assertIn("Changes since old.mossy", (self.folder / "r.html").read_text(encoding="utf-8"))

    def hold(self):
        """Lets the work wait, once it has told of a share, until it is let go of."""
        gate = threading.Event()
        self.addCleanup(gate.set)

        def held(job):
            tell = telling(job)

            def told(share):
                tell(share)
                if share > 0:
                    gate.wait(20)
                    tell(share)

            return told

        patched = mock.patch.object(report_commands, "telling", held)
        patched.start()
        self.addCleanup(patched.stop)
        return gate

    def test_how_far_it_is_shows_and_it_can_be_stopped(self):
        gate = self.hold()
        self.export("r.pdf", "report as pdf")
        progress = self.person.answers["progress"]
        self.wait_until(progress.isVisible, "the bar")
        self.wait_until(lambda: progress.bar.value() > 0, "a share")
        QTest.mouseClick(progress.stop, Qt.MouseButton.LeftButton)
        gate.set()
        self.assertFalse(progress.isVisible())
        self.wait()
        self.assertFalse(self.out.exists())
        self.assertEqual(self.person.told, [])

    def test_printing_stopped_by_key_prints_nothing(self):
        gate = self.hold()
        self.print()
        progress = self.person.answers["progress"]
        self.wait_until(lambda: progress.bar.value() > 0, "a share")
        progress.show()
        QTest.keyClick(progress, Qt.Key.Key_Escape)
        gate.set()
        self.wait()
        self.assertFalse(self.out.exists() and pages_of(self.out.read_bytes()))

    def test_what_cannot_be_written_is_told(self):
        self.export("gone/r.html", "report as html")
        self.wait()
        self.assertIn("Not exported", self.person.told[-1])


if __name__ == "__main__":
    unittest.main()

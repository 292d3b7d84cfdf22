"""What users have written is never taken for markup: not in labels, tool tips or messages; and no code could."""

import ast
import unittest
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

import mossy_bridge
from mossy_bridge.checks.reports.tour_report import tour_csv, tour_markdown
from mossy_bridge.desk.dialogs.person import DialogPerson
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.reach.queries.transition_tour import transition_tour
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.qt import DeskCase

DESK = Path(mossy_bridge.__file__).parent / "desk"
EVIL = "<img src='/dev/zero'>"
GUESSING = {
    "information",
    "warning",
    "question",
    "critical",
    "about",
    "getText",
    "setHtml",
    "insertHtml",
    "toHtml",
    "fromHtml",
}


def guesses(source):
    """Where the source lets Qt guess whether a text is markup."""
    found = []
    for node in ast.walk(ast.parse(source)):
        if not isinstance(node, ast.Call):
            continue
        name = node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")
        if name == "QLabel" or name in GUESSING:
            found.append((node.lineno, name))
        if name in ("setToolTip", "setWhatsThis") or (name == "showText" and len(node.args) > 1):
            text = node.args[-1] if name != "showText" else node.args[1]
            is_plain = isinstance(text, ast.Call) and getattr(text.func, "id", "") == "plain"
            if not isinstance(text, ast.Constant) and not is_plain:
                found.append((node.lineno, name))
    return found


class Source(unittest.TestCase):
    def test_no_code_lets_qt_guess(self):
        looked_at = 0
        for path in DESK.rglob("*.py"):
            if path.name != "words.py":
                looked_at += 1
                self.assertEqual(guesses(path.read_text("utf-8")), [], path)
        self.assertGreater(looked_at, 60)

    def test_planted_guesses_are_found(self):
        for source in ("QLabel(name)", "w.setToolTip(f'{name}')", "QMessageBox.about(w, 'x', name)", "t.setHtml(name)",
                       "QToolTip.showText(at, name, w)", "i.setToolTip(2, name)"):  # fmt: skip
            self.assertTrue(guesses(source), source)
        self.assertEqual(guesses("w.setToolTip(plain(name)); w.setToolTip('x'); Label(name)"), [])


class Shown(DeskCase):
    def test_qt_takes_no_plain_text_for_markup(self):
        for text in (
            EVIL,
            "<b>x</b>",
            "a < b",
            "&lt;b>",
            "<!doctype x>",
            "<?xml ?><b>",
            "\n<p>x</p>",
            " <br/>",
            "a\n<b>x</b>",
        ):
            self.assertFalse(Qt.mightBeRichText(plain(text)), text)
            self.assertEqual(plain(text).replace("\u2060", ""), text)
        self.assertEqual(plain("East gate"), "East gate")
        self.assertTrue(Qt.mightBeRichText(EVIL))

    def test_a_level_so_called_is_shown_so_everywhere(self):
        self.open_demo()
        evil = {"name": EVIL, "notes": EVIL, "file": EVIL, "region": "shore"}
        self.window.requests.door.edit("x", lambda flow: replace(
            flow, title=EVIL, levels=tuple(replace(level, **evil, exits=tuple(replace(e, name=EVIL) for e in level.exits)) for level in flow.levels),
            facts=tuple(replace(fact, name=EVIL) for fact in flow.facts)))  # fmt: skip
        self.settle()
        for index in range(len(self.window.faces.buttons)):
            self.window.faces.turn(index)
            self.window.selection.select("slipway", "east_gate" if index % 2 else "")
            self.window.grab()
            for label in self.window.findChildren(QLabel):
                rich = label.textFormat() == Qt.TextFormat.AutoText and Qt.mightBeRichText(label.text())
                self.assertFalse(
                    rich or ("<img" in label.text() and label.textFormat() != Qt.TextFormat.PlainText), label.text()
                )
            for widget in self.window.findChildren(object):
                tip = getattr(widget, "toolTip", str)()
                self.assertFalse(Qt.mightBeRichText(tip), tip)
        self.window.walking.begin()
        self.assertNotIn("<img", self.window.walking.page.where.text())
        self.assertIn("&lt;img", self.window.walking.page.where.text())

    def test_messages_are_plain(self):
        box = DialogPerson(self.window, self.look)._box("x", EVIL, EVIL)
        self.assertEqual(box.textFormat(), Qt.TextFormat.PlainText)
        self.assertEqual(Label(EVIL).textFormat(), Qt.TextFormat.PlainText)

    def test_a_written_tour_is_no_markup_and_no_formula(self):
        self.open_demo()
        flow = self.window.document.flow
        flow = replace(flow, title=EVIL, levels=tuple(replace(level, name=f"=1+1{EVIL}") for level in flow.levels))
        survey = survey_flow(flow)
        tour = transition_tour(survey)
        text = "\n".join(tour_markdown(survey.rules, tour))
        self.assertFalse("<img" in text.replace("\\<", ""))
        self.assertIn("\\<img", text)
        self.assertNotIn(",=1+1", tour_csv(survey.rules, tour).replace('"', ""))
        self.assertIn("'=1+1", tour_csv(survey.rules, tour))


if __name__ == "__main__":
    unittest.main()

"""Qt in tests: one offscreen application, and a base class that fails on what Qt or a slot complains about."""

import os
import sys
import tempfile
import time
import unittest
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import QEvent, QPoint, QPointF, QSettings, Qt, qInstallMessageHandler
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Destination, Flow
from mossy_bridge.desk.dialogs.new_from_folder import FolderDialog
from mossy_bridge.desk.dialogs.progress import ProgressDialog
from mossy_bridge.desk.app import make_application
from mossy_bridge.desk.sentences.popups import Popup
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.dialogs.earlier_versions import VersionsDialog
from mossy_bridge.desk.window import Window

HARMLESS = ("This plugin does not support", "propagateSizeHints")


def open_popup():
    """The list, line or menu that is open."""
    popups = (popup for window in QApplication.topLevelWidgets() for popup in window.findChildren(Popup))
    return QApplication.activePopupWidget() or next((popup for popup in popups if popup.isVisible()), None)


class FakePerson:
    """Answers the window's questions from a table, and keeps what it was told."""

    def __init__(self):
        self.told = []
        self.answers = {}

    def open_path(self, _folder):
        return self.answers.get("open")

    def save_path(self, _suggested):
        return self.answers.get("save")

    def tour_path(self, _suggested):
        return self.answers.get("tour")

    def unsaved(self, _title):
        self.told.append("unsaved")
        return self.answers.get("unsaved", "cancel")

    def overwrite_changed(self, _path):
        self.told.append("changed on disk")
        return self.answers.get("overwrite", False)

    def reason(self, _message):
        return self.answers.get("reason")

    def ask(self, title, _question):
        return self.answers.get(title)

    def picture_path(self, _folder):
        return self.answers.get("picture")

    def folder_path(self):
        return self.answers.get("folder")

    def import_path(self):
        return self.answers.get("import")

    def export_path(self, _suggested):
        return self.answers.get("export")

    def agrees(self, title, told):
        self.told.append(f"{title}: {told}")
        return self.answers.get("agrees", True)

    def progress(self, told):
        self.answers["progress"] = ProgressDialog(None, told)
        return self.answers["progress"]

    def printer(self):
        return self.answers.get("printer")

    def version_path(self, which, _folder):
        return self.answers.get(which)

    def log_paths(self):
        return self.answers.get("logs", [])

    def heard(self, port, stand_in):
        self.told.append(("heard", port, stand_in))
        return self.answers.get("heard")

    def reader_path(self, _folder):
        return self.answers.get("reader")

    def new_flow(self):
        return self.answers.get("new flow", Flow())

    def flow_of_folder(self, folder):
        dialog = FolderDialog(None, self.look, folder)
        for reader in self.answers.get("readers", ()):
            dialog.take_reader(reader)
        dialog.make()
        while dialog.flow is None:
            QApplication.processEvents()
        return dialog.flow

    def reader(self, folder, flow, files, before):
        self.told.append(("reader", folder, flow, files, before))
        return self.answers.get("made reader")

    def recover(self, title, _told):
        self.told.append(f"recover {title}")
        return self.answers.get("recover", "later")

    def earlier_version(self, versions, present):
        dialog = VersionsDialog(None, versions, present)
        self.told.append([dialog.list.item(row).text() for row in range(dialog.list.count())])
        dialog.list.setCurrentRow(self.answers.get("version", 0))
        if self.answers.get("compare"):
            dialog.compare.click()
        return dialog.chosen

    def settings(self, _preferences):
        self.told.append("settings")

    def what_happened(self, folder):
        self.told.append(("what happened", folder))

    def tell(self, title, sentence, _details=""):
        self.told.append(f"{title}: {sentence}")


def close_all():
    """Closes whatever a test has left open: a change of the looks, as each test makes, asks all widgets that exist."""
    for widget in QApplication.topLevelWidgets():
        if widget.parent() is None:
            widget.hide()
            widget.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


class DeskCase(unittest.TestCase):
    """A test with a window. Fails on an exception in a slot and on any warning of Qt."""

    def setUp(self):
        self.app = make_application()
        self.addCleanup(close_all)  # after all other cleaning up
        self.faults = []
        sys.excepthook = lambda kind, error, _: self.faults.append(f"{kind.__name__}: {error}")
        qInstallMessageHandler(self._on_message)
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.person = FakePerson()
        settings = QSettings(str(self.folder / "settings.ini"), QSettings.Format.IniFormat)
        self.person.look = self.look = Look(self.app)
        self.window = Window(self.look, settings, self.person)
        self.window.survey_column.folds_by_itself = False  # so that nothing moves between two steps of a test
        self.window.stand_in.start = lambda *_: True  # no test opens another program
        self.window.resize(1280, 800)
        self.window.show()
        self.settle()

    def tearDown(self):
        self.person.answers["unsaved"] = "discard"
        self.window.close()
        self.window.deleteLater()
        self.look.deleteLater()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        QApplication.processEvents()
        qInstallMessageHandler(None)
        sys.excepthook = sys.__excepthook__
        self.assertEqual(self.faults, [])

    def _on_message(self, _kind, _context, text):
        if not any(known in text for known in HARMLESS):
            self.faults.append(text)

    def wait_until(self, condition, message, seconds=60.0):
        """Runs the event loop until the condition holds; fails with the message after the seconds."""
        end = time.monotonic() + seconds
        while not condition():
            QApplication.processEvents()
            if time.monotonic() > end:
                self.fail(f"waited in vain for {message}")
            time.sleep(0.002)

    def settle(self):
        """Waits for the survey of the present flow, with what its level files hold."""
        window = self.window
        parts = (window.surveyor, window.reading, window.map, window.facts)
        self.wait_until(lambda: not any(part.busy for part in parts), "the survey")
        QApplication.processEvents()

    def agree(self):
        """Says yes to the edit that is proposed."""
        self.assertTrue(self.window.proposal_bar.isVisible(), "nothing is proposed")
        self.window.proposal_bar.yes.click()

    def card_of(self, check):
        """What the survey column says of the first finding of a check, once it is pointed at."""
        finding = next(one for one in self.window.result.findings if one.check == check)
        return self.window.survey_column.choose(finding)

    def open_demo(self, name="tidewick"):
        self.window.files.open_demo(name)
        self.settle()

    def key(self, widget, key, modifier=Qt.KeyboardModifier.NoModifier):
        # Without a window manager nobody makes the window active again when a pop-up has closed.
        self.window.activateWindow()
        QApplication.processEvents()
        QTest.keyClick(widget, key, modifier)
        QApplication.processEvents()

    def on_map(self, point):
        """A point of the map as a pixel of it."""
        return self.window.map.pixel_of(point)

    def mouse(self, widget, kind, at, button=Qt.MouseButton.LeftButton, modifier=Qt.KeyboardModifier.NoModifier):
        held = Qt.MouseButton.NoButton if kind == QEvent.Type.MouseButtonRelease else button
        where = QPointF(at)
        event = QMouseEvent(kind, where, QPointF(widget.mapToGlobal(QPoint(at))), button, held,
                            modifier)  # fmt: skip
        QApplication.sendEvent(widget, event)
        QApplication.processEvents()

    def drag(self, widget, start, end, modifier=Qt.KeyboardModifier.NoModifier):
        """Presses at a pixel, moves in steps, and lets go at another."""
        self.mouse(widget, QEvent.Type.MouseButtonPress, start, modifier=modifier)
        for step in range(1, 6):
            self.mouse(widget, QEvent.Type.MouseMove, start + (end - start) * step / 5, modifier=modifier)
        self.mouse(widget, QEvent.Type.MouseButtonRelease, end, modifier=modifier)

    def click(self, widget, at, modifier=Qt.KeyboardModifier.NoModifier):
        self.mouse(widget, QEvent.Type.MouseButtonPress, at, modifier=modifier)
        self.mouse(widget, QEvent.Type.MouseButtonRelease, at, modifier=modifier)


class StripCase(DeskCase):
    """A test of the demo with the order strip at hand."""

    def setUp(self):
        super().setUp()
        self.open_demo()
        self.strip = self.window.strip

    def order(self):
        return [level.id for level in self.window.document.flow.levels]

    def bead(self, level):
        return self.strip.bead_at(level).toPoint()

    def chain(self):
        """Lets every exit of one level lead to the next of the order, so that moves have consequences."""
        self.window.requests.door.edit("chain", lambda flow: edits.set_exit(
            flow, "slipway", "east_gate", to=Destination(kind="next")))  # fmt: skip

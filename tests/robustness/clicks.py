"""Random clicks and keys on the whole window, and rubbish typed into every blank.

Whatever is clicked, pressed or typed, the program goes on: no fault, no warning of Qt's, and at any moment what would
be saved opens again and is the same.

Run: python -m tests.robustness.clicks [SECONDS] [SEED]
"""

import os
import sys
import tempfile
import time
import traceback
from pathlib import Path
from random import Random

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QPoint, QPointF, QSettings, Qt, QTimer, qInstallMessageHandler
from PyQt6.QtGui import QGuiApplication, QMouseEvent, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLineEdit, QMenu, QWidget

from mossy_bridge.desk.app import make_application
from mossy_bridge.desk.sentences.blank import Blank
from mossy_bridge.desk.sentences.popups import Popup
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.window import Window
from mossy_bridge.exchange.reading import flow_from_bytes, read_flow
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model.flow import Flow
from tests.support.qt import HARMLESS, FakePerson, open_popup
from tests.support.random_flows import MAKERS

RUBBISH = ["", " ", "nan", "1e999", "-1", "9" * 5000, "1e-320", "0,5", "low-tide", "ebb, or", "1st", "höhe", "half \ud800", "\x1b[2J",
           "<img src='/dev/zero'>", "a\nb", "n" * 2000, "has f0", "at least 2 n0", "gain f0, lose f1", "has clapper and", "((((", "²", "☂"]  # fmt: skip
KEYS = [Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Return, Qt.Key.Key_Space, Qt.Key.Key_Tab,
        Qt.Key.Key_Escape, Qt.Key.Key_Delete, Qt.Key.Key_Backspace, Qt.Key.Key_F2, Qt.Key.Key_F5, Qt.Key.Key_F6, Qt.Key.Key_F8, Qt.Key.Key_F9, Qt.Key.Key_F1,
        Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_1, Qt.Key.Key_3, Qt.Key.Key_5, Qt.Key.Key_A]  # fmt: skip
MODIFIERS = [Qt.KeyboardModifier.NoModifier] * 5 + [Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier,
             Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier]  # fmt: skip
LEFT_OUT = {"quit"}


class Clicker:
    """Clicks on one window."""

    def __init__(self, seed, folder):
        self.pick, self.folder = Random(seed), folder
        self.faults, self.counts = [], {}
        sys.excepthook = self._on_fault
        qInstallMessageHandler(self._on_message)
        self.app = make_application()
        self.person = FakePerson()
        self.person.answers |= {
            "unsaved": "discard",
            "save": folder / "saved.mossy",
            "tour": folder / "tour.md",
            "overwrite": True,
        }
        settings = QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat)
        self.look = Look(self.app)
        self.window = Window(self.look, settings, self.person, kept_in=folder / "kept")
        self.window.stand_in.start = lambda *_: True  # no click opens another program
        self.window.resize(1280, 800)
        self.window.show()
        self.closer = QTimer()
        self.closer.timeout.connect(self._close_what_waits)
        self.closer.start(60)
        self.longest = (0.0, "")

    def _on_fault(self, kind, error, trace):
        self.faults.append(f"{kind.__name__}: {error} ({_frames(trace)})")

    def _on_message(self, _kind, _context, text):
        if not any(known in text for known in HARMLESS):
            self.faults.append(f"Qt: {text}")

    def _close_what_waits(self):
        """Menus that wait for an answer get none."""
        for waiting in (open_popup(), QApplication.activeModalWidget()):
            if isinstance(waiting, QMenu) or (waiting is not None and waiting is QApplication.activeModalWidget()):
                waiting.close()

    def step(self):
        """One random thing; its name."""
        pick = self.pick
        what = pick.choice(
            [
                "click",
                "click",
                "click",
                "key",
                "key",
                "drag",
                "wheel",
                "blank",
                "blank",
                "type",
                "action",
                "select",
                "double",
            ]
        )
        if pick.random() < 0.01:
            what = pick.choice(["open", "save", "size", "clipboard", "undo all"])
        began = time.monotonic()
        getattr(self, f"do_{what.replace(' ', '_')}")()
        QApplication.processEvents()
        taken = time.monotonic() - began
        self.longest = max(self.longest, (taken, what))
        self.counts[what] = self.counts.get(what, 0) + 1
        return what

    def _widget(self):
        top = open_popup() or self.window
        shown = [one for one in top.findChildren(QWidget) if one.isVisible() and one.width() > 3 and one.height() > 3]
        return self.pick.choice(shown or [top])

    def _at(self, widget):
        return QPoint(self.pick.randrange(widget.width()), self.pick.randrange(widget.height()))

    def _mouse(self, widget, kind, at, button=Qt.MouseButton.LeftButton, modifier=Qt.KeyboardModifier.NoModifier):
        held = Qt.MouseButton.NoButton if kind == QEvent.Type.MouseButtonRelease else button
        event = QMouseEvent(kind, QPointF(at), QPointF(widget.mapToGlobal(at)), button, held, modifier)
        QApplication.sendEvent(widget, event)

    def do_click(self):
        widget = self._widget()
        if isinstance(widget, QAbstractButton) and isinstance(widget, Blank):
            return
        button = self.pick.choice([Qt.MouseButton.LeftButton] * 5 + [Qt.MouseButton.RightButton])
        at, modifier = self._at(widget), self.pick.choice(MODIFIERS)
        self._mouse(widget, QEvent.Type.MouseButtonPress, at, button, modifier)
        self._mouse(widget, QEvent.Type.MouseButtonRelease, at, button, modifier)

    def do_double(self):
        widget = self._widget()
        self._mouse(widget, QEvent.Type.MouseButtonDblClick, self._at(widget))

    def do_drag(self):
        widget, modifier = self._widget(), self.pick.choice(MODIFIERS)
        self._mouse(widget, QEvent.Type.MouseButtonPress, self._at(widget), modifier=modifier)
        for _ in range(self.pick.choice([1, 3, 6])):
            self._mouse(
                widget,
                QEvent.Type.MouseMove,
                self._at(widget) + QPoint(self.pick.choice([0, 0, 300]), 0),
                modifier=modifier,
            )
            QApplication.processEvents()
            if sip.isdeleted(widget):
                return  # let go of while the mouse was held
        if self.pick.random() < 0.15:
            QTest.keyClick(widget, Qt.Key.Key_Escape)
        self._mouse(widget, QEvent.Type.MouseButtonRelease, self._at(widget), modifier=modifier)

    def do_wheel(self):
        widget = self._widget()
        at, turned = self._at(widget), QPoint(0, self.pick.choice([120, -120, 1200, -1200]))
        event = QWheelEvent(QPointF(at), QPointF(widget.mapToGlobal(at)), QPoint(), turned, Qt.MouseButton.NoButton,
                            self.pick.choice(MODIFIERS), Qt.ScrollPhase.NoScrollPhase, False)  # fmt: skip
        QApplication.sendEvent(widget, event)

    def do_key(self):
        modifier, key = self.pick.choice(MODIFIERS), self.pick.choice(KEYS)
        if not (modifier == Qt.KeyboardModifier.AltModifier and key == Qt.Key.Key_F6):
            QTest.keyClick(QApplication.focusWidget() or self.window, key, modifier)

    def do_type(self):
        lines = [line for line in self.window.findChildren(QLineEdit) if line.isVisible() and line.isEnabled()]
        if lines:
            self._typed(self.pick.choice(lines))

    def _typed(self, line):
        line.setFocus()
        line.setText(self.pick.choice(RUBBISH))
        line.setModified(True)
        line.textEdited.emit(line.text())
        QTest.keyClick(
            line, self.pick.choice([Qt.Key.Key_Return, Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape])
        )

    def do_blank(self):
        blanks = [blank for blank in self.window.findChildren(Blank) if blank.isVisible()]
        if not blanks:
            return
        self.pick.choice(blanks).click()
        QApplication.processEvents()
        popup = open_popup()
        if isinstance(popup, Popup):
            if self.pick.random() < 0.6:
                self._typed(popup._line)
            for _ in range(self.pick.randrange(4)):
                if popup is open_popup():
                    QTest.keyClick(
                        popup._line,
                        self.pick.choice([Qt.Key.Key_Down, Qt.Key.Key_Space, Qt.Key.Key_Tab, Qt.Key.Key_Return]),
                    )
            if popup is open_popup():
                QTest.keyClick(popup._line, Qt.Key.Key_Return)
            if popup is open_popup():
                popup.close()

    def do_action(self):
        made = self.window.actions_made.made
        name = self.pick.choice([name for name, action in made.items() if action.isEnabled() and name not in LEFT_OUT])
        made[name].trigger()

    def do_select(self):
        levels = [level.id for level in self.window.document.flow.levels]
        if levels:
            level = self.window.document.flow.level(self.pick.choice(levels))
            exits = [exit_.id for exit_ in level.exits]
            self.window.selection.select(
                level.id, self.pick.choice(exits) if exits and self.pick.random() < 0.6 else ""
            )

    def do_open(self):
        if self.pick.random() < 0.3:
            self.window.files.open_demo(self.pick.choice(["tidewick", "tidewick_unfinished"]))
        else:
            path = self.folder / "random.mossy"
            path.write_bytes(flow_bytes(self.pick.choice(MAKERS)(self.pick.randrange(10**6))))
            self.window.files.open(path)

    def do_save(self):
        flow = self.window.document.flow
        if self.window.files.save_as():
            assert read_flow(self.folder / "saved.mossy") == flow

    def do_size(self):
        self.window.resize(self.pick.choice([820, 1280, 1900]), self.pick.choice([560, 800, 1080]))
        self.look.wear(self.pick.choice(["light", "dark"]))

    def do_clipboard(self):
        part = '{"mossy_bridge_parts": 1, "solids": [[0, 0, 1e308, 1]]}'
        QGuiApplication.clipboard().setText(
            self.pick.choice([*RUBBISH[:16], part, '{"mossy_bridge_parts": 1, "exits": [{"id": "x"}]}'])
        )

    def do_undo_all(self):
        for _ in range(30):
            self.window.document.undo()

    def settle(self):
        """Waits for the survey, at most some seconds."""
        end = time.monotonic() + 30
        while self.window.surveyor.busy and time.monotonic() < end:
            QApplication.processEvents()
            time.sleep(0.002)

    def check(self):
        """What would be saved opens again and is the same. Raises AssertionError where it is not."""
        flow = self.window.document.flow
        written = flow_bytes(flow)
        assert flow_from_bytes(written) == flow and flow_bytes(flow_from_bytes(written)) == written
        if len(flow.levels) > 200:
            self.window.document.take(Flow())
        assert not self.faults, self.faults

    def stop(self):
        self.closer.stop()
        self.window.close()
        self.window.deleteLater()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        QApplication.processEvents()
        qInstallMessageHandler(None)
        sys.excepthook = sys.__excepthook__


def _frames(trace):
    """The last lines of a traceback, short."""
    return " > ".join(f"{Path(frame.filename).name}:{frame.lineno}" for frame in traceback.extract_tb(trace)[-5:])


def clicked(seed, steps=None, seconds=None):
    """Clicks so many times, or so long. Raises AssertionError with what went wrong after which steps."""
    with tempfile.TemporaryDirectory() as folder:
        clicker = Clicker(seed, Path(folder))
        clicker.window.files.open_demo("tidewick")
        end, recent, done = time.monotonic() + (seconds or 10**9), [], 0
        try:
            while time.monotonic() < end and done < (steps or 10**12):
                recent = [*recent, clicker.step()][-6:]
                done += 1
                if done % 10 == 0 or clicker.faults:
                    clicker.check()
        except Exception as error:
            told = f"{type(error).__name__}: {error} ({_frames(error.__traceback__)})"
            raise AssertionError(f"{told} after {done} steps, the last {recent}") from error
        finally:
            clicker.stop()
        return done, clicker.longest, clicker.counts


def main(seconds=3600, seed=0):
    """Clicks so long, beginning anew after each minute and each fault, and prints what came of it."""
    end, steps, faults, counts = time.monotonic() + seconds, 0, 0, {}
    while time.monotonic() < end:
        try:
            done, _, one = clicked(seed, seconds=min(60, end - time.monotonic()))
            steps += done
            counts = {name: counts.get(name, 0) + one.get(name, 0) for name in {*counts, *one}}
        except AssertionError as error:
            faults += 1
            print(f"seed {seed}: {str(error)[:600]}", flush=True)
        seed += 1
    print(
        f"{seconds} s, {steps} steps ({', '.join(f'{n} {name}' for name, n in sorted(counts.items()))}): {faults} faults"
    )
    return faults


if __name__ == "__main__":
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    sys.exit(min(1, main(*map(int, sys.argv[1:]))))

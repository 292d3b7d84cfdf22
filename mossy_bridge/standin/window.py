"""The stand-in's window."""

import sys
import time

from PyQt6.QtCore import QRectF, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QFocusEvent, QKeyEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QApplication, QWidget

from mossy_bridge.standin.painting import paint
from mossy_bridge.standin.playing import Playing
from mossy_bridge.standin.session import Session

FRAME = 16
"""Milliseconds."""
LONGEST = 0.05
"""Seconds that one frame moves at most, so that nothing leaps when the machine is busy."""
KEYS = {
    Qt.Key.Key_Left: "left", Qt.Key.Key_Right: "right", Qt.Key.Key_Up: "up", Qt.Key.Key_Down: "down",
    Qt.Key.Key_Space: "jump", Qt.Key.Key_Return: "enter", Qt.Key.Key_Enter: "enter", Qt.Key.Key_Escape: "escape",
    **{Qt.Key(Qt.Key.Key_0 + digit): str(digit) for digit in range(1, 10)},
}  # fmt: skip


class StandIn(QWidget):
    """Plays a session, and paints it."""

    def __init__(self, session: Session):
        super().__init__()
        self.playing = Playing(session)
        self.setWindowTitle(f"{session.table['title']}, in the stand-in")
        self.setAccessibleName("The game")
        self.resize(1100, 700)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._last = time.monotonic()
        self._timer = QTimer(self)
        self._timer.setInterval(FRAME)
        self._timer.timeout.connect(self._on_frame)
        self._timer.start()

    def _on_frame(self) -> None:
        now = time.monotonic()
        self.playing.advance(min(now - self._last, LONGEST))
        self._last = now
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and not event.isAutoRepeat():
            self.playing.press(KEYS.get(Qt.Key(event.key()), "other"))

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and not event.isAutoRepeat():
            self.playing.release(KEYS.get(Qt.Key(event.key()), "other"))

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.playing.keys.clear()  # keys let go elsewhere would be held for ever
        super().focusOutEvent(event)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self._timer.stop()
        self.playing.session.end()
        super().closeEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        del event
        painter = QPainter(self)
        paint(painter, self.playing, QRectF(self.rect()))
        painter.end()


def run(session: Session) -> int:
    """Opens the window, and runs until it is closed. Returns the status."""
    app = QApplication.instance() or QApplication(sys.argv[:1])
    window = StandIn(session)
    window.show()
    app.exec()
    return 0

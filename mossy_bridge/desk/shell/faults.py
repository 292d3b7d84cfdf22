"""Uncaught exceptions: reported in one sentence, with details on request, while the program keeps running.

Whatever is raised in a slot, a timer, an event, while painting, or in a thread reaches the hooks set here. They open
no dialog, for that would run the event loop in the middle of painting and end the program: they say it by a signal,
once the event is over. The same fault is told once, however often it happens.
"""

import sys
import threading
import traceback
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from types import TracebackType

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QPaintDevice, QPainter
from PyQt6.QtWidgets import QWidget

MOST_KEPT = 50
COULD_NOT = "This could not be drawn."


@dataclass(frozen=True)
class Fault:
    """A fault: a sentence about it, and what a programmer would ask for."""

    sentence: str
    details: str


class Faults(QObject):
    """Catches faults. ``happened`` brings each new one, in the window's thread."""

    happened = pyqtSignal(object)
    _caught = pyqtSignal(object)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self.all: list[Fault] = []
        self._caught.connect(self._on_caught, Qt.ConnectionType.QueuedConnection)  # type: ignore[call-arg]

    def install(self) -> None:
        """Catches whatever nobody else does from now on."""
        sys.excepthook = self.report
        threading.excepthook = lambda told: self.report(
            told.exc_type, told.exc_value or told.exc_type(), told.exc_traceback
        )

    def report(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        """Takes note of a fault; of any thread, and at any moment."""
        if not issubclass(kind, Exception):
            sys.__excepthook__(kind, error, trace)
            return
        details = "".join(traceback.format_exception(kind, error, trace))
        sys.stderr.write(details)
        said = str(error).partition("\n")[0][:200]
        words = f"{kind.__name__}: {said}" if said else kind.__name__
        self._caught.emit(Fault(f"A fault in the program; your work is kept ({words})", details))

    def _on_caught(self, fault: Fault) -> None:
        if fault not in self.all[-MOST_KEPT:]:
            self.all = [*self.all, fault][-MOST_KEPT:]
            self.happened.emit(fault)


@contextmanager
def painting(device: QPaintDevice) -> Iterator[QPainter]:
    """A painter that ends whatever happens. Left active, it would end the program with its device; where something goes
    wrong on a widget, this says so in its place."""
    painter = QPainter(device)
    try:
        yield painter
    except BaseException:
        painter.end()
        if isinstance(device, QWidget):
            with_words = QPainter(device)
            with_words.setPen(device.palette().text().color())
            with_words.drawText(device.rect(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, COULD_NOT)
            with_words.end()
        raise
    painter.end()

"""Runs one computation beside the window and brings its result."""

import sys
import threading
from collections.abc import Callable
from typing import TypeVar

from PyQt6.QtCore import QEventLoop, QObject, QTimer, pyqtSignal

T = TypeVar("T")
AT_ONCE = 0.03
"""Seconds after which somebody may notice that the window stands still."""


class Background(QObject):
    """``done(result)`` brings what was computed last; what was asked for before is dropped. An exception is reported
    as a fault, and brought as the result."""

    done = pyqtSignal(object)
    _arrived = pyqtSignal(int, object)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self._asked = 0
        self._thread: threading.Thread | None = None
        self._arrived.connect(self._on_arrived)

    @property
    def busy(self) -> bool:
        """Whether something is being computed."""
        return self._thread is not None

    def compute(self, work: Callable[[], object]) -> None:
        """Begins a computation."""
        self._asked += 1
        self._thread = threading.Thread(target=self._work, args=(self._asked, work), daemon=True, name="background")
        self._thread.start()

    def _work(self, asked: int, work: Callable[[], object]) -> None:
        result: object
        try:
            result = work()
        except Exception as error:  # noqa: BLE001 - a border: the error is shown, not lost
            result = error
        self._arrived.emit(asked, result)

    def _on_arrived(self, asked: int, result: object) -> None:
        if isinstance(result, Exception):
            sys.excepthook(type(result), result, result.__traceback__)
        if asked == self._asked:
            self._thread = None
            self.done.emit(result)


def done_beside(work: Callable[[], T]) -> T:
    """The result of some work, or what it raises. The window is painted meanwhile, but takes no keys or clicks."""
    results: list[T] = []
    errors: list[BaseException] = []

    def run() -> None:
        try:
            results.append(work())
        except BaseException as error:  # noqa: BLE001 - it is raised again where the result is waited for
            errors.append(error)

    thread = threading.Thread(target=run, daemon=True, name="beside")
    thread.start()
    thread.join(AT_ONCE)
    if thread.is_alive():
        loop, timer = QEventLoop(), QTimer()
        timer.timeout.connect(lambda: None if thread.is_alive() else loop.quit())
        timer.start(5)
        loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        timer.stop()
    if errors:
        raise errors[0]
    return results[0]

"""Runs one computation beside the window and brings its result."""

import threading
from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal


class Background(QObject):
    """``done(result)`` brings what was computed last; what was asked for before is dropped. An exception is brought as
    the result."""

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
        if asked == self._asked:
            self._thread = None
            self.done.emit(result)

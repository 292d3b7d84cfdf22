"""The windows of the program, each with a flow of its own."""

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import QObject, QPoint, QSettings, QTimer, pyqtSignal
from PyQt6.QtGui import QSessionManager

from mossy_bridge.desk.shell.arrangement import fit_into_screen
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.window import Window

ASIDE = QPoint(28, 28)
"""How far a further window stands from the one before."""


class Program(QObject):
    """Opens windows and keeps them. Unsaved work and earlier versions are kept below ``kept_in``, if it is given.
    ``used(path)`` follows every flow that is opened or saved."""

    used = pyqtSignal(object)

    def __init__(self, look: Look, settings: QSettings, kept_in: Path | None, make: Callable[..., Window] = Window):
        super().__init__()
        self._look, self._settings, self._kept_in, self._make = look, settings, kept_in, make
        self.windows: list[Window] = []

    def open(self, files: Sequence[Path], demo: str = "") -> None:
        """Opens flows, each in a window; the demo, if one is named; without any, an empty window. A flow that is open
        is brought forward."""
        if demo:
            self._free_window().files.open_demo(demo)
        for file in files:
            shown = next((one for one in self.windows if one.document.path == file.resolve()), None)
            if shown:
                bring_forward(shown)
            else:
                self._free_window().files.open(file)
        if not files and not demo:
            self._free_window()

    def _free_window(self) -> Window:
        """A window in which nothing is open yet."""
        free = next((one for one in self.windows if one.is_free), None)
        if free:
            bring_forward(free)
        return free or self._new_window()

    def _new_window(self) -> Window:
        window = self._make(self._look, self._settings, kept_in=self._kept_in)
        before, self.windows = self.windows, [*self.windows, window]
        window.faults.install()
        window.body.take_up(window, self._settings)
        window.closed.connect(lambda: self._on_closed(window))
        window.files.used.connect(self.used)
        window.files.others_wanted.connect(lambda files: self.open(files))
        window.show()
        if before:
            window.move(before[-1].pos() + ASIDE)
        QTimer.singleShot(0, lambda: self._fit(window))  # its frame is known then
        if window.recovery and not before:
            window.files.take_up_left(window.recovery)
        return window

    def _fit(self, window: Window) -> None:
        if window in self.windows:
            fit_into_screen(window)

    def _on_closed(self, window: Window) -> None:
        self.windows.remove(window)
        window.deleteLater()
        if self.windows:
            self.windows[-1].faults.install()

    def keep_now(self) -> None:
        """Keeps all unsaved work: nothing may be asked any more."""
        for window in self.windows:
            if window.recovery:
                window.recovery.keep_now()

    def on_session_end(self, manager: QSessionManager) -> None:
        """The desktop session ends: what is unsaved is asked about, if that is allowed, and kept in any case."""
        self.keep_now()
        if any(window.document.edited for window in self.windows) and manager.allowsInteraction():
            goes = all(window.files.may_leave() for window in self.windows)
            manager.release()
            if not goes:
                manager.cancel()

    def stop(self) -> None:
        """Ends all that runs beside the windows."""
        for window in self.windows:
            window.stop()


def bring_forward(window: Window) -> None:
    """Shows a window above others, unless it has the keyboard anyway."""
    if window.isActiveWindow():
        return
    window.setWindowState(window.windowState() & ~window.windowState().WindowMinimized)
    window.raise_()
    window.activateWindow()

"""Puts the program together and runs it."""

import gc
import signal
import sys
import traceback
from pathlib import Path
from types import TracebackType

from platformdirs import user_state_path
from PyQt6.QtCore import QSettings, QTimer
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.look import Look
from mossy_bridge.desk.window import Window

SWITCH = 0.00005
"""Seconds after which the survey's thread must let the window have the interpreter. An event of Qt's may come back to
Python a hundred times, and each time the window waits so long."""


def make_application() -> QApplication:
    """The application, with the same looks everywhere."""
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("Mossy Bridge")
    app.setOrganizationName("mossy-bridge")
    app.setDesktopFileName("mossy-bridge")
    app.setStyle("Fusion")
    # Surveys keep hundreds of thousands of values alive; a collection that looks at all of them stops the window
    # for a tenth of a second, and hardly anything here is garbage only a collection finds.
    gc.set_threshold(100_000, 50, 1000)
    sys.setswitchinterval(SWITCH)
    return app


def run(file: Path | None = None, demo: str = "") -> int:
    """Opens the window, with a file or a demo flow, and runs until it is closed."""
    app = make_application()
    window = Window(Look(app), QSettings(), recovery_folder=user_state_path("mossy-bridge") / "recovery")
    _show_errors(window)
    window.resize(1280, 800)
    window.show()
    if window.recovery and not demo:
        window.files.take_up_left(window.recovery)
    if demo:
        window.files.open_demo(demo)
    elif file and not window.document.edited:
        window.files.open(file)
    signal.signal(signal.SIGINT, lambda *_: app.quit())
    waker = QTimer()  # lets Python see the interrupt while Qt waits
    waker.start(300)
    waker.timeout.connect(lambda: None)
    status = app.exec()
    window.surveyor.stop()
    return status


def _show_errors(window: Window) -> None:
    """A fault of the program is told in plain words; nothing of the flow is lost by it."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        traceback.print_exception(kind, error, trace)
        sentence = f"Something went wrong inside the program ({kind.__name__}: {error}).\n\nYour flow is still here; save it under another name to be safe."  # noqa: E501
        window.person.tell("A fault in Mossy Bridge", sentence)

    sys.excepthook = hook

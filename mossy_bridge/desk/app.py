"""Starts the program: makes its parts, connects them, and runs the event loop."""

import os
import signal
import socket
import sys
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import NoReturn

from platformdirs import user_state_path
from PyQt6.QtCore import QSettings, QSocketNotifier
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.window import Window
from mossy_bridge.desk.workers.garbage_collection import Collector
from mossy_bridge.exchange.saving import clear_leftovers

ENDING_SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)
_KEPT: list[QApplication] = []
"""The application, which ends as soon as nobody in Python holds it, and takes with it what belongs to the whole
program."""
SWITCH = 0.00005
"""Seconds after which the survey's thread must let the window have the interpreter. An event of Qt's may come back to
Python a hundred times, and each time the window waits so long."""


def make_application() -> QApplication:
    """The application, with the same looks everywhere."""
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    _KEPT[:] = [app]
    app.setApplicationName("Mossy Bridge")
    app.setOrganizationName("mossy-bridge")
    app.setDesktopFileName("mossy-bridge")
    app.setStyle("Fusion")
    if not app.findChild(Collector):
        Collector(app)
    sys.setswitchinterval(SWITCH)
    return app


def run(file: Path | None = None, demo: str = "") -> NoReturn:
    """Opens the window, with a file or a demo flow, and runs until it is closed, or told to end from outside; then the
    process ends."""
    app = make_application()
    settings = QSettings()
    window = Window(Look(app), settings, kept_in=user_state_path("mossy-bridge"))
    window.faults.install()
    window.body.take_up(window, settings)
    window.show()
    with _ending_when_told(window) as told:
        for folder in {path.parent for path in window.files.recent}:
            clear_leftovers(folder)
        if window.recovery and not demo:
            window.files.take_up_left(window.recovery)
        if demo:
            window.files.open_demo(demo)
        elif file and not window.document.edited:
            window.files.open(file)
        status = 0 if told else app.exec()
    window.surveyor.stop()
    window.reading.stop()
    window.finding_actions.stop()
    if window.recovery:
        window.recovery.stop()
    settings.sync()
    _leave(128 + told[0] if told else status)


def _leave(status: int) -> NoReturn:
    """Ends the process at once. All there is to keep has been kept; and Python takes the rest apart in no particular
    order, the application before its widgets or under a thread that draws a picture, which crashes now and then."""
    for stream in (sys.stdout, sys.stderr):
        with suppress(OSError, ValueError):
            stream.flush()
    os._exit(status)


@contextmanager
def _ending_when_told(window: Window) -> Iterator[list[int]]:
    """Ends the program, its unsaved work kept and nothing asked, when the system or a terminal says so; the numbers of
    the signals that did.

    Python sees a signal only when it runs; so the signal writes into a socket that Qt listens to."""
    told: list[int] = []
    listening, writing = socket.socketpair()
    with listening, writing:
        listening.setblocking(False)
        writing.setblocking(False)
        notifier = QSocketNotifier(listening.fileno(), QSocketNotifier.Type.Read)  # type: ignore[call-overload]

        def end_now() -> None:
            told.extend(listening.recv(64))
            if window.recovery:
                window.recovery.keep_now()
            QApplication.exit(0)

        notifier.activated.connect(end_now)
        before = {number: signal.signal(number, lambda *_: None) for number in ENDING_SIGNALS}
        signal.set_wakeup_fd(writing.fileno())
        try:
            yield told
        finally:
            signal.set_wakeup_fd(-1)
            notifier.setEnabled(False)
            for number, handler in before.items():
                signal.signal(number, handler)

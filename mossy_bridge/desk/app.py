"""Starts the program: makes its parts, connects them, and runs the event loop."""

import os
import signal
import socket
import sys
from collections.abc import Iterator, Sequence
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import NoReturn

from platformdirs import user_state_path
from PyQt6.QtCore import QSettings, QSocketNotifier
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.happenings.log import keep_happenings
from mossy_bridge.desk.one_program import OneProgram, meeting_place
from mossy_bridge.desk.program import Program
from mossy_bridge.desk.session.desktop_recent import tell_desktop_beside
from mossy_bridge.desk.settings.preferences import APPLICATION, ORGANISATION, Preferences
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.workers.garbage_collection import Collector
from mossy_bridge.exchange.saving import clear_leftovers

ICON = Path(__file__).with_name("icons") / "mossy-bridge.svg"
ENDING_SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)
SEEN = ("xcb", "wayland")
"""Where windows are seen by somebody."""
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
    app.setApplicationName(APPLICATION)
    app.setOrganizationName(ORGANISATION)
    app.setDesktopFileName("mossy-bridge")
    app.setWindowIcon(QIcon(str(ICON)))
    app.setStyle("Fusion")
    if not app.findChild(Collector):
        Collector(app)
    sys.setswitchinterval(SWITCH)
    return app


def run(files: Sequence[Path] = (), demo: str = "", own: bool = False) -> NoReturn:
    """Opens flows, or a demo, each in a window, and runs until all are closed, or told to end from outside; then the
    process ends. If a program runs already it is asked to open them, unless this is to be one of its ``own``."""
    app = make_application()
    settings = QSettings()
    place = meeting_place()
    one = OneProgram(place) if place and not own and _shares(settings) else None
    if one and not one.begin(files, demo):
        _leave(0)
    state = user_state_path("mossy-bridge")
    keep_happenings(state)
    program = Program(Look(app), settings, state)
    program.used.connect(tell_desktop_beside)
    if one:
        one.asked.connect(program.open)
    app.commitDataRequest.connect(program.on_session_end)
    with _ending_when_told(program) as told:
        program.open(files, demo)
        for folder in {path.parent for window in program.windows for path in window.files.recent}:
            clear_leftovers(folder)
        status = 0 if told or not program.windows else app.exec()
    if one:
        one.end()
    program.stop()
    settings.sync()
    _leave(128 + told[0] if told else status)


def _shares(settings: QSettings) -> bool:
    """Whether a second start joins the first: where there are windows to see, and nobody has set it otherwise."""
    return QApplication.platformName() in SEEN and Preferences(settings).text("windows") == "one program"


def _leave(status: int) -> NoReturn:
    """Ends the process at once. All there is to keep has been kept; and Python takes the rest apart in no particular
    order, the application before its widgets or under a thread that draws a picture, which crashes now and then."""
    for stream in (sys.stdout, sys.stderr):
        with suppress(OSError, ValueError):
            stream.flush()
    os._exit(status)


@contextmanager
def _ending_when_told(program: Program) -> Iterator[list[int]]:
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
            program.keep_now()
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

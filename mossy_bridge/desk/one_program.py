"""One program for all flows: a second start hands its files to the one that runs, and ends.

The running program listens on a socket in a folder that only its user can enter. Whatever else comes through it than a
short line of JSON is passed over.
"""

import hashlib
import json
import os
import time
from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QLockFile, QObject, pyqtSignal
from PyQt6.QtNetwork import QLocalServer, QLocalSocket

from mossy_bridge.desk.widgets.given import given

LONGEST = 64 * 1024
"""Bytes that are read of one start."""
PATIENCE_MS = 3000
"""So long a second start waits for the first to answer, before it runs by itself."""
TAKEN = b"taken\n"


def meeting_place() -> Path | None:
    """The folder and name by which starts on one display find each other; None where the user has no folder that nobody
    else can enter."""
    folder = os.environ.get("XDG_RUNTIME_DIR", "")
    display = os.environ.get("WAYLAND_DISPLAY") or os.environ.get("DISPLAY") or ""
    if not os.path.isdir(folder):
        return None
    return Path(folder) / f"mossy-bridge-{hashlib.sha256(display.encode()).hexdigest()[:12]}"


class OneProgram(QObject):
    """The end of a program that listens. ``asked(files, demo)`` brings what a second start wants opened."""

    asked = pyqtSignal(list, str)

    def __init__(self, place: Path, parent: QObject | None = None):
        super().__init__(parent)
        self._place = place
        self._lock = QLockFile(f"{place}.lock")
        self._lock.setStaleLockTime(0)
        self._server = QLocalServer(self)
        self._server.setSocketOptions(QLocalServer.SocketOption.UserAccessOption)
        self._server.newConnection.connect(self._on_connected)
        self._speaking: set[QLocalSocket] = set()
        """Who has not left yet: held here, or they would be collected as garbage while they speak."""

    def begin(self, files: Sequence[Path], demo: str) -> bool:
        """Whether this start is to go on: it is the first, or the first does not answer. Else its files are opened
        there."""
        place = f"{self._place}.socket"
        if self._lock.tryLock(0):
            QLocalServer.removeServer(place)
            self._server.listen(place)
            return True
        return not _hand_over(place, files, demo)

    def end(self) -> None:
        """Listens no more."""
        self._server.close()
        self._lock.unlock()

    def _on_connected(self) -> None:
        while connection := self._server.nextPendingConnection():
            self._speaking.add(connection)
            connection.readyRead.connect(partial(self._on_said, connection))
            connection.disconnected.connect(partial(self._on_left, connection))
            self._on_said(connection)

    def _on_left(self, connection: QLocalSocket) -> None:
        self._speaking.discard(connection)
        connection.deleteLater()

    def _on_said(self, connection: QLocalSocket) -> None:
        if not connection.canReadLine():
            if connection.bytesAvailable() > LONGEST:
                connection.abort()
            return
        told = _understood(bytes(connection.readLine(LONGEST)))
        if told is not None:
            connection.write(TAKEN)
            connection.flush()
            self.asked.emit(*told)
        connection.disconnectFromServer()


def _understood(line: bytes) -> tuple[list[Path], str] | None:
    """The files and demo that a line asks for; None for any other line."""
    try:
        told = json.loads(line)
        files, demo = told["files"], told["demo"]
    except (ValueError, KeyError, TypeError, RecursionError):
        return None
    sound = isinstance(demo, str) and isinstance(files, list) and all(isinstance(one, str) for one in files)
    return ([Path(one) for one in files], demo) if sound else None


def _hand_over(place: str, files: Sequence[Path], demo: str) -> bool:
    """Whether the program that runs has taken the files."""
    told = json.dumps({"files": [str(file.resolve()) for file in files], "demo": demo}).encode() + b"\n"
    end = time.monotonic() + PATIENCE_MS / 1000
    while (left := int((end - time.monotonic()) * 1000)) > 0:
        socket = QLocalSocket()
        socket.connectToServer(place)
        if not socket.waitForConnected(left):
            time.sleep(0.05)  # the first start has the lock and is about to listen
            continue
        socket.write(told)
        socket.waitForBytesWritten(left)
        answered = socket.bytesAvailable() > 0 or socket.waitForReadyRead(left)
        return answered and given(socket.readAll()).data() == TAKEN
    return False

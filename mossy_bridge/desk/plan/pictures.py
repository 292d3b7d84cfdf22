"""Pictures behind plans: PNG, JPEG and SVG below the flow's folder, drawn by a process that can be ended."""

import subprocess
import sys
import threading
from pathlib import Path
from typing import Literal

from PyQt6.QtCore import QObject, QRectF, pyqtSignal
from PyQt6.QtGui import QImage, QPainter

import mossy_bridge
from mossy_bridge.exchange.below import file_below
from mossy_bridge.exchange.reading import CannotRead, file_bytes

KINDS = "Pictures (*.png *.jpg *.jpeg *.svg)"
ENDINGS = (".png", ".jpg", ".jpeg", ".svg")
PATIENCE = 8.0
"""Seconds until the drawing of a picture is given up."""
AT_ONCE = 2
"""So many are drawn at the same time."""
MOST_KEPT = 200

Standing = Literal["none", "missing", "waiting", "unreadable", "there"]


class CannotDraw(ValueError):  # noqa: N818 - named for what the user reads
    """The file is no picture that can be drawn; the message says why."""


class Picture:
    """A picture that can be painted in any size."""

    def __init__(self, image: QImage):
        self._image = image

    @property
    def size(self) -> tuple[float, float]:
        """Width and height in its own units."""
        return self._image.width(), self._image.height()

    def paint(self, painter: QPainter, rect: QRectF) -> None:
        """Paints it fitted into the rectangle: as large as it goes in undistorted, from the upper left."""
        width, height = self.size
        if width <= 0 or height <= 0:
            return
        scale = min(rect.width() / width, rect.height() / height)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(QRectF(rect.left(), rect.top(), width * scale, height * scale), self._image)


def drawn(path: Path) -> Picture:
    """The picture in a file. Raises :class:`CannotDraw`. It may take seconds: not for the window's thread."""
    ending = path.suffix.lower()
    if ending not in ENDINGS:
        raise CannotDraw(f"{path.name} is no PNG, JPEG or SVG")
    try:
        data = file_bytes(path)
    except CannotRead as error:
        raise CannotDraw(error.problems[0]) from error
    command = [sys.executable, "-m", "mossy_bridge.desk.plan.render_picture", "svg" if ending == ".svg" else "image"]
    root = Path(mossy_bridge.__file__).parent.parent
    try:
        done = subprocess.run(command, input=data, capture_output=True, timeout=PATIENCE, cwd=root, check=False)
    except subprocess.TimeoutExpired as error:
        raise CannotDraw(f"drawing {path.name} takes too long") from error
    image = QImage.fromData(done.stdout, "PNG")
    if done.returncode or image.isNull():
        raise CannotDraw(f"{path.name} cannot be read as a picture")
    return Picture(image)


class Pictures(QObject):
    """Draws pictures beside the window, each once until it changes on disk. ``arrived`` says that one more has been
    drawn, or cannot be."""

    arrived = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._known: dict[tuple[Path, int, int], Picture | None] = {}
        self._waiting: set[tuple[Path, int, int]] = set()
        self._drawing = threading.Semaphore(AT_ONCE)

    def of(self, folder: Path | None, name: str) -> Picture | None:
        """The picture, or None where there is none, or none yet."""
        key = self._key(folder, name)
        if key is None:
            return None
        if key not in self._known and key not in self._waiting:
            self._waiting.add(key)
            threading.Thread(target=self._draw, args=(key,), daemon=True, name="picture").start()
        return self._known.get(key)

    def standing(self, folder: Path | None, name: str) -> Standing:
        """What is known of a picture."""
        if not name:
            return "none"
        self.of(folder, name)
        key = self._key(folder, name)
        if key is None:
            return "missing"
        return "waiting" if key in self._waiting else "there" if self._known.get(key) else "unreadable"

    def _key(self, folder: Path | None, name: str) -> tuple[Path, int, int] | None:
        path = file_below(folder, name) if folder is not None and name else None
        try:
            found = path.stat() if path else None
        except OSError:
            return None
        return (path, found.st_mtime_ns, found.st_size) if path and found else None

    def _draw(self, key: tuple[Path, int, int]) -> None:
        picture = None
        with self._drawing:
            try:
                picture = drawn(key[0])
            except CannotDraw:
                pass  # it is known as one that cannot be
            finally:
                if len(self._known) > MOST_KEPT:
                    self._known.clear()
                self._known[key] = picture
                self._waiting.discard(key)
        self.arrived.emit()


PICTURES = Pictures()
"""Those of the whole program, so that each is drawn once."""

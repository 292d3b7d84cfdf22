"""Pictures behind plans: PNG, JPEG and SVG, read once."""

from pathlib import Path

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPixmap
from PyQt6.QtSvg import QSvgRenderer

KINDS = "Pictures (*.png *.jpg *.jpeg *.svg)"


class Picture:
    """A picture that can be painted in any size."""

    def __init__(self, path: Path):
        self._svg = QSvgRenderer(str(path)) if path.suffix.lower() == ".svg" else None
        self._pixmap = QPixmap() if self._svg else QPixmap(str(path))

    @property
    def sound(self) -> bool:
        """Whether the file could be read."""
        return self._svg.isValid() if self._svg else not self._pixmap.isNull()

    @property
    def size(self) -> tuple[float, float]:
        """Width and height in its own units."""
        size = self._svg.defaultSize() if self._svg else self._pixmap.size()
        return size.width(), size.height()

    def paint(self, painter: QPainter, rect: QRectF) -> None:
        """Paints it fitted into the rectangle: as large as it goes in undistorted, from the upper left."""
        width, height = self.size
        if width <= 0 or height <= 0:
            return
        scale = min(rect.width() / width, rect.height() / height)
        fitted = QRectF(rect.left(), rect.top(), width * scale, height * scale)
        if self._svg:
            self._svg.render(painter, fitted)
        else:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawPixmap(fitted, self._pixmap, QRectF(self._pixmap.rect()))


class Pictures:
    """Reads pictures below a folder, each once until it changes on disk."""

    def __init__(self) -> None:
        self._read: dict[tuple[Path, int], Picture] = {}

    def of(self, folder: Path | None, name: str) -> Picture | None:
        """The picture, or None where there is none or it cannot be read."""
        if folder is None or not name:
            return None
        path = folder / name
        try:
            key = (path, path.stat().st_mtime_ns)
        except OSError:
            return None
        if key not in self._read:
            self._read[key] = Picture(path)
        return self._read[key] if self._read[key].sound else None

"""The whole map in small, at a corner of the view, while the map is much wider than the view."""

from collections import defaultdict
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPen, QPixmap, QPolygonF

from mossy_bridge.desk.map.scene import MapScene
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.marks import COLOUR_OF
from mossy_bridge.desk.widgets.theme import Look

SCREENS = 2
"""It is shown once the map is more than so many views wide."""
LARGEST, LEAST = QSize(260, 120), 26
MARGIN = 10
DOT = 3.0


class MiniMap:
    """Where it stands in a view, which place of the map a pixel of it is, and how it is painted."""

    def __init__(self, look: Look, scene: MapScene, size: Callable[[], QSize]):
        self._look, self._scene, self._size = look, scene, size
        self._picture: QPixmap | None = None
        self._of = -1
        """Which look of the scene the picture shows."""

    def forget(self) -> None:
        """Other colours: it is painted anew when shown next."""
        self._picture = None

    def rect(self, scale: float) -> QRectF:
        """Where it stands; nowhere while the map is not much wider than the view, or the view too small for it."""
        bounds, size = self._scene.bounds(), self._size()
        wide = bounds.width() * scale > SCREENS * size.width()
        if not wide or size.width() < 2 * LARGEST.width() or size.height() < 2 * LEAST:
            return QRectF()
        share = min(LARGEST.width() / bounds.width(), LARGEST.height() / bounds.height())
        height = max(float(LEAST), bounds.height() * share)
        width = max(float(LEAST), bounds.width() * share)
        return QRectF(size.width() - width - MARGIN, size.height() - height - MARGIN, width, height)

    def point_at(self, pixel: QPointF, rect: QRectF) -> QPointF:
        """The point of the map under a pixel of it."""
        bounds = self._scene.bounds()
        across, along = (pixel.x() - rect.left()) / rect.width(), (pixel.y() - rect.top()) / rect.height()
        return QPointF(bounds.left() + across * bounds.width(), bounds.top() + along * bounds.height())

    def paint(self, painter: QPainter, rect: QRectF, area: QRectF) -> None:
        """Paints it, with what of the map is in view."""
        size, look = rect.size().toSize(), self._scene.seen_from_afar
        if self._picture is None or self._picture.size() != size or self._of != look:
            self._picture, self._of = self._painted(size), look
        painter.drawPixmap(rect.topLeft(), self._picture)
        bounds, c = self._scene.bounds(), self._look.colours
        seen = area.intersected(bounds)
        across, along = rect.width() / bounds.width(), rect.height() / bounds.height()
        frame = QRectF(rect.left() + (seen.left() - bounds.left()) * across,
                       rect.top() + (seen.top() - bounds.top()) * along,
                       max(3.0, seen.width() * across), max(3.0, seen.height() * along))  # fmt: skip
        painter.setPen(QPen(c.colour("route"), 1.6))
        painter.setBrush(c.colour("route", 30))
        painter.drawRect(frame)

    def _painted(self, size: QSize) -> QPixmap:
        picture, c, bounds = QPixmap(size), self._look.colours, self._scene.bounds()
        picture.fill(c.colour("panel"))
        across, along = size.width() / bounds.width(), size.height() / bounds.height()
        with painting(picture) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            points: dict[str, list[QPointF]] = defaultdict(list)
            for card in self._scene.cards.values():
                centre = card.placed.rect.center()
                at = QPointF((centre.x() - bounds.left()) * across, (centre.y() - bounds.top()) * along)
                points[card.mark].append(at)
            for mark, some in points.items():
                colour = c.colour(COLOUR_OF[mark])
                painter.setPen(QPen(colour, DOT, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
                painter.drawPoints(QPolygonF(some))
            painter.setPen(QPen(c.colour("line"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(0, 0, size.width() - 1, size.height() - 1)
        return picture

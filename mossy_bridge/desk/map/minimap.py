"""The whole map in small, at a corner of the view, while the map is much wider than the view."""

from collections.abc import Callable, Iterator
from time import perf_counter

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
GRAVEST_LAST = ("sound", "unknown", "suspicious", "stranded", "broken")
"""In this order marks are painted, one over the other."""
PART, AT_ONCE = 250, 0.008
"""So many cards are painted without a look at the clock, and so many seconds in one frame."""


class MiniMap:
    """Where it stands in a view, which place of the map a pixel of it is, and how it is painted."""

    def __init__(self, look: Look, scene: MapScene, size: Callable[[], QSize]):
        self._look, self._scene, self._size = look, scene, size
        self._picture = QPixmap()
        self._painting: Iterator[QPixmap] = iter(())
        """The picture being painted, until it takes the place of the one before."""
        self._of: tuple[QSize, int] | None = None
        """The size, and which look of the scene, that was or is being painted."""

    def forget(self) -> None:
        """Other colours: it is painted anew when shown next."""
        self._of = None

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

    def paint(self, painter: QPainter, rect: QRectF, area: QRectF) -> bool:
        """Paints it, with what of the map is in view. Of a large map it is painted anew over several frames, and shown
        as it was until then: false says that another frame should follow."""
        wanted = rect.size().toSize(), self._scene.seen_from_afar
        if self._of != wanted:
            self._painting, self._of = self._painted(wanted[0]), wanted
        complete = self._go_on_painting()
        if self._picture.size() == wanted[0]:
            painter.drawPixmap(rect.topLeft(), self._picture)
        else:
            painter.fillRect(rect, self._look.colours.colour("panel"))
        bounds, c = self._scene.bounds(), self._look.colours
        seen = area.intersected(bounds)
        across, along = rect.width() / bounds.width(), rect.height() / bounds.height()
        frame = QRectF(rect.left() + (seen.left() - bounds.left()) * across,
                       rect.top() + (seen.top() - bounds.top()) * along,
                       max(3.0, seen.width() * across), max(3.0, seen.height() * along))  # fmt: skip
        painter.setPen(QPen(c.colour("route"), 1.6))
        painter.setBrush(c.colour("route", 30))
        painter.drawRect(frame)
        return complete

    def _go_on_painting(self) -> bool:
        """Paints for as long as nobody notices; whether there is nothing more to paint."""
        began = perf_counter()
        while perf_counter() - began < AT_ONCE:
            try:
                picture = next(self._painting)
            except StopIteration:
                return True
            if not picture.isNull():
                self._picture = picture
        return False

    def _painted(self, size: QSize) -> Iterator[QPixmap]:
        """The picture at the end, and before that nothing, every few cards."""
        picture, c, bounds = QPixmap(size), self._look.colours, self._scene.bounds()
        picture.fill(c.colour("panel"))
        across, along = size.width() / bounds.width(), size.height() / bounds.height()
        points: dict[str, list[QPointF]] = {mark: [] for mark in GRAVEST_LAST}
        cards = list(self._scene.cards.values())
        for first in range(0, len(cards), PART):
            for card in cards[first : first + PART]:
                centre = card.placed.rect.center()
                at = QPointF((centre.x() - bounds.left()) * across, (centre.y() - bounds.top()) * along)
                points[card.mark].append(at)
            yield QPixmap()
        for mark, some in points.items():
            pen = QPen(c.colour(COLOUR_OF[mark]), DOT, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap)
            for first in range(0, len(some), PART):
                with painting(picture) as painter:
                    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                    painter.setPen(pen)
                    painter.drawPoints(QPolygonF(some[first : first + PART]))
                yield QPixmap()
        with painting(picture) as painter:
            painter.setPen(QPen(c.colour("line"), 1))
            painter.drawRect(0, 0, size.width() - 1, size.height() - 1)
        yield picture

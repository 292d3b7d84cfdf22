"""Painted pieces of the map, cached so that panning only moves them. Missing ones are painted a few each frame, so that
no frame takes long."""

from collections.abc import Callable, Iterable
from time import perf_counter

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QPainter, QPixmap

from mossy_bridge.desk.shell.faults import painting

SIDE = 224
"""Pixels."""
BUDGET = 0.006
"""Seconds a frame may spend on painting pieces."""
MOST = 600

Paint = Callable[[QPainter, QRectF], None]
"""Paints a rectangle of the map, the painter already in map units."""


class Tiles:
    """Pieces of the map at one zoom, and a stretched picture of the last zoom until they are there."""

    def __init__(self) -> None:
        self._pieces: dict[tuple[int, int], QPixmap] = {}
        self._scale = 0.0
        self._ratio = 1.0
        self._before: tuple[QPixmap, QRectF] | None = None

    def forget(self, rects: Iterable[QRectF] | None = None) -> None:
        """Forgets the pieces that touch the rectangles, or all."""
        if rects is None:
            self._pieces.clear()
            self._before = None
            return
        side = SIDE / self._scale if self._scale else 0
        for rect in rects if side else ():
            if rect.width() / side * rect.height() / side > MOST:
                self._pieces.clear()
                return
            for across in range(int(rect.left() // side), int(rect.right() // side) + 1):
                for along in range(int(rect.top() // side), int(rect.bottom() // side) + 1):
                    self._pieces.pop((across, along), None)

    def stand_in(self, shown: QPixmap, area: QRectF) -> None:
        """The zoom is about to change: what is shown now stands in for what is not painted yet."""
        self._before = (shown, area)

    def paint(self, painter: QPainter, area: QRectF, scale: float, ratio: float, ground: QColor, paint: Paint) -> bool:
        """Paints the area of the map at a zoom. Returns whether all of it was there."""
        if scale != self._scale or ratio != self._ratio:
            self._pieces.clear()
            self._scale, self._ratio = scale, ratio
        side, began, complete = SIDE / scale, perf_counter(), True
        wanted = [
            (across, along)
            for across in range(int(area.left() // side), int(area.right() // side) + 1)
            for along in range(int(area.top() // side), int(area.bottom() // side) + 1)
        ]
        if self._before and any(key not in self._pieces for key in wanted):
            self._stand_in(painter, area, scale)
        for key in wanted:
            piece = self._pieces.get(key)
            if piece is None and perf_counter() - began < BUDGET:
                piece = self._painted(key, side, scale, ratio, ground, paint)
            if piece is None:
                complete = False
                continue
            at = QPointF(round((key[0] * side - area.left()) * scale), round((key[1] * side - area.top()) * scale))
            painter.drawPixmap(at, piece)
        if complete:
            self._before = None
        if len(self._pieces) > MOST:
            self._pieces = {key: self._pieces[key] for key in wanted if key in self._pieces}
        return complete

    def _stand_in(self, painter: QPainter, area: QRectF, scale: float) -> None:
        assert self._before is not None
        picture, of = self._before
        target = QRectF((of.left() - area.left()) * scale, (of.top() - area.top()) * scale,
                        of.width() * scale, of.height() * scale)  # fmt: skip
        painter.drawPixmap(target, picture, QRectF(picture.rect()))

    def _painted(
        self, key: tuple[int, int], side: float, scale: float, ratio: float, ground: QColor, paint: Paint
    ) -> QPixmap:
        piece = QPixmap(int(SIDE * ratio), int(SIDE * ratio))
        piece.setDevicePixelRatio(ratio)
        piece.fill(ground)
        with painting(piece) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.scale(scale, scale)
            painter.translate(-key[0] * side, -key[1] * side)
            paint(painter, QRectF(key[0] * side, key[1] * side, side, side))
        self._pieces[key] = piece
        return piece

"""Painted pieces of the map, cached so that panning only moves them. Missing ones are painted over several frames, so
that no frame takes long: a thousand bridges may lead through one piece."""

from collections.abc import Callable, Iterable, Iterator
from time import perf_counter

from PyQt6.QtCore import QPointF, QRectF, QSizeF
from PyQt6.QtGui import QColor, QPainter, QPixmap

from mossy_bridge.desk.shell.faults import painting

SIDE = 224
"""Pixels."""
BUDGET = 0.006
"""Seconds a frame may spend on painting pieces."""
MOST = 600

Stroke = Callable[[QPainter], None]
"""Paints one thing, the painter already in map units."""
Strokes = Callable[[QRectF], Iterable[Stroke]]
"""What is to be painted in a rectangle of the map, one over the other."""
Key = tuple[int, int]


class Tiles:
    """Pieces of the map at one zoom, and a stretched picture of the last zoom until they are there."""

    def __init__(self) -> None:
        self._pieces: dict[Key, QPixmap] = {}
        self._begun: dict[Key, tuple[QPixmap, Iterator[Stroke]]] = {}
        """Pieces that took longer than a frame, with what is still to be painted."""
        self._scale = 0.0
        self._ratio = 1.0
        self._before: tuple[QPixmap, QRectF] | None = None

    def forget(self, rects: Iterable[QRectF] | None = None) -> None:
        """Forgets the pieces that touch the rectangles, or all."""
        if rects is None:
            self._forget_all()
            self._before = None
            return
        side = SIDE / self._scale if self._scale else 0
        for rect in rects if side else ():
            if rect.width() / side * rect.height() / side > MOST:
                self._forget_all()
                return
            for across in range(int(rect.left() // side), int(rect.right() // side) + 1):
                for along in range(int(rect.top() // side), int(rect.bottom() // side) + 1):
                    self._pieces.pop((across, along), None)
                    self._begun.pop((across, along), None)

    def _forget_all(self) -> None:
        self._pieces.clear()
        self._begun.clear()

    def stand_in(self, shown: QPixmap, area: QRectF) -> None:
        """The zoom is about to change: what is shown now stands in for what is not painted yet."""
        self._before = (shown, area)

    def paint(
        self, painter: QPainter, area: QRectF, scale: float, ratio: float, ground: QColor, strokes: Strokes
    ) -> bool:
        """Paints the area of the map at a zoom. Returns whether all of it was there."""
        if scale != self._scale or ratio != self._ratio:
            self._forget_all()
            self._scale, self._ratio = scale, ratio
        side, until, complete = SIDE / scale, perf_counter() + BUDGET, True
        wanted = [
            (across, along)
            for across in range(int(area.left() // side), int(area.right() // side) + 1)
            for along in range(int(area.top() // side), int(area.bottom() // side) + 1)
        ]
        if self._before and any(key not in self._pieces for key in wanted):
            self._stand_in(painter, area, scale)
        for key in wanted:
            piece = self._pieces.get(key)
            if piece is None and perf_counter() < until:
                piece = self._painted(key, ground, strokes, until)
            if piece is None:
                complete = False
                continue
            at = QPointF(round((key[0] * side - area.left()) * scale), round((key[1] * side - area.top()) * scale))
            painter.drawPixmap(at, piece)
        if complete:
            self._before = None
        if len(self._pieces) > MOST:
            self._pieces = {key: self._pieces[key] for key in wanted if key in self._pieces}
        if len(self._begun) > 1:
            self._begun = {key: self._begun[key] for key in wanted if key in self._begun}
        return complete

    def _stand_in(self, painter: QPainter, area: QRectF, scale: float) -> None:
        assert self._before is not None
        picture, of = self._before
        target = QRectF((of.left() - area.left()) * scale, (of.top() - area.top()) * scale,
                        of.width() * scale, of.height() * scale)  # fmt: skip
        painter.drawPixmap(target, picture, QRectF(picture.rect()))

    def _painted(self, key: Key, ground: QColor, strokes: Strokes, until: float) -> QPixmap | None:
        """A piece; None if it is not finished by some time, and will be gone on with in another frame."""
        side = SIDE / self._scale
        corner = QPointF(key[0] * side, key[1] * side)
        if key not in self._begun:
            self._begun[key] = self._blank(ground), iter(strokes(QRectF(corner, QSizeF(side, side))))
        piece, rest = self._begun[key]
        with painting(piece) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.scale(self._scale, self._scale)
            painter.translate(-corner)
            for stroke in rest:
                stroke(painter)
                if perf_counter() >= until:
                    return None
        del self._begun[key]
        self._pieces[key] = piece
        return piece

    def _blank(self, ground: QColor) -> QPixmap:
        piece = QPixmap(int(SIDE * self._ratio), int(SIDE * self._ratio))
        piece.setDevicePixelRatio(self._ratio)
        piece.fill(ground)
        return piece

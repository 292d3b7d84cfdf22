"""A crossing as a footbridge: two rails with planks between, a lock across it, a stub where it is broken."""

import math
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPainterPathStroker, QPen, QPolygonF

from mossy_bridge.desk.map.crossings import Crossing
from mossy_bridge.desk.widgets.colours import Colours
from mossy_bridge.desk.widgets.theme import Look

FAR = 0.42
"""Below this zoom cards are beads, and bridges plain lines."""
MOST_PLANKS = 2_000
"""A longer bridge has its planks further apart."""
HALF, PLANK, PIECE = 2.8, 6.5, 20
"""Half the width of a bridge, the way from plank to plank in map units, and planks a piece."""


@dataclass(frozen=True)
class Curve:
    """A cubic curve by its four points."""

    a: QPointF
    b: QPointF
    c: QPointF
    d: QPointF

    def path(self) -> QPainterPath:
        """The curve to be painted as a line."""
        path = QPainterPath(self.a)
        path.cubicTo(self.b, self.c, self.d)
        return path

    def at(self, t: float) -> tuple[float, float, float, float]:
        """The point at t from 0 to 1, and the unit vector along the curve there."""
        u = 1 - t
        w0, w1, w2, w3 = u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t
        a, b, c, d = self.a, self.b, self.c, self.d
        x = w0 * a.x() + w1 * b.x() + w2 * c.x() + w3 * d.x()
        y = w0 * a.y() + w1 * b.y() + w2 * c.y() + w3 * d.y()
        v0, v1, v2 = 3 * u * u, 6 * u * t, 3 * t * t
        across = v0 * (b.x() - a.x()) + v1 * (c.x() - b.x()) + v2 * (d.x() - c.x())
        along = v0 * (b.y() - a.y()) + v1 * (c.y() - b.y()) + v2 * (d.y() - c.y())
        length = math.hypot(across, along) or 1.0
        return x, y, across / length, along / length

    def length(self) -> float:
        """About how long it is: between the straight way and the way over its points."""
        points = (self.a, self.b, self.c, self.d)
        over = sum(QLineF(one, other).length() for one, other in pairwise(points))
        return (over + QLineF(self.a, self.d).length()) / 2


def bridge_curve(start: QPointF, end: QPointF) -> Curve:
    """The line of a bridge: it leaves and arrives level, and steps aside where it has to lead back."""
    reach = max(40.0, abs(end.x() - start.x()) * 0.45)
    if end.x() < start.x() + 20:
        sag = 60 + abs(end.x() - start.x()) * 0.08
        return Curve(start, start + QPointF(reach * 0.6, sag), end + QPointF(-reach * 0.6, sag), end)
    return Curve(start, start + QPointF(reach, 0), end - QPointF(reach, 0), end)


def bridge_path(start: QPointF, end: QPointF) -> QPainterPath:
    """The same as a line to paint."""
    return bridge_curve(start, end).path()


@dataclass(frozen=True)
class Piece:
    """A piece of a footbridge: what lies between the rails, the rails, and the planks."""

    deck: QPolygonF
    rails: tuple[QPolygonF, QPolygonF]
    planks: list[QLineF]


def _piece(curve: Curve, first: int, last: int, count: int) -> Piece:
    steps = [curve.at(i / count) for i in range(first, last + 1)]
    one = [QPointF(x - HALF * v, y + HALF * u) for x, y, u, v in steps]
    other = [QPointF(x + HALF * v, y - HALF * u) for x, y, u, v in steps]
    planks = [QLineF(a, b) for a, b in zip(one, other, strict=True)]
    return Piece(QPolygonF([*one, *reversed(other)]), (QPolygonF(one), QPolygonF(other)), planks)


class Bridge:
    """One crossing on the map, and how it is painted. It never changes: another crossing is another bridge."""

    def __init__(self, crossing: Crossing, ends: tuple[QPointF, QPointF], far: tuple[QPointF, QPointF] | None,
                 cards: tuple[QRectF, QRectF] | None, lock: str, works: bool):  # fmt: skip
        self.crossing, self.lock, self.works = crossing, lock, works
        self.far = QLineF(*far) if far else None
        """From bead to bead, when seen from afar."""
        self.quiet = crossing.kind in ("quiet", "depends")
        self.hidden_away = crossing.kind == "quiet"
        """Shown only while one of its ends is selected."""
        start, end = ends
        self._curve = bridge_curve(start, start + QPointF(26, 4) if crossing.kind == "broken" else end)
        self._cards = cards or ()
        self._made: dict[int, Piece] = {}
        bounds = QPolygonF([self._curve.a, self._curve.b, self._curve.c, self._curve.d]).boundingRect()
        if self.far:
            bounds = bounds.united(QRectF(self.far.p1(), self.far.p2()).normalized())
        self.bounds = bounds.adjusted(-70, -32, 70, 32)
        self.colour = "broken" if crossing.kind == "broken" else "sound" if works else "suspicious"

    @cached_property
    def _path(self) -> QPainterPath:
        return self._curve.path()

    @cached_property
    def _spans(self) -> list[tuple[QRectF, int, int]]:
        """The stretches the bridge is painted in: about where each lies, and its first and last plank."""
        count = self._planks
        found = []
        for first in range(0, count, PIECE):
            last = min(first + PIECE, count)
            points = [self._curve.at((first + (last - first) * i / 3) / count)[:2] for i in range(4)]
            bounds = QPolygonF([QPointF(x, y) for x, y in points]).boundingRect()
            found.append((bounds.adjusted(-14, -14, 14, 14), first, last))
        return found

    @cached_property
    def _planks(self) -> int:
        return max(4, min(MOST_PLANKS, round(self._curve.length() / PLANK)))

    def _pieces(self, within: QRectF | None) -> list[Piece]:
        """The pieces that touch a rectangle, each worked out when first painted: most never are."""
        found = []
        for bounds, first, last in self._spans:
            if within is None or bounds.intersects(within):
                if first not in self._made:
                    self._made[first] = _piece(self._curve, first, last, self._planks)
                found.append(self._made[first])
        return found

    def middle(self) -> QPointF:
        """The middle of the bridge, on the map."""
        x, y, _, _ = self._curve.at(0.5)
        return QPointF(x, y)

    def is_near(self, point: QPointF, reach: float) -> bool:
        """Whether the point lies on the bridge, with some reach."""
        if not self.bounds.contains(point):
            return False
        stroker = QPainterPathStroker()
        stroker.setWidth(2 * reach)
        return stroker.createStroke(self._path).contains(point)

    def paint(self, painter: QPainter, look: Look, within: QRectF | None = None, chosen: bool = False) -> None:
        """Paints what lies within a rectangle, or all; ``chosen`` brings it out."""
        c = look.colours
        colour = "route" if chosen else self.colour
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.crossing.kind == "broken":
            self._paint_stub(painter, c, chosen)
        elif self.quiet and not chosen:
            painter.setOpacity(0.34)
            style = Qt.PenStyle.DotLine if self.crossing.kind == "quiet" else Qt.PenStyle.DashLine
            painter.setPen(QPen(c.colour("dim"), 1.3, style))
            painter.drawPath(self._path)
            painter.setOpacity(1)
        elif self.quiet:
            style = Qt.PenStyle.DashLine if self.crossing.kind == "depends" else Qt.PenStyle.DotLine
            painter.setPen(QPen(c.colour(colour), 3, style))
            painter.drawPath(self._path)
        else:
            self._paint_pieces(painter, c, colour, self._pieces(within), chosen)
        if self.lock and (chosen or not self.quiet):
            self._paint_lock(painter, look)

    def paint_over(self, painter: QPainter, look: Look, within: QRectF | None = None) -> None:
        """The parts that lie over the cards it joins: from the very door to the very landing. The rest stays
        below the cards it only passes."""
        if self.quiet or self.crossing.kind == "broken":
            return
        for card in self._cards:
            if within is not None and not card.intersects(within):
                continue
            pieces = self._pieces(card)
            if pieces:
                painter.save()
                painter.setClipRect(card, Qt.ClipOperation.IntersectClip)
                self._paint_pieces(painter, look.colours, self.colour, pieces, False)
                painter.restore()

    def paint_far(self, painter: QPainter, c: Colours, chosen: bool = False) -> None:
        """From bead to bead."""
        if self.far:
            painter.setPen(QPen(c.colour("route" if chosen else self.colour), 7 if chosen else 4))
            painter.drawLine(self.far)

    def _paint_pieces(self, painter: QPainter, c: Colours, colour: str, pieces: list[Piece], chosen: bool) -> None:
        painter.setBrush(c.colour("card"))
        for piece in pieces:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawPolygon(piece.deck)
        painter.setPen(QPen(c.colour(colour), 2.2 if chosen else 1.7))
        for piece in pieces:
            for rail in piece.rails:
                painter.drawPolyline(rail)
            painter.drawLines(*piece.planks)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour(colour))
        for head in self._heads:
            painter.drawPolygon(head)

    @cached_property
    def _heads(self) -> list[QPolygonF]:
        """The arrow heads: where it lands, and where it comes back."""
        curve = self._curve
        ends = [(curve.d, curve.at(1)[2:])]
        if self.crossing.kind == "both_ways":
            across, along = curve.at(0)[2:]
            ends.append((curve.a, (-across, -along)))
        heads = []
        for tip, (across, along) in ends:
            back = tip - QPointF(across, along) * 9
            side = QPointF(-along, across) * 5
            heads.append(QPolygonF([tip, back + side, back - side]))
        return heads

    def _paint_stub(self, painter: QPainter, c: Colours, chosen: bool) -> None:
        start = self._curve.a
        painter.setPen(QPen(c.colour("route" if chosen else "broken"), 5))
        painter.drawLine(start, start + QPointF(13, 0))
        painter.setPen(QPen(c.colour("broken"), 2.4))
        jag = [QPointF(13, -4), QPointF(18, 2), QPointF(21, -5), QPointF(26, 4)]
        painter.drawPolyline(QPolygonF([start + point for point in jag]))
        painter.drawLine(start + QPointF(17, -13), start + QPointF(24, -6))
        painter.drawLine(start + QPointF(24, -13), start + QPointF(17, -6))

    def _paint_lock(self, painter: QPainter, look: Look) -> None:
        """A bar across the bridge, with the condition in short above it."""
        c = look.colours
        at = self.middle()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour("suspicious"))
        painter.drawRoundedRect(QRectF(at.x() - 3, at.y() - 10, 6, 20), 2, 2)
        painter.setFont(look.font(-2, bold=True))
        metrics = QFontMetricsF(painter.font())
        text = metrics.elidedText(self.lock, Qt.TextElideMode.ElideRight, 120)
        width = metrics.horizontalAdvance(text)
        label = QRectF(at.x() - width / 2 - 5, at.y() - 27, width + 10, 15)
        painter.setBrush(c.colour("ground", 225))
        painter.drawRoundedRect(label, 4, 4)
        painter.setPen(c.colour("suspicious"))
        painter.drawText(label, Qt.AlignmentFlag.AlignCenter, text)

"""A crossing as a footbridge: two rails with planks between, a lock across it, a stub where it is broken."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPainterPathStroker, QPen, QPolygonF

from mossy_bridge.desk.look import Colours, Look
from mossy_bridge.desk.map.crossings import Crossing

FAR = 0.42
"""Below this zoom cards are beads, and bridges plain lines."""


def bridge_path(start: QPointF, end: QPointF) -> QPainterPath:
    """The line of a bridge: it leaves and arrives level, and steps aside where it has to lead back."""
    path = QPainterPath(start)
    reach = max(40.0, abs(end.x() - start.x()) * 0.45)
    if end.x() < start.x() + 20:
        sag = 60 + abs(end.x() - start.x()) * 0.08
        path.cubicTo(start + QPointF(reach * 0.6, sag), end + QPointF(-reach * 0.6, sag), end)
    else:
        path.cubicTo(start + QPointF(reach, 0), end - QPointF(reach, 0), end)
    return path


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
        self._path = bridge_path(start, end)
        if crossing.kind == "broken":
            self._path = QPainterPath(start)
            self._path.lineTo(start + QPointF(26, 4))
        self._over = QPainterPath()
        for card in cards or ():
            self._over.addRect(card)
        bounds = self._path.boundingRect()
        if self.far:
            bounds = bounds.united(QRectF(self.far.p1(), self.far.p2()).normalized())
        self.bounds = bounds.adjusted(-70, -32, 70, 32)
        self.colour = "broken" if crossing.kind == "broken" else "sound" if works else "suspicious"

    def middle(self) -> QPointF:
        """The middle of the bridge, on the map."""
        return self._path.pointAtPercent(0.5)

    def is_near(self, point: QPointF, reach: float) -> bool:
        """Whether the point lies on the bridge, with some reach."""
        if not self.bounds.contains(point):
            return False
        stroker = QPainterPathStroker()
        stroker.setWidth(2 * reach)
        return stroker.createStroke(self._path).contains(point)

    def paint(self, painter: QPainter, look: Look, chosen: bool = False) -> None:
        """Paints it; ``chosen`` brings it out."""
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
            self._paint_bridge(painter, c, colour, chosen)
        if self.lock and (chosen or not self.quiet):
            self._paint_lock(painter, look)

    def paint_over(self, painter: QPainter, look: Look) -> None:
        """The parts that lie over the cards it joins: from the very door to the very landing. The rest stays
        below the cards it only passes."""
        if not self.quiet and self.crossing.kind != "broken" and not self._over.isEmpty():
            painter.save()
            painter.setClipPath(self._over, Qt.ClipOperation.IntersectClip)
            self._paint_bridge(painter, look.colours, self.colour, False)
            painter.restore()

    def paint_far(self, painter: QPainter, c: Colours, chosen: bool = False) -> None:
        """From bead to bead."""
        if self.far:
            painter.setPen(QPen(c.colour("route" if chosen else self.colour), 7 if chosen else 4))
            painter.drawLine(self.far)

    def _paint_bridge(self, painter: QPainter, c: Colours, colour: str, chosen: bool) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(c.colour(colour), 7.5 if chosen else 6.5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        painter.drawPath(self._path)
        painter.setPen(QPen(c.colour("card"), 3.6, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        painter.drawPath(self._path)
        planks = QPen(c.colour(colour), 5, Qt.PenStyle.CustomDashLine, Qt.PenCapStyle.FlatCap)
        planks.setDashPattern([0.26, 1.1])
        painter.setPen(planks)
        painter.drawPath(self._path)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour(colour))
        self._paint_head(painter, 1.0)
        if self.crossing.kind == "both_ways":
            self._paint_head(painter, 0.0)

    def _paint_head(self, painter: QPainter, portion: float) -> None:
        tip = self._path.pointAtPercent(portion)
        angle = self._path.angleAtPercent(portion) + (180 if portion == 0 else 0)
        line = QLineF.fromPolar(9, angle + 180)
        back = tip + QPointF(line.dx(), line.dy())
        side = QPointF(-line.dy(), line.dx()) * 0.55
        painter.drawPolygon(QPolygonF([tip, back + side, back - side]))

    def _paint_stub(self, painter: QPainter, c: Colours, chosen: bool) -> None:
        start = self._path.pointAtPercent(0)
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

"""A crossing as a footbridge: two rails with planks between, a lock across it, a stub where it is broken."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPainterPathStroker, QPen, QPolygonF
from PyQt6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from mossy_bridge.desk.look import Look
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


class BridgeItem(QGraphicsItem):
    """One crossing on the map. Holds no truth: it is made anew when the flow changes."""

    def __init__(
        self,
        look: Look,
        crossing: Crossing,
        ends: tuple[QPointF, QPointF],
        far_ends: tuple[QPointF, QPointF] | None,
        lock: str,
        works: bool,
    ):
        super().__init__()
        self.crossing = crossing
        self._look, self._lock, self._works = look, lock, works
        self.chosen = False
        self.quiet = crossing.kind in ("quiet", "depends")
        self.hidden_away = crossing.kind == "quiet"
        """Shown only while one of its ends is selected."""
        start, end = ends
        self._path = bridge_path(start, end)
        self._far_path = bridge_path(*far_ends) if far_ends else self._path
        if crossing.kind == "broken":
            self._path = QPainterPath(start)
            self._path.lineTo(start + QPointF(26, 4))
        self.setZValue(1 if self.quiet else 2)
        self.setAcceptHoverEvents(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def middle(self) -> QPointF:
        """The middle of the bridge, on the map."""
        return self._path.pointAtPercent(0.5)

    def boundingRect(self) -> QRectF:
        return self._path.boundingRect().united(self._far_path.boundingRect()).adjusted(-70, -26, 70, 26)

    def shape(self) -> QPainterPath:
        stroker = QPainterPathStroker()
        stroker.setWidth(14)
        return stroker.createStroke(self._path)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionGraphicsItem | None, _: QWidget | None = None
    ) -> None:
        c = self._look.colours
        colour = self._colour()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        far = option.levelOfDetailFromTransform(painter.worldTransform()) < FAR
        if self.crossing.kind == "broken":
            self._paint_stub(painter)
        elif self.quiet and not self.chosen:
            painter.setOpacity(0.34)
            style = Qt.PenStyle.DotLine if self.crossing.kind == "quiet" else Qt.PenStyle.DashLine
            painter.setPen(QPen(c.colour("dim"), 1.3, style))
            painter.drawPath(self._path)
            painter.setOpacity(1)
        elif far:
            painter.setPen(QPen(c.colour(colour), 4))
            painter.drawPath(self._far_path)
        elif self.quiet:
            style = Qt.PenStyle.DashLine if self.crossing.kind == "depends" else Qt.PenStyle.DotLine
            painter.setPen(QPen(c.colour(colour), 3, style))
            painter.drawPath(self._path)
        else:
            self._paint_bridge(painter, colour)
        if self._lock and not far and not (self.quiet and not self.chosen):
            self._paint_lock(painter)

    def paint_over(self, painter: QPainter) -> None:
        """The bridge once more, where it lies over the cards it joins."""
        if not self.quiet and self.crossing.kind != "broken":
            self._paint_bridge(painter, self._colour())

    def _colour(self) -> str:
        if self.chosen:
            return "route"
        if self.crossing.kind == "broken":
            return "broken"
        return "sound" if self._works else "suspicious"

    def _paint_bridge(self, painter: QPainter, colour: str) -> None:
        c = self._look.colours
        painter.setPen(
            QPen(c.colour(colour), 7.5 if self.chosen else 6.5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap)
        )
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

    def _paint_stub(self, painter: QPainter) -> None:
        c = self._look.colours
        start = self._path.pointAtPercent(0)
        painter.setPen(QPen(c.colour("route" if self.chosen else "broken"), 5))
        painter.drawLine(start, start + QPointF(13, 0))
        painter.setPen(QPen(c.colour("broken"), 2.4))
        jag = [QPointF(13, -4), QPointF(18, 2), QPointF(21, -5), QPointF(26, 4)]
        painter.drawPolyline(QPolygonF([start + point for point in jag]))
        painter.drawLine(start + QPointF(17, -13), start + QPointF(24, -6))
        painter.drawLine(start + QPointF(24, -13), start + QPointF(17, -6))

    def _paint_lock(self, painter: QPainter) -> None:
        """A bar across the bridge, with the condition in short above it."""
        c = self._look.colours
        at = self.middle()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour("suspicious"))
        painter.drawRoundedRect(QRectF(at.x() - 3, at.y() - 10, 6, 20), 2, 2)
        painter.setFont(self._look.font(-2, bold=True))
        metrics = QFontMetricsF(painter.font())
        text = metrics.elidedText(self._lock, Qt.TextElideMode.ElideRight, 120)
        width = metrics.horizontalAdvance(text)
        label = QRectF(at.x() - width / 2 - 5, at.y() - 27, width + 10, 15)
        painter.setBrush(c.colour("ground", 225))
        painter.drawRoundedRect(label, 4, 4)
        painter.setPen(c.colour("suspicious"))
        painter.drawText(label, Qt.AlignmentFlag.AlignCenter, text)


class BridgeEnds(QGraphicsItem):
    """The parts of a bridge that lie over the cards it joins: from the very door to the very landing. The rest
    stays below the cards it only passes."""

    def __init__(self, bridge: BridgeItem, cards: tuple[QRectF, QRectF]):
        super().__init__(bridge.parentItem())
        self._bridge = bridge
        self._over = QPainterPath()
        for card in cards:
            self._over.addRect(card)
        self.setZValue(5)
        self.setAcceptedMouseButtons(Qt.MouseButton.NoButton)

    def boundingRect(self) -> QRectF:
        return self._over.boundingRect()

    def paint(
        self, painter: QPainter | None, option: QStyleOptionGraphicsItem | None, _: QWidget | None = None
    ) -> None:
        if self._bridge.isVisible() and option.levelOfDetailFromTransform(painter.worldTransform()) >= FAR:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setClipPath(self._over)
            self._bridge.paint_over(painter)

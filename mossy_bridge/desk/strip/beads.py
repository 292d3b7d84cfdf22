"""Paints beads. Kind, shipping and status differ in shape, the verdict in shape and colour."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from mossy_bridge.desk.widgets.colours import Colours
from mossy_bridge.desk.widgets.marks import COLOUR_OF, paint_mark
from mossy_bridge.model.flow import Level


def paint_bead(painter: QPainter, c: Colours, level: Level, mark: str, centre: QPointF, radius: float) -> None:
    """A level: a round bead; screens and boards are slabs. Planned ones are open at the top; what does not ship
    is struck through."""
    shown = mark if level.ships else "unknown"
    if level.kind != "play":
        _slab(painter, c, level, shown, centre, radius)
    elif level.status == "planned":
        _open_bead(painter, c, shown, centre, radius)
    elif shown == "sound":
        paint_mark(painter, c, "sound", centre, radius)
    else:
        _ring(painter, c, shown, centre, radius)
    if not level.ships:
        painter.setPen(QPen(c.colour("dim"), 2))
        painter.drawLine(centre + QPointF(-radius - 4, radius * 0.5), centre + QPointF(radius + 4, -radius * 0.5))


def _ring(painter: QPainter, c: Colours, mark: str, centre: QPointF, radius: float) -> None:
    style = Qt.PenStyle.DashLine if mark in ("stranded", "unknown") else Qt.PenStyle.SolidLine
    painter.setPen(QPen(c.colour(COLOUR_OF[mark]), 2, style))
    painter.setBrush(c.colour("card"))
    painter.drawEllipse(centre, radius, radius)
    if mark in ("broken", "suspicious"):
        paint_mark(painter, c, mark, centre, radius * 0.62)


def _open_bead(painter: QPainter, c: Colours, mark: str, centre: QPointF, radius: float) -> None:
    painter.setPen(QPen(c.colour(COLOUR_OF[mark]), 2.2, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    box = QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius)
    painter.drawArc(box, 140 * 16, 260 * 16)
    painter.setBrush(c.colour(COLOUR_OF[mark]))
    painter.drawEllipse(centre + QPointF(0, -radius), 1.6, 1.6)
    if mark in ("broken", "suspicious"):
        paint_mark(painter, c, mark, centre, radius * 0.55)


def _slab(painter: QPainter, c: Colours, level: Level, mark: str, centre: QPointF, radius: float) -> None:
    dashed = mark in ("stranded", "unknown") or level.status == "planned"
    painter.setPen(QPen(c.colour(COLOUR_OF[mark]), 1.8, Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine))
    painter.setBrush(c.colour("card"))
    half = radius * 0.84
    slab = QRectF(centre.x() - half, centre.y() - half, 2 * half, 2 * half)
    painter.drawRoundedRect(slab, half * 0.45, half * 0.45)
    if level.kind == "board":
        painter.drawLine(QPointF(centre.x(), slab.top() + 3), QPointF(centre.x(), slab.bottom() - 3))
        painter.drawLine(QPointF(slab.left() + 3, centre.y()), QPointF(slab.right() - 3, centre.y()))
    elif mark in ("broken", "suspicious"):
        paint_mark(painter, c, mark, centre, half * 0.66)

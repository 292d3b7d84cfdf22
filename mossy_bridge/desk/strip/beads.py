"""Paints beads. Kind, shipping and status differ in shape, the verdict in shape and colour."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from mossy_bridge.desk.widgets.colours import Colours
from mossy_bridge.desk.widgets.marks import COLOUR_OF, paint_mark
from mossy_bridge.desk.widgets.theme import Look
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


def paint_players(painter: QPainter, look: Look, centre: QPointF, radius: float, count: int) -> None:
    """At the shoulder of a bead, how many players are in its level."""
    c, size = look.colours, max(4.0, min(7.5, radius * 0.85))
    at = centre + QPointF(-radius * 0.9, -radius * 0.9)
    painter.setPen(QPen(c.colour("card"), 1.4))
    painter.setBrush(c.colour("route"))
    painter.drawEllipse(at, size, size)
    if size > 5:
        painter.setPen(c.colour("card"))
        painter.setFont(look.font(-2.5, bold=True))
        box = QRectF(at.x() - size, at.y() - size, 2 * size, 2 * size)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(count))


def paint_different(painter: QPainter, c: Colours, centre: QPointF, radius: float) -> None:
    """Below the shoulder of a bead two strokes, one over the other: another version has the level otherwise."""
    at, wide = centre + QPointF(radius * 0.55, radius * 0.75), max(3.0, radius * 0.6)
    for colour, width in (("card", 6.5), ("route", 2.0)):
        painter.setPen(QPen(c.colour(colour), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        for below in (0, 4):
            painter.drawLine(at + QPointF(0, below), at + QPointF(wide, below))

"""Marks: small drawn signs. Each verdict and severity has its own shape, not only its colour."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPen, QPolygonF

from mossy_bridge.desk.widgets.colours import Colours
from mossy_bridge.desk.widgets.theme import Look

Mark = str
"""One of sound, stranded, unknown, broken, suspicious, hint."""

COLOUR_OF = {
    "sound": "sound",
    "stranded": "suspicious",
    "unknown": "dim",
    "broken": "broken",
    "suspicious": "suspicious",
    "hint": "dim",
}
SEVERITY_MARK = {"error": "broken", "warning": "suspicious", "hint": "hint"}


def paint_mark(painter: QPainter, c: Colours, mark: Mark, centre: QPointF, radius: float) -> None:
    """Paints a mark: a tick, a broken ring, a cross, a triangle or a ring."""
    colour = c.colour(COLOUR_OF[mark])
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    pen = QPen(colour, max(1.4, radius * 0.26), Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap)
    if mark == "sound":
        _tick(painter, c, colour, centre, radius)
    elif mark == "broken":
        painter.setPen(pen)
        d = radius * 0.62
        painter.drawLine(centre + QPointF(-d, -d), centre + QPointF(d, d))
        painter.drawLine(centre + QPointF(-d, d), centre + QPointF(d, -d))
    elif mark == "suspicious":
        pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        corners = [
            QPointF(0, -radius * 0.85),
            QPointF(radius * 0.9, radius * 0.7),
            QPointF(-radius * 0.9, radius * 0.7),
        ]
        painter.drawPolygon(QPolygonF([centre + corner for corner in corners]))
    else:
        if mark in ("stranded", "unknown"):
            pen.setStyle(Qt.PenStyle.DotLine)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(centre, radius * 0.8, radius * 0.8)
    painter.restore()


def paint_player(painter: QPainter, look: Look, foot: QPointF, size: float, name: str, wrong: bool) -> None:
    """Somebody who plays: a lantern with the first letter of the name, its foot where they are, and the name beside it;
    with a sign of exclamation where the flow cannot explain what they did."""
    c = look.colours
    colour = "broken" if wrong else "route"
    centre = foot - QPointF(0, size * 1.5)
    lantern = QPolygonF([foot, centre + QPointF(size * 0.7, size * 0.6), centre + QPointF(-size * 0.7, size * 0.6)])
    painter.save()
    painter.setPen(QPen(c.colour("card"), size * 0.16))
    painter.setBrush(c.colour(colour))
    painter.drawPolygon(lantern)
    painter.drawEllipse(centre, size, size)
    font = look.font(0, bold=True)
    font.setPointSizeF(max(1.0, size * 0.85))
    painter.setFont(font)
    painter.setPen(c.colour("card"))
    box = QRectF(centre.x() - size, centre.y() - size, 2 * size, 2 * size)
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "!" if wrong else name[:1].upper())
    shown = QFontMetricsF(font).elidedText(name, Qt.TextElideMode.ElideRight, size * 9)
    label = QRectF(
        centre.x() + size + 2, centre.y() - size, QFontMetricsF(font).horizontalAdvance(shown) + size, 2 * size
    )
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(c.colour("card", 225))
    painter.drawRoundedRect(label, size / 2, size / 2)
    painter.setPen(c.colour(colour))
    painter.drawText(label, Qt.AlignmentFlag.AlignCenter, shown)
    painter.restore()


def _tick(painter: QPainter, c: Colours, colour: QColor, centre: QPointF, radius: float) -> None:
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(colour))
    painter.drawEllipse(QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius))
    pen = QPen(c.colour("on_sound"), max(1.2, radius * 0.25), Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap)
    painter.setPen(pen)
    tick = [QPointF(-0.42, 0.02), QPointF(-0.1, 0.36), QPointF(0.45, -0.34)]
    painter.drawPolyline(QPolygonF([centre + point * radius for point in tick]))

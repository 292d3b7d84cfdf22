"""Paints a level's plan to scale: on the map's cards, and large on the bench."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from mossy_bridge.desk.look import Colours
from mossy_bridge.model.flow import Exit, Flow, Level, Rect, Spawn
from mossy_bridge.plan.bodies import body_at


class PlanFrame:
    """Where plan coordinates lie in a rectangle on screen. The plan is fitted, never distorted."""

    def __init__(self, level: Level, room: QRectF, y_down: bool = True, scale: float | None = None):
        plan = level.plan
        width = max(plan.width if plan else 0, 1.0)
        height = max(plan.height if plan else 0, 1.0)
        self.scale = scale or min(room.width() / width, room.height() / height)
        size = (width * self.scale, height * self.scale)
        self.rect = QRectF(room.center().x() - size[0] / 2, room.center().y() - size[1] / 2, size[0], size[1])
        self._height = height
        self._y_down = y_down

    def point(self, x: float, y: float) -> QPointF:
        """A point of the plan on screen."""
        down = y if self._y_down else self._height - y
        return QPointF(self.rect.left() + x * self.scale, self.rect.top() + down * self.scale)

    def area(self, area: Rect) -> QRectF:
        """An area of the plan on screen."""
        x, y, width, height = area
        corner, other = self.point(x, y), self.point(x + width, y + height)
        return QRectF(corner, other).normalized()


def has_plan(level: Level) -> bool:
    """Whether there is a plan to paint."""
    return level.plan is not None and level.plan.width > 0 and level.plan.height > 0


def has_area(exit_: Exit) -> bool:
    """Whether the exit lies somewhere on the plan."""
    return exit_.trigger.kind in ("touch", "press") and exit_.area[2] > 0 and exit_.area[3] > 0


def paint_ground(painter: QPainter, c: Colours, frame: PlanFrame, level: Level) -> None:
    """The plan itself: its air and its solids."""
    painter.fillRect(frame.rect, c.colour("sky"))
    painter.save()
    painter.setClipRect(frame.rect, Qt.ClipOperation.IntersectClip)
    for solid in level.plan.solids if level.plan else ():
        painter.fillRect(frame.area(solid), c.colour("stone"))
    painter.restore()


def paint_door(
    painter: QPainter, c: Colours, area: QRectF, colour: str, chosen: bool = False, least: float = 7
) -> None:
    """An exit's area, arched like a door; never smaller than can be seen."""
    grown = QRectF(area)
    if grown.width() < least:
        grown.setLeft(area.center().x() - least / 2)
        grown.setWidth(least)
    if grown.height() < least * 1.4:
        grown.setTop(area.bottom() - least * 1.4)
        grown.setHeight(least * 1.4)
    arch = min(grown.width() / 2, grown.height() / 2)
    path = QPainterPath(grown.bottomLeft())
    path.lineTo(grown.left(), grown.top() + arch)
    path.arcTo(grown.left(), grown.top(), grown.width(), 2 * arch, 180, -180)
    path.lineTo(grown.bottomRight())
    path.closeSubpath()
    painter.setBrush(c.colour("route_wash" if chosen else "card"))
    painter.setPen(QPen(c.colour(colour), 2.2 if chosen else 1.5))
    painter.drawPath(path)


def paint_spawn(painter: QPainter, c: Colours, feet: QPointF, size: float, chosen: bool = False) -> None:
    """A spawn point: a wedge whose tip is where the feet are."""
    wedge = QPolygonF([feet, feet + QPointF(-size * 0.6, -size), feet + QPointF(size * 0.6, -size)])
    painter.setPen(QPen(c.colour("card"), 1))
    painter.setBrush(c.colour("route"))
    painter.drawPolygon(wedge)
    if chosen:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(c.colour("route"), 2))
        painter.drawEllipse(feet + QPointF(0, -size * 0.6), size, size)


def paint_body(painter: QPainter, c: Colours, frame: PlanFrame, spawn: Spawn, flow: Flow) -> None:
    """The walker's body as it stands on the spawn point, to scale."""
    body = frame.area(body_at(spawn, flow.walker, flow.units.y == "down"))
    painter.setPen(QPen(c.colour("route"), 1))
    painter.setBrush(c.colour("route", 70))
    painter.drawRoundedRect(body, 2, 2)


def paint_deed(painter: QPainter, c: Colours, at: QPointF, size: float) -> None:
    """A deed: a small lozenge."""
    corners = [QPointF(0, -size), QPointF(size, 0), QPointF(0, size), QPointF(-size, 0)]
    painter.setPen(QPen(c.colour("suspicious"), 1.5))
    painter.setBrush(c.colour("card"))
    painter.drawPolygon(QPolygonF([at + corner for corner in corners]))

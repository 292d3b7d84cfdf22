"""Paints a level's plan to scale: on the map's cards, and large on the bench."""

import math
from collections.abc import Collection
from typing import cast

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from mossy_bridge.desk.plan.pictures import Picture
from mossy_bridge.desk.widgets.colours import TINTS, Colours
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Exit, Flow, Level, Rect, Spawn, Tint, Zone
from mossy_bridge.plan.bodies import body_at
from mossy_bridge.plan.doors import has_area
from mossy_bridge.plan.laying import Part

DIMMED = 0.55
"""How much of a picture behind a plan shows through, so that what lies on it stands out."""


class PlanFrame:
    """Where plan coordinates lie in a rectangle on screen. The plan is fitted, never distorted."""

    def __init__(
        self,
        level: Level,
        room: QRectF,
        y_down: bool = True,
        scale: float | None = None,
        centre: tuple[float, float] | None = None,
    ):
        plan = level.plan
        width = max(plan.width if plan else 0, 1.0)
        height = max(plan.height if plan else 0, 1.0)
        self.scale = scale or min(room.width() / width, room.height() / height)
        size = (width * self.scale, height * self.scale)
        self.rect = QRectF(room.center().x() - size[0] / 2, room.center().y() - size[1] / 2, size[0], size[1])
        self._height = height
        self.size = width, height
        """Of the plan, in its units."""
        self.y_down = y_down
        if centre:
            self.rect.translate(room.center() - self.point(*centre))

    def plan_point(self, at: QPointF) -> tuple[float, float]:
        """The point of the plan under a point on screen."""
        down = (at.y() - self.rect.top()) / self.scale
        return (at.x() - self.rect.left()) / self.scale, down if self.y_down else self._height - down

    def point(self, x: float, y: float) -> QPointF:
        """A point of the plan on screen."""
        down = y if self.y_down else self._height - y
        return QPointF(self.rect.left() + x * self.scale, self.rect.top() + down * self.scale)

    def area(self, area: Rect) -> QRectF:
        """An area of the plan on screen."""
        x, y, width, height = area
        corner, other = self.point(x, y), self.point(x + width, y + height)
        return QRectF(corner, other).normalized()


def has_plan(level: Level) -> bool:
    """Whether there is a plan to paint."""
    return level.plan is not None and level.plan.width > 0 and level.plan.height > 0


def unplaced(level: Level, frame: PlanFrame) -> list[tuple[Exit, QRectF]]:
    """The exits that need an area and have none yet, and where they wait on screen: along the top of the plan."""
    waiting = [exit_ for exit_ in level.exits if exit_.trigger.kind in ("touch", "press") and not has_area(exit_)]
    corner = frame.rect.topLeft() + QPointF(10, 20)
    return [(exit_, QRectF(corner.x() + 165 * at, corner.y(), 14, 20)) for at, exit_ in enumerate(waiting)]


def zone_tag(level: Level, zone: Zone) -> tuple[str, Tint]:
    """The letter and the tint that stand for a zone: the first letter of its name that no earlier zone has."""
    letters: list[str] = []
    for other in level.zones:
        name = (other.name or other.id).upper()
        letters.append(next((letter for letter in name if letter.isalnum() and letter not in letters), name[0]))
        if other.id == zone.id:
            break
    return letters[-1], cast(Tint, list(TINTS)[(len(letters) - 1) % len(TINTS)])


def paint_ground(painter: QPainter, c: Colours, frame: PlanFrame, level: Level, picture: Picture | None = None) -> None:
    """The plan itself: its air, the picture behind it, dimmed, and its solids."""
    painter.fillRect(frame.rect, c.colour("sky"))
    painter.save()
    painter.setClipRect(frame.rect, Qt.ClipOperation.IntersectClip)
    if picture:
        painter.setOpacity(DIMMED)
        picture.paint(painter, frame.rect)
        painter.setOpacity(1)
    for solid in level.plan.solids if level.plan else ():
        painter.fillRect(frame.area(solid), c.colour("stone", 150 if picture else 255))
    painter.restore()


def paint_grid(painter: QPainter, c: Colours, frame: PlanFrame, step: float) -> None:
    """Lines every ``step`` plan units, where they are not too close to be told apart."""
    if step <= 0 or frame.scale <= 0:
        return
    while step * frame.scale < 12:
        step *= 2
    painter.save()
    painter.setClipRect(frame.rect, Qt.ClipOperation.IntersectClip)
    painter.setPen(QPen(c.colour("line", 90), 0))
    across, along = frame.rect.width() / frame.scale, frame.rect.height() / frame.scale
    lines = [QLineF(frame.point(i * step, 0), frame.point(i * step, along)) for i in range(int(across / step) + 1)]
    lines += [QLineF(frame.point(0, i * step), frame.point(across, i * step)) for i in range(int(along / step) + 1)]
    painter.drawLines(*lines)
    painter.restore()


def paint_jump(painter: QPainter, c: Colours, frame: PlanFrame, spawn: Spawn, flow: Flow) -> None:
    """The way of a running jump from a spawn point, to scale: uniform acceleration downwards, the rise that of
    the walker's jump height."""
    walker = flow.walker
    if walker.view == "top" or walker.gravity <= 0 or walker.jump_height <= 0:
        return
    up, way = math.sqrt(2 * walker.gravity * walker.jump_height), -1 if spawn.faces == "left" else 1
    sign = -1 if flow.units.y == "down" else 1
    path = QPainterPath(frame.point(spawn.x, spawn.y))
    for step in range(1, 25):
        t = 2 * up / walker.gravity * step / 24
        rise = up * t - walker.gravity * t * t / 2
        path.lineTo(frame.point(spawn.x + way * walker.speed * t, spawn.y + sign * rise))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(c.colour("route"), 1.2, Qt.PenStyle.DotLine))
    painter.drawPath(path)


def paint_facing(painter: QPainter, c: Colours, frame: PlanFrame, spawn: Spawn, flow: Flow) -> None:
    """A small arrow from the middle of the body to where it looks."""
    body = frame.area(body_at(spawn, flow.walker, flow.units.y == "down"))
    way = {"left": (-1, 0), "right": (1, 0), "up": (0, -1), "down": (0, 1)}[spawn.faces]
    size = max(4.0, min(8.0, body.height() / 4))
    start = body.center() + QPointF(way[0] * body.width() / 2, way[1] * body.height() / 2)
    tip = start + QPointF(way[0], way[1]) * (size + 3)
    side = QPointF(-way[1], way[0]) * size * 0.5
    back = tip - QPointF(way[0], way[1]) * size * 0.8
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(c.colour("route"))
    painter.drawPolygon(QPolygonF([tip, back + side, back - side]))


def paint_door(
    painter: QPainter, c: Colours, area: QRectF, colour: str, chosen: bool = False, least: float = 7,
    placed: bool = True,
) -> None:  # fmt: skip
    """An exit's area, arched like a door; never smaller than can be seen. Dashed if it is not ``placed`` yet."""
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
    line = Qt.PenStyle.SolidLine if placed else Qt.PenStyle.DashLine
    painter.setPen(QPen(c.colour(colour), 2.2 if chosen else 1.5, line))
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


def paint_name(
    painter: QPainter, look: Look, room: QRectF, text: str, tag: tuple[str, Tint] | None, below: QPointF, colour: str,
    taken: list[QRectF],
) -> None:  # fmt: skip
    """Writes a name above a thing, inside the room and clear of the names already written; the letter and
    tint of its zone before it."""
    c = look.colours
    painter.setFont(look.font(-1, bold=True))
    metrics = QFontMetricsF(painter.font())
    text = metrics.elidedText(text, Qt.TextElideMode.ElideRight, max(60.0, room.width() * 0.45))
    width = metrics.horizontalAdvance(text) + (24 if tag else 8)
    box = QRectF(below.x() - width / 2, below.y() - 17, width, 15)
    box.moveLeft(max(room.left() + 4, min(box.left(), room.right() - width - 4)))
    box.moveTop(max(room.top() + 3, box.top()))
    for _ in range(12):
        if not any(box.intersects(other) for other in taken):
            break
        box.translate(0, -15 if box.top() > room.top() + 18 else 15)
    taken.append(box)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(c.colour("card", 205))
    painter.drawRoundedRect(box, 4, 4)
    if tag:
        badge = QRectF(box.left(), box.top(), 15, 15)
        painter.setBrush(c.tint(tag[1]))
        painter.drawRoundedRect(badge, 4, 4)
        painter.setPen(c.colour("card"))
        painter.drawText(badge, Qt.AlignmentFlag.AlignCenter, tag[0])
        box.setLeft(box.left() + 16)
    painter.setPen(c.colour(colour))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def paint_unplaced(
    painter: QPainter, look: Look, frame: PlanFrame, level: Level, chosen: Collection[Part], everything: bool
) -> None:
    """The exits that have no area yet, along the top of the plan; named if chosen, or all."""
    taken: list[QRectF] = []
    for exit_, area in unplaced(level, frame):
        among = Part("exits", exit_.id) in chosen
        paint_door(painter, look.colours, area, "broken", among, placed=False)
        if among or everything:
            name, below = f"{exit_.name or exit_.id}: no area yet", QPointF(area.center().x(), area.top() - 2)
            paint_name(painter, look, frame.rect.adjusted(0, -20, 0, 0), name, None, below, "broken", taken)

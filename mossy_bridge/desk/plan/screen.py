"""Paints a screen as the player meets it: its name, its choices in order, and the level it stands over."""

from collections.abc import Collection

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from mossy_bridge.desk.plan.painting import PlanFrame, has_plan, paint_ground
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Exit, Flow, Level
from mossy_bridge.plan.laying import Part

BUTTON_H, GAP, TITLE_H = 26.0, 8.0, 30.0
WIDEST = 250.0
BEHIND = 0.4
"""How much of the level behind shows through."""


def is_drawn(level: Level) -> bool:
    """Whether a level is a screen without a plan of its own, and so drawn by itself."""
    return level.kind == "screen" and not has_plan(level)


def stands_over(flow: Flow, screen: Level) -> Level | None:
    """The first play level that a screen stands over: one leads to it, and it leads back."""
    if not any(to.kind == "back" for exit_ in screen.exits for to in exit_.destinations):
        return None
    for level in flow.levels:
        leads = any(to.level == screen.id for exit_ in level.exits for to in exit_.destinations if to.kind == "level")
        if level.kind == "play" and leads and has_plan(level):
            return level
    return None


def places_of_choices(screen: Level, room: QRectF) -> list[tuple[Exit, QRectF]]:
    """The exits of a screen, and where they are drawn: one below the other, in order."""
    count = max(len(screen.exits), 1)
    height = min(BUTTON_H, max(12.0, (room.height() - TITLE_H - 12) / count - GAP / 2))
    gap = min(GAP, height / 3)
    width = min(WIDEST, room.width() * 0.8)
    whole = count * (height + gap) - gap
    top = room.top() + TITLE_H + max(4.0, (room.height() - TITLE_H - whole) / 2)
    left = room.center().x() - width / 2
    return [(exit_, QRectF(left, top + at * (height + gap), width, height)) for at, exit_ in enumerate(screen.exits)]


def paint_screen(
    painter: QPainter, look: Look, room: QRectF, flow: Flow, screen: Level, behind: Level | None,
    chosen: Collection[Part] = (), closed: Collection[str] = (),
) -> None:  # fmt: skip
    """Paints a screen in a rectangle, over the level behind, with some exits chosen, and some that are closed now."""
    c = look.colours
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(c.colour("sky"))
    painter.drawRoundedRect(room, 4, 4)
    if behind and has_plan(behind):
        painter.save()
        painter.setOpacity(BEHIND)
        paint_ground(painter, c, PlanFrame(behind, room, flow.units.y == "down"), behind)
        painter.restore()
    painter.setPen(c.colour("ink"))
    painter.setFont(look.font(1, bold=True))
    title = QRectF(room.left() + 8, room.top() + 6, room.width() - 16, TITLE_H - 4)
    painter.drawText(title, Qt.AlignmentFlag.AlignCenter, _elided(painter, screen.title, title.width()))
    for exit_, rect in places_of_choices(screen, room):
        _paint_choice(painter, look, exit_, rect, Part("exits", exit_.id) in chosen, exit_.id in closed)
    if not screen.exits:
        painter.setPen(c.colour("dim"))
        painter.setFont(look.font())
        painter.drawText(room, Qt.AlignmentFlag.AlignCenter, "Nothing can be chosen here yet.")


def _paint_choice(painter: QPainter, look: Look, exit_: Exit, rect: QRectF, chosen: bool, closed: bool) -> None:
    """A choice as a button; what happens by itself as words between dashes."""
    c = look.colours
    by_itself = exit_.trigger.kind in ("auto", "timer")
    asks = exit_.opens != "always" or exit_.trigger.when != "always"
    edge = "route" if chosen else "suspicious" if closed else "dim" if by_itself else "sound"
    painter.setBrush(c.colour("route_wash" if chosen else "card", 120 if by_itself or closed else 240))
    dashed = by_itself or closed or asks
    painter.setPen(QPen(c.colour(edge), 2.2 if chosen else 1.4,
                        Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine))  # fmt: skip
    painter.drawRoundedRect(rect, 5, 5)
    name = exit_.name or exit_.id
    seconds = f"{exit_.trigger.seconds:g} s" if exit_.trigger.kind == "timer" else "by itself"
    painter.setFont(look.font(-1))
    painter.setPen(c.colour("dim" if by_itself or closed else "ink"))
    text = f"{name} ({seconds})" if by_itself else name
    painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, _elided(painter, text, rect.width() - 12))


def _elided(painter: QPainter, text: str, room: float) -> str:
    return QFontMetricsF(painter.font()).elidedText(text, Qt.TextElideMode.ElideRight, room)

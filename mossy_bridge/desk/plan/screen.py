"""Paints a screen as the player meets it: its name, what it says, its choices, and the level it stands over."""

from collections.abc import Collection, Sequence

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from mossy_bridge.desk.plan.painting import PlanFrame, has_plan, paint_ground
from mossy_bridge.desk.plan.pictures import Picture
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Exit, Flow, Level
from mossy_bridge.plan.laying import Part

MOST_MESSAGES = 3
BEHIND = 0.4
"""How much of the level behind shows through."""


def stands_over(flow: Flow, screen: Level) -> Level | None:
    """The first play level that a screen stands over: one leads to it, and it leads back."""
    if not any(to.kind == "back" for exit_ in screen.exits for to in exit_.destinations):
        return None
    for level in flow.levels:
        leads = any(to.level == screen.id for exit_ in level.exits for to in exit_.destinations if to.kind == "level")
        if level.kind == "play" and leads and has_plan(level):
            return level
    return None


def messages_on(flow: Flow, screen: Level) -> list[str]:
    """What is written while a screen comes up: the messages of the transitions that lead to it, each once."""
    steps = {transition.id: transition.steps for transition in flow.transitions}
    ways = (exit_ for level in flow.levels for exit_ in level.exits
            if any(to.level == screen.id for to in exit_.destinations))  # fmt: skip
    texts = [step.text for exit_ in ways for step in steps.get(exit_.transition, ()) if step.text]
    return list(dict.fromkeys(texts))[:MOST_MESSAGES]


def paint_screen(
    painter: QPainter, look: Look, frame: PlanFrame, flow: Flow, screen: Level, behind: Level | None,
    chosen: Collection[Part] = (), closed: Collection[str] = (), picture: Picture | None = None,
) -> None:  # fmt: skip
    """Paints a screen that is laid out as the player meets it, over its picture and the level behind, with some exits
    chosen, and some that are closed now."""
    c, room = look.colours, frame.rect
    paint_ground(painter, c, frame, screen, picture)
    if behind and has_plan(behind):
        painter.save()
        painter.setOpacity(BEHIND)
        paint_ground(painter, c, PlanFrame(behind, room, flow.units.y == "down"), behind)
        painter.restore()
    _paint_words(painter, look, room, screen, messages_on(flow, screen))
    for exit_ in screen.exits:
        area = frame.area(exit_.area)
        _paint_choice(painter, look, exit_, area, Part("exits", exit_.id) in chosen, exit_.id in closed)
    if not screen.exits:
        painter.setPen(c.colour("dim"))
        painter.setFont(look.font())
        painter.drawText(room, Qt.AlignmentFlag.AlignCenter, "Nothing can be chosen here yet.")


def _paint_words(painter: QPainter, look: Look, room: QRectF, screen: Level, messages: Sequence[str]) -> None:
    """The name of the screen, and below it what is said as it comes up."""
    painter.setPen(look.colours.colour("ink"))
    painter.setFont(look.font(1, bold=True))
    line = QFontMetricsF(painter.font()).height()
    title = QRectF(room.left() + 8, room.top() + room.height() * 0.03, room.width() - 16, line)
    painter.drawText(title, Qt.AlignmentFlag.AlignCenter, _elided(painter, screen.title, title.width()))
    font = look.font(-1)
    font.setItalic(True)
    painter.setFont(font)
    painter.setPen(look.colours.colour("dim"))
    for number, message in enumerate(messages):
        below = title.translated(0, line + number * QFontMetricsF(font).height())
        if below.bottom() < room.top() + room.height() * 0.3:
            painter.drawText(below, Qt.AlignmentFlag.AlignCenter, _elided(painter, message, below.width()))


def _paint_choice(painter: QPainter, look: Look, exit_: Exit, rect: QRectF, chosen: bool, closed: bool = False) -> None:
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
    if rect.height() < QFontMetricsF(painter.font()).height() * 0.7:
        return  # too small to read
    painter.setPen(c.colour("dim" if by_itself or closed else "ink"))
    text = f"{name} ({seconds})" if by_itself else name
    painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, _elided(painter, text, rect.width() - 12))


def _elided(painter: QPainter, text: str, room: float) -> str:
    return QFontMetricsF(painter.font()).elidedText(text, Qt.TextElideMode.ElideRight, room)

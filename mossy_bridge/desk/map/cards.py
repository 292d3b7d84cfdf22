"""A level as a flagstone on the map: its title and its plan in small; from afar a bead with its code."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from mossy_bridge.desk.map.placing import Placed, exit_rect, shows_plan
from mossy_bridge.desk.plan.painting import (
    PlanFrame,
    paint_deed,
    paint_door,
    paint_ground,
    paint_spawn,
)
from mossy_bridge.desk.widgets.colours import Colours
from mossy_bridge.desk.widgets.marks import COLOUR_OF, paint_mark
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Exit, Tint
from mossy_bridge.plan.doors import has_area

COLUMN_TEXT = 160.0
TITLE_LINE = 22.0


class Card:
    """A level's card, and how it is painted. It never changes: another flow has other cards."""

    def __init__(self, placed: Placed, mark: str, exit_marks: tuple[str, ...], reason: str, tint: Tint, y_down: bool):
        self.placed, self.mark, self.reason, self.tint = placed, mark, reason, tint
        self.level_id = placed.level.id
        self._exit_marks = dict(zip((exit_.id for exit_ in placed.level.exits), exit_marks, strict=True))
        self._y_down = y_down
        below = 42 if reason else 8
        self.bounds = placed.rect.adjusted(-8, -8, 8, below)

    def exit_at(self, point: QPointF) -> Exit | None:
        """The exit whose area lies under the point, with some room around it."""
        level = self.placed.level
        best: tuple[float, Exit] | None = None
        for exit_ in level.exits:
            rect = exit_rect(self.placed, exit_, self._y_down).adjusted(-4, -5, 4, 4)
            if rect.contains(point):
                distance = (rect.center() - point).manhattanLength()
                if best is None or distance < best[0]:
                    best = (distance, exit_)
        return best[1] if best else None

    def paint(
        self, painter: QPainter, look: Look, chosen: bool = False, target: bool = False, exit_id: str = ""
    ) -> None:
        """Paints it as a flagstone; ``target`` says that a crossing being drawn would land here."""
        self._paint_stone(painter, look.colours, chosen, target)
        self._paint_title(painter, look)
        if shows_plan(self.placed.level):
            self._paint_plan(painter, look.colours, exit_id)
        else:
            self._paint_entries(painter, look, exit_id)
        self._paint_reason(painter, look)

    def paint_bead(self, painter: QPainter, look: Look, chosen: bool = False) -> None:
        """Paints it as a bead with its code, as it is seen from afar."""
        c, centre, level = look.colours, self.placed.rect.center(), self.placed.level
        if chosen:
            painter.setPen(QPen(c.colour("route"), 8))
            painter.setBrush(c.colour("route_wash"))
            painter.drawEllipse(centre, 40, 40)
        style = Qt.PenStyle.DashLine if self.mark in ("stranded", "unknown") else Qt.PenStyle.SolidLine
        painter.setPen(QPen(c.colour(COLOUR_OF[self.mark]), 5, style))
        painter.setBrush(c.colour("card"))
        if level.kind == "play":
            painter.drawEllipse(centre, 30, 30)
        else:
            painter.drawRoundedRect(QRectF(centre.x() - 28, centre.y() - 28, 56, 56), 12, 12)
        painter.setFont(look.font(8, bold=True))
        painter.setPen(c.colour("ink"))
        text = _elided(painter, level.code or level.title, COLUMN_TEXT)
        box = QRectF(centre.x() - COLUMN_TEXT / 2, centre.y() + 34, COLUMN_TEXT, 30)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_stone(self, painter: QPainter, c: Colours, chosen: bool, target: bool) -> None:
        rect = self.placed.rect
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour("ink", 22))
        painter.drawRoundedRect(rect.translated(1.5, 2.5), 7, 7)
        edge = "route" if chosen or target else "line"
        planned = self.placed.level.status == "planned" and not (chosen or target)
        style = Qt.PenStyle.DashLine if planned else Qt.PenStyle.SolidLine
        painter.setPen(QPen(c.colour("dim" if planned else edge), 2.6 if chosen or target else 1.2, style))
        painter.setBrush(c.colour("route_wash" if target else "card"))
        painter.drawRoundedRect(rect, 7, 7)
        if self.tint:
            painter.setPen(QPen(c.tint(self.tint), 3))
            painter.drawLine(rect.topLeft() + QPointF(8, 0), rect.topRight() - QPointF(8, 0))

    def _paint_title(self, painter: QPainter, look: Look) -> None:
        c, level, rect = look.colours, self.placed.level, self.placed.rect
        paint_mark(painter, c, self.mark, QPointF(rect.left() + 14, rect.top() + 13), 5.6)
        painter.setFont(look.font(-1, bold=True))
        painter.setPen(c.colour("ink"))
        text = f"{level.code} {level.title}".strip() if level.code != level.title else level.title
        box = QRectF(rect.left() + 25, rect.top() + 2, rect.width() - 30, TITLE_LINE)
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, _elided(painter, text, rect.width() - 32))

    def _paint_plan(self, painter: QPainter, c: Colours, chosen_exit: str) -> None:
        level = self.placed.level
        frame = PlanFrame(level, self.placed.room(), self._y_down)
        paint_ground(painter, c, frame, level)
        for deed in level.deeds:
            paint_deed(painter, c, frame.point(deed.x, deed.y) - QPointF(0, 4), 2.6)
        for spawn in level.spawns:
            paint_spawn(painter, c, frame.point(spawn.x, spawn.y), 6)
        for exit_ in level.exits:
            self._paint_exit(painter, c, exit_, exit_.id == chosen_exit)

    def _paint_exit(self, painter: QPainter, c: Colours, exit_: Exit, chosen: bool) -> None:
        rect = exit_rect(self.placed, exit_, self._y_down)
        mark = self._exit_marks.get(exit_.id, "")
        colour = "route" if chosen else COLOUR_OF[mark] if mark else "sound"
        if shows_plan(self.placed.level) and has_area(exit_):
            paint_door(painter, c, rect, colour, chosen, least=5)
        else:
            painter.setPen(QPen(c.colour(colour), 1.4))
            painter.setBrush(c.colour("route_wash" if chosen else "card"))
            painter.drawEllipse(rect.adjusted(1, 1, -1, -1))

    def _paint_entries(self, painter: QPainter, look: Look, chosen_exit: str) -> None:
        """A screen or board without a plan: its exits by name."""
        c, level, room = look.colours, self.placed.level, self.placed.room()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour("sky"))
        painter.drawRoundedRect(room, 3, 3)
        for exit_ in level.exits:
            painter.setFont(look.font(-2))
            rect = exit_rect(self.placed, exit_, self._y_down)
            painter.setPen(c.colour("ink"))
            text = _elided(painter, exit_.name or exit_.id, room.width() - 26)
            box = QRectF(room.left() + 6, rect.center().y() - 8, room.width() - 22, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, text)
            self._paint_exit(painter, c, exit_, exit_.id == chosen_exit)
        if level.tiles:
            painter.setFont(look.font(-2))
            painter.setPen(c.colour("dim"))
            told = f"{len(level.tiles)} tiles" if len(level.tiles) != 1 else "1 tile"
            painter.drawText(room.adjusted(6, 4, -6, -4), Qt.AlignmentFlag.AlignTop, told)

    def _paint_reason(self, painter: QPainter, look: Look) -> None:
        if not self.reason:
            return
        c = look.colours
        painter.setFont(look.font(-2))
        painter.setPen(c.colour("suspicious"))
        box = QRectF(self.placed.rect.left() + 2, self.placed.rect.bottom() + 3, self.placed.rect.width() - 4, 36)
        flags = Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
        painter.drawText(box, flags, self.reason)


def _elided(painter: QPainter, text: str, room: float) -> str:
    return QFontMetricsF(painter.font()).elidedText(text, Qt.TextElideMode.ElideRight, room)

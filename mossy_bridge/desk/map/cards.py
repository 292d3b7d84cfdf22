"""A level as a flagstone on the map: its title and its plan in small; from afar a bead with its code."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen
from PyQt6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from mossy_bridge.desk.look import Look
from mossy_bridge.desk.map.bridges import FAR
from mossy_bridge.desk.map.placing import Placed, exit_rect
from mossy_bridge.desk.marks import COLOUR_OF, paint_mark
from mossy_bridge.desk.plan_painting import (
    PlanFrame,
    has_area,
    has_plan,
    paint_deed,
    paint_door,
    paint_ground,
    paint_spawn,
)
from mossy_bridge.desk.standing import Standing
from mossy_bridge.model.flow import Exit


class CardItem(QGraphicsItem):
    """A level's card. Holds no truth: it is made anew when the flow changes."""

    def __init__(self, look: Look, placed: Placed, standing: Standing, y_down: bool, reason: str):
        super().__init__()
        self.placed = placed
        self.level_id = placed.level.id
        self._look, self._standing, self._y_down = look, standing, y_down
        self._reason = reason
        self.chosen = False
        self.target = False
        """Whether a crossing being drawn would land here."""
        self.chosen_exit = ""
        self.setZValue(3)
        self.setToolTip(f"{placed.level.code} {placed.level.title}".strip())

    def boundingRect(self) -> QRectF:
        below = 40 if self._reason else 6
        return self.placed.rect.adjusted(-6, -6, 6, below)

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
        self, painter: QPainter | None, option: QStyleOptionGraphicsItem | None, _: QWidget | None = None
    ) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if option.levelOfDetailFromTransform(painter.worldTransform()) < FAR:
            self._paint_bead(painter)
            return
        self._paint_stone(painter)
        self._paint_title(painter)
        if has_plan(self.placed.level):
            self._paint_plan(painter)
        else:
            self._paint_entries(painter)
        self._paint_reason(painter)

    def _paint_bead(self, painter: QPainter) -> None:
        c = self._look.colours
        centre = self.placed.rect.center()
        mark = self._standing.of_level(self.level_id)
        if self.chosen or self.target:
            painter.setPen(QPen(c.colour("route"), 8))
            painter.setBrush(c.colour("route_wash"))
            painter.drawEllipse(centre, 40, 40)
        style = Qt.PenStyle.DashLine if mark in ("stranded", "unknown") else Qt.PenStyle.SolidLine
        painter.setPen(QPen(c.colour(COLOUR_OF[mark]), 5, style))
        painter.setBrush(c.colour("card"))
        if self.placed.level.kind == "play":
            painter.drawEllipse(centre, 30, 30)
        else:
            painter.drawRoundedRect(QRectF(centre.x() - 28, centre.y() - 28, 56, 56), 12, 12)
        font = self._look.font(8, bold=True)
        painter.setFont(font)
        painter.setPen(c.colour("ink"))
        label = self.placed.level.code or self.placed.level.title
        text = QFontMetricsF(font).elidedText(label, Qt.TextElideMode.ElideRight, COLUMN_TEXT)
        box = QRectF(centre.x() - COLUMN_TEXT / 2, centre.y() + 34, COLUMN_TEXT, 30)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_stone(self, painter: QPainter) -> None:
        c = self._look.colours
        rect = self.placed.rect
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour("ink", 22))
        painter.drawRoundedRect(rect.translated(1.5, 2.5), 7, 7)
        edge = "route" if self.chosen or self.target else "line"
        painter.setPen(QPen(c.colour(edge), 2.6 if self.chosen or self.target else 1.2))
        painter.setBrush(c.colour("route_wash" if self.target else "card"))
        painter.drawRoundedRect(rect, 7, 7)

    def _paint_title(self, painter: QPainter) -> None:
        c, level, rect = self._look.colours, self.placed.level, self.placed.rect
        paint_mark(painter, c, self._standing.of_level(level.id), QPointF(rect.left() + 14, rect.top() + 13), 5.6)
        painter.setFont(self._look.font(-1, bold=True))
        painter.setPen(c.colour("ink"))
        text = f"{level.code} {level.title}".strip() if level.code != level.title else level.title
        text = QFontMetricsF(painter.font()).elidedText(text, Qt.TextElideMode.ElideRight, rect.width() - 32)
        box = QRectF(rect.left() + 25, rect.top() + 2, rect.width() - 30, TITLE_LINE)
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, text)

    def _paint_plan(self, painter: QPainter) -> None:
        c, level = self._look.colours, self.placed.level
        frame = PlanFrame(level, self.placed.room(), self._y_down)
        paint_ground(painter, c, frame, level)
        for deed in level.deeds:
            paint_deed(painter, c, frame.point(deed.x, deed.y) - QPointF(0, 4), 2.6)
        for spawn in level.spawns:
            paint_spawn(painter, c, frame.point(spawn.x, spawn.y), 6)
        for exit_ in level.exits:
            self._paint_exit(painter, exit_)

    def _paint_exit(self, painter: QPainter, exit_: Exit) -> None:
        c = self._look.colours
        rect = exit_rect(self.placed, exit_, self._y_down)
        place = f"{self.level_id}.{exit_.id}"
        mark = self._standing.of_place(place)
        chosen = exit_.id == self.chosen_exit
        colour = "route" if chosen else COLOUR_OF[mark] if mark else "sound"
        if has_plan(self.placed.level) and has_area(exit_):
            paint_door(painter, c, rect, colour, chosen, least=5)
        else:
            painter.setPen(QPen(c.colour(colour), 1.4))
            painter.setBrush(c.colour("route_wash" if chosen else "card"))
            painter.drawEllipse(rect.adjusted(1, 1, -1, -1))

    def _paint_entries(self, painter: QPainter) -> None:
        """A screen or board without a plan: its exits by name."""
        c, level, room = self._look.colours, self.placed.level, self.placed.room()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour("sky"))
        painter.drawRoundedRect(room, 3, 3)
        painter.setFont(self._look.font(-2))
        metrics = QFontMetricsF(painter.font())
        for exit_ in level.exits:
            rect = exit_rect(self.placed, exit_, self._y_down)
            painter.setPen(c.colour("ink"))
            text = metrics.elidedText(exit_.name or exit_.id, Qt.TextElideMode.ElideRight, room.width() - 26)
            box = QRectF(room.left() + 6, rect.center().y() - 8, room.width() - 22, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, text)
            self._paint_exit(painter, exit_)
        if level.tiles:
            painter.setPen(c.colour("dim"))
            told = f"{len(level.tiles)} tiles" if len(level.tiles) != 1 else "1 tile"
            painter.drawText(room.adjusted(6, 4, -6, -4), Qt.AlignmentFlag.AlignTop, told)

    def _paint_reason(self, painter: QPainter) -> None:
        if not self._reason:
            return
        c = self._look.colours
        painter.setFont(self._look.font(-2))
        painter.setPen(c.colour("suspicious"))
        box = QRectF(self.placed.rect.left() + 2, self.placed.rect.bottom() + 3, self.placed.rect.width() - 4, 36)
        flags = Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
        painter.drawText(box, flags, self._reason)


COLUMN_TEXT = 160.0
TITLE_LINE = 22.0

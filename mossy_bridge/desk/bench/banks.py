"""A bank of the bridge: the plan one leaves, with the exit's area, or the plan one arrives at."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from mossy_bridge.desk.look import Look
from mossy_bridge.desk.plan_painting import (
    PlanFrame,
    has_area,
    has_plan,
    paint_body,
    paint_deed,
    paint_door,
    paint_ground,
    paint_spawn,
)
from mossy_bridge.model.flow import Exit, Flow, Level, Spawn


class Bank(QWidget):
    """A level's plan, large, with one exit or spawn point brought out and named."""

    def __init__(self, look: Look, name: str):
        super().__init__()
        self._look = look
        self._flow = Flow()
        self._level: Level | None = None
        self._exit: Exit | None = None
        self._spawn: Spawn | None = None
        self._scale: float | None = None
        self._everything = False
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(280, 160)

    def show_plan(
        self,
        flow: Flow,
        level: Level | None,
        exit_: Exit | None = None,
        spawn: Spawn | None = None,
        everything: bool = False,
    ) -> None:
        """Shows a level; ``everything`` names all its exits, spawn points and deeds."""
        self._flow, self._level, self._exit, self._spawn = flow, level, exit_, spawn
        self._everything = everything
        self.update()

    def best_scale(self) -> float:
        """The scale at which the plan fills the widget."""
        if self._level is None or not has_plan(self._level):
            return 1e9
        return PlanFrame(self._level, self._room()).scale

    def use_scale(self, scale: float | None) -> None:
        """Paints to this scale, so that both banks can have the same."""
        self._scale = scale
        self.update()

    def _room(self) -> QRectF:
        return QRectF(self.rect()).adjusted(1, 1, -1, -1)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(c.colour("line"), 1.4))
        painter.setBrush(c.colour("column"))
        painter.drawRoundedRect(self._room(), 5, 5)
        if self._level is None or not has_plan(self._level):
            painter.setPen(c.colour("dim"))
            words = "" if self._level is None else f"{self._level.title} has no plan."
            painter.drawText(self._room(), Qt.AlignmentFlag.AlignCenter, words)
            painter.end()
            return
        frame = PlanFrame(self._level, self._room(), self._flow.units.y == "down", self._scale)
        painter.setClipRect(self._room())
        paint_ground(painter, c, frame, self._level)
        self._paint_things(painter, frame)
        painter.end()

    def _paint_things(self, painter: QPainter, frame: PlanFrame) -> None:
        c, level = self._look.colours, self._level
        size = max(7.0, min(13.0, frame.scale * 1.2))
        names: list[tuple[str, QPointF, str]] = []
        for deed in level.deeds:
            at = frame.point(deed.x, deed.y) - QPointF(0, size * 0.7)
            paint_deed(painter, c, at, size * 0.5)
            if self._everything:
                names.append((deed.name or deed.id, at - QPointF(0, size), "suspicious"))
        for spawn in level.spawns:
            chosen = self._spawn is not None and spawn.id == self._spawn.id
            if chosen or self._everything:
                paint_body(painter, c, frame, spawn, self._flow)
                above = frame.point(spawn.x, spawn.y) - QPointF(0, max(size, frame.scale * 1.6) + 4)
                names.append((spawn.name or spawn.id, above, "route"))
            paint_spawn(painter, c, frame.point(spawn.x, spawn.y), size, chosen)
        for exit_ in level.exits:
            if has_area(exit_):
                chosen = self._exit is not None and exit_.id == self._exit.id
                area = frame.area(exit_.area)
                paint_door(painter, c, area, "sound", chosen)
                if chosen or self._everything:
                    names.append((exit_.name or exit_.id, QPointF(area.center().x(), area.top() - 4), "sound"))
        taken: list[QRectF] = []
        for text, below, colour in names:
            self._name(painter, text, below, colour, taken)

    def _name(self, painter: QPainter, text: str, below: QPointF, colour: str, taken: list[QRectF]) -> None:
        """Writes a name above a thing, inside the widget and clear of the names already written."""
        c, room = self._look.colours, self._room()
        painter.setFont(self._look.font(-1, bold=True))
        width = QFontMetricsF(painter.font()).horizontalAdvance(text) + 8
        box = QRectF(below.x() - width / 2, below.y() - 17, width, 15)
        box.moveLeft(max(room.left() + 3, min(box.left(), room.right() - width - 3)))
        box.moveTop(max(room.top() + 2, box.top()))
        for _ in range(12):
            if not any(box.intersects(other) for other in taken):
                break
            box.translate(0, -15)
        taken.append(box)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour("card", 205))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(c.colour(colour))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

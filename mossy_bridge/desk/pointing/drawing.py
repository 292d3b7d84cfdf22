"""The plan of the sample as the rules read it, drawn beside it."""

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from mossy_bridge.desk.plan.painting import PlanFrame, paint_deed, paint_door, paint_ground, paint_spawn
from mossy_bridge.desk.pointing.tried_reader import TriedReader
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.level_files.contents import FileThing
from mossy_bridge.model.flow import Deed, Exit, Level, Spawn, Units

MARGIN = 14.0
NEAR = 12.0
"""Pixels from which a thing is hit."""
NOTHING = "Say what is the plan’s size, what walls and what exits: they are drawn here at once."


class PlanDrawing(QWidget):
    """Draws one level as it is read. ``picked(node)`` names the node of a thing that is clicked."""

    picked = pyqtSignal(int)

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self._level = Level(id="sample")
        self._units = Units()
        self._things: tuple[FileThing, ...] = ()
        self._chosen: frozenset[int] = frozenset()
        self.setMinimumHeight(150)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("The plan as it is read")
        look.changed.connect(self.update)

    def show_found(self, found: TriedReader) -> None:
        """Draws the file that is shown."""
        if found.drawn is not self._level:
            self._level, self._things, self._units = found.drawn, found.drawn_things, found.flow.units
            self.update()

    def show_chosen(self, nodes: frozenset[int]) -> None:
        """Marks what is chosen in the sample."""
        if nodes != self._chosen:
            self._chosen = nodes
            self.update()

    @property
    def level(self) -> Level:
        """What is drawn."""
        return self._level

    def _frame(self) -> PlanFrame:
        room = QRectF(self.rect()).adjusted(MARGIN, MARGIN, -MARGIN, -MARGIN)
        return PlanFrame(self._level, room, self._units.y == "down")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        del event
        c = self._look.colours
        with painting(self) as painter:
            painter.fillRect(self.rect(), c.colour("column"))
            if not self._things:
                painter.setPen(c.colour("dim"))
                room = QRectF(self.rect()).adjusted(30, 10, -30, -10)
                painter.drawText(room, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, NOTHING)
                return
            frame = self._frame()
            paint_ground(painter, c, frame, self._level)
            painter.setPen(QPen(c.colour("line"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(frame.rect)
            chosen = self._chosen_places()
            for exit_ in self._level.exits:
                paint_door(painter, c, frame.area(exit_.area), "route", chosen=_place(exit_) in chosen)
            for deed in self._level.deeds:
                paint_deed(painter, c, frame.point(deed.x, deed.y), 6 if _place(deed) in chosen else 4)
            for spawn in self._level.spawns:
                paint_spawn(painter, c, frame.point(spawn.x, spawn.y), 10, chosen=_place(spawn) in chosen)

    def _chosen_places(self) -> set[tuple[float, ...]]:
        """Where the things lie that are chosen in the sample, as the level has them."""
        pairs = self._pairs()
        return {_place(thing) for thing, found in pairs if found.node in self._chosen}

    def _pairs(self) -> list[tuple[Exit | Spawn | Deed, FileThing]]:
        """The level's things with those of the file: they were made of them, kind by kind, in the same order."""
        found: list[tuple[Exit | Spawn | Deed, FileThing]] = []
        for things, kind in ((self._level.exits, "exit"), (self._level.spawns, "spawn"), (self._level.deeds, "deed")):
            of_kind = [thing for thing in self._things if thing.kind == kind]
            found += zip(things, of_kind, strict=False)
        return found

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        at = given(event).position()
        frame = self._frame()
        near = [(_distance(frame, thing, at), found.node) for thing, found in self._pairs()]
        best = min(near, default=(NEAR + 1, -1))
        if best[0] <= NEAR and best[1] >= 0:
            self.picked.emit(best[1])


def _place(thing: Exit | Spawn | Deed) -> tuple[float, ...]:
    return (*thing.area, 0.0) if isinstance(thing, Exit) else (thing.x, thing.y)


def _distance(frame: PlanFrame, thing: Exit | Spawn | Deed, at: QPointF) -> float:
    """Pixels from a thing on screen."""
    if isinstance(thing, Exit):
        area = frame.area(thing.area)
        across = max(area.left() - at.x(), at.x() - area.right(), 0.0)
        along = max(area.top() - at.y(), at.y() - area.bottom(), 0.0)
        return max(across, along)
    point = frame.point(thing.x, thing.y) - QPointF(0, 5)
    return max(abs(point.x() - at.x()), abs(point.y() - at.y()))

"""The plan the player is in, with the numbers of what can be done where it is done."""

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from mossy_bridge.desk.boards.painting import BoardFrame, TileLook, paint_links, paint_tile
from mossy_bridge.desk.plan.painting import (
    PlanFrame,
    has_plan,
    paint_body,
    paint_deed,
    paint_door,
    paint_ground,
    paint_spawn,
)
from mossy_bridge.desk.plan.pictures import PICTURES
from mossy_bridge.desk.plan.screen import paint_screen
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.plan.doors import has_area
from mossy_bridge.plan.screens import laid_out
from mossy_bridge.play.state import State
from mossy_bridge.play.trial import MoveChoice

BADGE = 10.0


class Stage(QWidget):
    """Paints the level one is in. ``chosen(number)`` when a numbered thing is clicked."""

    chosen = pyqtSignal(int)

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self._flow, self._level = Flow(), Level(id="none")
        self._state: State | None = None
        self._choices: Sequence[MoveChoice] = ()
        self._badges: list[tuple[QPointF, int]] = []
        self._areas: list[tuple[QRectF, int]] = []
        """Tiles and choices of screens, with their numbers."""
        PICTURES.arrived.connect(self.update)
        self._folder: Path | None = None
        self.setMinimumSize(200, 120)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Plan of the level one is in")
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(360, 190)

    def show_moment(self, flow: Flow, state: State | None, choices: Sequence[MoveChoice], folder: Path | None) -> None:
        """Shows another moment."""
        level = flow.level(state.place) if state else None
        self._flow, self._state, self._folder = flow, state, folder
        self._level = laid_out(level, flow.units.y == "down") if level else Level(id="none")
        self._choices = choices
        self.setAccessibleDescription(self._level.title if level else "An ending")
        self.update()

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            room = QRectF(self.rect()).adjusted(1, 1, -1, -1)
            painter.setPen(QPen(c.colour("line"), 1.5))
            painter.setBrush(c.colour("column"))
            painter.drawRoundedRect(room, 5, 5)
            self._badges, self._areas = [], []
            if self._state and self._level.tiles:
                self._paint_board(painter, BoardFrame(self._level, room.adjusted(10, 14, -10, -22)))
            elif self._state and self._level.kind == "screen":
                self._paint_screen(painter, PlanFrame(self._level, room.adjusted(6, 6, -6, -6), self._y_down))
            elif self._state is None or not has_plan(self._level):
                painter.setPen(c.colour("dim"))
                words = f"{self._level.title} has no plan." if self._state else "The end."
                painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, words)
            else:
                self._paint_level(painter, PlanFrame(self._level, room.adjusted(6, 6, -6, -6), self._y_down))

    @property
    def _y_down(self) -> bool:
        return self._flow.units.y == "down"

    def _paint_level(self, painter: QPainter, frame: PlanFrame) -> None:
        c, level = self._look.colours, self._level
        picture = PICTURES.of(self._folder, level.plan.picture) if level.plan else None
        paint_ground(painter, c, frame, level, picture)
        numbers = {choice.move.thing: place for place, choice in enumerate(self._choices, 1)}
        for exit_ in level.exits:
            if has_area(exit_):
                area = frame.area(exit_.area)
                paint_door(painter, c, area, "sound" if exit_.id in numbers else "suspicious")
                self._badge(painter, QPointF(area.center().x(), area.top() - BADGE - 3), numbers.get(exit_.id))
        for deed in level.deeds:
            at = frame.point(deed.x, deed.y)
            paint_deed(painter, c, at, 5)
            self._badge(painter, at - QPointF(0, BADGE + 9), numbers.get(deed.id))
        here = level.spawn(self._state.respawn) if self._state else None
        if here and self._state and here.id == self._state.respawn:
            paint_body(painter, c, frame, here, self._flow)
            paint_spawn(painter, c, frame.point(here.x, here.y), 9)

    def _paint_screen(self, painter: QPainter, frame: PlanFrame) -> None:
        """A screen as the player meets it, with the numbers of what can be chosen."""
        numbers = {choice.move.thing: at for at, choice in enumerate(self._choices, 1)}
        closed = {exit_.id for exit_ in self._level.exits} - numbers.keys()
        origin = self._state.origin if self._state else None
        behind = self._flow.level(origin.level) if origin else None
        picture = PICTURES.of(self._folder, self._level.plan.picture) if self._level.plan else None
        paint_screen(painter, self._look, frame, self._flow, self._level, behind, closed=closed, picture=picture)
        for exit_ in self._level.exits:
            rect = frame.area(exit_.area)
            self._areas.append((rect, numbers.get(exit_.id, 0)))
            self._badge(painter, QPointF(rect.left() - BADGE - 4, rect.center().y()), numbers.get(exit_.id))

    def _paint_board(self, painter: QPainter, frame: BoardFrame) -> None:
        """The page of a board, with the numbers of the tiles that can be chosen."""
        board = self._level
        paint_links(painter, self._look.colours, frame, board)
        numbers = {choice.move.thing: at for at, choice in enumerate(self._choices, 1) if choice.move.kind == "tile"}
        for tile in board.tiles:
            shown = TileLook(open=tile.id in numbers)
            paint_tile(painter, self._look, frame, self._flow, tile, shown, "", False, False)
            self._areas.append((frame.tile(tile), numbers.get(tile.id, 0)))
            self._badge(painter, frame.tile(tile).topRight(), numbers.get(tile.id))

    def _badge(self, painter: QPainter, centre: QPointF, number: int | None) -> None:
        c = self._look.colours
        room = QRectF(self.rect()).adjusted(BADGE + 4, BADGE + 4, -BADGE - 4, -BADGE - 4)
        centre = QPointF(min(max(centre.x(), room.left()), room.right()), max(centre.y(), room.top()))
        while any(abs(other.x() - centre.x()) < 2 * BADGE and abs(other.y() - centre.y()) < 2 * BADGE
                  for other, _ in self._badges):  # fmt: skip
            centre = centre + QPointF(2 * BADGE + 1, 0)
        self._badges.append((centre, number or 0))
        if number is None:
            painter.setPen(QPen(c.colour("suspicious"), 1.5, Qt.PenStyle.DashLine))
            painter.setBrush(c.colour("card"))
        else:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(c.colour("sound"))
        painter.drawEllipse(centre, BADGE, BADGE)
        painter.setPen(c.colour("on_sound" if number else "suspicious"))
        box = QRectF(centre.x() - BADGE, centre.y() - BADGE, 2 * BADGE, 2 * BADGE)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(number) if number else "–")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        for centre, number in self._badges:
            away = event.position() - centre
            if number and away.x() ** 2 + away.y() ** 2 <= (BADGE + 3) ** 2:
                self.chosen.emit(number)
                return
        for area, number in self._areas:
            if number and area.contains(event.position()):
                self.chosen.emit(number)
                return

"""A board one can work on: tiles are chosen, dragged, linked, and tried with the arrow keys as the player would."""

from collections.abc import Collection, Mapping, Sequence
from pathlib import Path
from typing import Literal

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from mossy_bridge.desk.boards.painting import BoardFrame, TileLook, paint_cursor, paint_links, paint_tile
from mossy_bridge.desk.plan.painting import DIMMED
from mossy_bridge.desk.plan.pictures import PICTURES
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.given import given, is_key_override
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.edits.boards import SIDES, Side, link_of, nearest_on, side_of, tile_of
from mossy_bridge.model.flow import Flow, Level, Tile
from mossy_bridge.play.board_cursor import first_tile

DRAG_STARTS = 5
GRID = 0.25
"""Tiles snap to this part of a column or row."""
HANDLE = 6.0
ARROWS: dict[Qt.Key, Side] = {
    Qt.Key.Key_Left: "left", Qt.Key.Key_Right: "right", Qt.Key.Key_Up: "up", Qt.Key.Key_Down: "down",
}  # fmt: skip
STEPS: dict[Side, tuple[int, int]] = {"left": (-1, 0), "right": (1, 0), "up": (0, -1), "down": (0, 1)}
Drag = Literal["", "move", "link", "lasso"]


class BoardCanvas(QWidget):
    """Shows and edits one board. It holds no truth: signals say what the designer wants.

    ``chosen(tiles)``, ``move_wanted(tiles, across, along)``, ``link_wanted(tile, other, side or None, back)``,
    ``unlink_wanted(tiles)``, ``remove_wanted(tiles)``, ``tile_wanted(col, row)``, ``opened(level)`` on a double click,
    ``tried(words)`` while it is tried.
    """

    chosen = pyqtSignal(tuple)
    move_wanted = pyqtSignal(tuple, float, float)
    link_wanted = pyqtSignal(str, str, object, bool)
    unlink_wanted = pyqtSignal(tuple)
    remove_wanted = pyqtSignal(tuple)
    tile_wanted = pyqtSignal(float, float)
    opened = pyqtSignal(str)
    tried = pyqtSignal(str)
    try_ended = pyqtSignal()

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self.flow, self.board = Flow(), Level(id="none", kind="board")
        self.tiles: tuple[str, ...] = ()
        """Those that are chosen."""
        self.cursor_at = ""
        """The tile the player's cursor is on while the board is tried; "" otherwise."""
        self._folder: Path | None = None
        self._looks: Mapping[str, TileLook] = {}
        self._locks: dict[str, str] = {}
        self._drag: Drag = ""
        self._press: QPointF | None = None
        self._pressed: str = ""
        self._pressed_side: Side | None = None
        self._at = QPointF()
        self._one_way = False
        self.setAccessibleName("The board")
        self.setAccessibleDescription("Drag tiles to move them; drag from an edge to another tile to link them")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        look.changed.connect(self.update)
        PICTURES.arrived.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(480, 260)

    def minimumSizeHint(self) -> QSize:
        return QSize(160, 110)

    # -- showing ---------------------------------------------------------------------------------------

    def show_board(self, flow: Flow, board: Level, tiles: Sequence[str], folder: Path | None = None) -> None:
        """Shows a board of a flow, patterns filled in, with some tiles chosen."""
        self._folder = folder
        if board.id != self.board.id:
            self.end_try()
        self.flow, self.board = flow, board
        self.tiles = tuple(name for name in tiles if tile_of(board, name))
        wording = Wording(flow)
        levels = {level.id: level for level in flow.levels}
        self._locks = {
            tile.id: f"opens: {wording.condition(levels[tile.level].opens)}"
            for tile in board.tiles
            if tile.level in levels and levels[tile.level].opens != "always"
        }
        if self.cursor_at and not tile_of(board, self.cursor_at):
            self.end_try()
        self.update()

    def show_looks(self, looks: Mapping[str, TileLook]) -> None:
        """Shows which tiles are open at a moment; without any, all are."""
        self._looks = looks
        self.update()

    def frame(self) -> BoardFrame:
        """Where columns and rows lie on the widget."""
        return BoardFrame(self.board, QRectF(self.rect()).adjusted(16, 12, -16, -22))

    def _look_of(self, tile: Tile) -> TileLook:
        return self._looks.get(tile.id, TileLook())

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(c.colour("route" if self.hasFocus() else "line"), 1.4))
            painter.setBrush(c.colour("sky"))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 5, 5)
            if not self.board.tiles:
                painter.setPen(c.colour("dim"))
                words = "No tiles yet. Make some for a region above, or double-click here for one."
                painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, words)
                return
            painter.setClipRect(QRectF(self.rect()).adjusted(2, 2, -2, -2))
            frame = self.frame()
            self._paint_picture(painter, frame)
            paint_links(painter, c, frame, self.board)
            begins = first_tile(self.board) if self.board.cursor != "free" else ""
            for tile in self.board.tiles:
                paint_tile(painter, self._look, frame, self.flow, tile, self._look_of(tile),
                           self._locks.get(tile.id, ""), tile.id in self.tiles, tile.id == begins)  # fmt: skip
            self._paint_handles(painter, frame)
            self._paint_drag(painter, frame)
            here = tile_of(self.board, self.cursor_at)
            if here:
                paint_cursor(painter, c, frame.tile(here))

    def _paint_picture(self, painter: QPainter, frame: BoardFrame) -> None:
        """The picture behind the page, dimmed."""
        plan = self.board.plan
        picture = PICTURES.of(self._folder, plan.picture) if plan and plan.picture else None
        if plan and picture:
            painter.setOpacity(DIMMED)
            picture.paint(painter, QRectF(frame.point(0, 0), frame.point(plan.width, plan.height)))
            painter.setOpacity(1.0)

    def _paint_handles(self, painter: QPainter, frame: BoardFrame) -> None:
        only = tile_of(self.board, self.tiles[0]) if len(self.tiles) == 1 else None
        if only is None or self.cursor_at:
            return
        painter.setPen(QPen(self._look.colours.colour("route"), 1.4))
        painter.setBrush(self._look.colours.colour("card"))
        for side in SIDES:
            painter.drawEllipse(frame.edge(only, side), HANDLE - 1, HANDLE - 1)

    def _paint_drag(self, painter: QPainter, frame: BoardFrame) -> None:
        c = self._look.colours
        if self._press is None or not self._drag:
            return
        painter.setPen(QPen(c.colour("route"), 2, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self._drag == "lasso":
            painter.drawRect(QRectF(self._press, self._at).normalized())
        elif self._drag == "link":
            painter.drawLine(self._press, self._at)
            words = "one way" if self._one_way else "there and back; Alt: one way"
            painter.setPen(c.colour("route"))
            painter.drawText(self._at + QPointF(12, -6), words)
        else:
            across, along = self._moved_by(frame)
            for name in self.tiles:
                tile = tile_of(self.board, name)
                if tile:
                    aside = frame.point(across, along) - frame.point(0, 0)
                    painter.drawRoundedRect(frame.tile(tile).translated(aside), 6, 6)

    def _moved_by(self, frame: BoardFrame) -> tuple[float, float]:
        """How far the chosen tiles are being dragged, in columns and rows on the grid."""
        assert self._press is not None
        across, along = (self._at.x() - self._press.x()) / frame.width, (self._at.y() - self._press.y()) / frame.height
        return round(across / GRID) * GRID, round(along / GRID) * GRID

    # -- mouse -----------------------------------------------------------------------------------------

    def tile_at(self, at: QPointF) -> Tile | None:
        """The tile under a point."""
        frame = self.frame()
        return next((tile for tile in reversed(self.board.tiles) if frame.tile(tile).contains(at)), None)

    def _handle_at(self, at: QPointF) -> Side | None:
        """The edge of the one chosen tile whose handle is under a point."""
        only = tile_of(self.board, self.tiles[0]) if len(self.tiles) == 1 else None
        if only is None:
            return None
        frame = self.frame()
        near = ((side, (frame.edge(only, side) - at).manhattanLength()) for side in SIDES)
        side, distance = min(near, key=lambda one: one[1])
        return side if distance <= HANDLE + 3 else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        if event.button() != Qt.MouseButton.LeftButton or self.cursor_at:
            return
        self._press = self._at = event.position()
        self._pressed_side = self._handle_at(event.position())
        tile = self.tile_at(event.position())
        self._pressed = self.tiles[0] if self._pressed_side else tile.id if tile else ""
        held = event.modifiers() & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier)
        if held and tile:
            rest = tuple(name for name in self.tiles if name != tile.id)
            self._choose(rest if tile.id in self.tiles else (*rest, tile.id))
        elif tile and tile.id not in self.tiles and not self._pressed_side:
            self._choose((tile.id,))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        if self._press is None:
            linking = self._handle_at(event.position()) is not None
            self.setCursor(Qt.CursorShape.CrossCursor if linking else Qt.CursorShape.ArrowCursor)
            return
        self._at = event.position()
        self._one_way = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        if not self._drag and (self._at - self._press).manhattanLength() >= DRAG_STARTS:
            self._drag = "link" if self._pressed_side else "move" if self._pressed else "lasso"
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        press, drag, pressed, side = self._press, self._drag, self._pressed, self._pressed_side
        moved = self._moved_by(self.frame()) if drag == "move" else (0.0, 0.0)
        self._abort()
        if press is None:
            return
        if drag == "move" and any(moved):
            self.move_wanted.emit(self.tiles, *moved)
        elif drag == "link":
            other = self.tile_at(event.position())
            back = not event.modifiers() & Qt.KeyboardModifier.AltModifier
            if other and other.id != pressed:
                self.link_wanted.emit(pressed, other.id, side, back)
        elif drag == "lasso":
            self._choose(self.tiles_within(QRectF(press, event.position()).normalized()))
        elif not drag and not pressed:
            self._choose(())

    def tiles_within(self, rect: QRectF) -> tuple[str, ...]:
        """The tiles that lie wholly in a rectangle of the widget."""
        frame = self.frame()
        return tuple(tile.id for tile in self.board.tiles if rect.contains(frame.tile(tile)))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        tile = self.tile_at(event.position())
        if tile is None:
            col, row = self.frame().place(event.position()) if self.board.tiles else (0.5, 0.5)
            self.tile_wanted.emit(round((col - 0.5) / GRID) * GRID, round((row - 0.5) / GRID) * GRID)
        elif tile.level:
            self.opened.emit(tile.level)

    def _abort(self) -> None:
        self._press, self._drag, self._pressed, self._pressed_side = None, "", "", None
        self.update()

    def _choose(self, tiles: tuple[str, ...]) -> None:
        self.tiles = tiles
        self.update()
        self.chosen.emit(tiles)

    # -- keys ------------------------------------------------------------------------------------------

    def event(self, event: QEvent | None) -> bool:
        if is_key_override(event, Qt.Key.Key_Delete) and self.tiles:
            given(event).accept()
            return True
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            tile = self.tile_at(QPointF(event.pos()))
            level = self.flow.level(tile.level) if tile else None
            if tile:
                words = [level.title if level else "leads to no level", self._locks.get(tile.id, "")]
                QToolTip.showText(event.globalPos(), plain("; ".join(filter(None, words))), self)
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        key, control = Qt.Key(event.key()), bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if self.cursor_at:
            self._try_key(key)
        elif key in ARROWS and self.tiles:
            if control:
                self._link_by_key(ARROWS[key], not event.modifiers() & Qt.KeyboardModifier.AltModifier)
            else:
                by = GRID if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
                across, along = STEPS[ARROWS[key]]
                self.move_wanted.emit(self.tiles, across * by, along * by)
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown, Qt.Key.Key_Home, Qt.Key.Key_End) and self.board.tiles:
            self._step(key)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.tiles:
            (self.unlink_wanted if control or key == Qt.Key.Key_Backspace else self.remove_wanted).emit(self.tiles)
        elif key == Qt.Key.Key_A and control:
            self._choose(tuple(tile.id for tile in self.board.tiles))
        elif key == Qt.Key.Key_Escape and (self._drag or self.tiles):
            self._choose(self.tiles if self._drag else ())
            self._abort()
        elif key == Qt.Key.Key_Insert:
            self.tile_wanted.emit(-1.0, -1.0)
        else:
            super().keyPressEvent(event)

    def _step(self, key: Qt.Key) -> None:
        """Chooses the tile before or behind, the first or the last."""
        names = [tile.id for tile in self.board.tiles]
        at = names.index(self.tiles[0]) if self.tiles else -1
        number = {Qt.Key.Key_Home: 0, Qt.Key.Key_End: len(names) - 1, Qt.Key.Key_PageDown: at + 1}.get(key, at - 1)
        self._choose((names[max(0, min(number, len(names) - 1))],))

    def _link_by_key(self, side: Side, back: bool) -> None:
        """Links the one chosen tile with the nearest on a side; two chosen ones with one another."""
        one = tile_of(self.board, self.tiles[0])
        if one is None:
            return
        other = tile_of(self.board, self.tiles[1]) if len(self.tiles) == 2 else nearest_on(self.board, one, side)
        if other:
            self.link_wanted.emit(one.id, other.id, side_of(one, other) if len(self.tiles) == 2 else side, back)

    # -- trying ----------------------------------------------------------------------------------------

    def begin_try(self) -> None:
        """Puts the player's cursor where it begins."""
        if self.board.tiles:
            self.cursor_at = first_tile(self.board)
            self.setFocus()
            self._tell()
            self.update()

    def end_try(self) -> None:
        """Takes the player's cursor away."""
        if self.cursor_at:
            self.cursor_at = ""
            self.update()
            self.try_ended.emit()

    def _try_key(self, key: Qt.Key) -> None:
        here = tile_of(self.board, self.cursor_at)
        if here is None or key == Qt.Key.Key_Escape:
            self.end_try()
        elif key in ARROWS:
            self._move_cursor(here, ARROWS[key])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._tell(choosing=True)

    def _move_cursor(self, here: Tile, side: Side) -> None:
        free = self.board.cursor == "free"
        there = nearest_on(self.board, here, side) if free else tile_of(self.board, link_of(here, side))
        if there is None:
            self.tried.emit(f"Nothing lies {side} of here." if free else f"No link leads {side} from here.")
        elif self.board.cursor != "any" and not self._look_of(there).open:
            self.tried.emit(f"{self._named(there)} is locked, and the cursor does not stop there.")
        else:
            self.cursor_at = there.id
            self._tell()
        self.update()

    def _named(self, tile: Tile) -> str:
        level = self.flow.level(tile.level)
        return level.title if level else f"The tile {tile.id}"

    def _tell(self, choosing: bool = False) -> None:
        here = tile_of(self.board, self.cursor_at)
        if here is None:
            return
        name, lock = self._named(here), self._locks.get(here.id, "")
        if not self._look_of(here).open:
            self.tried.emit(f"{name} is locked: {lock or 'it cannot be entered'}.")
        elif choosing:
            self.tried.emit(f"Enters {name}." if self.flow.level(here.level) else "Leads nowhere.")
        else:
            self.tried.emit(f"On {name}; Enter chooses it.")


def tiles_of(parts: Collection[tuple[str, str]]) -> tuple[str, ...]:
    """The tiles among the chosen parts of a level."""
    return tuple(name for group, name in parts if group == "tiles")

"""Paints a board: its tiles as flagstones with small plans, the links between them, what is open and what is locked."""

from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen, QPolygonF

from mossy_bridge.desk.plan.painting import PlanFrame, has_plan, paint_ground
from mossy_bridge.desk.widgets.colours import Colours
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.edits.boards import OPPOSITE, SIDES, Side, is_straight, link_of, tile_of
from mossy_bridge.model.flow import Flow, Level, Tile

WIDEST = 168.0
"""Pixels of a column at most."""
TALLNESS = 0.74
"""How high a row is, by the width of a column."""
FILLS = (0.74, 0.72)
"""How much of its cell a tile takes, across and along."""
READABLE = 64.0
"""Pixels a tile must be wide for words in it and below it; a narrower one shows the level's code, where it fits."""
DASHED = Qt.PenStyle.DashLine
AHEAD: dict[Side, QPointF] = {
    "left": QPointF(-1, 0), "right": QPointF(1, 0), "up": QPointF(0, -1), "down": QPointF(0, 1),
}  # fmt: skip


class TileLook(Struct, frozen=True):
    """How a tile is shown at a moment: open or locked, whether the cursor gets there, and whether it has just
    opened."""

    open: bool = True
    in_reach: bool = True
    new: bool = False


class BoardFrame:
    """Where columns and rows of a board lie in a rectangle on screen."""

    def __init__(self, board: Level, room: QRectF):
        cols = [tile.col for tile in board.tiles] or [0.0]
        rows = [tile.row for tile in board.tiles] or [0.0]
        plan = board.plan
        left, top = min(0.0, *cols), min(0.0, *rows)
        right = max(max(cols) + 1, plan.width if plan else 0)
        bottom = max(max(rows) + 1, plan.height if plan else 0)
        across, along = right - left, bottom - top
        self.width = min(room.width() / across, room.height() / along / TALLNESS, WIDEST)
        """Pixels of a column."""
        self.height = self.width * TALLNESS
        size = QPointF(across * self.width, along * self.height)
        corner = room.center() - size / 2
        self._origin = corner - QPointF(left * self.width, top * self.height)

    def point(self, col: float, row: float) -> QPointF:
        """A column and row on screen."""
        return self._origin + QPointF(col * self.width, row * self.height)

    def place(self, at: QPointF) -> tuple[float, float]:
        """The column and row of a point on screen."""
        aside = at - self._origin
        return aside.x() / self.width, aside.y() / self.height

    def tile(self, tile: Tile) -> QRectF:
        """Where a tile lies."""
        middle = self.point(tile.col + 0.5, tile.row + 0.5)
        width, height = self.width * FILLS[0], self.height * FILLS[1]
        return QRectF(middle.x() - width / 2, middle.y() - height / 2, width, height)

    def edge(self, tile: Tile, side: Side) -> QPointF:
        """The middle of an edge of a tile."""
        rect = self.tile(tile)
        ahead = AHEAD[side]
        return rect.center() + QPointF(ahead.x() * rect.width() / 2, ahead.y() * rect.height() / 2)


def paint_links(painter: QPainter, c: Colours, frame: BoardFrame, board: Level) -> None:
    """The links of the cursor as paths between tiles, each once; one-way ones with a point, crooked ones dashed."""
    for tile in board.tiles:
        for side in SIDES:
            other = tile_of(board, link_of(tile, side))
            if other is None or other is tile:
                continue
            back = link_of(other, OPPOSITE[side]) == tile.id
            if back and (side in ("left", "up")):
                continue  # painted from the other end
            straight = is_straight(tile, other, side)
            painter.setPen(QPen(c.colour("route" if straight else "suspicious"), 2.4,
                                Qt.PenStyle.SolidLine if straight else DASHED))  # fmt: skip
            start, end = frame.edge(tile, side), frame.edge(other, OPPOSITE[side])
            painter.drawLine(start, end)
            if not back:
                _paint_point(painter, c.colour("route" if straight else "suspicious"), start, end)


def _paint_point(painter: QPainter, colour: QColor, start: QPointF, end: QPointF) -> None:
    """The point of a one-way path."""
    way = end - start
    length = max((way.x() ** 2 + way.y() ** 2) ** 0.5, 1e-6)
    ahead = way / length
    side = QPointF(-ahead.y(), ahead.x()) * 4.5
    back = end - ahead * 9
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour)
    painter.drawPolygon(QPolygonF([end, back + side, back - side]))


def paint_tile(
    painter: QPainter, look: Look, frame: BoardFrame, flow: Flow, tile: Tile, shown: TileLook, lock: str, chosen: bool,
    first: bool,
) -> None:  # fmt: skip
    """A tile as the game would show it: while it is locked as it is, dimmed, or hidden behind a dashed edge."""
    c, rect = look.colours, frame.tile(tile)
    level = flow.level(tile.level)
    hidden = not shown.open and tile.locked == "hidden"
    painter.setOpacity(0.45 if not shown.open and tile.locked == "dimmed" else 1.0)
    edge = "broken" if level is None or not level.ships else "sound" if shown.open else "suspicious"
    painter.setBrush(Qt.BrushStyle.NoBrush if hidden else c.colour("route_wash" if chosen else "card"))
    pen = QPen(c.colour("route" if chosen else edge), 2.6 if chosen or shown.new else 1.5)
    pen.setStyle(DASHED if hidden else Qt.PenStyle.SolidLine)
    painter.setPen(pen)
    painter.drawRoundedRect(rect, 6, 6)
    _paint_inside(painter, look, rect, flow, level, hidden)
    painter.setOpacity(1.0)
    if first:
        _paint_first(painter, c, rect)
    if rect.width() >= READABLE:
        _paint_lock(painter, look, rect, shown, lock)


def _name_on_tile(level: Level | None) -> str:
    """What a tile calls its level: code and title."""
    if level is None:
        return "no level yet"
    return level.title if level.code == level.title else f"{level.code} {level.title}".strip()


def _paint_inside(painter: QPainter, look: Look, rect: QRectF, flow: Flow, level: Level | None, hidden: bool) -> None:
    c = look.colours
    painter.setFont(look.font(-2, bold=True))
    metrics = QFontMetricsF(painter.font())
    painter.setPen(c.colour("dim" if hidden or level is None else "ink"))
    if rect.width() < READABLE:
        code = level.code if level else ""
        if metrics.horizontalAdvance(code) <= rect.width() - 2 and metrics.height() <= rect.height():
            painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, code)
        return
    inner, line = rect.adjusted(6, 4, -6, -6), metrics.height()
    text = metrics.elidedText(_name_on_tile(level), Qt.TextElideMode.ElideRight, inner.width())
    painter.drawText(QRectF(inner.left(), inner.top(), inner.width(), line), Qt.AlignmentFlag.AlignVCenter, text)
    room = inner.adjusted(0, line + 2, 0, 0)
    if level and has_plan(level) and not hidden and room.height() > 8:
        painter.save()
        paint_ground(painter, c, PlanFrame(level, room, flow.units.y == "down"), level)
        painter.restore()


def _paint_first(painter: QPainter, c: Colours, rect: QRectF) -> None:
    """The mark of the tile at which the cursor begins: a wedge at its corner."""
    corner = rect.topLeft() + QPointF(-3, -3)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(c.colour("route"))
    painter.drawPolygon(QPolygonF([corner, corner + QPointF(15, 0), corner + QPointF(0, 15)]))


def _paint_lock(painter: QPainter, look: Look, rect: QRectF, shown: TileLook, lock: str) -> None:
    """What stands below a tile: what it asks for, that it has just opened, or that the cursor does not get there."""
    words, colour = lock, "suspicious"
    if shown.new:
        words, colour = "has just opened", "sound"
    elif shown.open and not shown.in_reach:
        words = "open, but out of the cursor's reach"
    elif shown.open:
        words, colour = lock, "dim"
    if not words:
        return
    c = look.colours
    painter.setFont(look.font(-2))
    metrics = QFontMetricsF(painter.font())
    text = metrics.elidedText(words, Qt.TextElideMode.ElideRight, rect.width() * 1.28)
    width = metrics.horizontalAdvance(text) + 10
    box = QRectF(rect.center().x() - width / 2, rect.bottom() + 2, width, metrics.height() + 1)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(c.colour("panel", 225))
    painter.drawRoundedRect(box, 3, 3)
    painter.setPen(c.colour(colour))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def paint_cursor(painter: QPainter, c: Colours, rect: QRectF) -> None:
    """The player's cursor on a tile: four corners around it."""
    around, arm = rect.adjusted(-7, -7, 7, 7), 12.0
    painter.setPen(QPen(c.colour("route"), 3.4, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    corners = around.topLeft(), around.topRight(), around.bottomLeft(), around.bottomRight()
    for corner, across, along in zip(corners, (1, -1, 1, -1), (1, 1, -1, -1), strict=True):
        painter.drawLine(corner, corner + QPointF(arm * across, 0))
        painter.drawLine(corner, corner + QPointF(0, arm * along))

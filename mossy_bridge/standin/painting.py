"""How the game looks: night over the marsh, stone, and what can be done in the colours of lamp and moss."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPen, QPolygonF

from mossy_bridge.standin.engine import NONE, Table
from mossy_bridge.standin.motion import Box, Ground
from mossy_bridge.standin.playing import Playing

NIGHT, DUSK, STONE, MOSS, LAMP, CHALK, SLATE = (
    QColor(name) for name in ("#20242a", "#323a44", "#8f8f7c", "#7fb069", "#e6b65c", "#f3efe4", "#8fb0e0")
)


def paint(painter: QPainter, playing: Playing, whole: QRectF) -> None:
    """Paints what there is to see now."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.fillRect(whole, NIGHT)
    room = whole.adjusted(24, 64, -24, -74)
    if playing.session.state is None:
        _paint_ending(painter, playing, room)
    else:
        _paint_level(painter, playing, room)
        _paint_words(painter, playing, whole)
    if playing.crossing:
        painter.fillRect(whole, QColor(0, 0, 0, round(255 * playing.crossing.dark)))
        painter.setFont(_font(22))
        painter.setPen(CHALK)
        painter.drawText(whole, Qt.AlignmentFlag.AlignCenter, "\n".join(playing.crossing.messages))


def _paint_level(painter: QPainter, playing: Playing, room: QRectF) -> None:
    level = playing.session.level
    if playing.ground:
        _paint_plan(painter, playing, room, playing.ground)
    elif level["tiles"]:
        _paint_board(painter, playing, room)
    else:
        _paint_screen(painter, playing, room)


def _paint_plan(painter: QPainter, playing: Playing, room: QRectF, ground: Ground) -> None:
    scale = min(room.width() / ground.width, room.height() / ground.height)
    left = room.center().x() - ground.width * scale / 2
    floor = room.center().y() + ground.height * scale / 2

    def on_screen(box: Box) -> QRectF:
        return QRectF(left + box.left * scale, floor - box.high * scale, (box.right - box.left) * scale,
                      (box.high - box.low) * scale)  # fmt: skip

    painter.fillRect(QRectF(left, floor - ground.height * scale, ground.width * scale, ground.height * scale), DUSK)
    for solid in playing.session.level["plan"]["solids"]:
        painter.fillRect(on_screen(ground.box(solid)), STONE)
    possible = {move.thing for move in playing.session.moves() if move.kind == "exit"}
    for number, exit_ in enumerate(playing.session.level["exits"]):
        if exit_["area"][2] and exit_["area"][3]:
            painter.setPen(QPen(MOSS if number in possible else STONE, 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            door = on_screen(ground.box(exit_["area"]))
            painter.drawRoundedRect(door, 4, 4)
            painter.setFont(_font(9))
            above = QRectF(door.center().x() - 70, door.top() - 34, 140, 32)
            above.moveLeft(min(max(above.left(), room.left()), room.right() - above.width()))
            flags = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom | Qt.TextFlag.TextWordWrap
            painter.drawText(above, flags, exit_["name"] or exit_["id"])
    spent = playing.session.state.spent if playing.session.state else frozenset()
    at = playing.session.state.level if playing.session.state else NONE
    for number, deed in enumerate(playing.session.level["deeds"]):
        if (deed["x"] or deed["y"]) and (at, number) not in spent:
            point = QPointF(left + deed["x"] * scale, floor - ground.height_of(deed["y"]) * scale - 6)
            corners = [QPointF(0, -6), QPointF(6, 0), QPointF(0, 6), QPointF(-6, 0)]
            painter.setPen(QPen(LAMP, 2))
            painter.drawPolygon(QPolygonF([point + corner for corner in corners]))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(SLATE)
    painter.drawRoundedRect(on_screen(ground.body_box(playing.body)), 3, 3)


def _paint_board(painter: QPainter, playing: Playing, room: QRectF) -> None:
    tiles = playing.session.level["tiles"]
    columns, rows = [tile["col"] for tile in tiles], [tile["row"] for tile in tiles]
    wide, tall = max(columns) - min(columns) + 1, max(rows) - min(rows) + 1
    size = min(room.width() / wide, room.height() / tall, 170.0)
    left, top = room.center().x() - wide * size / 2, room.center().y() - tall * size / 2
    lit = playing.open_tiles()
    for number, tile in enumerate(tiles):
        x, y = left + (tile["col"] - min(columns)) * size, top + (tile["row"] - min(rows)) * size
        place = QRectF(x, y, size, size)
        place = place.adjusted(8, 8, -8, -8)
        if number not in lit and tile["locked"] == "hidden":
            continue
        painter.setPen(QPen(CHALK if number == playing.at_tile else MOSS if number in lit else STONE,
                            4 if number == playing.at_tile else 2))  # fmt: skip
        painter.setBrush(DUSK)
        painter.drawRoundedRect(place, 8, 8)
        level = playing.session.table["levels"][tile["level"]] if tile["level"] != NONE else None
        words = f"{level['code']}\n{level['name']}" if level else ""
        painter.setPen(CHALK if number in lit else STONE)
        flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
        painter.drawText(place.adjusted(6, 6, -6, -6), flags, words if number in lit else f"{words}\nlocked".strip())


def _paint_screen(painter: QPainter, playing: Playing, room: QRectF) -> None:
    session, level = playing.session, playing.session.level
    starts = session.state is not None and session.state.level == session.table["start"]["level"]
    title = session.table["title"] if starts else level["name"]
    painter.setPen(CHALK)
    painter.setFont(_font(30))
    painter.drawText(QRectF(room.left(), room.top(), room.width(), room.height() * 0.35),
                     Qt.AlignmentFlag.AlignCenter, title or level["id"])  # fmt: skip
    painter.setFont(_font(15))
    for number, option in enumerate(playing.options()):
        line = QRectF(room.center().x() - 190, room.top() + room.height() * 0.42 + number * 46, 380, 38)
        painter.setPen(QPen(LAMP if number == playing.chosen else STONE, 2))
        painter.setBrush(DUSK)
        painter.drawRoundedRect(line, 6, 6)
        painter.setPen(CHALK)
        painter.drawText(line, Qt.AlignmentFlag.AlignCenter, option.words)


def _paint_ending(painter: QPainter, playing: Playing, room: QRectF) -> None:
    ended = playing.session.ended
    ending = playing.session.table["endings"][ended.ending] if ended else {"name": "", "id": ""}
    painter.setPen(LAMP)
    painter.setFont(_font(30))
    painter.drawText(room, Qt.AlignmentFlag.AlignCenter, ending["name"] or ending["id"])
    painter.setPen(STONE)
    painter.setFont(_font(13))
    painter.drawText(room, Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignHCenter, "Any key: from the start")


def _paint_words(painter: QPainter, playing: Playing, whole: QRectF) -> None:
    """Where one is, what is carried, and what can be done."""
    level, state = playing.session.level, playing.session.state
    painter.setFont(_font(15))
    painter.setPen(CHALK)
    painter.drawText(24, 36, f"{level['code']}  {level['name']}".strip())
    had = [
        f"{fact['name'] or fact['id']}: {_value(fact, value)}"
        for fact, value in zip(playing.session.table["facts"], state.facts if state else (), strict=False)
        if value != fact["initial"]
    ]
    painter.setFont(_font(11))
    painter.setPen(LAMP)
    painter.drawText(24, 56, playing.session.trouble or "   ".join(had))
    painter.setPen(STONE)
    right = Qt.AlignmentFlag.AlignRight
    painter.drawText(whole.adjusted(0, 20, -24, 0), right, "Esc: back to the start")
    if playing.ground or level["tiles"]:
        options = [f"{number} {option.words}" for number, option in enumerate(playing.options()[:9], 1)]
        painter.setPen(CHALK)
        bottom = QRectF(24, whole.bottom() - 60, whole.width() - 48, 44)
        painter.drawText(bottom, Qt.TextFlag.TextWordWrap, "     ".join(options))


def _font(size: int) -> QFont:
    font = QFont()
    font.setPointSize(size)
    return font


def _value(fact: Table, value: int) -> str:
    if fact["kind"] == "flag":
        return "yes" if value else "no"
    return str(fact["values"][value]) if fact["kind"] == "choice" else str(value)

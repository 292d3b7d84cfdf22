"""A crossing as a footbridge: two rails with planks between, a lock across it, a stub where it is broken."""

from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

from PyQt6.QtCore import QLineF, QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from mossy_bridge.desk.map.courses import Footprint
from mossy_bridge.desk.map.crossings import Crossing
from mossy_bridge.desk.map.polyline import Polyline, rounded
from mossy_bridge.desk.map.routing import Route
from mossy_bridge.desk.widgets.colours import Colours
from mossy_bridge.desk.widgets.theme import Look

FAR = 0.42
"""Below this zoom cards are beads, and bridges plain lines."""
MOST_PLANKS = 2_000
"""A longer bridge has its planks further apart."""
FAR_PARTS = 6
"""The line from bead to bead is repainted in so many parts."""
WORDS = 100.0
"""A longer condition is cut, in map units."""
HALF, PLANK, PIECE = 2.8, 6.5, 20
"""Half the width of a bridge, the way from plank to plank in map units, and planks a piece."""


def loose_path(start: QPointF, end: QPointF) -> QPainterPath:
    """A line for a bridge that is not there yet: it leaves and arrives level, and sags where it has to lead back."""
    reach, sag = max(40.0, abs(end.x() - start.x()) * 0.45), 0.0
    if end.x() < start.x() + 20:
        reach, sag = reach * 0.6, 60 + abs(end.x() - start.x()) * 0.08
    path = QPainterPath(start)
    path.cubicTo(start + QPointF(reach, sag), end + QPointF(-reach, sag), end)
    return path


@dataclass(frozen=True)
class Piece:
    """A piece of a footbridge: what lies between the rails, the rails, and the planks."""

    deck: QPolygonF
    rails: tuple[QPolygonF, QPolygonF]
    planks: list[QLineF]


def _piece(line: Polyline, first: int, last: int, count: int) -> Piece:
    steps = [line.at(i / count) for i in range(first, last + 1)]
    one = [QPointF(x - HALF * v, y + HALF * u) for x, y, u, v in steps]
    other = [QPointF(x + HALF * v, y - HALF * u) for x, y, u, v in steps]
    planks = [QLineF(a, b) for a, b in zip(one, other, strict=True)]
    return Piece(QPolygonF([*one, *reversed(other)]), (QPolygonF(one), QPolygonF(other)), planks)


class Bridge:
    """One crossing on the map, and how it is painted. It never changes: another crossing is another bridge."""

    def __init__(self, crossing: Crossing, route: Route, far: tuple[QPointF, QPointF] | None,
                 cards: tuple[QRectF, QRectF] | None, lock: str, works: bool):  # fmt: skip
        self.crossing, self.lock, self.works = crossing, lock, works
        self.far = QLineF(*far) if far else None
        """From bead to bead, when seen from afar."""
        self.quiet = crossing.kind in ("quiet", "depends")
        self.hidden_away = crossing.kind == "quiet"
        """Shown only while one of its ends is selected."""
        self.route = route
        self._cards = cards or ()
        self._made: dict[int, Piece] = {}
        bounds = QPolygonF([QPointF(x, y) for x, y in route.points]).boundingRect().adjusted(-16, -22, 16, 22)
        if self.far:
            bounds = bounds.united(QRectF(self.far.p1(), self.far.p2()).normalized())
        if route.label:
            bounds = bounds.united(_rect(route.label))
        self.bounds = bounds
        self.colour = "broken" if crossing.kind == "broken" else "sound" if works else "suspicious"

    def stretches(self) -> list[QRectF]:
        """The rectangles that hold all of it, stretch by stretch: much less than what lies around a long one."""
        pairs = pairwise(self.route.points)
        found = [QRectF(QPointF(*one), QPointF(*other)).normalized().adjusted(-16, -22, 16, 22) for one, other in pairs]
        if self.route.label:
            found.append(_rect(self.route.label))
        far = self.far
        points = [far.pointAt(part / FAR_PARTS) for part in range(FAR_PARTS + 1)] if far else []
        return found + [QRectF(one, other).normalized().adjusted(-8, -8, 8, 8) for one, other in pairwise(points)]

    @cached_property
    def line(self) -> Polyline:
        """Where it runs."""
        route = self.route
        return rounded(route.points, route.from_inside, route.to_inside)

    @cached_property
    def _path(self) -> QPainterPath:
        return self.line.path()

    @cached_property
    def _planks(self) -> int:
        return max(4, min(MOST_PLANKS, round(self.line.length() / PLANK)))

    def _pieces(self, within: QRectF | None) -> list[Piece]:
        """The pieces that touch a rectangle, each worked out when first painted: most never are."""
        count = self._planks
        numbers = range((count - 1) // PIECE + 1) if within is None else sorted(self._numbers(within))
        for number in numbers:
            if number not in self._made:
                first = number * PIECE
                self._made[number] = _piece(self.line, first, min(first + PIECE, count), count)
        return [self._made[number] for number in numbers]

    def _numbers(self, within: QRectF) -> set[int]:
        """The numbers of the pieces that touch a rectangle, found without a look at the planks elsewhere: a bridge may
        lead across all of the map."""
        planks = self._planks / self.line.length()
        far = max(14.0, 1 / planks)
        left, top, right, bottom = within.adjusted(-far, -far, far, far).getCoords()
        found = set[int]()
        for begin, end in self.line.within(left, top, right, bottom):
            last = min(int(end * planks), self._planks - 1)
            found.update(range(int(begin * planks) // PIECE, last // PIECE + 1))
        return found

    def middle(self) -> QPointF:
        """The middle of the bridge, on the map."""
        x, y, _, _ = self.line.at(0.5)
        return QPointF(x, y)

    def is_near(self, point: QPointF, reach: float) -> bool:
        """Whether the point lies on the bridge, with some reach."""
        return self.bounds.contains(point) and self.line.distance(point) <= reach

    def paint(
        self,
        painter: QPainter,
        look: Look,
        within: QRectF | None = None,
        chosen: bool = False,
        forward: bool = False,
    ) -> None:
        """Paints what lies within a rectangle, or all; ``chosen`` brings it out, ``forward`` shows what is quiet as
        plainly as the others."""
        c = look.colours
        colour = "route" if chosen else self.colour
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.crossing.kind == "broken":
            self._paint_stub(painter, c, chosen)
        elif self.quiet and not chosen:
            painter.setOpacity(1 if forward else 0.34)
            style = Qt.PenStyle.DotLine if self.crossing.kind == "quiet" else Qt.PenStyle.DashLine
            painter.setPen(QPen(c.colour("dim"), 1.3, style))
            painter.drawPath(self._path)
            painter.setOpacity(1)
        elif self.quiet:
            style = Qt.PenStyle.DashLine if self.crossing.kind == "depends" else Qt.PenStyle.DotLine
            painter.setPen(QPen(c.colour(colour), 3, style))
            painter.drawPath(self._path)
        else:
            self._paint_pieces(painter, c, colour, self._pieces(within), chosen)
        if self.lock and (chosen or not self.quiet):
            self._paint_lock(painter, look)

    def paint_over(self, painter: QPainter, look: Look, within: QRectF | None = None) -> None:
        """The parts that lie over the cards it joins: from the very door to the very landing. The rest stays
        below the cards it only passes."""
        if self.quiet or self.crossing.kind == "broken":
            return
        for card in self._cards:
            if within is not None and not card.intersects(within):
                continue
            pieces = self._pieces(card)
            if pieces:
                painter.save()
                painter.setClipRect(card, Qt.ClipOperation.IntersectClip)
                self._paint_pieces(painter, look.colours, self.colour, pieces, False)
                painter.restore()

    def paint_far(self, painter: QPainter, c: Colours, chosen: bool = False) -> None:
        """From bead to bead."""
        if self.far:
            painter.setPen(QPen(c.colour("route" if chosen else self.colour), 7 if chosen else 4))
            painter.drawLine(self.far)

    def _paint_pieces(self, painter: QPainter, c: Colours, colour: str, pieces: list[Piece], chosen: bool) -> None:
        painter.setBrush(c.colour("card"))
        for piece in pieces:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawPolygon(piece.deck)
        painter.setPen(QPen(c.colour(colour), 2.2 if chosen else 1.7))
        for piece in pieces:
            for rail in piece.rails:
                painter.drawPolyline(rail)
            painter.drawLines(*piece.planks)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour(colour))
        for head in self._heads:
            painter.drawPolygon(head)

    @cached_property
    def _heads(self) -> list[QPolygonF]:
        """The arrow heads: where it lands, and where it comes back."""
        x, y, across, along = self.line.at(1)
        ends = [(QPointF(x, y), (across, along))]
        if self.crossing.kind == "both_ways":
            x, y, across, along = self.line.at(0)
            ends.append((QPointF(x, y), (-across, -along)))
        heads = []
        for tip, (across, along) in ends:
            back = tip - QPointF(across, along) * 9
            side = QPointF(-along, across) * 5
            heads.append(QPolygonF([tip, back + side, back - side]))
        return heads

    def _paint_stub(self, painter: QPainter, c: Colours, chosen: bool) -> None:
        start = QPointF(*self.route.points[0])
        painter.setPen(QPen(c.colour("route" if chosen else "broken"), 5))
        painter.drawLine(start, start + QPointF(13, 0))
        painter.setPen(QPen(c.colour("broken"), 2.4))
        jag = [QPointF(13, -4), QPointF(18, 2), QPointF(21, -5), QPointF(26, 4)]
        painter.drawPolyline(QPolygonF([start + point for point in jag]))
        painter.drawLine(start + QPointF(17, -13), start + QPointF(24, -6))
        painter.drawLine(start + QPointF(24, -13), start + QPointF(17, -6))

    def _paint_lock(self, painter: QPainter, look: Look) -> None:
        """A bar across the bridge, with the condition in short where there is room for it; else a padlock."""
        c, at = look.colours, QPointF(*self.route.lock)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour("suspicious"))
        if self.route.label is None:
            self._paint_padlock(painter, c, at)
            return
        upright = self._is_upright_at_lock
        size = QSizeF(20, 6) if upright else QSizeF(6, 20)
        painter.drawRoundedRect(QRectF(at - QPointF(size.width() / 2, size.height() / 2), size), 2, 2)
        paint_lock_words(painter, look, self.lock, _rect(self.route.label))

    @property
    def _is_upright_at_lock(self) -> bool:
        x, y = self.route.lock
        pairs = pairwise(self.route.points)
        return any(a == c == x and min(b, d) <= y <= max(b, d) and b != d for (a, b), (c, d) in pairs)

    def paint_words(self, painter: QPainter, look: Look) -> None:
        """Opens a padlock: writes the condition beside it, over whatever lies there."""
        if self.lock and self.route.label is None:
            x, y = self.route.lock
            width = lock_width(look, self.lock)
            paint_lock_words(painter, look, self.lock, QRectF(x - width / 2, y - 30, width, 16))

    def _paint_padlock(self, painter: QPainter, c: Colours, at: QPointF) -> None:
        painter.drawRoundedRect(QRectF(at.x() - 6, at.y() - 4, 12, 10), 2.5, 2.5)
        painter.setPen(QPen(c.colour("suspicious"), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawArc(QRectF(at.x() - 4, at.y() - 10, 8, 11), 0, 180 * 16)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour("card"))
        painter.drawEllipse(QPointF(at.x(), at.y() + 1), 1.6, 1.6)


def lock_font(look: Look) -> QFont:
    """The font that conditions on the map are written in."""
    return look.font(-2, bold=True)


def lock_width(look: Look, text: str) -> float:
    """How wide the condition of a lock is when written beside it."""
    metrics = QFontMetricsF(lock_font(look))
    return metrics.horizontalAdvance(metrics.elidedText(text, Qt.TextElideMode.ElideRight, WORDS)) + 10


def paint_lock_words(painter: QPainter, look: Look, text: str, box: QRectF) -> None:
    """Writes the condition of a lock into a box, cut where it is longer."""
    c = look.colours
    painter.setFont(lock_font(look))
    text = QFontMetricsF(painter.font()).elidedText(text, Qt.TextElideMode.ElideRight, box.width() - 9)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(c.colour("ground", 225))
    painter.drawRoundedRect(box, 4, 4)
    painter.setPen(c.colour("suspicious"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def _rect(box: Footprint) -> QRectF:
    return QRectF(box.left, box.top, box.right - box.left, box.bottom - box.top)

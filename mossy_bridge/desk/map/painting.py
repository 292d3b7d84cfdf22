"""How the map is painted: pieces of it once, and over them what is chosen, dragged or walked."""

from bisect import bisect_left
from collections.abc import Collection, Iterator
from functools import partial

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from mossy_bridge.desk.map.bridges import FAR, Bridge, loose_path
from mossy_bridge.desk.map.camera import Camera
from mossy_bridge.desk.map.cards import Card
from mossy_bridge.desk.map.gestures import ConnectionDrag
from mossy_bridge.desk.map.placing import exit_rect
from mossy_bridge.desk.map.scene import MapScene
from mossy_bridge.desk.map.tiles import Stroke
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.widgets.marks import COLOUR_OF
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Flow

VERY_FAR = 0.16
GROUND_ALPHA = 42
MANY = 60
"""Of more levels than this that are selected only what is in view is painted, and from afar only rings."""
STEPPED_BACK = 165
"""How much of the ground lies over what is not pointed at, of 255."""


class MapPainter:
    """Paints the scene as the camera shows it. It holds no state of its own."""

    def __init__(self, look: Look, scene: MapScene, camera: Camera, selection: Selection):
        self._look, self.scene, self.camera, self._selection = look, scene, camera, selection

    def to_map(self, painter: QPainter) -> None:
        """Lets the painter paint in map units."""
        area = self.camera.area()
        painter.scale(self.camera.scale, self.camera.scale)
        painter.translate(-area.left(), -area.top())

    def strokes(self, rect: QRectF) -> Iterator[Stroke]:
        """Paints one after the other what lies in a rectangle of the map and is neither chosen nor dragged."""
        look = self._look
        yield partial(self._paint_columns, rect=rect)
        if self.camera.scale < VERY_FAR:
            yield partial(self._paint_faraway, rect=rect)
            return
        cards, bridges = self.scene.within(rect)
        shown = [bridge for bridge in bridges if not bridge.hidden_away]
        if self.camera.scale < FAR:
            yield from [partial(bridge.paint_far, c=look.colours) for bridge in shown if not bridge.quiet]
            yield from [partial(card.paint_bead, look=look) for card in cards]
            return
        in_order = sorted(shown, key=lambda bridge: not bridge.quiet)
        yield from [partial(bridge.paint, look=look, within=rect) for bridge in in_order]
        yield from [partial(card.paint, look=look) for card in cards]
        yield from [partial(bridge.paint_over, look=look, within=rect) for bridge in shown]

    def _dot(self) -> float:
        """How wide a level is from very far, in map units."""
        return max(60.0, 3.4 / self.camera.scale)

    def _paint_faraway(self, painter: QPainter, rect: QRectF) -> None:
        c = self._look.colours
        groups = list(self.scene.faraway(rect))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, self.camera.scale > 0.05)
        for group in groups:
            for colour, lines in group.lines.items():
                painter.setPen(QPen(c.colour(colour, 150), max(4.0, 0.9 / self.camera.scale)))
                painter.drawLines(*lines)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        size = self._dot()
        for group in groups:
            for mark, points in group.points.items():
                polygon = QPolygonF(points)
                for colour, width in ((COLOUR_OF[mark], size), ("card", size * 0.62)):
                    painter.setPen(QPen(c.colour(colour), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
                    painter.drawPoints(polygon)

    def _columns_in(self, rect: QRectF) -> list[tuple[str, QRectF, bool, int]]:
        """The columns that touch a rectangle, with whether they are the shelf, and their numbers."""
        columns = self.scene.layout.columns
        count = len(columns) - (1 if self.scene.layout.has_shelf else 0)
        first = max(0, bisect_left(columns, rect.left(), 0, count, key=lambda column: column[1].left()) - 1)
        last = bisect_left(columns, rect.right(), 0, count, key=lambda column: column[1].left())
        found = [(*column, False, number) for number, column in enumerate(columns[first:last], first)]
        if self.scene.layout.has_shelf and columns[-1][1].right() >= rect.left():
            found.append((*columns[-1], True, len(columns) - 1))
        return found

    def _paint_columns(self, painter: QPainter, rect: QRectF) -> None:
        c = self._look.colours
        for _, column, shelf, number in self._columns_in(rect):
            painter.setPen(QPen(c.colour("suspicious", 130), 1.4, Qt.PenStyle.DashLine) if shelf else Qt.PenStyle.NoPen)
            painter.setBrush(c.colour("suspicious_wash" if shelf else "column"))
            painter.drawRoundedRect(column, 8, 8)
            for ground, tint in self.scene.grounds[number] if number < len(self.scene.grounds) else ():
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(c.tint(tint, GROUND_ALPHA))
                painter.drawRoundedRect(ground, 8, 8)

    def paint_headings(self, painter: QPainter) -> None:
        """The columns' headings, at the top of the view however far it is scrolled, and in one size."""
        c, area = self._look.colours, self.camera.area()
        columns = self._columns_in(area) if self.camera.scale > 0.03 else []
        for heading, column, shelf, _ in columns:
            left, right = self.camera.pixel_of(column.topLeft()), self.camera.pixel_of(column.topRight())
            painter.setFont(self._look.font(-1, bold=shelf))
            if right.x() - left.x() < painter.fontMetrics().horizontalAdvance(heading) + 10:
                heading = heading.split()[0]
            if right.x() - left.x() < painter.fontMetrics().horizontalAdvance(heading) + 4:
                continue
            box = painter.fontMetrics().boundingRect(heading).adjusted(-5, -2, 5, 2)
            top = max(left.y() + 20, painter.fontMetrics().ascent() + 4)
            box.translate(left.x() + 9, top)
            painter.fillRect(box, c.colour("suspicious_wash" if shelf else "column", 225))
            painter.setPen(c.colour("suspicious" if shelf else "dim"))
            painter.drawText(left.x() + 9, top, heading)

    def paint_walk(self, painter: QPainter, here: str, ahead: Collection[str]) -> None:
        """Dims all but where a trial walk is and what it can reach next."""
        c = self._look.colours
        painter.setPen(Qt.PenStyle.NoPen)
        shade = QPainterPath()
        shade.addRect(self.camera.area())
        for level in {here, *ahead}:
            card = self.scene.cards.get(level)
            if card:
                bright = QPainterPath()
                bright.addRoundedRect(card.placed.rect, 8, 8)
                shade = shade.subtracted(bright)
        painter.setBrush(c.colour("ground", 150))
        painter.drawPath(shade)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        width = max(2.5, 1.6 / self.camera.scale)
        for level, colour in [*((name, "sound") for name in ahead if name != here), (here, "route")]:
            card = self.scene.cards.get(level)
            if card:
                painter.setPen(QPen(c.colour(colour), width))
                painter.drawRoundedRect(card.placed.rect, 8, 8)

    def paint_pointed(self, painter: QPainter, thing: Card | Bridge) -> None:
        """Brings forward what is pointed at, with its ways; all else steps back."""
        bridges = [thing] if isinstance(thing, Bridge) else self.scene.bridges_at([thing.level_id])
        bridges = [bridge for bridge in bridges if self.is_shown(bridge) or isinstance(thing, Card)]
        names = {end for one in bridges for end in (one.crossing.level, one.crossing.target)}
        names |= {thing.level_id} if isinstance(thing, Card) else set()
        cards = [self.scene.cards[name] for name in names if name in self.scene.cards]
        painter.fillRect(self.camera.area(), self._look.colours.colour("ground", STEPPED_BACK))
        far = self.camera.scale < FAR
        for bridge in bridges:
            bridge.paint_far(painter, self._look.colours) if far else bridge.paint(
                painter, self._look, self.camera.area(), forward=True
            )
        for card in cards:
            card.paint_bead(painter, self._look) if far else card.paint(painter, self._look)
        for bridge in bridges if not far else ():
            bridge.paint_over(painter, self._look, self.camera.area())
            bridge.paint_words(painter, self._look)

    def _is_chosen(self, bridge: Bridge) -> bool:
        crossing = bridge.crossing
        chosen = self._selection.crossings
        return (crossing.level, crossing.exit) in chosen or (
            bool(crossing.back) and (crossing.target, crossing.back) in chosen
        )

    def is_shown(self, bridge: Bridge) -> bool:
        """Whether the bridge is on the map now: quiet ones only with a level that they concern."""
        touched = self._selection.level_id in (bridge.crossing.level, bridge.crossing.target)
        return not bridge.hidden_away or self._is_chosen(bridge) or (touched and not self._selection.exit_id)

    def paint_chosen(self, painter: QPainter, drag: ConnectionDrag | None) -> None:
        """What is selected or under way, over the painted pieces."""
        far, selection = self.camera.scale < FAR, self._selection
        concerned = {selection.level_id, *(level for level, _ in selection.crossings)} - {""}
        near = self.scene.bridges_at(concerned)
        for bridge in near:
            if bridge.hidden_away and self.is_shown(bridge) and not self._is_chosen(bridge) and not far:
                bridge.paint(painter, self._look, self.camera.area())
        cards = [card for card in self._chosen_cards() if not (drag and drag.kind == "card" and card is drag.card)]
        if far and len(cards) > MANY:
            self._ring(painter, cards)
        for card in cards if len(cards) <= MANY or not far else ():
            name = card.level_id
            chosen_exit = selection.exit_id if name == selection.level_id else ""
            card.paint_bead(painter, self._look, True) if far else card.paint(
                painter, self._look, True, exit_id=chosen_exit
            )
            for bridge in near if not far else ():
                if name in (bridge.crossing.level, bridge.crossing.target) and not self._is_chosen(bridge):
                    bridge.paint_over(painter, self._look, self.camera.area())
        for bridge in near:
            if self._is_chosen(bridge):
                bridge.paint_far(painter, self._look.colours, True) if far else bridge.paint(
                    painter, self._look, self.camera.area(), chosen=True
                )
        if drag:
            self._paint_drag(painter, drag)

    def _chosen_cards(self) -> list[Card]:
        """The cards of levels that are selected; of many those in view."""
        chosen = self._selection.levels
        if len(chosen) <= MANY:
            return [self.scene.cards[name] for name in chosen if name in self.scene.cards]
        in_view, names = self.scene.within(self.camera.area())[0], frozenset(chosen)
        return [card for card in in_view if card.level_id in names]

    def _ring(self, painter: QPainter, cards: Collection[Card]) -> None:
        """Rings beads as they lie there; to paint each anew would take long."""
        colour, card_colour = (self._look.colours.colour(name) for name in ("route", "card"))
        centres = [card.placed.rect.center() for card in cards]
        size = self._dot()
        if self.camera.scale >= VERY_FAR:
            painter.setPen(QPen(colour, 8))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for centre in centres:
                painter.drawEllipse(centre, 40, 40)
            return
        for tint, width in ((colour, size * 1.3), (card_colour, size * 0.5)):
            painter.setPen(QPen(tint, width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            painter.drawPoints(QPolygonF(centres))

    def paint_proposed(self, painter: QPainter, proposed: Flow) -> None:
        """The crossings that an edit would lead elsewhere, in outline."""
        painter.setPen(QPen(self._look.colours.colour("route"), max(3.0, 2 / self.camera.scale), Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for start, end in self.scene.outlines(proposed):
            painter.drawPath(loose_path(start, end))

    def _paint_drag(self, painter: QPainter, drag: ConnectionDrag) -> None:
        card, c = drag.card, self._look.colours
        if drag.kind == "exit" and card:
            point = self.camera.point_at(drag.at)
            target = self.scene.card_at(point)
            if target:
                target.paint(painter, self._look, target=True)
            exit_ = card.placed.level.exit(drag.exit_id)
            if exit_:
                start = exit_rect(card.placed, exit_, self.scene.flow.units.y == "down").center()
                painter.setPen(QPen(c.colour("route"), 3, Qt.PenStyle.DashLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawPath(loose_path(start, point))
        elif drag.kind == "card" and card:
            painter.save()
            painter.translate((drag.at - drag.press) / self.camera.scale)
            painter.setOpacity(0.85)
            card.paint(painter, self._look, chosen=True)
            painter.restore()

"""What play-tests showed, laid over the map: bridges as wide as they were used, cards by time or failures, and the
players of games that are listened to."""

import math
from collections.abc import Callable, Mapping

from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from mossy_bridge.desk.map.bridges import FAR, Bridge
from mossy_bridge.desk.map.cards import Card
from mossy_bridge.desk.map.placing import landing_point, shows_plan
from mossy_bridge.desk.map.scene import MapScene
from mossy_bridge.desk.plan.painting import PlanFrame
from mossy_bridge.desk.widgets.marks import paint_player
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.play_logs.statistics import Way

WIDEST, NARROWEST = 20.0, 4.0
"""How wide the most and the least used bridges are, in map units."""
GAUGE = 5.0


class Weight(Struct, frozen=True):
    """How a card is weighted: its share of the heaviest, and what is written on it."""

    share: float
    told: str


class Traffic(Struct, frozen=True):
    """What is laid over the map."""

    uses: Mapping[Way, int]
    """How often each way was taken."""
    weights: Mapping[str, Weight]
    """By level; levels without one are left as they are."""
    colour: str = "route"


class PlayerOnMap(Struct, frozen=True):
    """A player of a game that is listened to."""

    name: str
    level: str
    spawn: str
    at: tuple[float, float] | None
    wrong: bool
    """Whether the flow cannot explain what was played."""


class TrafficLayer:
    """Keeps and paints it. ``update`` has the map painted anew."""

    def __init__(self, look: Look, scene: MapScene, update: Callable[[], object]):
        self._look, self._scene, self._update = look, scene, update
        self._traffic: Traffic | None = None
        self._players: tuple[PlayerOnMap, ...] = ()

    def show_traffic(self, traffic: Traffic | None) -> None:
        """Lays something else over the map, or nothing."""
        self._traffic = traffic
        self._update()

    def show_players(self, players: tuple[PlayerOnMap, ...]) -> None:
        """Shows where players are now."""
        if players != self._players:
            self._players = players
            self._update()

    def paint_below(self, painter: QPainter, area: QRectF, scale: float) -> None:
        """Paints what lies in an area, in map units, and below what is selected: how much bridges are used."""
        traffic = self._traffic
        if traffic is None:
            return
        most = max(traffic.uses.values(), default=0) or 1
        for bridge in self._scene.within(area)[1]:
            count = 0 if bridge.hidden_away else _uses(bridge, traffic)
            if count:
                self._paint_use(painter, bridge, count / most, scale)

    def paint_above(self, painter: QPainter, area: QRectF, scale: float) -> None:
        """The same, above what is selected: what cards and bridges count, and players."""
        if self._traffic is not None:
            self._paint_counts(painter, self._traffic, area, scale)
        self._paint_players(painter, scale)

    def _paint_counts(self, painter: QPainter, traffic: Traffic, area: QRectF, scale: float) -> None:
        cards, bridges = self._scene.within(area)
        if scale < FAR:
            for card in cards:
                self._paint_bead_weight(painter, card, traffic)
            return
        taken = [card.placed.rect for card in cards]
        shown = [bridge for bridge in bridges if not bridge.hidden_away and bridge.crossing.kind != "broken"]
        counts = [(bridge, _uses(bridge, traffic)) for bridge in shown]
        for bridge, count in sorted(counts, key=lambda pair: -pair[1]):
            self._paint_count(painter, bridge.middle(), f"{count:,}", taken)
        for card in cards:
            self._paint_weight(painter, card, traffic)

    def _paint_players(self, painter: QPainter, scale: float) -> None:
        """Paints where players are, several in one place beside one another."""
        here: dict[tuple[float, float], int] = {}
        for player in self._players:
            card = self._scene.cards.get(player.level)
            if card is None:
                continue
            point = self._place(card, player, scale)
            spot = (round(point.x()), round(point.y()))
            beside = here[spot] = here.get(spot, -1) + 1
            size = max(9.0, 7.0 / scale)
            paint_player(painter, self._look, point + QPointF(beside * size * 2.4, 0), size, player.name, player.wrong)

    def _place(self, card: Card, player: PlayerOnMap, scale: float) -> QPointF:
        placed, y_down = card.placed, self._scene.flow.units.y == "down"
        if scale < FAR or not shows_plan(placed.level):
            return placed.rect.center()
        if player.at is not None:
            return PlanFrame(placed.level, placed.room(), y_down).point(*player.at)
        return landing_point(placed, player.spawn, y_down)

    def _paint_use(self, painter: QPainter, bridge: Bridge, share: float, scale: float) -> None:
        width = max(NARROWEST + (WIDEST - NARROWEST) * math.sqrt(share), 1.5 / scale)
        pen = QPen(self._look.colours.colour("route", 105), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if scale < FAR:
            if bridge.far:
                painter.drawLine(bridge.far)
        else:
            painter.drawPath(bridge.line.path())

    def _paint_count(self, painter: QPainter, at: QPointF, text: str, taken: list[QRectF]) -> None:
        """How often a bridge was used, where there is room for it."""
        c = self._look.colours
        painter.setFont(self._look.font(-1.5, bold=True))
        width = QFontMetricsF(painter.font()).horizontalAdvance(text) + 10
        box = QRectF(at.x() - width / 2, at.y() - 8, width, 16)
        if any(box.intersects(other) for other in taken):
            return
        taken.append(box)
        unused = text == "0"
        painter.setPen(
            QPen(
                c.colour("suspicious" if unused else "route"),
                1,
                Qt.PenStyle.DashLine if unused else Qt.PenStyle.SolidLine,
            )
        )
        painter.setBrush(c.colour("card"))
        painter.drawRoundedRect(box, 8, 8)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_weight(self, painter: QPainter, card: Card, traffic: Traffic) -> None:
        """A gauge along the lower edge of a card, and above it what it shows."""
        weight, c, rect = traffic.weights.get(card.level_id), self._look.colours, card.placed.rect
        if weight is None:
            return
        gauge = QRectF(rect.left() + 4, rect.bottom() - GAUGE - 3, rect.width() - 8, GAUGE)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour("line"))
        painter.drawRoundedRect(gauge, GAUGE / 2, GAUGE / 2)
        if weight.share > 0:
            painter.setBrush(c.colour(traffic.colour))
            filled = QRectF(gauge.topLeft(), gauge.bottomRight())
            filled.setWidth(max(GAUGE, gauge.width() * weight.share))
            painter.drawRoundedRect(filled, GAUGE / 2, GAUGE / 2)
        painter.setFont(self._look.font(-1.5, bold=True))
        text = QFontMetricsF(painter.font()).elidedText(weight.told, Qt.TextElideMode.ElideRight, rect.width() - 16)
        width = QFontMetricsF(painter.font()).horizontalAdvance(text) + 10
        box = QRectF(gauge.right() - width, gauge.top() - 18, width, 16)
        painter.setBrush(c.colour("card", 235))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(c.colour(traffic.colour if weight.share else "dim"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_bead_weight(self, painter: QPainter, card: Card, traffic: Traffic) -> None:
        """From afar: a ring around the bead, as thick as the card is heavy."""
        weight = traffic.weights.get(card.level_id)
        if weight is not None and weight.share > 0:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            thick = 4 + 14 * weight.share
            painter.setPen(QPen(self._look.colours.colour(traffic.colour, 150), thick))
            painter.drawEllipse(card.placed.rect.center(), 36 + thick / 2, 36 + thick / 2)


def _uses(bridge: Bridge, traffic: Traffic) -> int:
    """How often a bridge was used, there and back; ways whose exit no log tells count for every bridge between."""
    crossing, uses = bridge.crossing, traffic.uses
    there, back = (crossing.level, crossing.target), (crossing.target, crossing.level)
    count = uses.get((there[0], crossing.exit, there[1]), 0) + uses.get((there[0], "", there[1]), 0)
    if crossing.back:
        count += uses.get((back[0], crossing.back, back[1]), 0) + uses.get((back[0], "", back[1]), 0)
    return count

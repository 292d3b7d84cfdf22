"""Where people were on a plan and where they failed, as play-tests have shown it, and who is there now."""

import math
from collections.abc import Callable, Mapping
from types import MappingProxyType

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QImage, QPainter, QPen

from mossy_bridge.desk.plan.painting import PlanFrame
from mossy_bridge.desk.widgets.marks import paint_player
from mossy_bridge.desk.widgets.theme import Look

MOST_SQUARES = 256
"""So many squares stand side by side at the most."""
FAINTEST, STRONGEST = 30, 170
"""How opaque the squares are in which people were seen least and most, of 255."""
Squares = Mapping[tuple[int, int], int]
"""How often something happened in squares of one unit, by their corners with the smallest x and y."""


class PlayerOnPlan(Struct, frozen=True):
    """A player of a game that is listened to, where the game tells that."""

    name: str
    at: tuple[float, float]
    wrong: bool


NOWHERE: Squares = MappingProxyType({})


class Heat(Struct, frozen=True):
    """What is laid over a plan."""

    seen: Squares = NOWHERE
    failed: Squares = NOWHERE
    players: tuple[PlayerOnPlan, ...] = ()


class HeatLayer:
    """Keeps and paints it. ``update`` has the plan painted anew."""

    def __init__(self, look: Look, update: Callable[[], object]):
        self._look, self._update = look, update
        self._heat = Heat()

    def show(self, heat: Heat) -> None:
        """Lays something else over the plan."""
        before, self._heat = self._heat, heat
        same = heat.seen is before.seen and heat.failed is before.failed
        if not (same and heat.players == before.players):
            self._update()

    def paint_below(self, painter: QPainter, frame: PlanFrame) -> None:
        """Where people were seen, below the things on the plan: squares the more opaque the more often, on a scale by
        powers, for here and there somebody rests long."""
        side = square_side(*frame.size)
        counts = counts_in_squares(self._heat.seen, frame.size, side)
        if not counts.any():
            return
        rows, columns = counts.shape
        picture = self._picture(counts if frame.y_down else counts[::-1])
        painter.drawImage(frame.area((0, 0, columns * side, rows * side)), picture)

    def _picture(self, counts: NDArray[np.int64]) -> QImage:
        """A pixel for each square: all of them are painted at one go."""
        rows, columns = counts.shape
        colour, strength = self._look.colours.colour("route"), np.log1p(counts)
        pixels = np.zeros((rows, columns, 4), dtype=np.uint8)
        pixels[..., :3] = colour.red(), colour.green(), colour.blue()
        alpha = FAINTEST + (STRONGEST - FAINTEST) * strength / strength.max()
        pixels[..., 3] = np.where(counts > 0, np.rint(alpha), 0)
        return QImage(pixels.tobytes(), columns, rows, 4 * columns, QImage.Format.Format_RGBA8888).copy()

    def paint_above(self, painter: QPainter, frame: PlanFrame) -> None:
        """A cross where people failed, the larger the more often; and who is there now."""
        failed = self._heat.failed
        most = max(failed.values(), default=0)
        for (x, y), count in failed.items():
            size = max(2.0, min(10.0, frame.scale * (0.15 + 0.3 * math.sqrt(count / most))))
            self._paint_cross(painter, frame.point(x + 0.5, y + 0.5), size)
        for player in self._heat.players:
            paint_player(painter, self._look, frame.point(*player.at), 10.0, player.name, player.wrong)

    def _paint_cross(self, painter: QPainter, at: QPointF, size: float) -> None:
        for colour, width in (("card", 1 + size * 0.5), ("broken", 1 + size * 0.17)):
            pen = QPen(self._look.colours.colour(colour), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap)
            painter.setPen(pen)
            painter.drawLine(at + QPointF(-size, -size), at + QPointF(size, size))
            painter.drawLine(at + QPointF(-size, size), at + QPointF(size, -size))


def square_side(width: float, height: float) -> int:
    """The side of squares to paint on a plan of such a size, in units: one, or more on a finely measured plan."""
    return max(1, math.ceil(max(width, height) / MOST_SQUARES))


def counts_in_squares(seen: Squares, size: tuple[float, float], side: int) -> NDArray[np.int64]:
    """How often something happened in larger squares, by row and column; what lies off the plan is left out."""
    columns, rows = (max(1, math.ceil(length / side)) for length in size)
    counts = np.zeros((rows, columns), dtype=np.int64)
    for (x, y), often in seen.items():
        if 0 <= x < columns * side and 0 <= y < rows * side:
            counts[y // side, x // side] += often
    return counts

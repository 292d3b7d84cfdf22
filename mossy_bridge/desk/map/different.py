"""Which levels another version has otherwise, marked on the map."""

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from mossy_bridge.desk.map.scene import MapScene
from mossy_bridge.desk.widgets.theme import Look

AROUND = 5.0
"""How far from a card its mark runs, in map units."""


class DifferentLayer:
    """Keeps and paints the marks: a dashed line around each card. ``update`` has the map painted anew."""

    def __init__(self, look: Look, scene: MapScene, update: Callable[[], object]):
        self._look, self._scene, self._update = look, scene, update
        self._levels: frozenset[str] = frozenset()

    def show(self, levels: frozenset[str]) -> None:
        """Marks other levels."""
        if levels != self._levels:
            self._levels = levels
            self._update()

    def paint(self, painter: QPainter, area: QRectF, scale: float) -> None:
        """Paints what lies in an area, in map units."""
        if not self._levels:
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self._look.colours.colour("route"), max(2.4, 1.6 / scale), Qt.PenStyle.DashLine))
        for card in self._scene.within(area)[0]:
            if card.level_id in self._levels:
                painter.drawRoundedRect(card.placed.rect.adjusted(-AROUND, -AROUND, AROUND, AROUND), 9, 9)

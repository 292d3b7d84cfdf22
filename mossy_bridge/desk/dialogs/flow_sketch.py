"""A small flow as a sketch: a bead for each level and a line for each way."""

from collections.abc import Iterator

from PyQt6.QtCore import QPointF, QRectF, QSize
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.sequence import STEPS, in_sequence, neighbour

BEAD = 9.0
"""The radius of a bead in pixels."""
MARGIN = 26.0


def ways(flow: Flow) -> Iterator[tuple[str, str]]:
    """From which level one gets straight to which, ways after failing left out."""
    for level in flow.levels:
        for tile in level.tiles:
            yield level.id, tile.level
        for exit_ in level.exits:
            for to in exit_.destinations if exit_.trigger.kind != "fail" else ():
                if to.kind == "level":
                    yield level.id, to.level
                elif to.kind in ("next", "previous") and in_sequence(level):
                    other = neighbour(flow, level.id, STEPS[to.kind])
                    if other:
                        yield level.id, other.id


def places(flow: Flow) -> dict[str, tuple[int, int]]:
    """Column and row of every level: the column is how many ways it is from the start, what nothing reaches stands
    left out."""
    leads: dict[str, list[str]] = {}
    for source, target in ways(flow):
        leads.setdefault(source, []).append(target)
    if not flow.levels:
        return {}
    found, column = {flow.start.level: (0, 0)}, [flow.start.level]
    while column:
        reached = dict.fromkeys(t for source in column for t in leads.get(source, ()) if t not in found)
        number = found[column[0]][0] + 1
        found.update({name: (number, row) for row, name in enumerate(reached)})
        column = list(reached)
    return found


class FlowSketch(QWidget):
    """Shows a sketch of a flow."""

    def __init__(self, look: Look):
        super().__init__()
        self._look, self._flow = look, Flow()
        self.setAccessibleName("A sketch of its levels")
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(420, 200)

    def minimumSizeHint(self) -> QSize:
        return QSize(280, 140)

    def show_flow(self, flow: Flow) -> None:
        """Shows another flow."""
        self._flow = flow
        self.setAccessibleDescription(", ".join(level.title for level in flow.levels) or "no level")
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        c = self._look.colours
        painter.setPen(QPen(c.colour("line"), 1))
        painter.setBrush(c.colour("ground"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6)
        points = self._points()
        for source, target in dict.fromkeys(tuple(sorted(way)) for way in ways(self._flow)):
            if source in points and target in points:
                self._paint_way(painter, points[source], points[target])
        for level in self._flow.levels:
            if level.id in points:
                self._paint_bead(painter, level, points[level.id])
        painter.end()

    def _points(self) -> dict[str, QPointF]:
        found = places(self._flow)
        columns = max((column for column, _ in found.values()), default=0)
        heights = {c: sum(column == c for column, _ in found.values()) for c in range(columns + 1)}
        across = (self.width() - 2 * MARGIN) / max(columns, 1)
        along = min(46.0, (self.height() - 2 * MARGIN) / max([1, *(height - 1 for height in heights.values())]))
        middle = self.height() / 2
        return {
            name: QPointF(MARGIN + column * across, middle + (row - (heights[column] - 1) / 2) * along)
            for name, (column, row) in found.items()
        }

    def _paint_way(self, painter: QPainter, one: QPointF, other: QPointF) -> None:
        left, right = sorted((one, other), key=lambda point: point.x())
        bend = max(abs(right.x() - left.x()) / 2, 18.0)
        path = QPainterPath(left)
        path.cubicTo(left + QPointF(bend, 0), right - QPointF(bend, 0), right)
        painter.setPen(QPen(self._look.colours.colour("sound"), 2))
        painter.setBrush(self._look.colours.colour("ground", 0))
        painter.drawPath(path)

    def _paint_bead(self, painter: QPainter, level: Level, at: QPointF) -> None:
        c = self._look.colours
        painter.setPen(QPen(c.colour("route"), 2))
        painter.setBrush(c.colour("card"))
        box = QRectF(at.x() - BEAD, at.y() - BEAD, 2 * BEAD, 2 * BEAD)
        if level.kind == "play":
            painter.setPen(QPen(c.colour("sound"), 2))
            painter.drawEllipse(box)
        else:
            painter.drawRoundedRect(box.adjusted(-3, 1, 3, -1), 3, 3)
        if level.kind == "board":
            for side in (-5.0, 0.0, 5.0):
                painter.fillRect(QRectF(at.x() + side - 1.5, at.y() - 1.5, 3, 3), c.colour("route"))

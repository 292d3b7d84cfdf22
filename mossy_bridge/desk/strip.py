"""The order strip: the whole sequence as beads, in the designer's order, grouped by region."""

from collections.abc import Iterator
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QToolTip, QWidget

from mossy_bridge.desk.look import Look
from mossy_bridge.desk.marks import COLOUR_OF, paint_mark
from mossy_bridge.desk.selection import Selection
from mossy_bridge.desk.standing import Standing
from mossy_bridge.model.flow import Flow, Level

BEAD, GAP, REGION_GAP, MARGIN = 9.0, 46.0, 18.0, 30.0
HEIGHT = 76


@dataclass(frozen=True)
class Bead:
    """A level's place on the strip."""

    level: Level
    x: float


class Strip(QWidget):
    """Shows and steps through the order. ``stepped`` brings the id of the level chosen."""

    stepped = pyqtSignal(str)

    def __init__(self, look: Look, selection: Selection):
        super().__init__()
        self._look, self._selection = look, selection
        self._flow = Flow()
        self._standing = Standing(None)
        self._beads: list[Bead] = []
        self._headings: list[tuple[str, float, float]] = []
        self._offset = 0.0
        self.setFixedHeight(HEIGHT)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Order strip")
        self.setAccessibleDescription("All levels in their order; left and right step through them")
        look.changed.connect(self.update)
        selection.changed.connect(self._on_selected)

    def show_flow(self, flow: Flow, standing: Standing) -> None:
        """Shows another flow, or another standing of the same."""
        self._flow, self._standing = flow, standing
        self._lay_out()
        self.update()

    def bead_at(self, level_id: str) -> QPointF | None:
        """Where the level's bead is on the widget, or None."""
        return next((QPointF(b.x - self._offset, 42) for b in self._beads if b.level.id == level_id), None)

    def sizeHint(self) -> QSize:
        return QSize(600, HEIGHT)

    def _lay_out(self) -> None:
        self._beads, self._headings = [], []
        names = {region.id: region.name or region.id for region in self._flow.regions}
        x, began, group = MARGIN, MARGIN, None
        metrics = QFontMetricsF(self._look.font(-1.5))
        for level in self._flow.levels:
            heading = self._heading(level, names)
            if group is not None and heading != group:
                self._headings.append((group, began, x - GAP))
                x = max(x, began - 12 + metrics.horizontalAdvance(group) + GAP / 2) + REGION_GAP
                began = x
            group = heading
            self._beads.append(Bead(level, x))
            x += GAP
        if group is not None:
            self._headings.append((group, began, x - GAP))
        self._scroll_to(self._offset)

    def _heading(self, level: Level, names: dict[str, str]) -> str:
        if level.region:
            return names.get(level.region, level.region)
        placed = [i for i, lv in enumerate(self._flow.levels) if lv.region]
        if not placed:
            return ""
        here = self._flow.levels.index(level)
        return "Before" if here < placed[0] else "After" if here > placed[-1] else "Between"

    def _scroll_to(self, offset: float) -> None:
        end = (self._beads[-1].x if self._beads else 0) + MARGIN - self.width()
        self._offset = max(0.0, min(offset, end))

    def _on_selected(self) -> None:
        at = self.bead_at(self._selection.level_id)
        if at and not MARGIN <= at.x() <= self.width() - MARGIN:
            self._scroll_to(at.x() + self._offset - self.width() / 2)
        self.update()

    # -- painting --------------------------------------------------------------------------------------

    def paintEvent(self, _: QPaintEvent) -> None:
        c = self._look.colours
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), c.colour("panel"))
        painter.setPen(c.colour("line"))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        if not self._beads:
            painter.setPen(c.colour("dim"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "The order of levels will stand here.")
        painter.translate(-self._offset, 0)
        self._paint_headings(painter)
        for before, bead in self._joined():
            painter.setPen(QPen(c.colour("line"), 4))
            painter.drawLine(QPointF(before.x + BEAD + 3, 42), QPointF(bead.x - BEAD - 3, 42))
        for bead in self._visible():
            self._paint_bead(painter, bead)
        if self.hasFocus():
            painter.resetTransform()
            painter.setPen(QPen(c.colour("route"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -1, -2))
        painter.end()

    def _joined(self) -> Iterator[tuple[Bead, Bead]]:
        for before, bead in zip(self._beads, self._beads[1:], strict=False):
            if before.level.region and before.level.region == bead.level.region:
                yield before, bead

    def _visible(self) -> list[Bead]:
        left, right = self._offset - GAP, self._offset + self.width() + GAP
        return [bead for bead in self._beads if left <= bead.x <= right]

    def _paint_headings(self, painter: QPainter) -> None:
        c = self._look.colours
        painter.setFont(self._look.font(-1.5))
        for text, left, right in self._headings:
            painter.setPen(c.colour("dim"))
            painter.drawText(QPointF(left - 12, 18), text)
            painter.setPen(QPen(c.colour("line"), 1))
            painter.drawLine(QPointF(left - 12, 24), QPointF(right + 12, 24))

    def _paint_bead(self, painter: QPainter, bead: Bead) -> None:
        c, level = self._look.colours, bead.level
        centre = QPointF(bead.x, 42)
        chosen = level.id == self._selection.level_id
        if chosen:
            painter.setPen(QPen(c.colour("route"), 2.5))
            painter.setBrush(c.colour("route_wash"))
            painter.drawEllipse(centre, BEAD + 5, BEAD + 5)
        mark = self._standing.of_level(level.id)
        if level.kind == "play":
            self._paint_play(painter, centre, mark, level.ships)
        else:
            self._paint_stop(painter, centre, mark, level.kind == "board")
        painter.setPen(c.colour("ink" if chosen else "dim"))
        painter.setFont(self._look.font(-1.5, bold=chosen))
        label = level.code or level.title
        text = QFontMetricsF(painter.font()).elidedText(label, Qt.TextElideMode.ElideRight, GAP - 3)
        painter.drawText(QRectF(bead.x - GAP / 2, 55, GAP, 16), Qt.AlignmentFlag.AlignCenter, text)

    def _paint_play(self, painter: QPainter, centre: QPointF, mark: str, ships: bool) -> None:
        c = self._look.colours
        colour = c.colour(COLOUR_OF[mark] if ships else "dim")
        if mark == "sound" and ships:
            paint_mark(painter, c, "sound", centre, BEAD)
            return
        style = Qt.PenStyle.DashLine if mark in ("stranded", "unknown") or not ships else Qt.PenStyle.SolidLine
        painter.setPen(QPen(colour, 2, style))
        painter.setBrush(c.colour("card"))
        painter.drawEllipse(centre, BEAD, BEAD)
        if mark in ("broken", "suspicious") and ships:
            paint_mark(painter, c, mark, centre, BEAD * 0.62)

    def _paint_stop(self, painter: QPainter, centre: QPointF, mark: str, board: bool) -> None:
        """A screen or board: a slab instead of a bead."""
        c = self._look.colours
        dashed = mark in ("stranded", "unknown")
        painter.setPen(QPen(c.colour(COLOUR_OF[mark]), 1.8, Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine))
        painter.setBrush(c.colour("card"))
        slab = QRectF(centre.x() - 7.5, centre.y() - 7.5, 15, 15)
        painter.drawRoundedRect(slab, 3.5, 3.5)
        if board:
            painter.drawLine(QPointF(centre.x(), slab.top() + 3), QPointF(centre.x(), slab.bottom() - 3))
            painter.drawLine(QPointF(slab.left() + 3, centre.y()), QPointF(slab.right() - 3, centre.y()))
        elif mark in ("broken", "suspicious"):
            paint_mark(painter, c, mark, centre, 5)

    # -- stepping --------------------------------------------------------------------------------------

    def step(self, by: int) -> None:
        """Selects the next or previous level of the order."""
        names = [bead.level.id for bead in self._beads]
        if not names:
            return
        here = names.index(self._selection.level_id) if self._selection.level_id in names else -1 if by > 0 else 0
        self.stepped.emit(names[max(0, min(here + by, len(names) - 1))])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        match event.key():
            case Qt.Key.Key_Right:
                self.step(1)
            case Qt.Key.Key_Left:
                self.step(-1)
            case Qt.Key.Key_Home:
                self.step(-len(self._beads))
            case Qt.Key.Key_End:
                self.step(len(self._beads))
            case _:
                super().keyPressEvent(event)

    def _bead_under(self, point: QPointF) -> Bead | None:
        x = point.x() + self._offset
        return next((bead for bead in self._beads if abs(bead.x - x) <= GAP / 2), None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        bead = self._bead_under(event.position())
        if bead and event.position().y() > 26:
            self.stepped.emit(bead.level.id)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        delta = event.angleDelta()
        self._scroll_to(self._offset - (delta.x() or delta.y()))
        self.update()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        if not self._selection.level_id:
            self.step(1)
        super().focusInEvent(event)

    def resizeEvent(self, _: object) -> None:
        self._scroll_to(self._offset)

    def event(self, event: QEvent | None) -> bool:
        if event.type() == QEvent.Type.ToolTip:
            bead = self._bead_under(QPointF(event.pos()))
            words = {
                "sound": "reached", "stranded": "never reached", "unknown": "not yet known",
                "broken": "something is broken", "suspicious": "something is suspicious",
            }  # fmt: skip
            if bead:
                mark = words[self._standing.of_level(bead.level.id)]
                text = f"{bead.level.code} {bead.level.title}: {mark}".strip()
                QToolTip.showText(event.globalPos(), text, self)
            return True
        return super().event(event)

"""The strip itself: shows the order, steps through it, and lets one drag it into another."""

from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QFocusEvent,
    QFontMetricsF,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QWheelEvent,
)
from PyQt6.QtWidgets import QToolTip, QWidget

from mossy_bridge.appraisal.standing import Standing
from mossy_bridge.desk.requests.levels import LevelRequests
from mossy_bridge.desk.session.edit_door import Change, EditDoor
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.shell.proposal_bar import summary
from mossy_bridge.desk.strip.beads import paint_bead, paint_different, paint_players
from mossy_bridge.desk.strip.layout import LABELLED, MARGIN, NARROWEST, SLAB, WIDEST, Bead, Group, StripLayout, laid_out
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.marks import COLOUR_OF
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.edits.order import move_region
from mossy_bridge.model.flow import Flow, Tint
from mossy_bridge.model.level_changes import differing_parts

HEIGHT, LINE, HEADING = 76, 42.0, 26.0
AROUND = 24
"""Pixels at both sides of a bead in which its players are shown."""
DRAG_STARTS = 5
RANK = ("broken", "stranded", "suspicious", "unknown", "sound")
WORDS = {"sound": "reached", "stranded": "never reached", "unknown": "not yet known",
         "broken": "something is broken", "suspicious": "something is suspicious"}  # fmt: skip


@dataclass
class OrderDrag:
    """Levels or a region under way to another place."""

    levels: tuple[str, ...]
    region: str
    gap: int
    told: str = ""


class Strip(QWidget):
    """Shows and changes the order. ``menu_wanted(level, region, point)`` asks for a context menu."""

    menu_wanted = pyqtSignal(str, str, QPoint)

    def __init__(self, look: Look, selection: Selection, levels: LevelRequests, door: EditDoor):
        super().__init__()
        self._look, self._selection, self._levels, self._door = look, selection, levels, door
        self._flow = Flow()
        self._standing = Standing()
        self._layout = StripLayout()
        self._spacing, self._collapsed = WIDEST, set[str]()
        self._offset = 0.0
        self._press: QPointF | None = None
        self._pressed: Bead | Group | None = None
        self._drag: OrderDrag | None = None
        self._players: dict[str, list[str]] = {}
        self._different: frozenset[str] = frozenset()
        self.setFixedHeight(HEIGHT)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Order strip")
        self.setAccessibleDescription("All levels in their order; arrow keys step, dragging moves them")
        look.changed.connect(self.update)
        selection.changed.connect(self._on_selected)

    # -- showing ---------------------------------------------------------------------------------------

    def show_flow(self, flow: Flow, standing: Standing) -> None:
        """Shows another flow, or another standing of the same."""
        changed = flow.levels is not self._flow.levels or flow.regions is not self._flow.regions
        regrouped, before = flow.regions is not self._flow.regions, self._layout
        stands_alike = standing is self._standing
        self._flow, self._standing = flow, standing
        same = None if regrouped else before.with_levels(flow.levels)
        if same:
            self._layout = same
        elif changed:
            self._lay_out()
        if same and stands_alike:
            for bead in same.beads[differing_parts(before.levels, flow.levels)[1]]:
                self.update(self._room(bead.x, bead.x))
        else:
            self.update()

    def _room(self, left: float, right: float) -> QRect:
        """Where things between two places on the strip may be seen on the widget."""
        return QRectF(left - self._offset - SLAB, 0, right - left + 2 * SLAB, HEIGHT).toAlignedRect()

    def bead_at(self, level_id: str) -> QPointF | None:
        """Where the level's bead is on the widget, or None."""
        x = self._layout.places.get(level_id)
        return None if x is None else QPointF(x - self._offset, LINE)

    def heading_at(self, region: str) -> QPointF | None:
        """Where a region's heading is on the widget, or None."""
        group = next((group for group in self._layout.groups if group.region == region), None)
        return QPointF(group.left - self._offset, 14) if group else None

    def sizeHint(self) -> QSize:
        return QSize(600, HEIGHT)

    def zoom(self, factor: float) -> None:
        """Draws beads together (below 1) or apart."""
        anchor = self._layout.places.get(self._selection.level_id, self._offset + self.width() / 2) - self._offset
        self._spacing = max(NARROWEST, min(self._spacing * factor, WIDEST))
        self._lay_out()
        place = self._layout.places.get(self._selection.level_id)
        self._scroll_to(place - anchor if place is not None else self._offset * factor)
        self.update()

    def collapse(self, regions: bool = True) -> None:
        """Collapses all regions, or opens them."""
        self._collapsed = {region.id for region in self._flow.regions} if regions else set()
        self._lay_out()
        self.update()

    @property
    def is_collapsed(self) -> bool:
        """Whether any region is collapsed."""
        return bool(self._collapsed)

    def toggle_region(self, region: str) -> None:
        """Collapses a region, or opens it."""
        self._collapsed ^= {region}
        self._lay_out()
        self.update()

    def _lay_out(self) -> None:
        metrics = QFontMetricsF(self._look.font(-1.5))
        self._layout = laid_out(self._flow, self._spacing, self._collapsed, metrics.horizontalAdvance)
        self._scroll_to(self._offset)

    def _scroll_to(self, offset: float) -> None:
        self._offset = max(0.0, min(offset, self._layout.width - self.width()))

    def _on_selected(self) -> None:
        at = self.bead_at(self._selection.level_id)
        if at and not MARGIN <= at.x() <= self.width() - MARGIN:
            self._scroll_to(at.x() + self._offset - self.width() / 2)
        self.update()

    # -- painting --------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        c = self._look.colours
        dirty = given(event).region()
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.fillRect(self.rect(), c.colour("panel"))
            painter.setPen(c.colour("line"))
            painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
            if not self._layout.beads:
                painter.setPen(c.colour("dim"))
                painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "The order of levels will stand here.")
            painter.translate(-self._offset, 0)

            def shows(left: float, right: float) -> bool:
                return dirty.intersects(self._room(left, right))

            for group in self._layout.groups:
                if shows(group.left, group.right):
                    self._paint_group(painter, group)
            chosen = frozenset(self._selection.levels)
            dirty_from, dirty_to = dirty.boundingRect().left(), dirty.boundingRect().right()
            for bead in self._layout.beads_between(dirty_from + self._offset, dirty_to + self._offset):
                if shows(bead.x, bead.x):
                    self._paint_bead(painter, bead, chosen)
            if self._drag:
                self._paint_drag(painter, self._drag)
            if self.hasFocus():
                painter.resetTransform()
                painter.setPen(QPen(c.colour("route"), 2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(self.rect().adjusted(1, 1, -1, -2))

    def _paint_group(self, painter: QPainter, group: Group) -> None:
        c = self._look.colours
        painter.setFont(self._look.font(-1.5))
        tint: Tint = next((region.tint for region in self._flow.regions if region.id == group.region), "")
        room = group.right - group.left + 24
        if group.region and not group.collapsed and group.right > group.left:
            painter.setPen(QPen(c.colour("line"), 4))
            painter.drawLine(QPointF(group.left, LINE), QPointF(group.right, LINE))
        painter.setPen(QPen(c.tint(tint), 4 if tint else 1))
        painter.drawLine(QPointF(group.left - 12, 24), QPointF(group.left - 12 + room, 24))
        painter.setPen(c.colour("dim"))
        metrics = QFontMetricsF(painter.font())
        sign = "▸ " if group.collapsed else ""
        text = metrics.elidedText(sign + group.heading, Qt.TextElideMode.ElideRight, max(room + 30, 40))
        painter.drawText(QPointF(group.left - 12, 18), text)

    def _radius(self) -> float:
        return max(3.2, min(9.0, self._spacing * 0.36))

    def _paint_bead(self, painter: QPainter, bead: Bead, selected: frozenset[str]) -> None:
        c, centre, radius = self._look.colours, QPointF(bead.x, LINE), self._radius()
        chosen = bead.level.id in selected
        if bead.held:
            self._paint_slab(painter, bead, selected)
            return
        if chosen:
            lead = bead.level.id == self._selection.level_id
            painter.setPen(QPen(c.colour("route"), 2.5 if lead else 1.4))
            painter.setBrush(c.colour("route_wash"))
            painter.drawEllipse(centre, radius + 5, radius + 5)
        paint_bead(painter, c, bead.level, self._standing.of_level(bead.level.id), centre, radius)
        if bead.level.id in self._players:
            paint_players(painter, self._look, centre, radius, len(self._players[bead.level.id]))
        if bead.level.id in self._different:
            paint_different(painter, c, centre, radius)
        if bead.level.unreviewed and radius > 5:
            painter.setPen(QPen(c.colour("suspicious"), 1.6))
            painter.setBrush(c.colour("card"))
            painter.drawRect(QRectF(centre.x() + radius * 0.5, centre.y() - radius - 4, 6, 6))
        if self._spacing >= LABELLED or (chosen and self._spacing > 14):
            painter.setPen(c.colour("ink" if chosen else "dim"))
            painter.setFont(self._look.font(-1.5, bold=chosen))
            room = max(self._spacing, LABELLED)
            label = bead.level.code or bead.level.title
            text = QFontMetricsF(painter.font()).elidedText(label, Qt.TextElideMode.ElideRight, room - 3)
            painter.drawText(QRectF(bead.x - room / 2, 55, room, 16), Qt.AlignmentFlag.AlignCenter, text)

    def _paint_slab(self, painter: QPainter, bead: Bead, selected: frozenset[str]) -> None:
        """A collapsed region: how many levels it holds, and the worst that can be said of them."""
        c = self._look.colours
        marks = {self._standing.of_level(level.id) for level in bead.held}
        worst = next((mark for mark in RANK if mark in marks), "unknown")
        chosen = any(level.id in selected for level in bead.held)
        box = QRectF(bead.x - SLAB / 2 + 6, LINE - 10, SLAB - 14, 20)
        painter.setPen(QPen(c.colour("route" if chosen else COLOUR_OF[worst]), 2.4 if chosen else 1.6))
        painter.setBrush(c.colour("card"))
        painter.drawRoundedRect(box, 10, 10)
        painter.setFont(self._look.font(-1.5))
        painter.setPen(c.colour(COLOUR_OF[worst]))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, f"{len(bead.held)} levels")

    def _paint_drag(self, painter: QPainter, drag: OrderDrag) -> None:
        c = self._look.colours
        x = self._gap_x(drag.gap)
        painter.setPen(QPen(c.colour("route"), 3))
        painter.drawLine(QPointF(x, 22), QPointF(x, 62))
        painter.setFont(self._look.font(-1, bold=True))
        width = QFontMetricsF(painter.font()).horizontalAdvance(drag.told) + 16
        left = max(self._offset + 4, min(x + 8, self._offset + self.width() - width - 4))
        box = QRectF(left, 2, width, 19)
        painter.setPen(QPen(c.colour("route"), 1))
        painter.setBrush(c.colour("card"))
        painter.drawRoundedRect(box, 5, 5)
        painter.setPen(c.colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, drag.told)

    def _gap_x(self, gap: int) -> float:
        beads = self._layout.beads
        if gap >= len(beads):
            return beads[-1].x + self._spacing / 2 if beads else MARGIN
        before = beads[gap - 1].x if gap else beads[gap].x - self._spacing
        return (before + beads[gap].x) / 2

    def show_players(self, players: dict[str, list[str]]) -> None:
        """Shows in which levels players of games that are listened to are, by name."""
        before, self._players = self._players, players
        for level_id in before.keys() | players.keys():
            if before.get(level_id) != players.get(level_id) and (at := self.bead_at(level_id)):
                self.update(QRect(round(at.x()) - AROUND, 0, 2 * AROUND, self.height()))

    def show_different(self, levels: frozenset[str]) -> None:
        """Shows which levels another version has otherwise."""
        if levels != self._different:
            self._different = levels
            self.update()

    # -- stepping --------------------------------------------------------------------------------------

    def step(self, by: int, extend: bool = False) -> None:
        """Selects the next or previous level of the order; or one more of them."""
        names = [level.id for level in self._flow.levels]
        if not names:
            return
        here = names.index(self._selection.level_id) if self._selection.level_id in names else -1 if by > 0 else 0
        there = names[max(0, min(here + by, len(names) - 1))]
        if extend and here >= 0:
            self._selection.select_levels([*self._selection.levels, there])
        else:
            self._selection.select(there)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        extend = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Home: -len(self._flow.levels),
                 Qt.Key.Key_End: len(self._flow.levels)}  # fmt: skip
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape and self._drag:
            self._end_drag()
        elif key in steps:
            self.step(steps[key], extend)
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self.zoom(1.25 if key == Qt.Key.Key_Plus else 0.8)
        elif key == Qt.Key.Key_Menu:
            at = self.bead_at(self._selection.level_id) or QPointF(20, LINE)
            self.menu_wanted.emit(self._selection.level_id, "", self.mapToGlobal(at.toPoint()))
        else:
            super().keyPressEvent(event)

    # -- mouse -----------------------------------------------------------------------------------------

    def _bead_under(self, point: QPointF) -> Bead | None:
        return self._layout.bead_near(point.x() + self._offset, max(self._spacing / 2, 5))

    def _under(self, point: QPointF) -> Bead | Group | None:
        if point.y() > HEADING:
            return self._bead_under(point)
        return self._layout.group_at(point.x() + self._offset)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        self.setFocus()
        self._press, self._pressed = event.position(), self._under(event.position())
        bead = self._pressed
        if not isinstance(bead, Bead) or bead.held:
            return
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._selection.toggle_level(bead.level.id)
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._select_to(bead.level.id)
        elif bead.level.id not in self._selection.levels:
            self._selection.select(bead.level.id)

    def _select_to(self, level_id: str) -> None:
        names = [level.id for level in self._flow.levels]
        anchor = self._selection.level_id if self._selection.level_id in names else level_id
        start, end = sorted((names.index(anchor), names.index(level_id)))
        self._selection.select_levels(names[start : end + 1], anchor)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        if self._press is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        if self._drag is None and (event.position() - self._press).manhattanLength() >= DRAG_STARTS:
            self._drag = self._begun()
        if self._drag:
            self._carry(self._drag, event.position())
            self.update()

    def _begun(self) -> OrderDrag | None:
        if isinstance(self._pressed, Group):
            return OrderDrag((), self._pressed.region, -1) if self._pressed.region else None
        if isinstance(self._pressed, Bead):
            if self._pressed.held:
                return OrderDrag((), self._pressed.level.region, -1)
            return OrderDrag(tuple(lv.id for lv in self._flow.levels if lv.id in self._selection.levels), "", -1)
        return None

    def _carry(self, drag: OrderDrag, at: QPointF) -> None:
        if at.x() < MARGIN or at.x() > self.width() - MARGIN:
            self._scroll_to(self._offset + (12 if at.x() > MARGIN else -12))
        gap = self._layout.gap_at(at.x() + self._offset)
        if drag.region:
            gap = self._between_groups(gap)
        if gap != drag.gap:
            drag.gap = gap
            drag.told = summary(self._door.consequences(self._change(drag)))

    def _between_groups(self, gap: int) -> int:
        """The nearest place that does not tear another region apart."""
        beads = self._layout.beads
        while 0 < gap < len(beads) and beads[gap - 1].level.region == beads[gap].level.region:
            gap += 1
        return gap

    def _before(self, gap: int) -> str:
        return self._layout.beads[gap].level.id if gap < len(self._layout.beads) else ""

    def _change(self, drag: OrderDrag) -> Change:
        if drag.region:
            return lambda flow: move_region(flow, drag.region, self._before(drag.gap))
        return self._levels.moving(drag.levels, self._before(drag.gap), self._region_at(drag))

    def _region_at(self, drag: OrderDrag) -> str | None:
        """The region dropped into: that of both neighbours; between two, the levels' own if it is one of them,
        else the one before."""
        beads, gap = self._layout.beads, drag.gap
        near = [bead.level.region for bead in beads[max(0, gap - 1) : gap + 1]]
        own = {level.region for level in self._flow.levels if level.id in drag.levels}
        if not near or (len(own) == 1 and own & set(near)):
            return None
        return near[0]

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        drag, pressed = self._drag, self._pressed
        self._end_drag()
        if drag and drag.gap >= 0:
            if drag.region:
                self._levels.move_region(drag.region, self._before(drag.gap), shown=True)
            elif drag.levels:
                self._levels.move(drag.levels, self._before(drag.gap), self._region_at(drag), shown=True)
        elif isinstance(pressed, Group) and pressed.region and event.button() == Qt.MouseButton.LeftButton:
            self.toggle_region(pressed.region)
        elif isinstance(pressed, Bead) and event.button() == Qt.MouseButton.LeftButton:
            if pressed.held:
                self.toggle_region(pressed.level.region)
            elif not event.modifiers() and len(self._selection.levels) > 1:
                self._selection.select(pressed.level.id)

    def _end_drag(self) -> None:
        self._press = self._pressed = self._drag = None
        self.update()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        event = given(event)
        under = self._under(QPointF(event.pos()))
        level = under.level.id if isinstance(under, Bead) and not under.held else ""
        region = under.region if isinstance(under, Group) else under.level.region if under and not level else ""
        self.menu_wanted.emit(level, region, event.globalPos())

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        event = given(event)
        delta = event.angleDelta()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom(1.0015 ** delta.y())
            return
        self._scroll_to(self._offset - (delta.x() or delta.y()))
        self.update()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        if not self._selection.level_id:
            self.step(1)
        super().focusInEvent(event)

    def resizeEvent(self, _: object) -> None:
        self._scroll_to(self._offset)

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            under = self._under(QPointF(event.pos()))
            if isinstance(under, Bead) and not under.held:
                QToolTip.showText(event.globalPos(), plain(self._told(under)), self)
            elif under is not None:
                QToolTip.showText(event.globalPos(), "Click to fold or open; drag to move the region", self)
            return True
        return super().event(event)

    def _told(self, bead: Bead) -> str:
        level = bead.level
        more = [WORDS[self._standing.of_level(level.id)]]
        more += ["does not ship"] if not level.ships else []
        more += ["only planned"] if level.status == "planned" else []
        more += ["otherwise in the other version"] if level.id in self._different else []
        more += [f"here: {', '.join(self._players[level.id])}"] if level.id in self._players else []
        more += ["a copy with parts to look at"] if level.unreviewed else []
        return f"{level.code} {level.title}: {', '.join(more)}".strip()

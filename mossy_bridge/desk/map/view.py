"""The map: shows the flow, lets one select, pan and zoom, draw crossings from door to landing, and move cards."""

from bisect import bisect_left
from collections.abc import Collection

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.map.bridges import FAR, Bridge, bridge_path
from mossy_bridge.desk.map.cards import Card
from mossy_bridge.desk.map.placing import exit_rect, landing_point
from mossy_bridge.desk.map.scene import MapScene
from mossy_bridge.desk.map.tiles import Tiles
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.marks import COLOUR_OF
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Flow

CLOSEST, FARTHEST, VERY_FAR = 2.5, 0.004, 0.16
READABLE = 0.7
"""The smallest zoom at which titles on cards are read without effort."""
DRAG_STARTS = 6
"""Pixels the mouse must move before a press becomes a drag."""


class MapView(QWidget):
    """The map. Signals say what the designer wants:

    ``connect_wanted(level, exit, target, spawn)``, ``join_wanted(level, target)`` there and back,
    ``move_wanted(level, x, y)`` for a card within its column, ``opened(level)`` on a double click,
    ``menu_wanted(level, point)``.
    """

    opened = pyqtSignal(str)
    menu_wanted = pyqtSignal(str, QPoint)
    connect_wanted = pyqtSignal(str, str, str, str)
    join_wanted = pyqtSignal(str, str)
    move_wanted = pyqtSignal(str, float, float)

    title, tip = "Map", "Levels by crossings from the start"
    follows_survey = False
    """It is shown every appraisal by the window, whether it is in view or not."""

    def __init__(self, look: Look, selection: Selection):
        super().__init__()
        self._look, self._selection = look, selection
        self.scene = MapScene()
        self._tiles = Tiles()
        self._scale, self._centre = 1.0, QPointF(0, 0)
        self._press: QPointF | None = None
        self._drag = ""
        """"exit" while a crossing is drawn, "card" while a card is moved, "pan"."""
        self._pressed_card: Card | None = None
        self._pressed_exit = ""
        self._at = QPointF()
        self._fitted = False
        self._walk: tuple[str, Collection[str]] | None = None
        self.complete = True
        """Whether the last frame showed everything; if not, another follows at once."""
        self.setAccessibleName("Map")
        self.setAccessibleDescription("Levels in columns by crossings from the start; drag a door to connect it")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMouseTracking(True)
        look.changed.connect(self._on_look_changed)
        selection.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(700, 350)

    # -- showing ---------------------------------------------------------------------------------------

    def show_flow(self, flow: Flow, result: Appraisal | None) -> None:
        """Shows the flow, its patterns filled in, as far as the latest survey knows it."""
        dirty = self.scene.show(flow, result)
        self._tiles.forget(dirty)
        self.complete = self.complete and not dirty
        if not self._fitted and self.scene.cards and result:
            self.show_start()
        self.update()

    def card_of(self, level_id: str) -> Card | None:
        """The card of a level, or None."""
        return self.scene.cards.get(level_id)

    def _on_look_changed(self) -> None:
        self._tiles.forget()
        self.complete = False
        self.update()

    # -- camera ----------------------------------------------------------------------------------------

    @property
    def scale(self) -> float:
        """Pixels a map unit."""
        return self._scale

    def area(self) -> QRectF:
        """What is in view, in map units."""
        width, height = self.width() / self._scale, self.height() / self._scale
        return QRectF(self._centre.x() - width / 2, self._centre.y() - height / 2, width, height)

    def pixel_of(self, point: QPointF) -> QPoint:
        """Where a point of the map is on the widget."""
        area = self.area()
        return QPointF((point.x() - area.left()) * self._scale, (point.y() - area.top()) * self._scale).toPoint()

    def point_at(self, pixel: QPointF) -> QPointF:
        """The point of the map under a pixel."""
        return self.area().topLeft() + pixel / self._scale

    def centre_on(self, point: QPointF) -> None:
        """Brings a point into the middle."""
        bounds = self.scene.bounds()
        if bounds.isValid():
            point = QPointF(max(bounds.left() - 200, min(point.x(), bounds.right() + 200)),
                            max(bounds.top() - 200, min(point.y(), bounds.bottom() + 200)))  # fmt: skip
        # Whole pixels, so that pieces painted once can be moved without being blurred.
        area = self.area()
        moved = (point - self._centre) * self._scale
        moved = QPointF(round(moved.x()), round(moved.y())) / self._scale if area.isValid() else moved
        self._centre += moved
        self.update()

    def _set_scale(self, scale: float) -> None:
        scale = max(FARTHEST, min(scale, CLOSEST))
        if scale != self._scale:
            if self.complete and self.isVisible():
                self._tiles.stand_in(self._picture(), self.area())
            self.complete = False
            self._scale = scale

    def _picture(self) -> QPixmap:
        """What is in view, as it stands."""
        picture = QPixmap(self.size() * self.devicePixelRatioF())
        picture.setDevicePixelRatio(self.devicePixelRatioF())
        with painting(picture) as painter:
            painter.fillRect(self.rect(), self._look.colours.colour("ground"))
            self._paint_tiles(painter)
        return picture

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Comes closer (above 1) or goes further away, within limits; what is under ``at`` stays there."""
        at = at or QPointF(self.rect().center())
        held = self.point_at(at)
        self._set_scale(self._scale * factor)
        self._centre += held - self.point_at(at)
        self._fitted = True
        self.update()

    def fit(self) -> None:
        """Shows the whole map."""
        bounds = self.scene.bounds()
        if bounds.isValid() and self.width() > 40:
            bounds = bounds.adjusted(-10, -8, 10, 8)
            self._set_scale(min(1.15, self.width() / bounds.width(), self.height() / bounds.height()))
            self._centre = bounds.center()
            self._fitted = True
            self.update()

    def show_start(self) -> None:
        """Shows the whole map, or as much from the start on as can be read."""
        self.fit()
        if self._scale < READABLE and self._fitted:
            self._set_scale(READABLE)
            bounds = self.scene.bounds()
            self._centre = QPointF(bounds.left() + self.width() / READABLE / 2 - 10, bounds.center().y())
            self.update()

    def fit_next(self) -> None:
        """Fits the map to the next flow that is shown."""
        self._fitted = False

    def where(self) -> tuple[float, float, float]:
        """The camera: zoom and centre."""
        return self._scale, self._centre.x(), self._centre.y()

    def go_to(self, where: tuple[float, float, float]) -> None:
        """Puts the camera back."""
        self._set_scale(where[0])
        self._centre = QPointF(where[1], where[2])
        self.update()

    def show_level(self, level_id: str) -> None:
        """Brings the level's card into view."""
        card = self.card_of(level_id)
        if card and not self.area().contains(card.placed.rect):
            area, rect, point = self.area(), card.placed.rect, QPointF(self._centre)
            if rect.width() > area.width() or rect.height() > area.height():
                point = rect.center()
            else:
                margin = min(60.0, area.width() / 6, area.height() / 6)
                point.setX(point.x() + min(0.0, rect.left() - margin - area.left())
                           + max(0.0, rect.right() + margin - area.right()))  # fmt: skip
                point.setY(point.y() + min(0.0, rect.top() - margin - area.top())
                           + max(0.0, rect.bottom() + margin - area.bottom()))  # fmt: skip
            self.centre_on(point)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if not self._fitted and self.scene.cards:
            self.show_start()

    # -- painting --------------------------------------------------------------------------------------

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as painter:
            c = self._look.colours
            painter.fillRect(self.rect(), c.colour("ground"))
            self.complete = self._paint_tiles(painter)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.save()
            self._to_map(painter)
            if self._walk is None:
                self._paint_chosen(painter)
            else:
                self._paint_walk(painter, *self._walk)
            painter.restore()
            self._paint_headings(painter)
            if self.hasFocus():
                painter.setPen(QPen(c.colour("route"), 2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(self.rect().adjusted(1, 1, -1, -1))
            if not self.scene.flow.levels:
                painter.setPen(c.colour("dim"))
                words = "Levels will stand here, in columns by their crossings from the start."
                painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, words)
        if not self.complete:
            self.update()

    def show_walk(self, here: str, ahead: Collection[str]) -> None:
        """Dims the map to where a trial walk is and what it can come to next."""
        self._walk = (here, ahead)
        self.update()

    def end_walk(self) -> None:
        """Shows the map as it is."""
        self._walk = None
        self.update()

    def _paint_walk(self, painter: QPainter, here: str, ahead: Collection[str]) -> None:
        c = self._look.colours
        painter.setPen(Qt.PenStyle.NoPen)
        shade = QPainterPath()
        shade.addRect(self.area())
        for level in {here, *ahead}:
            card = self.card_of(level)
            if card:
                bright = QPainterPath()
                bright.addRoundedRect(card.placed.rect, 8, 8)
                shade = shade.subtracted(bright)
        painter.setBrush(c.colour("ground", 150))
        painter.drawPath(shade)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        width = max(2.5, 1.6 / self._scale)
        for level, colour in [*((name, "sound") for name in ahead if name != here), (here, "route")]:
            card = self.card_of(level)
            if card:
                painter.setPen(QPen(c.colour(colour), width))
                painter.drawRoundedRect(card.placed.rect, 8, 8)

    def _to_map(self, painter: QPainter) -> None:
        area = self.area()
        painter.scale(self._scale, self._scale)
        painter.translate(-area.left(), -area.top())

    def _paint_tiles(self, painter: QPainter) -> bool:
        ground = self._look.colours.colour("ground")
        ratio = self.devicePixelRatioF()
        return self._tiles.paint(painter, self.area(), self._scale, ratio, ground, self._paint_piece)

    def _paint_piece(self, painter: QPainter, rect: QRectF) -> None:
        self._paint_columns(painter, rect)
        if self._scale < VERY_FAR:
            self._paint_faraway(painter, rect)
            return
        cards, bridges = self.scene.within(rect)
        shown = [bridge for bridge in bridges if not bridge.hidden_away]
        if self._scale < FAR:
            for bridge in shown:
                if not bridge.quiet:
                    bridge.paint_far(painter, self._look.colours)
            for card in cards:
                card.paint_bead(painter, self._look)
            return
        for bridge in sorted(shown, key=lambda bridge: not bridge.quiet):
            bridge.paint(painter, self._look, rect)
        for card in cards:
            card.paint(painter, self._look)
        for bridge in shown:
            bridge.paint_over(painter, self._look, rect)

    def _paint_faraway(self, painter: QPainter, rect: QRectF) -> None:
        c = self._look.colours
        groups = list(self.scene.faraway(rect))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, self._scale > 0.05)
        for group in groups:
            for colour, lines in group.lines.items():
                painter.setPen(QPen(c.colour(colour, 150), max(4.0, 0.9 / self._scale)))
                painter.drawLines(*lines)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        size = max(60.0, 3.4 / self._scale)
        for group in groups:
            for mark, points in group.points.items():
                polygon = QPolygonF(points)
                for colour, width in ((COLOUR_OF[mark], size), ("card", size * 0.62)):
                    painter.setPen(QPen(c.colour(colour), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
                    painter.drawPoints(polygon)

    def _columns_in(self, rect: QRectF) -> list[tuple[str, QRectF, bool]]:
        """The columns that touch a rectangle, with whether they are the shelf."""
        columns = self.scene.layout.columns
        count = len(columns) - (1 if self.scene.layout.has_shelf else 0)
        first = max(0, bisect_left(columns, rect.left(), 0, count, key=lambda column: column[1].left()) - 1)
        last = bisect_left(columns, rect.right(), 0, count, key=lambda column: column[1].left())
        found = [(*column, False) for column in columns[first:last]]
        if self.scene.layout.has_shelf and columns[-1][1].right() >= rect.left():
            found.append((*columns[-1], True))
        return found

    def _paint_columns(self, painter: QPainter, rect: QRectF) -> None:
        c = self._look.colours
        for _, column, shelf in self._columns_in(rect):
            painter.setPen(QPen(c.colour("suspicious", 130), 1.4, Qt.PenStyle.DashLine) if shelf else Qt.PenStyle.NoPen)
            painter.setBrush(c.colour("suspicious_wash" if shelf else "column"))
            painter.drawRoundedRect(column, 8, 8)

    def _paint_headings(self, painter: QPainter) -> None:
        """The columns' headings, at the top of the view however far it is scrolled, and in one size."""
        c, area = self._look.colours, self.area()
        columns = self._columns_in(area) if self._scale > 0.03 else []
        for heading, column, shelf in columns:
            left, right = self.pixel_of(column.topLeft()), self.pixel_of(column.topRight())
            painter.setFont(self._look.font(-1, bold=shelf))
            if right.x() - left.x() < painter.fontMetrics().horizontalAdvance(heading) + 10:
                heading = heading.split()[0]
            if right.x() - left.x() < painter.fontMetrics().horizontalAdvance(heading) + 4:
                continue
            box = painter.fontMetrics().boundingRect(heading).adjusted(-5, -2, 5, 2)
            box.translate(left.x() + 9, max(left.y() + 20, 17))
            painter.fillRect(box, c.colour("suspicious_wash" if shelf else "column", 225))
            painter.setPen(c.colour("suspicious" if shelf else "dim"))
            painter.drawText(left.x() + 9, max(left.y() + 20, 17), heading)

    # -- what is chosen --------------------------------------------------------------------------------

    def _is_chosen(self, bridge: Bridge) -> bool:
        crossing = bridge.crossing
        chosen = self._selection.crossings
        return (crossing.level, crossing.exit) in chosen or (
            bool(crossing.back) and (crossing.target, crossing.back) in chosen
        )

    def _is_shown(self, bridge: Bridge) -> bool:
        """Whether the bridge is on the map now: quiet ones only with a level that they concern."""
        touched = self._selection.level_id in (bridge.crossing.level, bridge.crossing.target)
        return not bridge.hidden_away or self._is_chosen(bridge) or (touched and not self._selection.exit_id)

    def _paint_chosen(self, painter: QPainter) -> None:
        """What is selected or under way, over the painted pieces."""
        far, selection = self._scale < FAR, self._selection
        concerned = {selection.level_id, *(level for level, _ in selection.crossings)} - {""}
        near = self.scene.bridges_at(concerned)
        for bridge in near:
            if bridge.hidden_away and self._is_shown(bridge) and not self._is_chosen(bridge) and not far:
                bridge.paint(painter, self._look)
        for name in selection.levels:
            card = self.scene.cards.get(name)
            if card is None or (self._drag == "card" and card is self._pressed_card):
                continue
            chosen_exit = selection.exit_id if name == selection.level_id else ""
            card.paint_bead(painter, self._look, True) if far else card.paint(
                painter, self._look, True, exit_id=chosen_exit
            )
            for bridge in near if not far else ():
                if name in (bridge.crossing.level, bridge.crossing.target) and not self._is_chosen(bridge):
                    bridge.paint_over(painter, self._look)
        for bridge in near:
            if self._is_chosen(bridge):
                bridge.paint_far(painter, self._look.colours, True) if far else bridge.paint(
                    painter, self._look, chosen=True
                )
        self._paint_drag(painter)

    def _paint_drag(self, painter: QPainter) -> None:
        card, c = self._pressed_card, self._look.colours
        if self._drag == "exit" and card:
            point = self.point_at(self._at)
            target = self.scene.card_at(point)
            if target:
                target.paint(painter, self._look, target=True)
            exit_ = card.placed.level.exit(self._pressed_exit)
            if exit_:
                start = exit_rect(card.placed, exit_, self.scene.flow.units.y == "down").center()
                painter.setPen(QPen(c.colour("route"), 3, Qt.PenStyle.DashLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawPath(bridge_path(start, point))
        elif self._drag == "card" and card and self._press is not None:
            painter.save()
            painter.translate((self._at - self._press) / self._scale)
            painter.setOpacity(0.85)
            card.paint(painter, self._look, chosen=True)
            painter.restore()

    # -- mouse -----------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        if event.button() not in (Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton):
            return
        self.setFocus()
        self._press = self._at = event.position()
        point = self.point_at(event.position())
        self._pressed_card = self.scene.card_at(point) if event.button() == Qt.MouseButton.LeftButton else None
        exit_ = self._pressed_card.exit_at(point) if self._pressed_card else None
        self._pressed_exit = exit_.id if exit_ else ""
        more = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if event.button() != Qt.MouseButton.LeftButton:
            return
        if self._pressed_card is None:
            self._choose_bridge(point, more)
        elif exit_:
            self._choose(self._pressed_card.level_id, exit_.id, more)
        else:
            self._choose(self._pressed_card.level_id, "", more)

    def _choose(self, level_id: str, exit_id: str, more: bool) -> None:
        if more:
            if exit_id:
                self._selection.toggle_crossing(level_id, exit_id)
            else:
                self._selection.toggle_level(level_id)
        elif exit_id or level_id not in self._selection.levels or self._selection.exit_id:
            self._selection.select(level_id, exit_id)

    def _choose_bridge(self, point: QPointF, more: bool) -> None:
        bridge = self.scene.bridge_at(point, max(7.0, 5 / self._scale), self._is_shown)
        if bridge:
            self._choose(bridge.crossing.level, bridge.crossing.exit, more)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        if self._press is None:
            self._show_cursor(event.position())
            return
        moved = event.position() - self._press
        if not self._drag and moved.manhattanLength() >= DRAG_STARTS:
            self._drag = "pan" if self._pressed_card is None else "exit" if self._pressed_exit else "card"
        if self._drag == "pan":
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            self.centre_on(self._centre - (event.position() - self._at) / self._scale)
        self._at = event.position()
        if self._drag:
            self.update()

    def _show_cursor(self, at: QPointF) -> None:
        card = self.scene.card_at(self.point_at(at))
        door = card is not None and card.exit_at(self.point_at(at)) is not None and self._scale >= FAR
        self.setCursor(Qt.CursorShape.CrossCursor if door else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        drag, card, exit_id, press = self._drag, self._pressed_card, self._pressed_exit, self._press
        point = self.point_at(event.position())
        self._end_drag()
        if drag == "exit" and card:
            both = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._drop_crossing(card.level_id, exit_id, point, both)
        elif drag == "card" and card and press is not None:
            column = self.scene.layout.columns[card.placed.column][1]
            corner = card.placed.rect.topLeft() + (event.position() - press) / self._scale
            self.move_wanted.emit(card.level_id, corner.x() - column.left(), corner.y())
        elif not drag and card and not exit_id and not event.modifiers() and len(self._selection.levels) > 1:
            self._selection.select(card.level_id)

    def _drop_crossing(self, level_id: str, exit_id: str, point: QPointF, both: bool) -> None:
        target = self.scene.card_at(point)
        if target is None:
            return
        if both and target.level_id != level_id:
            self.join_wanted.emit(level_id, target.level_id)
        else:
            self.connect_wanted.emit(level_id, exit_id, target.level_id, self._spawn_near(target, point))

    def _spawn_near(self, card: Card, point: QPointF) -> str:
        """The spawn point the designer aims at: the nearest, if the drop is close to it; else the first."""
        y_down = self.scene.flow.units.y == "down"
        spawns = card.placed.level.spawns
        near = [((landing_point(card.placed, s.id, y_down) - point).manhattanLength(), s.id) for s in spawns]
        if near and min(near)[0] < 26:
            return min(near)[1]
        return spawns[0].id if spawns else ""

    def _end_drag(self) -> None:
        self._press, self._drag, self._pressed_card, self._pressed_exit = None, "", None, ""
        self.unsetCursor()
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        card = self.scene.card_at(self.point_at(event.position()))
        if card and event.button() == Qt.MouseButton.LeftButton:
            self._end_drag()
            self.opened.emit(card.level_id)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        event = given(event)
        card = self.scene.card_at(self.point_at(QPointF(event.pos())))
        self.menu_wanted.emit(card.level_id if card else "", event.globalPos())

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        event = given(event)
        self.zoom(1.0015 ** event.angleDelta().y(), event.position())

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            QToolTip.showText(event.globalPos(), plain(self._told(self.point_at(QPointF(event.pos())))), self)
            return True
        return super().event(event)

    def _told(self, point: QPointF) -> str:
        card = self.scene.card_at(point)
        if card:
            exit_ = card.exit_at(point)
            level = card.placed.level
            if exit_:
                return f"{exit_.name or exit_.id}\nDrag it to where it leads; with Shift, there and back"
            return f"{level.code} {level.title}".strip() + "\nDouble-click to lay out its plan"
        bridge = self.scene.bridge_at(point, max(7.0, 5 / self._scale), self._is_shown)
        if bridge is None:
            return ""
        owner = self.scene.cards[bridge.crossing.level].placed.level
        exit_ = owner.exit(bridge.crossing.exit)
        name = (exit_.name or exit_.id) if exit_ else ""
        return f"{owner.title}: {name}" + (f"\n{bridge.lock}" if bridge.lock else "")

    # -- keys ------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        steps = {
            Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Down: (0, 1), Qt.Key.Key_Up: (0, -1)
        }  # fmt: skip
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape and self._drag:
            self._end_drag()
        elif key in steps:
            self._step(*steps[key])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._selection.level_id:
            self.opened.emit(self._selection.level_id)
        else:
            super().keyPressEvent(event)

    def _step(self, across: int, down: int) -> None:
        """Selects the nearest card in a direction."""
        here = self.scene.cards.get(self._selection.level_id)
        if here is None:
            if self.scene.cards:
                self._selection.select(next(iter(self.scene.cards)))
            return
        start = here.placed.rect.center()
        best: tuple[float, str] | None = None
        for card in self.scene.cards.values():
            way = card.placed.rect.center() - start
            along = way.x() * across + way.y() * down
            aside = abs(way.y() * across) + abs(way.x() * down)
            if along > 20 and (best is None or along + 2 * aside < best[0]):
                best = (along + 2 * aside, card.level_id)
        if best:
            self._selection.select(best[1])
            self.show_level(best[1])

"""The map: shows the flow, lets one select, pan and zoom, draw crossings from door to landing, and move cards."""

from collections.abc import Collection, Iterator
from functools import partial
from time import perf_counter

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.map.bridges import FAR, Bridge, lock_width
from mossy_bridge.desk.map.camera import READABLE, Camera
from mossy_bridge.desk.map.cards import Card
from mossy_bridge.desk.map.different import DifferentLayer
from mossy_bridge.desk.map.gestures import ConnectionDrag, spawn_aimed_at
from mossy_bridge.desk.map.minimap import MiniMap
from mossy_bridge.desk.map.painting import MapPainter
from mossy_bridge.desk.map.scene import MapScene
from mossy_bridge.desk.map.tiles import Tiles
from mossy_bridge.desk.map.tips import told_of
from mossy_bridge.desk.map.traffic import TrafficLayer
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Flow
from mossy_bridge.model.patterns import resolved

RESTS = 250
"""Milliseconds the mouse must rest on something before that is brought forward."""
NOTICED = 300
"""Milliseconds of waiting for a survey before that is said."""
AT_ONCE = 0.01
"""Seconds spent on showing another flow before other events have their turn."""


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
        self._shown: tuple[Flow, Appraisal | None] | None = None
        self.scene = MapScene(partial(lock_width, look))
        self._tiles = Tiles()
        self.camera = Camera(self.size, self._before_zoom)
        self._painter = MapPainter(look, self.scene, self.camera, selection)
        self._drag: ConnectionDrag | None = None
        """From a press to a release."""
        self._fitted = False
        self._followed: Card | None = None
        """The selected level's card as it was in view before another flow was shown."""
        self._walk: tuple[str, Collection[str]] | None = None
        self.different = DifferentLayer(look, self.scene, self.update)
        self.traffic = TrafficLayer(look, self.scene, self.update)
        self._proposed: Flow | None = None
        self._showing: Iterator[list[QRectF]] = iter(())
        self._dirty: list[QRectF] = []
        """What has changed since it was painted."""
        self._minimap = MiniMap(look, self.scene, self.size)
        self._on_minimap = False
        """Whether a press on the minimap is held."""
        self._pointed: Card | Bridge | None = None
        """What is pointed at, and so brought forward."""
        self._mouse = QPointF()
        self._resting = QTimer(self)
        self._resting.setSingleShot(True)
        self._resting.setInterval(RESTS)
        self._resting.timeout.connect(self._point)
        self._more = QTimer(self)
        self._more.setSingleShot(True)
        self._more.timeout.connect(self._show_more)
        self._waiting = False
        """Whether it shows nothing until a survey is over."""
        self._until_said = QTimer(self)
        self._until_said.setSingleShot(True)
        self._until_said.setInterval(NOTICED)
        self._until_said.timeout.connect(self.update)
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
        """Nothing: the window charts it, in view or not, and not before it is counted how far levels are."""

    def chart(self, flow: Flow, result: Appraisal | None, waits: bool = True) -> None:
        """Shows the flow, its patterns filled in, as far as the latest survey knows it. Before the first survey it
        ``waits``, and shows nothing; where none will come, all levels stand on the shelf."""
        if self._shown and self._shown[0] is flow and self._shown[1] is result and waits:
            return
        self._shown = flow, result
        self._wait(result is None and waits and bool(flow.levels))
        card = self.card_of(self._selection.level_id)
        if card and self.area().intersects(card.placed.rect):
            self._followed = card
        self._showing = self.scene.showing(resolved(Flow() if self._waiting else flow), result)
        self._show_more()

    def _wait(self, waiting: bool) -> None:
        """Waits for a survey, or no longer; only where that takes a while it is said."""
        if waiting and not self._waiting:
            self._until_said.start()
        elif not waiting:
            self._until_said.stop()
        self._waiting = waiting

    @property
    def busy(self) -> bool:
        """Whether it has not shown all of the flow yet."""
        return self._more.isActive()

    def _show_more(self) -> None:
        """Goes on showing for as long as nobody notices; the rest follows after other events. It is painted at the end,
        for to paint each part by itself would take as long as all the rest."""
        began = perf_counter()
        for changed in self._showing:
            self._dirty += changed
            if perf_counter() - began > AT_ONCE:
                self._more.start()
                return
        if self._may_fit():
            self.show_start()
        self._follow()
        self._tiles.forget(self._dirty)
        if self._dirty:
            self._point_at(None)
        self.complete = self.complete and not self._dirty
        self._dirty.clear()
        self.update()

    def _follow(self) -> None:
        """Where the selected card has left the view, as other columns have come or gone, the view goes with it."""
        before, self._followed = self._followed, None
        card = self.card_of(before.level_id) if before else None
        if before and card and not self.area().intersects(card.placed.rect):
            self.centre_on(self.camera.centre + card.placed.rect.center() - before.placed.rect.center())

    def card_of(self, level_id: str) -> Card | None:
        """The card of a level, or None."""
        return self.scene.cards.get(level_id)

    def _on_look_changed(self) -> None:
        self._tiles.forget()
        self._minimap.forget()
        self.complete = False
        self.update()

    # -- camera ----------------------------------------------------------------------------------------

    @property
    def scale(self) -> float:
        """Pixels a map unit."""
        return self.camera.scale

    def area(self) -> QRectF:
        """What is in view, in map units."""
        return self.camera.area()

    def pixel_of(self, point: QPointF) -> QPoint:
        """Where a point of the map is on the widget."""
        return self.camera.pixel_of(point)

    def point_at(self, pixel: QPointF) -> QPointF:
        """The point of the map under a pixel."""
        return self.camera.point_at(pixel)

    def centre_on(self, point: QPointF) -> None:
        """Brings a point into the middle."""
        self.camera.centre_on(point, self.scene.bounds())
        self.update()

    def _before_zoom(self) -> None:
        """What is painted stands in, enlarged, until it is painted anew."""
        if self.complete and self.isVisible():
            self._tiles.stand_in(self._picture(), self.area())
        self.complete = False

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
        self.camera.zoom(factor, at or QPointF(self.rect().center()))
        self._fitted = True
        self.update()

    def fit(self) -> None:
        """Shows the whole map."""
        bounds = self.scene.bounds()
        if bounds.isValid() and self.width() > 40:
            self.camera.fit(bounds)
            self._fitted = True
            self.update()

    def show_start(self) -> None:
        """Shows the whole map, or as much from the start on as can be read."""
        self.fit()
        if self.camera.scale < READABLE and self._fitted:
            self.camera.show_beginning(self.scene.bounds())
            self.update()

    def fit_next(self) -> None:
        """Fits the map to the next flow that is shown."""
        self._fitted = False

    def where(self) -> tuple[float, float, float]:
        """The camera: zoom and centre."""
        return self.camera.scale, self.camera.centre.x(), self.camera.centre.y()

    def go_to(self, where: tuple[float, float, float]) -> None:
        """Puts the camera back."""
        self.camera.set_scale(where[0])
        self.camera.centre = QPointF(where[1], where[2])
        self.update()

    def show_level(self, level_id: str) -> None:
        """Brings the level's card into view, clear of the map in small."""
        card = self.card_of(level_id)
        if card and not self.area().contains(card.placed.rect):
            self.centre_on(self.camera.towards(card.placed.rect))
        if card and self._is_below_minimap(card):
            self.centre_on(card.placed.rect.center())

    def _is_below_minimap(self, card: Card) -> bool:
        ends = (self.pixel_of(end) for end in (card.placed.rect.topLeft(), card.placed.rect.bottomRight()))
        return self.small_map.intersects(QRectF(QRect(*ends)))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if self._may_fit() and not self._more.isActive():
            self.show_start()

    def _may_fit(self) -> bool:
        """Whether the map is to be fitted to what it shows."""
        return not self._fitted and bool(self.scene.cards) and self._shown is not None and self._shown[1] is not None

    # -- painting --------------------------------------------------------------------------------------

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as painter:
            c = self._look.colours
            painter.fillRect(self.rect(), c.colour("ground"))
            self.complete = self._paint_tiles(painter)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.save()
            self._painter.to_map(painter)
            self.traffic.paint_below(painter, self.area(), self.scale)
            if self._walk is None:
                if self._pointed is not None:
                    self._painter.paint_pointed(painter, self._pointed)
                self._painter.paint_chosen(painter, self._drag)
                if self._proposed is not None:
                    self._painter.paint_proposed(painter, self._proposed)
            else:
                self._painter.paint_walk(painter, *self._walk)
            self.different.paint(painter, self.area(), self.scale)
            self.traffic.paint_above(painter, self.area(), self.scale)
            painter.restore()
            self._painter.paint_headings(painter)
            small = self.small_map
            if small.isValid():
                self.complete &= self._minimap.paint(painter, small, self.area())
            if self.hasFocus():
                painter.setPen(QPen(c.colour("route"), 2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(self.rect().adjusted(1, 1, -1, -1))
            if not self.scene.flow.levels and not self._until_said.isActive():
                painter.setPen(c.colour("dim"))
                words = "Levels will stand here, in columns by their crossings from the start."
                if self._waiting:
                    words = "Levels will stand here as soon as the survey knows how they are reached."
                painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, words)
        if not self.complete:
            self.update()

    def outline(self, proposed: Flow | None) -> None:
        """Shows in outline where crossings would lead after an edit that is proposed; None ends that."""
        self._proposed = proposed
        self.update()

    def show_walk(self, here: str, ahead: Collection[str]) -> None:
        """Dims the map to where a trial walk is and what it can reach next."""
        self._walk = (here, ahead)
        self.update()

    def end_walk(self) -> None:
        """Shows the map as it is."""
        self._walk = None
        self.update()

    def _paint_tiles(self, painter: QPainter) -> bool:
        ground = self._look.colours.colour("ground")
        ratio = self.devicePixelRatioF()
        return self._tiles.paint(painter, self.area(), self.scale, ratio, ground, self._painter.strokes)

    # -- mouse -----------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        left = event.button() == Qt.MouseButton.LeftButton
        if not left and event.button() != Qt.MouseButton.MiddleButton:
            return
        self.setFocus()
        self._point_at(None)
        if left and self.small_map.contains(event.position()):
            self._on_minimap = True
            self._go_by_minimap(event.position())
            return
        point = self.point_at(event.position())
        card = self.scene.card_at(point) if left else None
        exit_ = card.exit_at(point) if card else None
        self._drag = ConnectionDrag(event.position(), event.position(), card, exit_.id if exit_ else "")
        more = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if card:
            self._choose(card.level_id, self._drag.exit_id, more)
        elif left:
            self._choose_bridge(point, more)

    def _choose(self, level_id: str, exit_id: str, more: bool) -> None:
        if more:
            if exit_id:
                self._selection.toggle_crossing(level_id, exit_id)
            else:
                self._selection.toggle_level(level_id)
        elif exit_id or level_id not in self._selection.levels or self._selection.exit_id:
            self._selection.select(level_id, exit_id)

    def _choose_bridge(self, point: QPointF, more: bool) -> None:
        bridge = self.scene.bridge_at(point, max(7.0, 5 / self.scale), self._painter.is_shown)
        if bridge:
            self._choose(bridge.crossing.level, bridge.crossing.exit, more)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        if self._on_minimap:
            self._go_by_minimap(event.position())
            return
        if self._drag is None:
            self._show_cursor(event.position())
            self._mouse = event.position()
            self._resting.start()
            return
        moved = self._drag.move(event.position())
        if self._drag.kind == "pan":
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            self.centre_on(self.camera.centre - moved / self.scale)
        if self._drag.kind:
            self.update()

    @property
    def small_map(self) -> QRectF:
        """Where the whole map in small stands, if it does."""
        return self._minimap.rect(self.scale)

    def _go_by_minimap(self, at: QPointF) -> None:
        small = self.small_map
        if small.isValid():
            self.centre_on(self._minimap.point_at(at, small))

    def _point(self) -> None:
        """Brings forward what the mouse rests on."""
        at = self._mouse
        inside = self.rect().contains(at.toPoint()) and not self.small_map.contains(at)
        self._point_at(self.thing_at(self.point_at(at)) if inside and self._drag is None else None)

    def thing_at(self, point: QPointF) -> Card | Bridge | None:
        """The card or bridge under a point of the map."""
        reach = max(7.0, 5 / self.scale)
        return self.scene.card_at(point) or self.scene.bridge_at(point, reach, self._painter.is_shown)

    def _point_at(self, thing: Card | Bridge | None) -> None:
        if thing is not self._pointed:
            self._pointed = thing
            self.update()

    def leaveEvent(self, event: QEvent | None) -> None:
        super().leaveEvent(event)
        self._resting.stop()
        self._point_at(None)

    def _show_cursor(self, at: QPointF) -> None:
        card = self.scene.card_at(self.point_at(at))
        door = card is not None and card.exit_at(self.point_at(at)) is not None and self.scale >= FAR
        self.setCursor(Qt.CursorShape.CrossCursor if door else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        self._on_minimap = False
        drag, point = self._drag, self.point_at(event.position())
        self._end_drag()
        card = drag.card if drag else None
        if drag is None or card is None:
            return
        if drag.kind == "exit":
            both = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._drop_crossing(card.level_id, drag.exit_id, point, both)
        elif drag.kind == "card":
            column = self.scene.layout.columns[card.placed.column][1]
            corner = card.placed.rect.topLeft() + (event.position() - drag.press) / self.scale
            self.move_wanted.emit(card.level_id, corner.x() - column.left(), corner.y())
        elif not drag.exit_id and not event.modifiers() and len(self._selection.levels) > 1:
            self._selection.select(card.level_id)

    def _drop_crossing(self, level_id: str, exit_id: str, point: QPointF, both: bool) -> None:
        target = self.scene.card_at(point)
        if target is None:
            return
        if both and target.level_id != level_id:
            self.join_wanted.emit(level_id, target.level_id)
        else:
            self.connect_wanted.emit(
                level_id, exit_id, target.level_id, spawn_aimed_at(target, point, self.scene.flow.units.y == "down")
            )

    def _end_drag(self) -> None:
        self._drag = None
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
        thing = self.thing_at(point)
        return told_of(thing, point, self.scene) if thing else ""

    # -- keys ------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        steps = {
            Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Down: (0, 1), Qt.Key.Key_Up: (0, -1)
        }  # fmt: skip
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape and self._drag and self._drag.kind:
            self._end_drag()
        elif key in steps:
            self._step(*steps[key])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._selection.level_id:
            self.opened.emit(self._selection.level_id)
        else:
            super().keyPressEvent(event)

    def _step(self, across: int, down: int) -> None:
        """Selects the nearest card in a direction."""
        nearest = self.scene.nearest(self._selection.level_id, across, down)
        if nearest:
            self._selection.select(nearest)
            self.show_level(nearest)

"""The map: shows the flow, lets one select, pan and zoom, draw crossings from door to landing, and move cards."""

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QFrame, QGraphicsScene, QGraphicsView, QToolTip

from mossy_bridge.desk.look import Look
from mossy_bridge.desk.map.bridges import BridgeEnds, BridgeItem, bridge_path
from mossy_bridge.desk.map.cards import CardItem
from mossy_bridge.desk.map.crossings import Crossing, crossings_of
from mossy_bridge.desk.map.placing import Layout, exit_rect, laid_out, landing_point
from mossy_bridge.desk.selection import Selection
from mossy_bridge.desk.standing import Standing
from mossy_bridge.desk.surveying import Surveyed
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.flow import Flow
from mossy_bridge.model.patterns import resolved
from mossy_bridge.reach.columns import Columns

CLOSEST, FARTHEST = 2.5, 0.02
READABLE = 0.7
"""The smallest zoom at which titles on cards are read without effort."""
DRAG_STARTS = 6
"""Pixels the mouse must move before a press becomes a drag."""


class MapView(QGraphicsView):
    """The map. Signals say what the designer wants:

    ``chosen(level, exit)`` to select, ``connect_wanted(level, exit, target, spawn)``, ``move_wanted(level, x,
    y)`` for a card within its column, ``opened(level)`` on a double click.
    """

    chosen = pyqtSignal(str, str)
    connect_wanted = pyqtSignal(str, str, str, str)
    move_wanted = pyqtSignal(str, float, float)

    def __init__(self, look: Look, selection: Selection):
        super().__init__()
        self._look, self._selection = look, selection
        self._flow, self._layout = Flow(), Layout({}, (), False)
        self._cards: dict[str, CardItem] = {}
        self._bridges: list[BridgeItem] = []
        self._press: QPointF | None = None
        self._drag: tuple[str, str] | None = None
        """("exit", id) while a crossing is drawn, ("card", "") while a card is moved, ("pan", "")."""
        self._pressed_card: CardItem | None = None
        self._loose_end: QPointF | None = None
        self._fitted = False
        self.setScene(QGraphicsScene(self))
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.AnchorUnderMouse)
        self.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Map")
        self.setAccessibleDescription("Levels in columns by crossings from the start; drag a door to connect it")
        self.setMouseTracking(True)
        self.setViewportUpdateMode(QGraphicsView.ViewportUpdateMode.FullViewportUpdate)  # the headings stay put
        look.changed.connect(self._on_look_changed)
        selection.changed.connect(self._on_selected)
        self._on_look_changed()

    # -- showing ---------------------------------------------------------------------------------------

    def show_flow(self, flow: Flow, result: Surveyed | None) -> None:
        """Shows the flow as far as the latest survey knows it; levels it does not know stand on the shelf."""
        self._flow = resolved(flow)
        placed = result.columns if result else Columns((), ())
        known = {name for row in placed.columns for name in row} | set(placed.shelf)
        new = tuple(level.id for level in flow.levels if level.id not in known)
        placed = Columns(placed.columns, placed.shelf + new)
        self._layout = laid_out(self._flow, placed)
        standing = Standing(result)
        self._make_items(standing, result)
        self._on_selected()
        if not self._fitted and self._cards and result:
            self.show_start()

    def _make_items(self, standing: Standing, result: Surveyed | None) -> None:
        scene = self.scene()
        scene.clear()
        self._cards, self._bridges = {}, []
        y_down = self._flow.units.y == "down"
        reasons = _reasons(result)
        for name, placed in self._layout.cards.items():
            reason = reasons.get(name, "") if placed.stranded else ""
            self._cards[name] = CardItem(self._look, placed, standing, y_down, reason)
            scene.addItem(self._cards[name])
        wording = Wording(self._flow)
        for crossing in crossings_of(self._flow, result.leads if result else {}):
            self._add_bridge(crossing, result, wording, y_down)
        bounds = QRectF()
        for _, rect in self._layout.columns:
            bounds = bounds.united(rect)
        scene.setSceneRect(bounds.adjusted(-400, -300, 400, 300))

    def _add_bridge(self, crossing: Crossing, result: Surveyed | None, wording: Wording, y_down: bool) -> None:
        card = self._cards[crossing.level].placed
        exit_ = card.level.exit(crossing.exit)
        if exit_ is None:
            return
        start = exit_rect(card, exit_, y_down).center()
        end = start
        known = crossing.target in self._cards
        if known:
            target = self._cards[crossing.target].placed
            end = landing_point(target, crossing.spawn, y_down)
            way_back = target.level.exit(crossing.back) if crossing.back else None
            if way_back:
                end = exit_rect(target, way_back, y_down).center()
        verdict = result.survey.exits.get((crossing.level, crossing.exit)) if result else None
        works = verdict is None or verdict.answer != "no"
        lock = wording.condition(crossing.lock) if crossing.lock else ""
        far = (card.rect.center(), self._cards[crossing.target].placed.rect.center()) if known else None
        bridge = BridgeItem(self._look, crossing, (start, end), far, lock, works)
        bridge.setToolTip(f"{card.level.title}: {exit_.name or exit_.id}" + (f"\n{lock}" if lock else ""))
        self._bridges.append(bridge)
        self.scene().addItem(bridge)
        if known and not bridge.quiet:
            self.scene().addItem(BridgeEnds(bridge, (card.rect, self._cards[crossing.target].placed.rect)))

    def _on_look_changed(self) -> None:
        self.setBackgroundBrush(self._look.colours.colour("ground"))
        self.viewport().update()

    def _on_selected(self) -> None:
        level_id, exit_id = self._selection.level_id, self._selection.exit_id
        for name, card in self._cards.items():
            card.chosen = name == level_id
            card.chosen_exit = exit_id if name == level_id else ""
        for bridge in self._bridges:
            crossing = bridge.crossing
            mine = crossing.level == level_id and crossing.exit == exit_id
            way_back = bool(exit_id) and crossing.target == level_id and crossing.back == exit_id
            bridge.chosen = bool(exit_id) and (mine or way_back)
            touched = level_id in (crossing.level, crossing.target)
            bridge.setVisible(bridge.chosen or not bridge.hidden_away or (touched and not exit_id))
            bridge.setZValue(4 if bridge.chosen else 1 if bridge.quiet else 2)
        self.viewport().update()

    def drawBackground(self, painter: QPainter | None, rect: QRectF) -> None:
        c = self._look.colours
        painter.fillRect(rect, c.colour("ground"))
        for index, (_, column) in enumerate(self._layout.columns):
            shelf = self._layout.has_shelf and index == len(self._layout.columns) - 1
            painter.setPen(QPen(c.colour("suspicious", 130), 1.4, Qt.PenStyle.DashLine) if shelf else Qt.PenStyle.NoPen)
            painter.setBrush(c.colour("suspicious_wash" if shelf else "column"))
            painter.drawRoundedRect(column, 8, 8)

    def _paint_focus(self, painter: QPainter) -> None:
        if self.hasFocus():
            painter.save()
            painter.resetTransform()
            painter.setPen(QPen(self._look.colours.colour("route"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.viewport().rect().adjusted(1, 1, -1, -1))
            painter.restore()

    def _paint_headings(self, painter: QPainter) -> None:
        """The columns' headings, at the top of the view however far it is scrolled, and in one size."""
        painter.save()
        painter.resetTransform()
        for index, (heading, column) in enumerate(self._layout.columns):
            shelf = self._layout.has_shelf and index == len(self._layout.columns) - 1
            left, right = self.mapFromScene(column.topLeft()), self.mapFromScene(column.topRight())
            painter.setFont(self._look.font(-1, bold=shelf))
            if right.x() - left.x() < painter.fontMetrics().horizontalAdvance(heading) + 10:
                heading = heading.split()[0]
            if right.x() - left.x() < painter.fontMetrics().horizontalAdvance(heading) + 4:
                continue
            c = self._look.colours
            box = painter.fontMetrics().boundingRect(heading).adjusted(-5, -2, 5, 2)
            box.translate(left.x() + 9, max(left.y() + 20, 17))
            painter.fillRect(box, c.colour("suspicious_wash" if shelf else "column", 225))
            painter.setPen(c.colour("suspicious" if shelf else "dim"))
            painter.drawText(left.x() + 9, max(left.y() + 20, 17), heading)
        painter.restore()

    def drawForeground(self, painter: QPainter | None, _: QRectF) -> None:
        self._paint_headings(painter)
        self._paint_focus(painter)
        if not self._flow.levels:
            painter.resetTransform()
            painter.setPen(self._look.colours.colour("dim"))
            words = "Levels will stand here, in columns by their crossings from the start."
            painter.drawText(self.viewport().rect(), Qt.AlignmentFlag.AlignCenter, words)
        if self._drag and self._drag[0] == "exit" and self._pressed_card and self._loose_end:
            exit_ = self._pressed_card.placed.level.exit(self._drag[1])
            if exit_:
                start = exit_rect(self._pressed_card.placed, exit_, self._flow.units.y == "down").center()
                painter.setPen(QPen(QColor(self._look.colours.route), 3, Qt.PenStyle.DashLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawPath(bridge_path(start, self._loose_end))

    # -- pan and zoom ----------------------------------------------------------------------------------

    def fit(self) -> None:
        """Shows the whole map."""
        bounds = QRectF()
        for _, rect in self._layout.columns:
            bounds = bounds.united(rect)
        if bounds.isValid() and self.viewport().width() > 40:
            self.fitInView(bounds.adjusted(-10, -8, 10, 8), Qt.AspectRatioMode.KeepAspectRatio)
            if self.transform().m11() > 1.15:
                self.resetTransform()
                self.scale(1.15, 1.15)
                self.centerOn(bounds.center())
            self._fitted = True

    def show_start(self) -> None:
        """Shows the whole map, or as much from the start on as can be read."""
        self.fit()
        if self.transform().m11() < READABLE and self._fitted:
            self.resetTransform()
            self.scale(READABLE, READABLE)
            room = self.viewport().rect()
            height = max(rect.height() for _, rect in self._layout.columns)
            left = min(rect.left() for _, rect in self._layout.columns)
            self.centerOn(left + room.width() / READABLE / 2 - 10, height / 2)

    def fit_next(self) -> None:
        """Fits the map to the next flow that is shown."""
        self._fitted = False

    def zoom(self, factor: float) -> None:
        """Comes closer (above 1) or goes further away, within limits."""
        now = self.transform().m11()
        factor = max(FARTHEST / now, min(factor, CLOSEST / now))
        self.scale(factor, factor)
        self._fitted = True

    def show_level(self, level_id: str) -> None:
        """Brings the level's card into view."""
        card = self._cards.get(level_id)
        if card:
            self.ensureVisible(card.placed.rect, 40, 40)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if event.oldSize().width() <= 40:
            self.show_start()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        self.zoom(1.0015 ** event.angleDelta().y())

    def viewportEvent(self, event: QEvent | None) -> bool:
        """Names the exit under the mouse; cards and bridges name themselves."""
        if event.type() == QEvent.Type.ToolTip:
            point = self.mapToScene(event.pos())
            card = self._card_at(point)
            exit_ = card.exit_at(point) if card else None
            if exit_:
                QToolTip.showText(event.globalPos(), f"{exit_.name or exit_.id}\nDrag it to where it leads", self)
                return True
        return super().viewportEvent(event)

    # -- mouse -----------------------------------------------------------------------------------------

    def card_of(self, level_id: str) -> CardItem | None:
        """The card of a level, or None."""
        return self._cards.get(level_id)

    def _card_at(self, point: QPointF) -> CardItem | None:
        return next((card for card in self._cards.values() if card.placed.rect.contains(point)), None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event.button() not in (Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton):
            return
        self.setFocus()
        self._press = event.position()
        point = self.mapToScene(event.position().toPoint())
        self._pressed_card = self._card_at(point) if event.button() == Qt.MouseButton.LeftButton else None
        exit_ = self._pressed_card.exit_at(point) if self._pressed_card else None
        if exit_ and self._pressed_card:
            self.chosen.emit(self._pressed_card.level_id, exit_.id)
        elif self._pressed_card:
            self.chosen.emit(self._pressed_card.level_id, "")
        else:
            self._choose_bridge(event)

    def _choose_bridge(self, event: QMouseEvent) -> None:
        items = self.items(event.position().toPoint())
        bridges = [item for item in items if isinstance(item, BridgeItem)]
        bridge = next((item for item in bridges if not item.quiet), bridges[0] if bridges else None)
        if bridge:
            self.chosen.emit(bridge.crossing.level, bridge.crossing.exit)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if self._press is None:
            return
        moved = event.position() - self._press
        if self._drag is None and moved.manhattanLength() >= DRAG_STARTS:
            self._begin_drag()
        if self._drag is None:
            return
        point = self.mapToScene(event.position().toPoint())
        if self._drag[0] == "exit":
            self._loose_end = point
            target = self._card_at(point)
            for card in self._cards.values():
                card.target = card is target
        elif self._drag[0] == "card" and self._pressed_card:
            start = self.mapToScene(self._press.toPoint())
            self._pressed_card.setPos(point - start)
        else:
            bars = (self.horizontalScrollBar(), self.verticalScrollBar())
            bars[0].setValue(bars[0].value() - round(moved.x()))
            bars[1].setValue(bars[1].value() - round(moved.y()))
            self._press = event.position()
        self.viewport().update()

    def _begin_drag(self) -> None:
        if self._pressed_card is None:
            self._drag = ("pan", "")
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        elif self._selection.exit_id and self._selection.level_id == self._pressed_card.level_id:
            self._drag = ("exit", self._selection.exit_id)
        else:
            self._drag = ("card", "")

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        drag, card = self._drag, self._pressed_card
        point = self.mapToScene(event.position().toPoint())
        moved = card.pos() if card else QPointF()
        self._end_drag()
        if drag and drag[0] == "exit" and card:
            self._drop_crossing(card.level_id, drag[1], point)
        elif drag and drag[0] == "card" and card and not moved.isNull():
            column = self._layout.columns[card.placed.column][1]
            corner = card.placed.rect.topLeft() + moved
            self.move_wanted.emit(card.level_id, corner.x() - column.left(), corner.y())

    def _drop_crossing(self, level_id: str, exit_id: str, point: QPointF) -> None:
        target = self._card_at(point)
        if target:
            spawn = self._spawn_near(target, point)
            self.connect_wanted.emit(level_id, exit_id, target.level_id, spawn)

    def _spawn_near(self, card: CardItem, point: QPointF) -> str:
        """The spawn point the designer aims at: the nearest, if the drop is close to it; else the first."""
        y_down = self._flow.units.y == "down"
        spawns = card.placed.level.spawns
        near = [((landing_point(card.placed, s.id, y_down) - point).manhattanLength(), s.id) for s in spawns]
        if near and min(near)[0] < 26:
            return min(near)[1]
        return spawns[0].id if spawns else ""

    def _end_drag(self) -> None:
        self._press = self._drag = self._loose_end = None
        if self._pressed_card:
            self._pressed_card.setPos(0, 0)
        for card in self._cards.values():
            card.target = False
        self.unsetCursor()
        self.viewport().update()

    # -- keys ------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {
            Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Down: (0, 1), Qt.Key.Key_Up: (0, -1)
        }  # fmt: skip
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape and self._drag:
            self._end_drag()
        elif key in steps:
            self._step(*steps[key])
        else:
            super().keyPressEvent(event)

    def _step(self, across: int, down: int) -> None:
        """Selects the nearest card in a direction."""
        here = self._cards.get(self._selection.level_id)
        if here is None:
            if self._cards:
                self.chosen.emit(next(iter(self._cards)), "")
            return
        start = here.placed.rect.center()
        best: tuple[float, str] | None = None
        for card in self._cards.values():
            way = card.placed.rect.center() - start
            along = way.x() * across + way.y() * down
            aside = abs(way.y() * across) + abs(way.x() * down)
            if along > 20 and (best is None or along + 2 * aside < best[0]):
                best = (along + 2 * aside, card.level_id)
        if best:
            self.chosen.emit(best[1], "")
            self.show_level(best[1])


def _reasons(result: Surveyed | None) -> dict[str, str]:
    """What the stranded shelf says of each level on it."""
    found = {}
    for finding in result.findings if result else ():
        if finding.check == "level-unreachable":
            _, _, reason = finding.message.partition(" is never reached. ")
            found[finding.at[0]] = reason
    for level in result.flow.levels if result else ():
        if not level.ships:
            found[level.id] = "does not ship"
    return found

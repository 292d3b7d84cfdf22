"""A plan one can work on: shows a level to scale, lets one choose, move, stretch and draw what lies on it."""

from collections.abc import Sequence
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from mossy_bridge.desk.plan.gestures import SNAP_PIXELS, Drawing, Gesture, Lassoing, Moving, Panning, Stretching, Tool
from mossy_bridge.desk.plan.heat import HeatLayer
from mossy_bridge.desk.plan.painting import (
    PlanFrame,
    has_plan,
    paint_body,
    paint_deed,
    paint_door,
    paint_facing,
    paint_grid,
    paint_ground,
    paint_jump,
    paint_name,
    paint_spawn,
    paint_unplaced,
    unplaced,
    zone_tag,
)
from mossy_bridge.desk.plan.pictures import PICTURES
from mossy_bridge.desk.plan.screen import paint_screen, stands_over
from mossy_bridge.desk.plan.snapping import grid_step, snapped
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.given import given, is_key_override
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.edits.levels import whole
from mossy_bridge.model.flow import Flow, Level, Rect
from mossy_bridge.plan.doors import has_area
from mossy_bridge.plan.laying import Part, bounds_of, outlines, part_of
from mossy_bridge.plan.screens import with_screen_laid_out

DRAG_STARTS = 4
HANDLE = 4.5
CRAMPED = 220
"""Pixels of a plan's width below which only what is chosen is named."""


class PlanCanvas(QWidget):
    """Shows and edits one level's plan. It holds no truth: signals say what the designer wants.

    ``chosen(parts)``, ``move_wanted(parts, across, along)``, ``stretch_wanted(part, rect)``,
    ``exit_drawn(rect)``, ``solid_drawn(rect)``, ``spawn_put(x, y)``, ``deed_put(x, y)``,
    ``remove_wanted(parts)``, ``opened(part or None)`` on a double click, ``tool_changed``.
    """

    chosen = pyqtSignal(tuple)
    move_wanted = pyqtSignal(tuple, float, float)
    stretch_wanted = pyqtSignal(object, tuple)
    exit_drawn = pyqtSignal(tuple)
    solid_drawn = pyqtSignal(tuple)
    spawn_put = pyqtSignal(float, float)
    deed_put = pyqtSignal(float, float)
    remove_wanted = pyqtSignal(tuple)
    opened = pyqtSignal(object)
    tool_changed = pyqtSignal()

    def __init__(self, look: Look, name: str, roams: bool = False):
        super().__init__()
        self._look = look
        PICTURES.arrived.connect(self.update)
        self._roams = roams
        """Whether one can zoom and pan."""
        self._everything = False
        self._folder: Path | None = None
        self.flow, self.key = Flow(), ""
        self.level: Level | None = None
        self.parts: tuple[Part, ...] = ()
        self.tool: Tool = "choose"
        self.step = 1.0
        """The grid, in plan units; 0 for none."""
        self._draft: Flow | None = None
        self._proposed: Flow | None = None
        self._other_version: Flow | None = None
        self.heat = HeatLayer(look, self.update)
        self._gesture: Gesture | None = None
        self._press: QPointF | None = None
        self._pressed_part: Part | None = None
        self.beside: PlanCanvas | None = None
        """The other bank, which is painted to the same scale."""
        self._scale: float | None = None
        self._centre: tuple[float, float] | None = None
        self.setAccessibleName(name)
        self.setAccessibleDescription("Drag to move, drag corners to resize; arrow keys move what is chosen")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(280, 160)

    def minimumSizeHint(self) -> QSize:
        return QSize(160, 110)

    # -- showing ---------------------------------------------------------------------------------------

    def show_plan(
        self, flow: Flow, key: str, parts: Sequence[Part] = (), everything: bool = False, folder: Path | None = None
    ) -> None:
        """Shows a level or pattern of the flow as written, with parts of it chosen; ``everything`` names all
        that lies on it."""
        if key != self.key:
            self._scale = self._centre = None
            self._abort()
        self.flow, self.key, self._folder = with_screen_laid_out(flow, key), key, folder
        self.level = whole(self.flow, key)
        self.parts, self._everything = tuple(parts), everything
        self.step = self.step if self.step == 0 else grid_step(flow.walker)
        self.update()

    def use_tool(self, tool: Tool) -> None:
        """Takes up another tool."""
        self._abort()
        self.tool = tool
        self.setCursor(Qt.CursorShape.ArrowCursor if tool == "choose" else Qt.CursorShape.CrossCursor)
        self.tool_changed.emit()
        self.update()

    def best_scale(self) -> float:
        """The scale at which the plan fills the widget."""
        if self.level is None or not has_plan(self.level):
            return 1e9
        return PlanFrame(self.level, self._room()).scale

    def fit(self) -> None:
        """Shows the whole plan."""
        self._scale = self._centre = None
        self.update()

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Comes closer (above 1) or goes further away; what is under ``at`` stays there."""
        frame = self.frame()
        at = at or self._room().center()
        x, y = frame.plan_point(at)
        fit = self.best_scale()
        self._scale = max(fit * 0.5, min(frame.scale * factor, fit * 40))
        moved = self.frame()
        aside = moved.point(x, y) - at
        self._centre = moved.plan_point(self._room().center() + aside)
        self.update()

    def _room(self) -> QRectF:
        inset = 14 if self._roams else 8
        return QRectF(self.rect()).adjusted(inset, inset, -inset, -inset)

    def frame(self) -> PlanFrame:
        """Where the plan lies on the widget."""
        level = self.level or Level(id="none")
        scale = self._scale
        if scale is None and self.beside is not None:
            scale = min(self.best_scale(), self.beside.best_scale())
        return PlanFrame(level, self._room(), self.flow.units.y == "down", scale, self._centre)

    def _shown(self) -> tuple[Flow, Level]:
        flow = self._draft or self.flow
        return flow, whole(flow, self.key) or Level(id="none")

    # -- painting --------------------------------------------------------------------------------------

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(c.colour("route" if self.hasFocus() else "line"), 1.4))
            painter.setBrush(c.colour("column"))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 5, 5)
            if self.level is None or not has_plan(self.level):
                painter.setPen(c.colour("dim"))
                words = f"{self.level.title} has no plan yet." if self.level else ""
                words += "\nEnter makes one, with some ground to stand on." if words and self._roams else ""
                painter.drawText(self._room(), Qt.AlignmentFlag.AlignCenter, words)
                return
            painter.setClipRect(QRectF(self.rect()).adjusted(2, 2, -2, -2))
            flow, level = self._shown()
            frame = self.frame()
            picture = PICTURES.of(self._folder, level.plan.picture if level.plan else "")
            if level.kind == "screen":
                over = stands_over(self.flow, level)
                paint_screen(painter, self._look, frame, flow, level, over, self.parts, picture=picture)
            else:
                paint_ground(painter, c, frame, level, picture)
            if self._roams:
                paint_grid(painter, c, frame, self.step)
            self.heat.paint_below(painter, frame)
            self._paint_things(painter, frame, flow, level)
            self.heat.paint_above(painter, frame)
            self._paint_chosen(painter, frame, flow, level)
            if self._gesture:
                self._gesture.paint(painter, c, frame)
            for other, style in ((self._other_version, Qt.PenStyle.DotLine), (self._proposed, Qt.PenStyle.DashLine)):
                if other is not None:
                    self._paint_outlines(painter, frame, level, other, style)

    def outline(self, proposed: Flow | None) -> None:
        """Shows in outline where things would lie after an edit that is proposed; None ends that."""
        self._proposed = proposed
        self.update()

    def hold_beside(self, version: Flow | None) -> None:
        """Shows in dotted outline where things lie in another version of the flow; None ends that."""
        if version is not self._other_version:
            self._other_version = version
            self.update()

    def _paint_outlines(
        self, painter: QPainter, frame: PlanFrame, level: Level, other: Flow, style: Qt.PenStyle
    ) -> None:
        painter.setPen(QPen(self._look.colours.colour("route"), 2, style))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for rect in outlines(self.flow, level, other, self.key):
            painter.drawRect(frame.area(rect))

    def _paint_things(self, painter: QPainter, frame: PlanFrame, flow: Flow, level: Level) -> None:
        c = self._look.colours
        size = max(7.0, min(13.0, frame.scale * 1.2))
        names: list[tuple[Any, QPointF, str]] = []
        for deed in level.deeds:
            at = frame.point(deed.x, deed.y) - QPointF(0, size * 0.7)
            paint_deed(painter, c, at, size * 0.5)
            if self._everything or Part("deeds", deed.id) in self.parts:
                names.append((deed, at - QPointF(0, size), "suspicious"))
        for spawn in level.spawns:
            chosen = Part("spawns", spawn.id) in self.parts
            if chosen or self._everything:
                paint_body(painter, c, frame, spawn, flow)
                paint_facing(painter, c, frame, spawn, flow)
                above = frame.point(spawn.x, spawn.y) - QPointF(0, max(size, frame.scale * 1.6) + 4)
                names.append((spawn, above, "route"))
            if chosen:
                paint_jump(painter, c, frame, spawn, flow)
            paint_spawn(painter, c, frame.point(spawn.x, spawn.y), size, chosen)
        for exit_ in level.exits if level.kind != "screen" else ():  # whose choices are painted already
            if has_area(exit_):
                chosen = Part("exits", exit_.id) in self.parts
                area = frame.area(exit_.area)
                paint_door(painter, c, area, "sound", chosen)
                if chosen or self._everything:
                    names.append((exit_, QPointF(area.center().x(), area.top() - 4), "sound"))
        paint_unplaced(painter, self._look, frame, level, self.parts, self._everything)
        taken: list[QRectF] = []
        zones = {zone.id: zone for zone in level.zones}
        cramped = frame.scale * (level.plan.width if level.plan else 1) < CRAMPED
        for thing, below, colour in names:
            if cramped and not any(part.name == thing.id for part in self.parts):
                continue
            zone = zones.get(thing.zone) if self._everything else None
            tag = zone_tag(level, zone) if zone else None
            paint_name(painter, self._look, QRectF(self.rect()), thing.name or thing.id, tag, below, colour, taken)

    def _paint_chosen(self, painter: QPainter, frame: PlanFrame, flow: Flow, level: Level) -> None:
        """A line around each chosen area and solid, and handles where one alone can be stretched."""
        c = self._look.colours
        for part in self.parts:
            bounds = bounds_of(flow, level, part)
            if bounds and part.group == "solids":
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(c.colour("route"), 2))
                painter.drawRect(frame.area(bounds))
        painter.setPen(QPen(c.colour("route"), 1.4))
        painter.setBrush(c.colour("card"))
        for _, point in self._handles(frame, flow, level):
            painter.drawRect(QRectF(point.x() - HANDLE, point.y() - HANDLE, 2 * HANDLE, 2 * HANDLE))

    def _handles(self, frame: PlanFrame, flow: Flow, level: Level) -> list[tuple[tuple[int, int], QPointF]]:
        """The corners and edges by which the one chosen area can be stretched: -1, 0 or 1 across and along."""
        if len(self.parts) != 1 or self.parts[0].group not in ("exits", "solids"):
            return []
        bounds = bounds_of(flow, level, self.parts[0])
        if bounds is None:
            return []
        x, y, width, height = bounds
        ends = [(i, j) for i in (-1, 0, 1) for j in (-1, 0, 1) if i or j]
        small = min(width, height) * frame.scale < 26
        return [
            ((i, j), frame.point(x + width * (i + 1) / 2, y + height * (j + 1) / 2))
            for i, j in ends if not small or (i and j)
        ]  # fmt: skip

    # -- what is where ---------------------------------------------------------------------------------

    def part_at(self, at: QPointF) -> Part | None:
        """The thing under a point: points before areas, areas before solids, the smaller before the larger."""
        flow, level = self._shown()
        frame = self.frame()
        size = max(7.0, min(13.0, frame.scale * 1.2))
        near: list[tuple[float, Part]] = []
        for group, things in (("spawns", level.spawns), ("deeds", level.deeds)):
            for thing in things:
                middle = frame.point(thing.x, thing.y) - QPointF(0, size * 0.6)
                distance = (middle - at).manhattanLength()
                body = bounds_of(flow, level, Part(group, thing.id))
                inside = group == "spawns" and body is not None and frame.area(body).contains(at)
                if distance <= size * 1.4 or inside:
                    near.append((distance, Part(group, thing.id)))
        near += [(0.0, Part("exits", exit_.id)) for exit_, area in unplaced(level, frame) if area.contains(at)]
        if near:
            return min(near)[1]
        areas = [(e.area, Part("exits", e.id)) for e in level.exits if has_area(e) or level.kind == "screen"]
        solids = level.plan.solids if level.plan else ()
        for pieces in (areas, [(solid, Part("solids", str(i))) for i, solid in enumerate(solids)]):
            under = [(a[2] * a[3], part) for a, part in pieces if frame.area(a).adjusted(-3, -3, 3, 3).contains(at)]
            if under:
                return min(under)[1]
        return None

    def snap_point(self, at: QPointF, free: bool = False) -> tuple[float, float]:
        """The point of the plan that is meant: on the grid or at an edge near by, unless ``free``."""
        frame = self.frame()
        x, y = frame.plan_point(at)
        if free:
            return round(x, 3), round(y, 3)
        reach = SNAP_PIXELS / frame.scale
        across, along = self._lines()
        return snapped(x, self.step, across, reach), snapped(y, self.step, along, reach)

    def _lines(self) -> tuple[list[float], list[float]]:
        rects = self.other_rects(())
        return [v for r in rects for v in (r[0], r[0] + r[2])], [v for r in rects for v in (r[1], r[1] + r[3])]

    def other_rects(self, parts: Sequence[Part]) -> list[Rect]:
        """The rectangles of everything on the plan but these parts, and of the plan itself."""
        flow, level = self.flow, self.level
        plan = level.plan if level else None
        if level is None or plan is None:
            return []
        named = [Part("exits", e.id) for e in level.exits] + [Part("solids", str(i)) for i in range(len(plan.solids))]
        found = [bounds_of(flow, level, part) for part in named if part not in parts]
        return [(0, 0, plan.width, plan.height), *(rect for rect in found if rect)]

    # -- mouse -----------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        if self.level is None or not has_plan(self.level):
            return
        self._press = event.position()
        self._pressed_part = None
        if event.button() == Qt.MouseButton.MiddleButton and self._roams:
            self._gesture = Panning(self, event.position())
            return
        if event.button() != Qt.MouseButton.LeftButton or self.tool != "choose":
            return
        if self._handle_at(event.position()) is not None:
            return
        part = self.part_at(event.position())
        self._pressed_part = part
        if event.modifiers() & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier):
            self._toggle(part)
        elif part is not None and part not in self.parts:
            self._choose((part,))

    def _toggle(self, part: Part | None) -> None:
        if part is not None:
            rest = tuple(other for other in self.parts if other != part)
            self._choose(rest if part in self.parts else (*rest, part))
            self._pressed_part = None if part not in self.parts else part

    def _choose(self, parts: tuple[Part, ...]) -> None:
        self.parts = parts
        self.update()
        self.chosen.emit(parts)

    def _handle_at(self, at: QPointF) -> tuple[int, int] | None:
        flow, level = self._shown()
        for ends, point in self._handles(self.frame(), flow, level):
            if abs(point.x() - at.x()) <= HANDLE + 2 and abs(point.y() - at.y()) <= HANDLE + 2:
                return ends
        return None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        if self._press is None:
            over = self.tool == "choose" and self._handle_at(event.position()) is not None
            cross = self.tool != "choose" or over
            self.setCursor(Qt.CursorShape.CrossCursor if cross else Qt.CursorShape.ArrowCursor)
            return
        if self._gesture is None and (event.position() - self._press).manhattanLength() >= DRAG_STARTS:
            self._gesture = self._begun(event)
        if self._gesture:
            free = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
            self._draft = self._gesture.moved(event.position(), free) or self._draft
            self.update()

    def _begun(self, event: QMouseEvent) -> Gesture | None:
        if not event.buttons() & Qt.MouseButton.LeftButton or self._press is None:
            return None
        if self.tool in ("exit", "solid"):
            return Drawing(self, self._press, "exits" if self.tool == "exit" else "solids")
        if self.tool != "choose":
            return None
        ends = self._handle_at(self._press)
        if ends is not None:
            return Stretching(self, self._press, self.parts[0], ends)
        if self._pressed_part is not None:
            return Moving(self, self._press, self.parts)
        return Lassoing(self, self._press)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        gesture, press, part = self._gesture, self._press, self._pressed_part
        self._abort()
        if gesture:
            gesture.commit()
        elif press is not None and event.button() == Qt.MouseButton.LeftButton:
            self._clicked(event, part)

    def _clicked(self, event: QMouseEvent, part: Part | None) -> None:
        held = event.modifiers() & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier)
        x, y = self.snap_point(event.position(), bool(event.modifiers() & Qt.KeyboardModifier.AltModifier))
        if self.tool == "spawn":
            self.use_tool("choose")
            self.spawn_put.emit(x, y)
        elif self.tool == "deed":
            self.use_tool("choose")
            self.deed_put.emit(x, y)
        elif self.tool == "choose" and not held and self._handle_at(event.position()) is None:
            self._choose((part,) if part else ())

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        self.opened.emit(self.part_at(event.position()))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        event = given(event)
        if self._roams:
            self.zoom(1.0015 ** event.angleDelta().y(), event.position())
        else:
            event.ignore()

    def pan_to(self, centre: tuple[float, float]) -> None:
        """Shows another part of the plan in the middle."""
        self._scale = self.frame().scale
        self._centre = centre
        self.update()

    def _abort(self) -> None:
        self._gesture = self._draft = self._press = self._pressed_part = None
        self.update()

    # -- keys ------------------------------------------------------------------------------------------

    def event(self, event: QEvent | None) -> bool:
        if is_key_override(event, Qt.Key.Key_Delete) and self.parts:
            given(event).accept()
            return True
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            part = self.part_at(QPointF(event.pos()))
            _, level = self._shown()
            thing = part_of(level, part) if part and part.group != "solids" else None
            if thing is not None:
                QToolTip.showText(event.globalPos(), plain(thing.name or thing.id), self)
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        key = Qt.Key(event.key())
        if key in steps and self.parts:
            fine = 0.25 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
            by = (self.step or 1.0) * fine
            up = 1 if self.flow.units.y == "down" else -1
            self.move_wanted.emit(self.parts, steps[key][0] * by, steps[key][1] * by * up)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.parts:
            self.remove_wanted.emit(self.parts)
        elif key == Qt.Key.Key_Escape and (self._gesture or self.tool != "choose"):
            self._abort()
            if self.tool != "choose":
                self.use_tool("choose")
        elif key == Qt.Key.Key_Escape and len(self.parts) > 1:
            self._choose(self.parts[:0])
        elif key == Qt.Key.Key_A and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._choose(self._all_parts())
        else:
            super().keyPressEvent(event)

    def _all_parts(self) -> tuple[Part, ...]:
        level = self.level
        if level is None:
            return ()
        named = [Part(group, t.id) for group in ("exits", "spawns", "deeds") for t in getattr(level, group)]
        placed = [part for part in named if bounds_of(self.flow, level, part)]
        solids = [Part("solids", str(i)) for i in range(len(level.plan.solids if level.plan else ()))]
        return (*placed, *solids)

    def parts_within(self, rect: QRectF) -> tuple[Part, ...]:
        """Everything that lies wholly in a rectangle of the widget."""
        level, frame = self.level, self.frame()
        if level is None:
            return ()
        found = []
        for part in self._all_parts():
            bounds = bounds_of(self.flow, level, part)
            if bounds and all(
                rect.contains(frame.point(bounds[0] + bounds[2] * i, bounds[1] + bounds[3] * i)) for i in (0, 1)
            ):
                found.append(part)
        return tuple(found)

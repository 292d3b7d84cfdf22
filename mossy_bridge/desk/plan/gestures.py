"""Drags on a plan: each begins with a press, shows a draft while it goes on, and is one step when it ends."""

from collections.abc import Sequence
from typing import Literal, Protocol

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt, pyqtBoundSignal
from PyQt6.QtGui import QPainter, QPen

from mossy_bridge.desk.plan.painting import PlanFrame
from mossy_bridge.desk.plan.snapping import shift, snapped
from mossy_bridge.desk.widgets.colours import Colours
from mossy_bridge.model.flow import Flow, Level, Rect
from mossy_bridge.plan.laying import Part, bounds_of, moved, neat, stretched

Tool = Literal["choose", "exit", "spawn", "deed", "solid"]
SNAP_PIXELS = 7


class Canvas(Protocol):
    """What a gesture needs of the canvas it is made on."""

    flow: Flow
    key: str
    step: float
    parts: tuple[Part, ...]

    @property
    def move_wanted(self) -> pyqtBoundSignal:
        """Things are to be moved."""
        ...

    @property
    def stretch_wanted(self) -> pyqtBoundSignal:
        """An area or solid is to have another rectangle."""
        ...

    @property
    def exit_drawn(self) -> pyqtBoundSignal:
        """An exit has been drawn."""
        ...

    @property
    def solid_drawn(self) -> pyqtBoundSignal:
        """A solid has been drawn."""
        ...

    @property
    def chosen(self) -> pyqtBoundSignal:
        """Things have been chosen."""
        ...

    @property
    def level(self) -> Level | None:
        """The level shown."""
        ...

    def frame(self) -> PlanFrame:
        """Where the plan lies on the widget."""
        ...

    def rect(self) -> QRect:
        """The widget."""
        ...

    def other_rects(self, parts: Sequence[Part], /) -> list[Rect]:
        """The rectangles of all other things, to snap to."""
        ...

    def snap_point(self, at: QPointF, free: bool, /) -> tuple[float, float]:
        """The point of the plan that is meant."""
        ...

    def parts_within(self, area: QRectF, /) -> tuple[Part, ...]:
        """The things in a rectangle of the widget."""
        ...

    def use_tool(self, tool: Tool, /) -> None:
        """Takes another tool."""
        ...

    def pan_to(self, centre: tuple[float, float], /) -> None:
        """Brings a point of the plan into the middle."""
        ...


class Gesture:
    """One drag. ``moved`` returns the flow as it would be, or None where nothing changes."""

    def __init__(self, canvas: Canvas, press: QPointF):
        self.canvas, self.press = canvas, press

    def moved(self, _at: QPointF, _free: bool) -> Flow | None:
        """The mouse is somewhere else; ``free`` of the grid."""
        return None

    def commit(self) -> None:
        """The button is let go."""

    def paint(self, painter: QPainter, c: Colours, frame: PlanFrame) -> None:
        """Paints what the drag itself shows."""


class Moving(Gesture):
    """Moves parts together."""

    def __init__(self, canvas: Canvas, press: QPointF, parts: Sequence[Part]):
        super().__init__(canvas, press)
        self._parts, self._by = tuple(parts), (0.0, 0.0)

    def moved(self, at: QPointF, free: bool) -> Flow | None:
        canvas, frame = self.canvas, self.canvas.frame()
        start, now = frame.plan_point(self.press), frame.plan_point(at)
        by = (now[0] - start[0], now[1] - start[1])
        rect = self._lead()
        if not free and rect:
            reach = SNAP_PIXELS / frame.scale
            by = shift(rect, by, canvas.step, canvas.other_rects(self._parts), reach)
        self._by = (neat(by[0]), neat(by[1]))
        return moved(canvas.flow, canvas.key, self._parts, *self._by)

    def _lead(self) -> Rect | None:
        """The rectangle that snaps: of an area or solid its own; of a point the point."""
        canvas, part = self.canvas, self._parts[0]
        level = canvas.level
        if level is None:
            return None
        thing = next((t for t in level.spawns if part == Part("spawns", t.id)), None)
        return (thing.x, thing.y, 0, 0) if thing else bounds_of(canvas.flow, level, part)

    def commit(self) -> None:
        if any(self._by):
            self.canvas.move_wanted.emit(self._parts, *self._by)


class Stretching(Gesture):
    """Stretches an area or solid by one of its handles."""

    def __init__(self, canvas: Canvas, press: QPointF, part: Part, ends: tuple[int, int]):
        super().__init__(canvas, press)
        self._part, self._ends = part, ends
        self._rect: Rect | None = None

    def moved(self, at: QPointF, free: bool) -> Flow | None:
        canvas = self.canvas
        bounds = bounds_of(canvas.flow, canvas.level, self._part) if canvas.level else None
        if bounds is None:
            return None
        frame = canvas.frame()
        reach = SNAP_PIXELS / frame.scale
        now, rect = frame.plan_point(at), list(bounds)
        for axis, end in enumerate(self._ends):
            if end:
                others = [v for r in canvas.other_rects([self._part]) for v in (r[axis], r[axis] + r[axis + 2])]
                value = now[axis] if free else snapped(now[axis], canvas.step, others, reach)
                fixed = bounds[axis] if end > 0 else bounds[axis] + bounds[axis + 2]
                rect[axis], rect[axis + 2] = min(fixed, value), abs(value - fixed)
        self._rect = (neat(rect[0]), neat(rect[1]), neat(rect[2]), neat(rect[3]))
        return stretched(canvas.flow, canvas.key, self._part, self._rect)

    def commit(self) -> None:
        if self._rect and self._rect[2] > 0 and self._rect[3] > 0:
            self.canvas.stretch_wanted.emit(self._part, self._rect)


class Drawing(Gesture):
    """Draws a new area or solid from corner to corner."""

    def __init__(self, canvas: Canvas, press: QPointF, group: str):
        super().__init__(canvas, press)
        self._group = group
        self._rect: Rect = (0, 0, 0, 0)

    def moved(self, at: QPointF, free: bool) -> Flow | None:
        (x, y), (u, v) = self._inside(self.press, free), self._inside(at, free)
        self._rect = (neat(min(x, u)), neat(min(y, v)), neat(abs(u - x)), neat(abs(v - y)))
        return None

    def _inside(self, at: QPointF, free: bool) -> tuple[float, float]:
        """The point that is meant, inside the plan."""
        x, y = self.canvas.snap_point(at, free)
        plan = self.canvas.level.plan if self.canvas.level else None
        return (min(max(x, 0.0), plan.width), min(max(y, 0.0), plan.height)) if plan else (x, y)

    def commit(self) -> None:
        if self._rect[2] <= 0 or self._rect[3] <= 0:
            return
        if self._group == "exits":
            self.canvas.use_tool("choose")
            self.canvas.exit_drawn.emit(self._rect)
        else:
            self.canvas.solid_drawn.emit(self._rect)

    def paint(self, painter: QPainter, c: Colours, frame: PlanFrame) -> None:
        painter.setPen(QPen(c.colour("route"), 1.6))
        painter.setBrush(c.colour("stone" if self._group == "solids" else "route_wash", 190))
        area = frame.area(self._rect)
        painter.drawRect(area)
        painter.setPen(c.colour("ink"))
        words = f"{self._rect[2]:g} × {self._rect[3]:g}"
        painter.drawText(QRectF(area.left(), area.top() - 18, 90, 16), Qt.AlignmentFlag.AlignLeft, words)


class Lassoing(Gesture):
    """Chooses everything in a rectangle."""

    def __init__(self, canvas: Canvas, press: QPointF):
        super().__init__(canvas, press)
        self._area = QRectF()

    def moved(self, at: QPointF, _free: bool) -> Flow | None:
        self._area = QRectF(self.press, at).normalized()
        return None

    def commit(self) -> None:
        found = self.canvas.parts_within(self._area)
        self.canvas.parts = found
        self.canvas.chosen.emit(found)

    def paint(self, painter: QPainter, c: Colours, _frame: PlanFrame) -> None:
        painter.setPen(QPen(c.colour("route"), 1, Qt.PenStyle.DashLine))
        painter.setBrush(c.colour("route", 30))
        painter.drawRect(self._area)


class Panning(Gesture):
    """Moves the whole plan under the mouse."""

    def __init__(self, canvas: Canvas, press: QPointF):
        super().__init__(canvas, press)
        self._grip = canvas.frame().plan_point(press)

    def moved(self, at: QPointF, _free: bool) -> Flow | None:
        canvas = self.canvas
        frame = canvas.frame()
        aside = frame.point(*self._grip) - at
        canvas.pan_to(frame.plan_point(QRectF(canvas.rect()).center() + aside))
        return None

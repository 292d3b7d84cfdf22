"""The deck between the banks: the transition's steps on lanes against seconds, dragged and stretched."""

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.given import given, is_key_override
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model import timing
from mossy_bridge.model.flow import CheckLimits, Step, Transition
from mossy_bridge.model.timing import end_of

LANES = ("player", "picture", "message", "world", "sound")
LANE_OF = {
    "hold_player": "player", "confirm": "player", "fade_out": "picture", "fade_in": "picture",
    "show_message": "message", "tally": "message", "load": "world", "wait": "world", "sound": "sound",
    "scene": "sound",
}  # fmt: skip
WORDS = {
    "hold_player": "held", "fade_out": "fade out", "fade_in": "fade in", "show_message": "message",
    "tally": "tally", "load": "load", "wait": "wait", "sound": "sound", "scene": "scene", "confirm": "confirm",
}  # fmt: skip
COLOUR = {"player": "dim", "picture": "ink", "message": "suspicious", "world": "sound", "sound": "route"}
LABEL_W, EDGE, NEAR = 62, 7, 7
"""Pixels: of lane names, of the end that stretches, within which times snap."""
GRID, NUDGE = 0.05, 0.1
"""Seconds: that dragging goes by where nothing is near, and that arrow keys go by."""


class Deck(QWidget):
    """Shows a transition and lets its steps be changed: ``chosen(step)``, ``moved(step, at)``,
    ``stretched(step, lasts, alone)``, ``removed(step)``. Without a transition, says so."""

    chosen = pyqtSignal(int)
    moved = pyqtSignal(int, float)
    stretched = pyqtSignal(int, float, bool)
    removed = pyqtSignal(int)

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self._transition: Transition | None = None
        self._named, self._limits = "", CheckLimits()
        self._faults: Mapping[int, Sequence[str]] = {}
        self.step = -1
        """The chosen step, or -1."""
        self._drag = ""
        """"move" or "stretch" while a step is dragged."""
        self._pressed_at = QPointF()
        self._preview: Transition | None = None
        self.setAccessibleName("Transition")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(330, 160)

    def minimumSizeHint(self) -> QSize:
        return QSize(160, 8 * self.fontMetrics().height())  # six lanes with words on them, and the seconds

    def show_transition(
        self, transition: Transition | None, named: str, limits: CheckLimits, faults: Mapping[int, Sequence[str]]
    ) -> None:
        """Shows the steps; ``named`` is the id the exit gives, which may lead nowhere; ``faults`` are what is wrong
        with which step."""
        if transition != self._transition:  # else only what is wrong with it is new: a drag goes on
            self._preview, self._drag = None, ""
        if transition is None or self._transition is None or transition.id != self._transition.id:
            self.step = -1
        self._transition, self._named, self._limits, self._faults = transition, named, limits, faults
        if transition and self.step >= len(transition.steps):
            self.step = -1
        seconds = f", {transition.seconds:g} seconds" if transition else ""
        self.setAccessibleDescription(f"{transition.name if transition else 'none'}{seconds}")
        self.update()

    # -- where things lie ------------------------------------------------------------------------------

    @property
    def _shown(self) -> Transition | None:
        return self._preview or self._transition

    def _lanes(self, transition: Transition) -> list[str]:
        return [lane for lane in LANES if any(LANE_OF[step.do] == lane for step in transition.steps)]

    def _room(self) -> QRectF:
        return QRectF(LABEL_W + 8, 4, self.width() - LABEL_W - 22, self.height() - 50)

    def _scale(self) -> float:
        """Pixels of a second; the same while dragging, so that nothing slips away below the mouse."""
        return self._room().width() / max(self._transition.seconds if self._transition else 0.0, 0.1) * 0.94

    def bar(self, index: int) -> QRectF:
        """Where a step is painted."""
        transition = self._shown
        if transition is None:
            return QRectF()
        lanes, room, scale = self._lanes(transition), self._room(), self._scale()
        step = transition.steps[index]
        tall = min(34.0, room.height() / max(len(lanes), 1))
        top = room.top() + lanes.index(LANE_OF[step.do]) * tall
        return QRectF(room.left() + step.at * scale, top + 4, max(step.lasts * scale, 4), tall - 9)

    def _step_at(self, point: QPointF) -> int:
        steps = self._transition.steps if self._transition else ()
        found = [index for index in range(len(steps)) if self.bar(index).adjusted(-3, -3, 3, 3).contains(point)]
        if self.step in found:
            return self.step
        return min(found, key=lambda index: self.bar(index).width(), default=-1)

    # -- painting --------------------------------------------------------------------------------------

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            arch = QPainterPath(QPointF(-4, self.height() - 3))
            arch.quadTo(QPointF(self.width() / 2, self.height() - 26), QPointF(self.width() + 4, self.height() - 3))
            painter.setPen(QPen(c.colour("sound"), 3.5))
            painter.drawPath(arch)
            transition = self._shown
            if transition is None or not transition.steps:
                words = "The player is there at once: no transition."
                if transition is not None:
                    words = "No steps yet. Add one above: hold the player, fade out, load, fade in."
                elif self._named:
                    words = f"The transition “{self._named}” does not exist."
                painter.setPen(c.colour("dim"))
                painter.drawText(self.rect().adjusted(0, 0, 0, -30), Qt.AlignmentFlag.AlignCenter, words)
            else:
                self._paint_lanes(painter, transition)
            if self.hasFocus():
                painter.setPen(QPen(c.colour("route"), 1, Qt.PenStyle.DotLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(self.rect().adjusted(1, 1, -1, -28))

    def _paint_lanes(self, painter: QPainter, transition: Transition) -> None:
        c, room, lanes = self._look.colours, self._room(), self._lanes(transition)
        tall = min(34.0, room.height() / max(len(lanes), 1))
        painter.setFont(self._look.font(-1.5))
        for row, lane in enumerate(lanes):
            y = room.top() + row * tall
            painter.setPen(c.colour("dim"))
            align = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
            painter.drawText(QRectF(0, y, LABEL_W, tall), align, lane)
            painter.setPen(QPen(c.colour("line"), 1))
            painter.drawLine(QPointF(room.left(), y + tall - 1), QPointF(room.right(), y + tall - 1))
        for index, step in enumerate(transition.steps):
            self._paint_step(painter, index, step)
        self._paint_seconds(painter, transition, room, room.top() + len(lanes) * tall)

    def _paint_step(self, painter: QPainter, index: int, step: Step) -> None:
        c, bar = self._look.colours, self.bar(index)
        if step.do == "show_message":
            least = QRectF(bar)
            least.setWidth(timing.reading_time(step.text, self._limits) * self._scale())
            painter.setPen(QPen(c.colour("suspicious"), 1.2, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(least.adjusted(0, -2, 0, 2), 4, 4)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour(COLOUR[LANE_OF[step.do]]))
        painter.drawRoundedRect(bar, 4, 4)
        if index in self._faults:
            painter.setPen(QPen(c.colour("broken"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(bar.adjusted(-2, -2, 2, 2), 5, 5)
        if index == self.step:
            painter.setPen(QPen(c.colour("route"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(bar.adjusted(-3.5, -3.5, 3.5, 3.5), 6, 6)
        text = f"“{step.text}”" if step.text else WORDS[step.do]
        painter.setPen(c.colour("card"))
        words = QFontMetricsF(painter.font()).elidedText(text, Qt.TextElideMode.ElideRight, bar.width() - 8)
        painter.drawText(bar.adjusted(5, 0, -3, 0), Qt.AlignmentFlag.AlignVCenter, words)

    def _paint_seconds(self, painter: QPainter, transition: Transition, room: QRectF, bottom: float) -> None:
        c, scale = self._look.colours, self._scale()
        painter.setPen(c.colour("dim"))
        whole = int(transition.seconds)
        stride = 1 if whole <= 8 else max(1, whole // 6)
        for second in range(0, whole + 1, stride):
            x = room.left() + second * scale
            painter.drawText(QRectF(x - 20, bottom + 1, 40, 14), Qt.AlignmentFlag.AlignCenter, f"{second} s")
        control = timing.control(transition)
        if control is not None:
            x = room.left() + control * scale
            painter.setPen(QPen(c.colour("sound"), 1.4, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x, room.top()), QPointF(x, bottom))

    # -- changing --------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        index = self._step_at(event.position())
        self.choose(index)
        if index >= 0:
            self._drag = "stretch" if self._on_edge(event.position()) else "move"
            self._pressed_at = event.position()

    def _on_edge(self, point: QPointF) -> bool:
        bar = self.bar(self.step)
        return point.x() > bar.right() - min(EDGE, bar.width() / 2)

    def choose(self, index: int) -> None:
        """Chooses a step, by its place."""
        if index != self.step:
            self.step = index
            self.chosen.emit(index)
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        transition = self._transition
        if not self._drag or transition is None:
            over = self._step_at(event.position())
            edge = over >= 0 and event.position().x() > self.bar(over).right() - EDGE
            shapes = Qt.CursorShape
            self.setCursor(shapes.SizeHorCursor if edge else shapes.OpenHandCursor if over >= 0 else shapes.ArrowCursor)
            return
        step = transition.steps[self.step]
        by = (event.position().x() - self._pressed_at.x()) / self._scale()
        alone = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if self._drag == "move":
            self._preview = timing.moved(transition, self.step, self._snapped(step.at + by, step.lasts))
        else:
            ends = self._snapped(end_of(step) + by)
            self._preview = timing.stretched(transition, self.step, max(ends - step.at, 0.0), alone)
        self.update()

    def _snapped(self, at: float, lasts: float = 0.0) -> float:
        """A time drawn to where another step begins or ends, itself or with its own end; or else to the grid."""
        steps = self._transition.steps if self._transition else ()
        others = [step for index, step in enumerate(steps) if index != self.step]
        times = [0.0, *(time for step in others for time in (step.at, end_of(step)))]
        drawn = [time for time in times] + [time - lasts for time in times if lasts]
        nearest = min(drawn, key=lambda time: abs(time - at))
        if abs(nearest - at) * self._scale() <= NEAR:
            return max(nearest, 0.0)
        return max(round(at / GRID) * GRID, 0.0)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        preview, drag, before = self._preview, self._drag, self._transition
        self._preview, self._drag = None, ""
        if preview is None or before is None or preview == before:
            return
        step = preview.steps[self.step]
        alone = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if drag == "move":
            self.moved.emit(self.step, float(step.at))
        else:
            self.stretched.emit(self.step, float(step.lasts), alone)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        steps = self._transition.steps if self._transition else ()
        key, shift = Qt.Key(event.key()), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        way = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key)
        turn = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(key)
        if turn and steps:
            self.choose((self.step + turn) % len(steps) if self.step >= 0 else 0)
        elif way and 0 <= self.step < len(steps):
            step = steps[self.step]
            if shift:
                self.stretched.emit(self.step, max(round(step.lasts + way * NUDGE, 3), 0.0), False)
            else:
                self.moved.emit(self.step, max(round(step.at + way * NUDGE, 3), 0.0))
        elif key == Qt.Key.Key_Delete and 0 <= self.step < len(steps):
            self.removed.emit(self.step)
        elif key == Qt.Key.Key_Escape and self._drag:
            self._preview, self._drag = None, ""
            self.update()
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent | None) -> bool:
        if is_key_override(event, Qt.Key.Key_Delete) and self.step >= 0:
            given(event).accept()  # removes the step, not the crossing
            return True
        if isinstance(event, QHelpEvent):
            index = self._step_at(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), plain(self._told(index)), self)
            return True
        return super().event(event)

    def _told(self, index: int) -> str:
        if index < 0 or self._transition is None:
            return "Drag a step to move it, its end to stretch it (Ctrl: it alone)."
        step = self._transition.steps[index]
        told = f"{WORDS[step.do]}: {step.at:g} to {end_of(step):g} s"
        return "\n".join((told, *self._faults.get(index, ())))

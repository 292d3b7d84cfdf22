"""The live walk on screen: the walker moved by keys through the plan, doors and all."""

from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from mossy_bridge.desk.bench.playing import paint_passing
from mossy_bridge.desk.plan.painting import PlanFrame, has_plan, paint_deed, paint_door, paint_ground
from mossy_bridge.desk.plan.pictures import PICTURES
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model import timing
from mossy_bridge.model.flow import Exit, Level, Transition
from mossy_bridge.plan.doors import has_area
from mossy_bridge.plan.walker import Keys
from mossy_bridge.play.live import Live, placed, step
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State

KEYS = {
    Qt.Key.Key_Left: "left", Qt.Key.Key_Right: "right", Qt.Key.Key_Up: "up", Qt.Key.Key_Down: "down",
    Qt.Key.Key_Space: "jump", Qt.Key.Key_Return: "act", Qt.Key.Key_Enter: "act",
}  # fmt: skip
HELP = "Arrows walk, Space jumps, Enter presses doors and does deeds."


class LiveStage(QWidget):
    """Plays in real time while it has the keyboard. ``moved(move)`` follows each move of the flow."""

    moved = pyqtSignal(object)

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self.live: Live | None = None
        self._before: Level | None = None
        """The level just left, while its transition is played."""
        self._held: set[str] = set()
        PICTURES.arrived.connect(self.update)
        self._folder: Path | None = None
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.tick)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(200, 120)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Live walk")
        self.setAccessibleDescription(HELP)
        self.setToolTip(plain(HELP))

    def sizeHint(self) -> QSize:
        return QSize(360, 190)

    def show_state(self, rules: Rules, state: State | Ended, folder: Path | None) -> None:
        """Puts the walker down where a trial walk is."""
        if self.live is None or self.live.state != state or self.live.rules is not rules:
            self.live, self._before = placed(rules, state), None
        self._folder = folder
        self.update()

    def begin(self) -> None:
        """Starts the clock."""
        if self.live:
            self._timer.start(max(1, round(1000 * self.live.rules.flow.walker.tick)))
        self.setFocus()

    def stop(self) -> None:
        """Stops the clock, and lets go of all keys."""
        self._timer.stop()
        self._held.clear()

    def tick(self) -> None:
        """Goes on by one tick with the keys that are held."""
        if self.live is None:
            return
        before = self.live
        self.live = step(before, Keys(**dict.fromkeys(self._held, True)))
        if len(self.live.moves) > len(before.moves):
            move = self.live.moves[-1]
            crosses = move.kind == "exit" and self.live.waits > 0
            self._before = before.rules.levels[move.level].source if crosses else None
            self.moved.emit(move)
        elif not self.live.waits:
            self._before = None
        self.update()

    # -- keys ------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        name = KEYS.get(Qt.Key(event.key()))
        if name is None or event.isAutoRepeat():
            if name is None:
                super().keyPressEvent(event)
            return
        self._held.add(name)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        name = KEYS.get(Qt.Key(event.key()))
        if name and not event.isAutoRepeat():
            self._held.discard(name)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self._held.clear()
        super().focusOutEvent(event)

    # -- painting --------------------------------------------------------------------------------------

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            room = QRectF(self.rect()).adjusted(1, 1, -1, -1)
            painter.setPen(QPen(c.colour("route" if self.hasFocus() else "line"), 2 if self.hasFocus() else 1.5))
            painter.setBrush(c.colour("column"))
            painter.drawRoundedRect(room, 5, 5)
            live = self.live
            if live is None or isinstance(live.state, Ended):
                self._say(painter, "The end." if live else "")
            else:
                transition = self._transition(live)
                gone = transition.seconds - live.waits if transition else 0.0
                loaded = timing.loaded(transition) if transition else None
                leaving = self._before if loaded is not None and gone < loaded else None
                level = leaving or live.rules.levels[live.state.place].source
                if has_plan(level):
                    frame = PlanFrame(level, room.adjusted(6, 6, -6, -6), live.y_down)
                    self._paint_level(painter, frame, level, live, leaving is None)
                    if transition:
                        self._paint_transition(painter, frame.rect, transition, gone)
                else:
                    self._say(painter, f"{level.title} has no plan to walk in: take a move from the list.")

    def _say(self, painter: QPainter, words: str) -> None:
        painter.setPen(self._look.colours.colour("dim"))
        painter.drawText(
            self.rect().adjusted(8, 0, -8, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words
        )

    def _transition(self, live: Live) -> Transition | None:
        if not live.waits or live.crossing is None:
            return None
        return live.rules.flow.transition(live.crossing.transition)

    def _paint_level(self, painter: QPainter, frame: PlanFrame, level: Level, live: Live, arrived: bool) -> None:
        c = self._look.colours
        picture = PICTURES.of(self._folder, level.plan.picture) if level.plan else None
        paint_ground(painter, c, frame, level, picture)
        for exit_ in level.exits:
            if has_area(exit_):
                colour = "sound" if _is_open(live, level, exit_) else "suspicious"
                paint_door(painter, c, frame.area(exit_.area), colour)
        for deed in level.deeds:
            paint_deed(painter, c, frame.point(deed.x, deed.y), 5)
        if arrived:
            body = live.body.box(live.rules.flow.walker)
            sign = -1 if live.y_down else 1
            corners = frame.point(body.left, sign * body.low), frame.point(body.right, sign * body.high)
            painter.setPen(QPen(c.colour("route"), 1.5))
            painter.setBrush(c.colour("route", 110))
            painter.drawRoundedRect(QRectF(*corners).normalized(), 3, 3)

    def _paint_transition(self, painter: QPainter, rect: QRectF, transition: Transition, gone: float) -> None:
        """The transition over the picture, and how much of it is over."""
        paint_passing(painter, self._look, rect, transition, gone)
        share = min(gone / transition.seconds, 1.0) if transition.seconds else 1.0
        painter.setPen(QPen(self._look.colours.colour("sound"), 3))
        foot = rect.bottomLeft() + QPointF(0, 4)
        painter.drawLine(foot, foot + QPointF(rect.width() * share, 0))


def _is_open(live: Live, level: Level, exit_: Exit) -> bool:
    """Whether an exit of the level one is in could be set off now."""
    state = live.state
    if not isinstance(state, State) or level.id != state.place:
        return False
    ready = live.rules.exit(Move("exit", level.id, exit_.id))
    return live.rules.is_open(ready, state._replace(zone=exit_.zone or state.zone))

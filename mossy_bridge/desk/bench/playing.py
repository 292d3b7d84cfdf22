"""A transition played in real time: the level left, the black, the message, the landing; with a scrubber."""

from pathlib import Path

from PyQt6.QtCore import QElapsedTimer, QRectF, QSize, Qt, QTimer
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QSlider, QVBoxLayout, QWidget

from mossy_bridge.desk.plan.painting import (
    PlanFrame,
    has_plan,
    paint_body,
    paint_door,
    paint_ground,
    paint_spawn,
)
from mossy_bridge.desk.plan.pictures import PICTURES
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model import timing
from mossy_bridge.model.flow import Exit, Flow, Level, Spawn, Transition
from mossy_bridge.plan.doors import has_area

FRAME_MS = 16
FINE = 1000
"""Parts of a second that the scrubber tells apart."""


def darkness(transition: Transition, gone: float) -> float:
    """How dark the picture is, from 0 to 1, so many seconds into a transition."""
    dark = 0.0
    for step in timing.steps_of(transition, "fade_out", "fade_in"):
        if step.at > gone:
            break
        share = min((gone - step.at) / step.lasts, 1.0) if step.lasts else 1.0
        dark = share if step.do == "fade_out" else 1.0 - share
    return dark


def paint_passing(painter: QPainter, look: Look, rect: QRectF, transition: Transition, gone: float) -> None:
    """What a transition lays over the picture, so many seconds into it: how dark it is, and what is written."""
    c = look.colours
    dark = darkness(transition, gone)
    if dark > 0:
        painter.fillRect(rect, c.colour("ink" if c.ink < c.card else "ground", round(255 * dark)))
    shown = [
        s for s in timing.steps_of(transition, "show_message", "tally", "confirm") if s.at <= gone <= timing.end_of(s)
    ]
    if shown:
        step = shown[-1]
        words = step.text or ("points are counted up" if step.do == "tally" else "press a button")
        box = QRectF(rect.left() + 12, rect.center().y() - 18, rect.width() - 24, 36)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour("card", 235))
        painter.drawRoundedRect(box, 6, 6)
        painter.setPen(c.colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


class _TransitionPicture(QWidget):
    def __init__(self, look: Look, flow: Flow, leaving: tuple[Level, Exit], landing: tuple[Level, Spawn | None] | None,
                 transition: Transition, folder: Path | None):  # fmt: skip
        super().__init__()
        self._look, self._flow, self._leaving, self._landing = look, flow, leaving, landing
        self._transition, self._folder = transition, folder
        PICTURES.arrived.connect(self.update)
        self.gone = 0.0

    def sizeHint(self) -> QSize:
        return QSize(520, 260)

    @property
    def is_over(self) -> bool:
        """Whether the new level is in place."""
        loaded = timing.loaded(self._transition)
        return self.gone >= (self._transition.seconds if loaded is None else loaded)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            room = QRectF(self.rect())
            painter.fillRect(room, c.colour("column"))
            arrived = self.is_over and self._landing is not None
            level = self._landing[0] if arrived and self._landing else self._leaving[0]
            rect = room
            if has_plan(level):
                frame = PlanFrame(level, room, self._flow.units.y == "down")
                rect = frame.rect
                picture = PICTURES.of(self._folder, level.plan.picture) if level.plan else None
                paint_ground(painter, c, frame, level, picture)
                for exit_ in level.exits:
                    if has_area(exit_):
                        paint_door(painter, c, frame.area(exit_.area), "sound", exit_ is self._leaving[1])
                if arrived and self._landing:
                    spawn = self._landing[1]
                    if spawn:
                        paint_body(painter, c, frame, spawn, self._flow)
                        paint_spawn(painter, c, frame.point(spawn.x, spawn.y), 9)
            else:
                painter.setPen(c.colour("dim"))
                painter.drawText(room, Qt.AlignmentFlag.AlignCenter, level.title)
            paint_passing(painter, self._look, rect, self._transition, self.gone)
            painter.setPen(QPen(c.colour("line"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))


class Playing(QFrame):
    """Plays a transition over and over while open. Space stops and goes on, arrows go step by step, Escape closes."""

    def __init__(self, parent: QWidget, look: Look, flow: Flow, leaving: tuple[Level, Exit],
                 landing: tuple[Level, Spawn | None] | None, transition: Transition, folder: Path | None):  # fmt: skip
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setObjectName("picker")
        self.setAccessibleName(f"{transition.name or transition.id}, played")
        self._transition = transition
        self.picture = _TransitionPicture(look, flow, leaving, landing, transition, folder)
        self.scrubber = QSlider(Qt.Orientation.Horizontal)
        self.scrubber.setAccessibleName("Moment of the transition")
        self.scrubber.setRange(0, round(transition.seconds * FINE))
        self.scrubber.setSingleStep(FINE // 20)
        self.scrubber.setPageStep(FINE // 2)
        self.button = QPushButton("Stop")
        self.told = Label()
        below = QHBoxLayout()
        below.addWidget(self.button)
        below.addWidget(self.scrubber, 1)
        below.addWidget(self.told)
        layout = QVBoxLayout(self)
        layout.addWidget(self.picture, 1)
        layout.addLayout(below)
        self._clock, self._timer = QElapsedTimer(), QTimer(self)
        self._since = 0.0
        self._timer.setInterval(FRAME_MS)
        self._timer.timeout.connect(self._on_frame)
        self.button.clicked.connect(self.toggle)
        self.scrubber.valueChanged.connect(self._show)
        self.scrubber.sliderPressed.connect(self.stop)
        self._show(0)
        self.resize(560, 340)

    @property
    def is_running(self) -> bool:
        """Whether time goes on."""
        return self._timer.isActive()

    def run(self) -> None:
        """Plays on from where it is."""
        self._since = self.scrubber.value() / FINE if self.scrubber.value() < self.scrubber.maximum() else 0.0
        self._clock.start()
        self._timer.start()
        self.button.setText("Stop")

    def stop(self) -> None:
        """Stays at the moment shown."""
        self._timer.stop()
        self.button.setText("Play")

    def toggle(self) -> None:
        """Stops, or plays on."""
        self.stop() if self.is_running else self.run()

    def _on_frame(self) -> None:
        gone = self._since + self._clock.elapsed() / 1000
        if gone > self._transition.seconds + 0.6:  # a moment to see the landing, then from the beginning
            self._since = 0.0
            self._clock.start()
            gone = 0.0
        self.scrubber.setValue(min(round(gone * FINE), self.scrubber.maximum()))

    def _show(self, value: int) -> None:
        self.picture.gone = value / FINE
        self.picture.update()
        self.told.setText(f"{value / FINE:.2f} of {self._transition.seconds:g} s")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        if event.key() == Qt.Key.Key_Space:
            self.toggle()
        elif Qt.Key(event.key()) in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.stop()
            way = 1 if event.key() == Qt.Key.Key_Right else -1
            self.scrubber.setValue(self.scrubber.value() + way * self.scrubber.singleStep())
        else:
            super().keyPressEvent(event)

"""The tape: every move of the walk in a line, those behind the present moment dimmed."""

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QScrollArea, QWidget

from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.theme import Look

LEFT, STEP, TALL = 12, 126, 54


class _MoveLine(QWidget):
    chosen = pyqtSignal(int)

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self.steps: Sequence[tuple[str, str]] = ()
        self.at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Tape of moves")
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(STEP * max(len(self.steps), 1) + 30, TALL)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        c, seen = self._look.colours, given(event).rect()
        first, last = max(0, (seen.left() - LEFT) // STEP), max(0, (seen.right() - LEFT) // STEP)
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            for place, (title, below) in enumerate(self.steps[first : last + 1], start=first):
                left = LEFT + place * STEP
                behind = place > self.at
                painter.setPen(c.colour("dim" if behind else "ink"))
                font = self._look.font(-1)
                font.setBold(place == self.at)
                painter.setFont(font)
                words = painter.fontMetrics().elidedText(title, Qt.TextElideMode.ElideRight, STEP - 14)
                painter.drawText(QRectF(left, 2, STEP - 8, 18), Qt.AlignmentFlag.AlignHCenter, words)
                plank = QPainterPath(QPointF(left + 4, 32))
                plank.quadTo(QPointF(left + STEP / 2 - 4, 22), QPointF(left + STEP - 12, 32))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                style = Qt.PenStyle.DotLine if behind else Qt.PenStyle.SolidLine
                painter.setPen(QPen(c.colour("route", 120 if behind else 255), 3, style, Qt.PenCapStyle.RoundCap))
                painter.drawPath(plank)
                if place == self.at:
                    painter.setPen(Qt.PenStyle.NoPen)
                    painter.setBrush(c.colour("route"))
                    painter.drawEllipse(QPointF(left + STEP - 10, 32), 5, 5)
                painter.setPen(c.colour("dim"))
                painter.setFont(self._look.font(-2))
                words = painter.fontMetrics().elidedText(below, Qt.TextElideMode.ElideRight, STEP - 14)
                painter.drawText(QRectF(left, 36, STEP - 8, 16), Qt.AlignmentFlag.AlignHCenter, words)
            if self.hasFocus():
                painter.setPen(QPen(c.colour("route"), 2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        self.chosen.emit(min(max(int((event.position().x() - LEFT) // STEP), 0), len(self.steps) - 1))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step and not event.modifiers():
            self.chosen.emit(min(max(self.at + step, 0), len(self.steps) - 1))
        else:
            super().keyPressEvent(event)


class Tape(QScrollArea):
    """Shows the moments of a walk. ``chosen(at)`` asks to go to one."""

    chosen = pyqtSignal(int)

    def __init__(self, look: Look):
        super().__init__()
        self.line = _MoveLine(look)
        self.line.chosen.connect(self.chosen)
        self.setWidget(self.line)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFixedHeight(TALL + 14)
        self._following = QTimer(self)
        self._following.setSingleShot(True)
        self._following.timeout.connect(lambda: self.ensureVisible(LEFT + self.line.at * STEP + STEP // 2, 0, STEP, 0))
        given(self.viewport()).setAutoFillBackground(False)
        self.line.setAutoFillBackground(False)

    def show_steps(self, steps: Sequence[tuple[str, str]], at: int) -> None:
        """Shows other moments: what each is called, and what stands below it."""
        self.line.steps, self.line.at = steps, at
        self.line.setAccessibleDescription(f"Move {at} of {len(steps) - 1}")
        self.line.resize(self.line.sizeHint())
        self._following.start()  # once the bar knows how long the line is now
        self.line.update()

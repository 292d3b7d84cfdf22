"""The deck between the banks: the transition's steps on lanes against seconds."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from mossy_bridge.desk.look import Look
from mossy_bridge.model.flow import Step, Transition

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
LABEL_W = 62


class Deck(QWidget):
    """Shows a transition. Without one, says so."""

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self._transition: Transition | None = None
        self._named = ""
        self.setAccessibleName("Transition")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(330, 160)

    def show_transition(self, transition: Transition | None, named: str) -> None:
        """Shows the steps; ``named`` is the id the exit gives, which may lead nowhere."""
        self._transition, self._named = transition, named
        seconds = f", {transition.seconds:g} seconds" if transition else ""
        self.setAccessibleDescription(f"{transition.name if transition else 'none'}{seconds}")
        self.update()

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        arch = QPainterPath(QPointF(-4, self.height() - 3))
        arch.quadTo(QPointF(self.width() / 2, self.height() - 26), QPointF(self.width() + 4, self.height() - 3))
        painter.setPen(QPen(c.colour("sound"), 3.5))
        painter.drawPath(arch)
        transition = self._transition
        if transition is None or not transition.steps:
            words = "The player is there at once: no transition."
            if self._named and transition is None:
                words = f"The transition “{self._named}” does not exist."
            painter.setPen(c.colour("dim"))
            painter.drawText(self.rect().adjusted(0, 0, 0, -30), Qt.AlignmentFlag.AlignCenter, words)
        else:
            self._paint_lanes(painter, transition)
        painter.end()

    def _paint_lanes(self, painter: QPainter, transition: Transition) -> None:
        c = self._look.colours
        lanes = [lane for lane in LANES if any(LANE_OF[step.do] == lane for step in transition.steps)]
        room = QRectF(LABEL_W + 8, 4, self.width() - LABEL_W - 22, self.height() - 50)
        tall = min(34.0, room.height() / max(len(lanes), 1))
        scale = room.width() / max(transition.seconds, 0.1)
        painter.setFont(self._look.font(-1.5))
        for row, lane in enumerate(lanes):
            y = room.top() + row * tall
            painter.setPen(c.colour("dim"))
            painter.drawText(
                QRectF(0, y, LABEL_W, tall), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, lane
            )
            painter.setPen(QPen(c.colour("line"), 1))
            painter.drawLine(QPointF(room.left(), y + tall - 1), QPointF(room.right(), y + tall - 1))
            for step in transition.steps:
                if LANE_OF[step.do] == lane:
                    self._paint_step(painter, step, room.left(), y, tall, scale)
        bottom = room.top() + len(lanes) * tall
        self._paint_seconds(painter, transition, room, bottom, scale)

    def _paint_step(self, painter: QPainter, step: Step, left: float, y: float, tall: float, scale: float) -> None:
        c = self._look.colours
        bar = QRectF(left + step.at * scale, y + 4, max(step.lasts * scale, 4), tall - 9)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(c.colour(COLOUR[LANE_OF[step.do]]))
        painter.drawRoundedRect(bar, 4, 4)
        text = f"“{step.text}”" if step.text else WORDS[step.do]
        metrics = QFontMetricsF(painter.font())
        painter.setPen(c.colour("card"))
        words = metrics.elidedText(text, Qt.TextElideMode.ElideRight, bar.width() - 8)
        painter.drawText(bar.adjusted(5, 0, -3, 0), Qt.AlignmentFlag.AlignVCenter, words)

    def _paint_seconds(
        self, painter: QPainter, transition: Transition, room: QRectF, bottom: float, scale: float
    ) -> None:
        c = self._look.colours
        painter.setPen(c.colour("dim"))
        whole = int(transition.seconds)
        stride = 1 if whole <= 8 else max(1, whole // 6)
        for second in range(0, whole + 1, stride):
            x = room.left() + second * scale
            painter.drawText(QRectF(x - 20, bottom + 1, 40, 14), Qt.AlignmentFlag.AlignCenter, f"{second} s")
        held = [step.at + step.lasts for step in transition.steps if step.do == "hold_player"]
        control = room.left() + max(held, default=0.0) * scale
        painter.setPen(QPen(c.colour("sound"), 1.4, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(control, room.top()), QPointF(control, bottom))

"""The top line: what the flow is called, and the one thing about it that matters."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from mossy_bridge.appraisal.appraise import Appraisal, Judgement
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.marks import paint_mark
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.desk.widgets.theme import Look

HEIGHT = 46
NOTICE_SHARE = 0.36
"""How much of the line a notice may take."""
PATIENCE_MS = 300
"""So long after an edit the verdict before it may stand."""


class VerdictLine(QWidget):
    """Shows the title of the flow, whether it is saved, the survey's verdict in one sentence, and at its end what the
    program itself could not do. ``notice_wanted(sentence, details)`` asks for more about that."""

    notice_wanted = pyqtSignal(str, str)

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self._title, self._file, self._sentence, self._mark = "", "", "", "unknown"
        self._old: tuple[str, str] | None = None
        """What was said before the last change, and its mark, while the survey of it goes on."""
        self.setFixedHeight(HEIGHT)
        self.setAccessibleName("Verdict")
        self._waiting = QTimer(self)
        self._waiting.setSingleShot(True)
        self._waiting.setInterval(PATIENCE_MS)
        self._waiting.timeout.connect(self._show_old)
        look.changed.connect(self.update)
        self._notices: dict[str, tuple[str, str]] = {}
        """By what they are about: sentences, and details."""
        self.notice = Link()
        self.notice.setProperty("notice", True)
        self.notice.setParent(self)
        self.notice.hide()
        self.notice.clicked.connect(self._on_notice)

    # -- what the program could not do -----------------------------------------------------------------

    def show_notice(self, about: str, sentence: str, details: str = "") -> None:
        """Says what could not be done; an earlier notice about the same is replaced."""
        self._notices.pop(about, None)
        self._notices[about] = sentence, details
        self._place_notice()

    def take_back(self, about: str) -> None:
        """What could not be done can be after all."""
        if self._notices.pop(about, None):
            self._place_notice()

    def _place_notice(self) -> None:
        shown = next(reversed(self._notices.values()), None)
        self.notice.setVisible(shown is not None)
        if shown:
            more = f"  (+{len(self._notices) - 1})" if len(self._notices) > 1 else ""
            self.notice.say(f"{shown[0]}{more}")
            width = int(min(self.notice.sizeHint().width() + 24, self.width() * NOTICE_SHARE))
            self.notice.setGeometry(self.width() - width - 14, 9, width, 27)
        self.update()

    def _on_notice(self) -> None:
        about = next(reversed(self._notices))
        sentence, details = self._notices.pop(about)
        self._place_notice()
        self.notice_wanted.emit(sentence, details)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._place_notice()

    # -- the verdict -----------------------------------------------------------------------------------

    def sizeHint(self) -> QSize:
        return QSize(600, HEIGHT)

    @property
    def sentence(self) -> str:
        """What the line says now."""
        return self._sentence

    def show_title(self, title: str, file: str) -> None:
        """Says what is open."""
        self._title, self._file = title, file
        self.update()

    def forget(self) -> None:
        """Takes back what was said of another flow."""
        self._answer("", "unknown")

    def show_busy(self) -> None:
        """Says, unless a verdict comes at once, that a survey is under way, and what was said before."""
        if self._mark == "unknown" and not self._old:
            self._say("Surveying…", "unknown")
        elif not self._old:
            self._waiting.start()

    def _show_old(self) -> None:
        if not self._old:
            self._old = self._sentence, self._mark
            self._say(f"Surveying… Before the last change: {self._sentence}", "unknown")

    def show_answer(self, answer: Judgement) -> None:
        """Says the verdict, as soon as it is known. What was suspicious stays so: not all has been checked yet."""
        before = self._old[1] if self._old else self._mark
        still = answer.mark == "sound" and before == "suspicious"
        self._answer(answer.sentence, before if still else answer.mark)

    def show_result(self, result: Appraisal) -> None:
        """Says the verdict, with what all checks have found."""
        self._answer(result.judgement.sentence, result.judgement.mark)

    def show_failure(self, sentence: str) -> None:
        """Says that the survey itself failed."""
        self._answer(sentence, "broken")

    def _answer(self, sentence: str, mark: str) -> None:
        self._waiting.stop()
        self._old = None
        self._say(sentence, mark)

    def _say(self, sentence: str, mark: str) -> None:
        self._sentence, self._mark = sentence, mark
        self.setAccessibleDescription(sentence)
        self.setAccessibleName(f"Verdict: {sentence}")  # a reader hears of a name that changes
        self.setToolTip(plain(sentence))
        self.update()

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.fillRect(self.rect(), c.colour("panel"))
            painter.setPen(c.colour("line"))
            painter.drawLine(0, HEIGHT - 1, self.width(), HEIGHT - 1)
            right = self._paint_title(painter)
            self._paint_pill(painter, right + 28)

    def _paint_title(self, painter: QPainter) -> float:
        c = self._look.colours
        painter.setPen(QPen(c.colour("sound"), 3, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        arch = QPainterPath(QPointF(16, 30))
        arch.cubicTo(QPointF(18, 13), QPointF(36, 13), QPointF(38, 30))
        painter.drawPath(arch)
        painter.drawLine(QPointF(15, 31), QPointF(39, 31))
        font = self._look.font(3, bold=True)
        painter.setFont(font)
        painter.setPen(c.colour("ink"))
        title = QFontMetricsF(font).elidedText(self._title, Qt.TextElideMode.ElideRight, self.width() * 0.25)
        painter.drawText(QPointF(48, 30), title)
        x = 48 + QFontMetricsF(font).horizontalAdvance(title) + 10
        small = self._look.font(-0.5)
        painter.setFont(small)
        painter.setPen(c.colour("dim"))
        file = QFontMetricsF(small).elidedText(self._file, Qt.TextElideMode.ElideMiddle, self.width() * 0.2)
        painter.drawText(QPointF(x, 30), file)
        return x + QFontMetricsF(small).horizontalAdvance(file)

    def _paint_pill(self, painter: QPainter, left: float) -> None:
        c = self._look.colours
        tone = {"broken": "broken", "suspicious": "suspicious", "sound": "sound", "unknown": "dim"}[self._mark]
        painter.setFont(self._look.font(0.5))
        metrics = QFontMetricsF(painter.font())
        end = self.notice.x() if self._notices else self.width()
        room = end - left - 18
        text = metrics.elidedText(self._sentence, Qt.TextElideMode.ElideRight, room - 50)
        width = min(room, metrics.horizontalAdvance(text) + 52)
        pill = QRectF(min(max(left, (self.width() - width) / 2), end - width - 12), 8, width, 29)
        painter.setPen(QPen(c.colour(tone), 1.2))
        painter.setBrush(c.colour(f"{tone}_wash" if tone != "dim" else "column"))
        painter.drawRoundedRect(pill, 14.5, 14.5)
        paint_mark(painter, c, self._mark, QPointF(pill.left() + 19, pill.center().y()), 7)
        painter.setPen(c.colour(tone if tone != "dim" else "ink"))
        painter.drawText(pill.adjusted(36, 0, -10, 0), Qt.AlignmentFlag.AlignVCenter, text)

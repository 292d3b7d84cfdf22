"""A button that looks like a link and shortens itself to the room it has, or goes on in the next line."""

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPaintEvent, QPalette, QResizeEvent
from PyQt6.QtWidgets import QPushButton, QSizePolicy, QStyle, QStyleOptionButton

from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.plain_text import plain

WRAP = Qt.TextFlag.TextWordWrap
SPARE = 10
"""Pixels a link needs beside its text."""


class Link(QPushButton):
    """Shows as much of its text as fits; all of it is in the accessible name, and in the tooltip."""

    def __init__(self, text: str = "", tip: str = ""):
        super().__init__(text)
        self._tip = tip
        self.setProperty("link", True)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.say(text)

    def say(self, text: str, tip: str | None = None) -> None:
        """Says something else; without a tip the one it has stays."""
        self.words = text
        if tip is not None:
            self._tip = tip
        self.setAccessibleName(text)
        self.setToolTip(plain(f"{text}\n{self._tip}" if self._tip else text))
        self.updateGeometry()
        self._fit()

    def sizeHint(self) -> QSize:
        width = QFontMetrics(self.font()).horizontalAdvance(self.words) + SPARE
        return QSize(width, super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:
        return QSize(40, super().minimumSizeHint().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        room = max(self.width() - SPARE + 2, 20)
        self.setText(QFontMetrics(self.font()).elidedText(self.words, Qt.TextElideMode.ElideRight, room))


class WrappedLink(Link):
    """A link that goes on in the next line where it has not enough room."""

    def __init__(self, text: str = "", tip: str = ""):
        super().__init__(text, tip)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        room = QRect(0, 0, max(20, width - SPARE), 10_000)
        return QFontMetrics(self.font()).boundingRect(room, WRAP, self.words).height() + 4

    def sizeHint(self) -> QSize:
        return QSize(super().sizeHint().width(), self.heightForWidth(self.width()))

    def minimumSizeHint(self) -> QSize:
        return QSize(40, QFontMetrics(self.font()).height() + 4)

    def _fit(self) -> None:
        self.setText(self.words)
        self.updateGeometry()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        del event
        with painting(self) as painter:
            self._paint_frame(painter)
            painter.setPen(self.palette().color(QPalette.ColorRole.Link))
            font = self.font()
            font.setUnderline(self.underMouse())
            painter.setFont(font)
            painter.drawText(self.rect().adjusted(4, 2, -4, -2), WRAP, self.words)

    def _paint_frame(self, painter: QPainter) -> None:
        """What shows that it has the keyboard."""
        option = QStyleOptionButton()
        self.initStyleOption(option)
        option.text = ""
        style = self.style()
        if style:
            style.drawControl(QStyle.ControlElement.CE_PushButton, option, painter, self)

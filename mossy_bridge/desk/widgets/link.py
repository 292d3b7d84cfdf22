"""A button that looks like a link and shortens itself to the room it has."""

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QFontMetrics, QResizeEvent
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from mossy_bridge.desk.widgets.plain_text import plain

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

    def say(self, text: str) -> None:
        """Says something else."""
        self.words = text
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

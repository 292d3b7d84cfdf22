"""A box to tick, whose text shortens itself to the room it has."""

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QFontMetrics, QResizeEvent
from PyQt6.QtWidgets import QCheckBox, QStyle

from mossy_bridge.desk.widgets.plain_text import plain

SPARE = 14
"""Pixels a tick needs beside its box and its text."""


class Tick(QCheckBox):
    """Shows as much of its text as fits; all of it is in the accessible name, and in the tooltip."""

    def __init__(self, text: str, ticked: bool):
        super().__init__(text)
        self._words = text
        self.setChecked(ticked)
        self.setAccessibleName(text)
        self.setToolTip(plain(text))

    def minimumSizeHint(self) -> QSize:
        return QSize(60, super().minimumSizeHint().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        style = self.style()
        box = style.pixelMetric(QStyle.PixelMetric.PM_IndicatorWidth, None, self) if style else 0
        room = max(self.width() - box - SPARE, 20)
        self.setText(QFontMetrics(self.font()).elidedText(self._words, Qt.TextElideMode.ElideRight, room))

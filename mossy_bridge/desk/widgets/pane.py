"""A part of the window that lays itself out without its neighbours."""

from PyQt6.QtCore import QEvent, QSize
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QWidget


class Pane(QWidget):
    """Holds one widget as large as itself. What changes within is laid out within: Qt would ask every widget of the
    window how much room it needs. Others are told only when the least room that it needs has changed."""

    def __init__(self, held: QWidget):
        super().__init__()
        self._held = held
        held.setParent(self)
        self.setSizePolicy(held.sizePolicy())
        self._least = QSize()

    def sizeHint(self) -> QSize:
        return self._held.sizeHint()

    def minimumSizeHint(self) -> QSize:
        if not self._least.isValid():
            self._least = self._needed()
        return self._least

    def _needed(self) -> QSize:
        return self._held.minimumSizeHint().expandedTo(self._held.minimumSize())

    def event(self, event: QEvent | None) -> bool:
        if event and event.type() == QEvent.Type.LayoutRequest and (least := self._needed()) != self._least:
            self._least = least
            self.updateGeometry()
        return super().event(event)

    def resizeEvent(self, _event: QResizeEvent | None) -> None:
        self._held.setGeometry(self.rect())

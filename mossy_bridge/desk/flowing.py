"""A layout that sets widgets side by side like words, and goes on in the next line."""

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget


class FlowingLayout(QLayout):
    """Words in lines. A widget with the property ``closes`` stands close behind the one before it."""

    def __init__(self, parent: QWidget | None = None, gap: int = 5, line_gap: int = 6):
        super().__init__(parent)
        self._gap, self._line_gap = gap, line_gap
        self._held: list[QLayoutItem] = []

    def addItem(self, item: QLayoutItem | None) -> None:
        self._held.append(item)

    def count(self) -> int:
        return len(self._held)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._held[index] if 0 <= index < len(self._held) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._held.pop(index) if 0 <= index < len(self._held) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._arrange(QRect(0, 0, width, 0), move=False)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._arrange(rect, move=True)

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        return QSize(60, max((item.sizeHint().height() for item in self._held), default=0))

    def _arrange(self, rect: QRect, move: bool) -> int:
        x, y, tall = rect.x(), rect.y(), 0
        for item in self._held:
            size = item.sizeHint()
            if x > rect.x() and item.widget() and item.widget().property("closes"):
                x -= self._gap - 1  # a comma or semicolon stands close behind the word before it
            if x > rect.x() and x + size.width() > rect.right():
                x, y, tall = rect.x(), y + tall + self._line_gap, 0
            if move:
                width = min(size.width(), max(rect.width(), 40))
                item.setGeometry(QRect(QPoint(x, y), QSize(width, size.height())))
            x += size.width() + self._gap
            tall = max(tall, size.height())
        return y + tall - rect.y()

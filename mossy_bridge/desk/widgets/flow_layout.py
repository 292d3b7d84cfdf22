"""A layout that sets widgets side by side like words, and goes on in the next line."""

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget

from mossy_bridge.desk.widgets.given import given

MARK_ROOM = 6
"""Pixels kept at the end of a line for a mark that closes it."""


class FlowingLayout(QLayout):
    """Words in lines. A widget with the property ``closes`` stands close behind the one before it."""

    def __init__(self, parent: QWidget | None = None, gap: int = 5, line_gap: int = 6):
        super().__init__(parent)
        self._gap, self._line_gap = gap, line_gap
        self._held: list[QLayoutItem] = []
        self._heights: dict[int, int] = {}
        """Heights found so far, by width: layouts around this one ask for them again and again."""

    def addItem(self, item: QLayoutItem | None) -> None:
        self._held.append(given(item))
        self._heights.clear()

    def invalidate(self) -> None:
        self._heights.clear()
        super().invalidate()

    def count(self) -> int:
        return len(self._held)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._held[index] if 0 <= index < len(self._held) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        self._heights.clear()
        return self._held.pop(index) if 0 <= index < len(self._held) else None

    def drop_from(self, index: int) -> None:
        """Lets go of the widgets from one on, silenced: one with the focus would tell of its text when hidden."""
        for widget in [item.widget() for item in self._held[index:]]:
            self.removeWidget(widget)
            given(widget).blockSignals(True)
            given(widget).hide()
            given(widget).deleteLater()

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        if width not in self._heights:
            self._heights[width] = self._arrange(QRect(0, 0, width, 0), move=False)
        return self._heights[width]

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._arrange(rect, move=True)

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        return QSize(60, max((item.sizeHint().height() for item in self._held), default=0))

    def _arrange(self, rect: QRect, move: bool) -> int:
        x, y, tall = rect.x(), rect.y(), 0
        line: list[tuple[QLayoutItem, QRect]] = []
        for item in self._held:
            size = item.sizeHint()
            closes = bool(item.widget() and given(item.widget()).property("closes"))
            if x > rect.x() and closes:
                x -= self._gap - 1  # a comma or semicolon stands close behind the word before it
            if x > rect.x() and not closes and x + size.width() > rect.right() - MARK_ROOM:
                _set(line, tall, move)
                x, y, tall, line = rect.x(), y + tall + self._line_gap, 0, []
            width = min(size.width(), max(rect.width(), 40))
            line.append((item, QRect(QPoint(x, y), QSize(width, size.height()))))
            x += size.width() + self._gap
            tall = max(tall, size.height())
        _set(line, tall, move)
        return y + tall - rect.y()


def _set(line: list[tuple[QLayoutItem, QRect]], tall: int, move: bool) -> None:
    """Sets the words of a line on one middle line."""
    for item, place in line if move else ():
        item.setGeometry(place.translated(0, (tall - place.height()) // 2))

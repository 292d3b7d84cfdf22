"""A page that scrolls once there is too little room for it."""

from PyQt6.QtCore import QEvent, QObject, QRect, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFrame, QScrollArea, QWidget

from mossy_bridge.desk.widgets.given import given


class Scrolled(QScrollArea):
    """Shows a page with a layout as wide as itself, and as high as there is room or as the page needs at that width,
    whichever is more. Qt's own way asks for the height that a page would like best, and scrolls too soon."""

    def __init__(self, page: QWidget):
        super().__init__()
        self._page = page
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setWidget(page)
        page.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if watched is self._page and event and event.type() == QEvent.Type.LayoutRequest:
            self._fit()
        return super().eventFilter(watched, event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        room = self.maximumViewportSize()
        if self._needs(room.width()) > room.height():
            room.setWidth(room.width() - given(self.verticalScrollBar()).sizeHint().width())
            room.setHeight(max(room.height(), self._needs(room.width())))
        self._page.resize(room)

    def _needs(self, width: int) -> int:
        """The least height of the page at a width."""
        layout = given(self._page.layout())
        return layout.minimumHeightForWidth(width) if layout.hasHeightForWidth() else layout.minimumSize().height()

    def show_child(self, child: QWidget) -> None:
        """Scrolls until a widget of the page is in view, whole if it can be."""
        corner = child.mapTo(self._page, child.rect().topLeft())
        place = QRect(corner, child.size())
        self.ensureVisible(place.right(), place.bottom(), 0, MARGIN)
        self.ensureVisible(place.left(), place.top(), 0, MARGIN)


MARGIN = 8
"""Pixels that stay free above and below a widget that is scrolled into view."""

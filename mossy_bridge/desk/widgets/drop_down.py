"""A box to choose from, with a sign that it opens."""

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPaintEvent, QPalette, QPen, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QComboBox

from mossy_bridge.desk.shell.faults import painting

FROM_EDGE = 13
"""Pixels from the right edge to the middle of the sign."""


class DropDown(QComboBox):
    """The style sheet takes the arrow away with the frame; this draws one in the theme's ink. The wheel changes it only
    while it has the keyboard, so that nothing is changed by scrolling past."""

    def setAccessibleName(self, name: str | None) -> None:
        """Qt tells readers what is chosen by the name, and the name by a label beside it, which there may not be."""
        super().setAccessibleName(name)
        self.setAccessibleDescription(name)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if self.hasFocus():
            super().wheelEvent(event)
        elif event is not None:
            event.ignore()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        with painting(self) as painter:
            group = QPalette.ColorGroup.Active if self.isEnabled() else QPalette.ColorGroup.Disabled
            painter.setPen(QPen(self.palette().color(group, QPalette.ColorRole.PlaceholderText), 1.6))
            middle = QPointF(self.width() - FROM_EDGE, self.height() / 2)
            corners = (QPointF(-4, -2), QPointF(0, 2), QPointF(4, -2))
            painter.drawPolyline(QPolygonF([middle + corner for corner in corners]))

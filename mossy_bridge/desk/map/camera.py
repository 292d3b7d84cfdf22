"""The camera over the map: which part of it is in view, and how large. No widget, no painting."""

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize

CLOSEST, FARTHEST = 2.5, 0.004
READABLE = 0.7
"""The smallest zoom at which titles on cards are read without effort."""
BEYOND = 200
"""How far the middle of the view may leave what there is, in map units."""


class Camera:
    """Zoom and centre. ``size`` tells the size of the view in pixels; ``before_zoom`` is called before the zoom becomes
    another one."""

    def __init__(self, size: Callable[[], QSize], before_zoom: Callable[[], None]):
        self._size, self._before_zoom = size, before_zoom
        self.scale, self.centre = 1.0, QPointF(0, 0)

    def area(self) -> QRectF:
        """What is in view, in map units."""
        size = self._size()
        width, height = size.width() / self.scale, size.height() / self.scale
        return QRectF(self.centre.x() - width / 2, self.centre.y() - height / 2, width, height)

    def pixel_of(self, point: QPointF) -> QPoint:
        """Where a point of the map is on the view."""
        size = self._size()
        x, y = (point.x() - self.centre.x()) * self.scale, (point.y() - self.centre.y()) * self.scale
        return QPointF(x + size.width() / 2, y + size.height() / 2).toPoint()

    def point_at(self, pixel: QPointF) -> QPointF:
        """The point of the map under a pixel."""
        return self.area().topLeft() + pixel / self.scale

    def centre_on(self, point: QPointF, bounds: QRectF) -> None:
        """Brings a point into the middle, without leaving the bounds of the map."""
        if bounds.isValid():
            point = QPointF(max(bounds.left() - BEYOND, min(point.x(), bounds.right() + BEYOND)),
                            max(bounds.top() - BEYOND, min(point.y(), bounds.bottom() + BEYOND)))  # fmt: skip
        # Whole pixels, so that pieces painted once can be moved without being blurred.
        moved = (point - self.centre) * self.scale
        if self.area().isValid():
            self.centre += QPointF(round(moved.x()), round(moved.y())) / self.scale
        else:
            self.centre = point

    def set_scale(self, scale: float) -> None:
        """Takes another zoom, within limits."""
        scale = max(FARTHEST, min(scale, CLOSEST))
        if scale != self.scale:
            self._before_zoom()
            self.scale = scale

    def zoom(self, factor: float, at: QPointF) -> None:
        """Comes closer (above 1) or goes further away; what is under the pixel ``at`` stays there."""
        held = self.point_at(at)
        self.set_scale(self.scale * factor)
        self.centre += held - self.point_at(at)

    def fit(self, bounds: QRectF) -> None:
        """Shows all of the bounds."""
        bounds, size = bounds.adjusted(-10, -8, 10, 8), self._size()
        self.set_scale(min(1.15, size.width() / bounds.width(), size.height() / bounds.height()))
        self.centre = bounds.center()

    def show_beginning(self, bounds: QRectF) -> None:
        """Shows as much from the left on as can be read."""
        self.set_scale(READABLE)
        self.centre = QPointF(bounds.left() + self._size().width() / READABLE / 2 - 10, bounds.center().y())

    def towards(self, rect: QRectF) -> QPointF:
        """The centre nearest to the present one with which a rectangle is in view."""
        area, point = self.area(), QPointF(self.centre)
        if rect.width() > area.width() or rect.height() > area.height():
            return rect.center()
        margin = min(60.0, area.width() / 6, area.height() / 6)
        point.setX(point.x() + min(0.0, rect.left() - margin - area.left())
                   + max(0.0, rect.right() + margin - area.right()))  # fmt: skip
        point.setY(point.y() + min(0.0, rect.top() - margin - area.top())
                   + max(0.0, rect.bottom() + margin - area.bottom()))  # fmt: skip
        return point

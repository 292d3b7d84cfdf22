"""The order in which Tab goes through the window: band by band, each as it is read.

Sentences make their blanks anew all the time, so that the order in which widgets were made says nothing."""

from collections.abc import Sequence

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QScrollArea, QWidget

from mossy_bridge.desk.widgets.scrolled import Scrolled


def move_focus(bands: Sequence[QWidget], forwards: bool) -> bool:
    """Gives the keyboard to the next widget, or the one before; whether there was one."""
    order = [widget for band in bands for widget in _in_reading_order(band)]
    if not order:
        return False
    focused = QApplication.focusWidget()
    at = order.index(focused) if focused in order else (-1 if forwards else 0)
    reason = Qt.FocusReason.TabFocusReason if forwards else Qt.FocusReason.BacktabFocusReason
    target = order[(at + (1 if forwards else -1)) % len(order)]
    target.setFocus(reason)
    _show(target)
    return True


def _show(widget: QWidget) -> None:
    """Scrolls what a widget stands on until it is in view."""
    holder = widget.parentWidget()
    while holder:
        if isinstance(holder, Scrolled):
            holder.show_child(widget)
        elif isinstance(holder, QScrollArea):
            holder.ensureWidgetVisible(widget)
        holder = holder.parentWidget()


def _in_reading_order(band: QWidget) -> list[QWidget]:
    """The widgets of a band that take the keyboard, from the top line to the last."""
    found = [band, *band.findChildren(QWidget)]
    taking = [widget for widget in found if _takes_keys(widget)]
    return sorted(taking, key=lambda widget: _place(widget, band))


def _takes_keys(widget: QWidget) -> bool:
    if not widget.focusPolicy().value & Qt.FocusPolicy.TabFocus.value:  # as of most
        return False
    return widget.isVisible() and widget.isEnabled() and widget.focusProxy() is None


def _place(widget: QWidget, band: QWidget) -> tuple[int, int]:
    corner = widget.mapTo(band, QPoint(0, 0)) if widget is not band else QPoint(0, 0)
    return corner.y() // LINE, corner.x()


LINE = 12
"""Pixels that widgets of one line may stand higher or lower than one another."""

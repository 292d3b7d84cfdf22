"""Words on screen: what users have written is shown as it is, and never taken for markup.

Qt guesses whether a text is markup, and then loads the pictures it names. So labels are made here, tool tips pass
through here, and nothing else of Qt's that guesses is used; a test holds that.
"""

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QLabel, QToolTip, QWidget


class Label(QLabel):
    """A label of plain words."""

    def __init__(self, text: str = ""):
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class MarkedLabel(QLabel):
    """A label with markup of the program's own. What users have written is to be escaped before it gets in."""

    def __init__(self, text: str = ""):
        super().__init__()
        self.setTextFormat(Qt.TextFormat.RichText)
        self.setText(text)


def show_tip(at: QPoint, text: str, widget: QWidget) -> None:
    """Shows a tool tip of plain words; none where there are none."""
    QToolTip.showText(at, Qt.convertFromPlainText(text) if text else "", widget)


class PlainTips(QObject):
    """Shows every tool tip of the application as plain words. Install it as an event filter of the application."""

    def eventFilter(self, target: QObject | None, event: QEvent | None) -> bool:
        if event is None or event.type() != QEvent.Type.ToolTip or not isinstance(event, QHelpEvent):
            return False
        view = target.parent() if isinstance(target, QWidget) else None
        if isinstance(view, QAbstractItemView) and target is view.viewport():
            text = _item_tip(view, event.pos())
        else:
            text = target.toolTip() if isinstance(target, QWidget) else ""
        if not text or not isinstance(target, QWidget):
            return False
        show_tip(event.globalPos(), text, target)
        return True


def _item_tip(view: QAbstractItemView, at: QPoint) -> str:
    role, model = Qt.ItemDataRole.ToolTipRole, view.model()
    if model is None:
        return ""
    if isinstance(view, QHeaderView):
        section = view.logicalIndexAt(at)
        return str(model.headerData(section, view.orientation(), role) or "") if section >= 0 else ""
    return str(model.data(view.indexAt(at), role) or "")

"""A titled list of lines, some of which can be clicked."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QScrollArea, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.elided_checkbox import Tick
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import WrappedLink
from mossy_bridge.desk.widgets.plain_text import Label

MOST_LINES = 200
INDENT = 4
"""Pixels before the text of a line that is no link, as a link has them."""


@dataclass(frozen=True)
class Line:
    """One line: what it says, what a click does, and for a line that can be ticked whether it is."""

    text: str
    action: Callable[[], object] | None = None
    ticked: bool | None = None
    heading: bool = False
    quiet: bool = False


class LineColumn(QScrollArea):
    """Lines below a title."""

    def __init__(self, title: str):
        super().__init__()
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(title)
        self._shown: object = None
        self._widgets: list[QWidget] = []
        self._last: QWidget | None = None
        body = QWidget()
        self._rows = QVBoxLayout(body)
        self._rows.setContentsMargins(0, 0, 4, 0)
        self._rows.setSpacing(3)
        if title:
            self._rows.addWidget(_heading(title))
        self._first = self._rows.count()
        self._rows.addStretch(1)
        self.setWidget(body)
        given(self.viewport()).setAutoFillBackground(False)
        body.setAutoFillBackground(False)  # adopting it, the scroll area has turned it on
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def show_lines(self, lines: Sequence[Line], last: QWidget | None = None) -> None:
        """Shows other lines, and behind them a widget, which stays the same one."""
        told = [(line.text, line.ticked, line.heading) for line in lines]
        at = given(self.verticalScrollBar()).value() if told == self._shown else 0
        self._shown = told
        for widget in self._widgets:
            self._rows.removeWidget(widget)
            widget.hide()
            widget.deleteLater()
        self._widgets = [_widget(line) for line in lines[:MOST_LINES]] or [Label("none")]
        if len(lines) > MOST_LINES:
            self._widgets.append(_widget(Line(f"and {len(lines) - MOST_LINES:,} more: Ctrl+F finds each by name")))
        for place, widget in enumerate(self._widgets, self._first):
            self._rows.insertWidget(place, widget)
            widget.show()
        if last and last is not self._last:
            self._last = last
            self._rows.insertWidget(self._first + len(self._widgets), last)
            last.show()
        given(self.verticalScrollBar()).setValue(at)


def _heading(text: str) -> Label:
    label = Label(text)
    font = label.font()
    font.setBold(True)
    label.setFont(font)
    return label


def _plainly(action: Callable[[], object] | None) -> Callable[[bool], object]:
    """The action without what Qt says of a click: whether the button is checked, which would take the place of the
    action's own first argument."""
    return lambda _: action() if action else None


def _widget(line: Line) -> QWidget:
    if line.heading:
        return _heading(line.text)
    if line.ticked is not None:
        box = Tick(line.text, line.ticked)
        box.clicked.connect(_plainly(line.action))
        return box
    if line.action is not None:
        link = WrappedLink(line.text)
        link.clicked.connect(_plainly(line.action))
        return link
    label = Label(line.text)
    label.setWordWrap(True)
    label.setIndent(INDENT)
    label.setEnabled(not line.quiet)
    return label

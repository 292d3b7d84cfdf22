"""A titled list of lines, some of which can be clicked."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton, QScrollArea, QVBoxLayout, QWidget

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

    @property
    def look(self) -> tuple[object, ...]:
        """All of it that can be seen, but for a tick."""
        return self.text, self.action is not None, self.ticked is not None, self.heading, self.quiet


class LineColumn(QScrollArea):
    """Lines below a title."""

    def __init__(self, title: str):
        super().__init__()
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(title)
        self._lines: list[Line] = []
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
        """Shows other lines, and behind them a widget, which stays the same one. Lines that look as they did keep their
        widgets, and with them the keyboard."""
        shown = list(lines[:MOST_LINES]) or [Line("none")]
        if len(lines) > MOST_LINES:
            shown.append(Line(f"and {len(lines) - MOST_LINES:,} more: Ctrl+F finds each by name"))
        bar, before = given(self.verticalScrollBar()), self._lines
        at = bar.value() if [line.look for line in shown] == [line.look for line in before] else 0
        self._lines = shown
        for place, line in enumerate(shown):
            if place >= len(before) or line.look != before[place].look:
                self._put(place, line)
            elif isinstance(widget := self._widgets[place], Tick):
                widget.setChecked(bool(line.ticked))  # a click may have been in vain
        for widget in self._widgets[len(shown) :]:
            self._take(widget)
        del self._widgets[len(shown) :]
        if last and last is not self._last:
            self._last = last
            self._rows.insertWidget(self._first + len(self._widgets), last)
            last.show()
        bar.setValue(at)

    def _put(self, place: int, line: Line) -> None:
        """Shows a line at a place, instead of what is there."""
        widget = _widget(line)
        if isinstance(widget, QAbstractButton):
            widget.clicked.connect(lambda _: self._act(place))
        if place < len(self._widgets):
            self._take(self._widgets[place])
        self._widgets[place : place + 1] = [widget]
        self._rows.insertWidget(self._first + place, widget)
        widget.show()

    def _take(self, widget: QWidget) -> None:
        self._rows.removeWidget(widget)
        widget.hide()
        widget.deleteLater()

    def _act(self, place: int) -> None:
        """Does what a click on a line does; what Qt says of the click is no argument of the action's."""
        action = self._lines[place].action
        if action:
            action()


def _heading(text: str) -> Label:
    label = Label(text)
    font = label.font()
    font.setBold(True)
    label.setFont(font)
    return label


def _widget(line: Line) -> QWidget:
    if line.heading:
        return _heading(line.text)
    if line.ticked is not None:
        return Tick(line.text, line.ticked)
    if line.action is not None:
        return WrappedLink(line.text)
    label = Label(line.text)
    label.setWordWrap(True)
    label.setIndent(INDENT)
    label.setEnabled(not line.quiet)
    return label

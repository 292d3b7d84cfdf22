"""How the bands of the window stand: one below the other, and beside the survey column."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QSplitter, QStackedWidget, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.plain_text import plain


class Middle(QStackedWidget):
    """Between strip and survey column: the faces above the bench, or a plan in full."""

    def __init__(self, faces: QWidget, bench: QWidget, walk: QWidget, plan: QWidget):
        super().__init__()
        self._plan = plan
        self._below = QStackedWidget()
        self._below.addWidget(bench)
        self._below.addWidget(walk)
        halves = _splitter(Qt.Orientation.Vertical, (faces, self._below), (350, 310))
        halves.setStretchFactor(0, 3)
        halves.setStretchFactor(1, 2)
        self.addWidget(halves)
        self.addWidget(plan)

    @property
    def is_plan_open(self) -> bool:
        """Whether the plan fills the middle."""
        return self.currentWidget() is self._plan

    def open_plan(self) -> None:
        """Lets the plan fill the middle."""
        self.setCurrentWidget(self._plan)

    def close_plan(self) -> None:
        """Shows faces and bench."""
        self.setCurrentIndex(0)

    def show_walk(self, on: bool) -> None:
        """Shows the trial walk instead of the bench, or the bench again."""
        self._below.setCurrentIndex(1 if on else 0)


def body_of(bands: Sequence[QWidget], middle: QWidget, survey_column: QWidget) -> QWidget:
    """Bands one below the other, and below them the middle beside the survey column."""
    across = _splitter(Qt.Orientation.Horizontal, (middle, survey_column), (980, 300))
    across.setStretchFactor(0, 1)
    body = QWidget()
    layout = QVBoxLayout(body)
    layout.setContentsMargins(0, 0, 0, 0)
    layout.setSpacing(0)
    for band in bands:
        layout.addWidget(band)
    layout.addWidget(across, 1)
    return body


def _splitter(way: Qt.Orientation, widgets: Sequence[QWidget], sizes: Sequence[int]) -> QSplitter:
    splitter = QSplitter(way)
    for widget in widgets:
        splitter.addWidget(widget)
    splitter.setSizes(list(sizes))
    splitter.setHandleWidth(1)
    splitter.setChildrenCollapsible(False)
    return splitter


class WalkButton(QPushButton):
    """Begins a trial walk, or leaves the one under way."""

    def __init__(self) -> None:
        super().__init__("Trial walk")
        self.setProperty("leading", True)
        self.setMinimumWidth(self.fontMetrics().horizontalAdvance("Stop looking") + 44)
        self.say(False)

    def say(self, under_way: bool, searching: str = "") -> None:
        """Says what a click does; ``searching`` is what is looked for before a walk can begin."""
        self.setText("Stop looking" if searching else "Leave walk" if under_way else "Trial walk")
        self.setToolTip(plain(searching or "Play the flow move by move (F6)"))

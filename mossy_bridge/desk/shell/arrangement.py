"""How the bands of the window stand: one below the other, and beside the survey column.

What holds others is put in its place before it is filled: Qt works out the styles of all that is within a widget again
whenever this is put into another one.
"""

from collections.abc import Sequence
from contextlib import suppress

from PyQt6.QtCore import QByteArray, QPoint, QRect, QSettings, QSize, Qt
from PyQt6.QtWidgets import QPushButton, QSplitter, QStackedWidget, QVBoxLayout, QWidget

from mossy_bridge.desk.survey.column import MARGIN, SurveyColumn
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.pane import Pane
from mossy_bridge.desk.widgets.plain_text import plain

ABOVE, BELOW = 372, 285
"""How high the map and the bench stand at first: the map has more than half."""
BESIDE = 300
"""How wide the survey column is at first."""
GEOMETRY, HALVES, COLUMN = "window/geometry", "window/halves", "window/column"
"""The settings that keep where the window stood and how its bands shared the room."""


class Middle(QStackedWidget):
    """Between strip and survey column: the faces above the bench, or a plan in full."""

    def __init__(self, faces: QWidget, benches: Sequence[QWidget], walk: QWidget, plan: QWidget):
        super().__init__()
        self._faces, self._benches, self._walk, self._plan = Pane(faces), benches, walk, plan
        self.halves, self._below = QSplitter(Qt.Orientation.Vertical), QStackedWidget()

    def fill(self) -> None:
        """Puts everything in its place, once this stands in the window."""
        self.addWidget(self.halves)
        _place(self.halves, (self._faces, Pane(self._below)), (ABOVE, BELOW))
        self.halves.setStretchFactor(0, 3)
        self.halves.setStretchFactor(1, 2)
        below = QWidget()
        self._below.addWidget(below)
        _stack(below, self._benches)
        self._below.addWidget(self._walk)
        self.addWidget(self._plan)

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

    def fill_with_walk(self, on: bool) -> None:
        """Lets the trial walk fill the middle, or shows the faces above it again."""
        self._faces.setVisible(not on)


class WindowBody(QWidget):
    """Bands one below the other, and below them the middle beside the survey column. It keeps where the window stands
    and how its bands share the room."""

    def __init__(
        self, bands: Sequence[QWidget], middle: Middle, outline: QWidget, survey_column: SurveyColumn, handbook: QWidget
    ):  # fmt: skip
        super().__init__()
        self._middle, self._column, self._handbook = middle, survey_column, handbook
        self._bands, self._outline = bands, outline
        self._across = QSplitter(Qt.Orientation.Horizontal)
        self._made_room = False
        """Whether the column was folded to make room for the handbook."""
        self._beside = BESIDE
        """How wide the column is when it is not folded."""

    def fill(self) -> None:
        """Puts everything in its place, once this stands in the window."""
        _stack(self, (*self._bands, self._across))
        beside = QSplitter(Qt.Orientation.Horizontal)
        _place(self._across, (beside, self._column, self._handbook), (1280 - BESIDE, BESIDE))
        self._across.setStretchFactor(0, 1)
        _place(beside, (self._outline, self._middle), (BESIDE, 1280 - 2 * BESIDE))
        beside.setStretchFactor(1, 1)
        self._middle.fill()
        self._handbook.hide()
        self._column.folded.connect(self._on_folded)

    def show_handbook(self, on: bool) -> None:
        """Shows the handbook beside the work, the survey column folded meanwhile; or puts it away."""
        if on == self._handbook.isVisibleTo(self):
            return
        if on:
            self._made_room = not self._column.is_folded
            self._column.fold(True)
        self._handbook.setVisible(on)
        first, column, beside = self._across.sizes()
        if on:
            width = self._handbook.sizeHint().width()
            self._across.setSizes([first + beside - width, column, width])
        elif self._made_room:
            self._column.fold(False)

    def _on_folded(self) -> None:
        first, last, beside = self._across.sizes()
        if self._column.is_folded:
            self._beside = max(last, BESIDE)
        width = MARGIN if self._column.is_folded else self._beside
        self._across.setSizes([first + last - width, width, beside])

    def keep(self, window: QWidget, settings: QSettings) -> None:
        """Keeps how everything stands for the next start."""
        settings.setValue(GEOMETRY, window.saveGeometry())
        settings.setValue(HALVES, self._middle.halves.saveState())
        settings.setValue(COLUMN, self._beside if self._column.is_folded else self._across.sizes()[1])

    def take_up(self, window: QWidget, settings: QSettings) -> None:
        """Stands as it was kept, or as it is best at first; never larger than the screen."""
        room = given(window.screen()).availableSize()
        window.setMinimumSize(window.minimumSize().boundedTo(room))
        geometry, halves = settings.value(GEOMETRY), settings.value(HALVES)
        if not (isinstance(geometry, QByteArray) and window.restoreGeometry(geometry)):
            window.resize(QSize(1280, 800).boundedTo(room))
        if window.width() > room.width() or window.height() > room.height():
            window.resize(window.size().boundedTo(room))
        if isinstance(halves, QByteArray):
            self._middle.halves.restoreState(halves)
        with suppress(TypeError, ValueError):  # somebody else has written there
            self._beside = max(BESIDE // 2, min(int(settings.value(COLUMN)), room.width() // 2))
        if not self._column.is_folded:
            self._across.setSizes([window.width() - self._beside, self._beside])


def fit_into_screen(window: QWidget) -> None:
    """Makes a window that stands beyond the screen, its frame and title bar included, smaller, and moves it back."""
    room, frame, inner = given(window.screen()).availableGeometry(), window.frameGeometry(), window.geometry()
    if window.isMaximized() or window.isFullScreen() or room.contains(frame):
        return
    wanted = fitted(frame, inner, room)
    window.resize(wanted.size())
    window.move(wanted.topLeft())


def fitted(frame: QRect, inner: QRect, room: QRect) -> QRect:
    """Where the frame of a window goes to lie within a room, and how large the window inside is then."""
    size = inner.size() - (frame.size() - frame.size().boundedTo(room.size()))
    outer = frame.size().boundedTo(room.size())
    left = max(room.left(), min(frame.left(), room.right() + 1 - outer.width()))
    top = max(room.top(), min(frame.top(), room.bottom() + 1 - outer.height()))
    return QRect(QPoint(left, top), size)


def _stack(holder: QWidget, widgets: Sequence[QWidget]) -> None:
    """Puts widgets one below the other, the last as high as there is room."""
    layout = QVBoxLayout(holder)
    layout.setContentsMargins(0, 0, 0, 0)
    layout.setSpacing(0)
    for widget in widgets:
        layout.addWidget(widget)
    layout.setStretchFactor(widgets[-1], 1)


def _place(splitter: QSplitter, widgets: Sequence[QWidget], sizes: Sequence[int]) -> None:
    """Puts widgets side by side, so large at first."""
    for widget in widgets:
        splitter.addWidget(widget)
    splitter.setSizes(list(sizes))
    splitter.setHandleWidth(1)
    splitter.setChildrenCollapsible(False)


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

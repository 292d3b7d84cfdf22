"""Shows one face at a time, with a bar to choose it."""

from collections.abc import Callable
from typing import cast

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.faces.empty_view import EmptyView, next_step
from mossy_bridge.desk.faces.face import Face
from mossy_bridge.desk.widgets.flow_layout import FlowingLayout
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.model.flow import Flow


def face_key(index: int) -> str:
    """The key that brings a face into view, by its number."""
    return f"Alt+{'1234567890-=PO'[index]}"


ORDER = ("Map", "Arrivals", "Boards", "Facts", "Transitions", "Playing", "Upkeep", "Game")
"""The headings on the bar: faces, and groups of faces."""


class Heading(QPushButton):
    """Stands for a group of faces, which its menu lists; tells which of them is in view, and what is new on one."""

    def __init__(self, title: str):
        super().__init__(title)
        self._title, self._notes = title, dict[str, str]()
        self._faces = QMenu(self)
        self.setMenu(self._faces)
        self.setCheckable(True)
        self.setProperty("face", True)

    def add(self, face: Face, key: str, turn: Callable[[], object]) -> None:
        """Lists one more face."""
        action = given(self._faces.addAction(f"{face.title}\t{key}"))
        action.setToolTip(plain(face.tip))
        action.triggered.connect(turn)
        titles = [given(one).text().split("\t")[0] for one in self._faces.actions()]
        self.setToolTip(plain(", ".join(titles)))

    def tell(self, face: str, note: str) -> None:
        """Says what is new on one of them; "" takes it back."""
        self._notes[face] = note
        self.show_face("")

    def show_face(self, title: str) -> None:
        """Shows which of its faces is in view, "" for none."""
        self.setChecked(bool(title))
        notes = ", ".join(filter(None, self._notes.values()))
        self.setText(f"{title or self._title}{f' · {notes}' if notes else ''}")


class Faces(QWidget):
    """A stack of faces under a bar with their names. ``turned(index)`` follows every change. Only the face in view is
    shown a flow; while the flow has nothing for it, its next step is shown instead, and ``step_wanted(action)`` asks
    for that."""

    turned = pyqtSignal(int)
    step_wanted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.faces: list[Face] = []
        self.buttons: list[QPushButton] = []
        self._headings: dict[str, Heading] = {}
        self._heading_of: list[Heading | None] = []
        """For each face the heading of its group, if it is in one."""
        self._on_bar: dict[str, QPushButton] = {}
        self._flow, self._result = Flow(), cast(Appraisal | None, None)
        self._group = QButtonGroup(self)
        self._stack = QStackedWidget()
        self._index = 0
        self.empty = EmptyView()
        self.empty.wanted.connect(self.step_wanted)
        headings = QWidget()
        headings.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self._bar = FlowingLayout(headings, gap=2, line_gap=0)
        self._bar.setContentsMargins(0, 0, 0, 0)
        self._ends = QHBoxLayout()
        self._ends.setContentsMargins(10, 2, 10, 0)
        self._ends.addWidget(headings, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(self._ends)
        layout.addWidget(self._stack, 1)
        self._stack.addWidget(self.empty)

    def add(self, face: Face, group: str = "") -> None:
        """Adds a face behind the others, on the bar by itself or in a group."""
        index = len(self.buttons)
        button = QPushButton(face.title)
        button.setCheckable(True)
        button.setProperty("face", True)
        button.setToolTip(plain(f"{face.tip} ({face_key(index)})"))
        button.setChecked(index == 0)
        button.clicked.connect(lambda: self.turn(index))
        self._group.addButton(button)
        self.faces.append(face)
        self.buttons.append(button)
        heading = self._heading(group) if group else None
        self._heading_of.append(heading)
        if heading:
            button.setParent(self)
            button.hide()
            heading.add(face, face_key(index), lambda: self.turn(index))
        else:
            self._put_on_bar(face.title, button)
        assert isinstance(face, QWidget)
        self._stack.addWidget(face)

    def _heading(self, group: str) -> Heading:
        if group not in self._headings:
            self._headings[group] = Heading(group)
            self._put_on_bar(group, self._headings[group])
        return self._headings[group]

    def _put_on_bar(self, title: str, button: QPushButton) -> None:
        """Puts a button where it stands in the order of the bar."""
        self._on_bar[title] = button
        for name in filter(self._on_bar.get, ORDER):
            self._bar.removeWidget(self._on_bar[name])
            self._bar.addWidget(self._on_bar[name])

    def add_button(self, button: QPushButton) -> None:
        """Adds a button at the end of the bar."""
        if self._ends.count() > 1:
            self._ends.addSpacing(6)
        self._ends.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)

    @property
    def index(self) -> int:
        """The number of the face in view."""
        return self._index

    def is_in_view(self, face: Face) -> bool:
        """Whether a face is in view."""
        return self.faces[self.index] is face

    def turn(self, index: int) -> None:
        """Brings another face into view."""
        self.buttons[index].setChecked(True)
        self._index = index
        for heading in self._headings.values():
            heading.show_face(self.faces[index].title if heading is self._heading_of[index] else "")
        self._show()
        self.turned.emit(index)

    def step(self, by: int) -> None:
        """Brings the next face of the bar into view, or the one before; those of a group one after the other."""
        order = sorted(range(len(self.faces)), key=lambda index: (self._place_on_bar(index), index))
        self.turn(order[(order.index(self._index) + by) % len(order)])

    def _place_on_bar(self, index: int) -> int:
        heading = self._heading_of[index]
        titles = [title for title, button in self._on_bar.items() if button is (heading or self.buttons[index])]
        return ORDER.index(titles[0]) if titles and titles[0] in ORDER else len(ORDER)

    def turn_to(self, face: Face) -> None:
        """Brings a face into view."""
        self.turn(self.faces.index(face))

    def button_of(self, face: Face) -> QPushButton:
        """What on the bar brings a face into view."""
        index = self.faces.index(face)
        return self._heading_of[index] or self.buttons[index]

    def tell(self, face: Face, note: str) -> None:
        """Says on the bar what is new on a face; "" takes it back."""
        heading = self._heading_of[self.faces.index(face)]
        if heading:
            heading.tell(face.title, note)
            shown = self.faces[self.index]
            heading.show_face(shown.title if self._heading_of[self.index] is heading else "")

    def show_flow(self, flow: Flow, result: Appraisal | None) -> None:
        """Takes another flow; the face in view shows it."""
        self._flow, self._result = flow, result
        self._show()

    def show_result(self, result: Appraisal | None) -> None:
        """Takes another appraisal; the face in view shows it, if it is one that does."""
        self._result = result
        if self.faces[self.index].follows_survey:
            self._show()

    def _show(self) -> None:
        face = self.faces[self.index]
        step = next_step(face.title, self._flow)
        if step:
            self.empty.show_step(step)
        assert isinstance(face, QWidget)
        self._stack.setCurrentWidget(self.empty if step else face)
        face.show_flow(self._flow, self._result)

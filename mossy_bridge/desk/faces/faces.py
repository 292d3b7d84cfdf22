"""Shows one face at a time, with a bar to choose it."""

from typing import cast

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.faces.face import Face
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.model.flow import Flow


def face_key(index: int) -> str:
    """The key that brings a face into view, by its number."""
    return f"Alt+{'1234567890-='[index]}"


class Faces(QWidget):
    """A stack of faces under a bar with their names. ``turned(index)`` follows every change. Only the face in view is
    shown a flow."""

    turned = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.faces: list[Face] = []
        self.buttons: list[QPushButton] = []
        self._flow, self._result = Flow(), cast(Appraisal | None, None)
        self._group = QButtonGroup(self)
        self._stack = QStackedWidget()
        self._bar = QHBoxLayout()
        self._bar.setContentsMargins(10, 2, 10, 0)
        self._bar.setSpacing(2)
        self._bar.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(self._bar)
        layout.addWidget(self._stack, 1)

    def add(self, face: Face) -> None:
        """Adds a face behind the others."""
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
        self._bar.insertWidget(index, button)
        assert isinstance(face, QWidget)
        self._stack.addWidget(face)

    def add_button(self, button: QPushButton) -> None:
        """Adds a button at the end of the bar."""
        self._bar.addWidget(button)

    @property
    def index(self) -> int:
        """The number of the face in view."""
        return self._stack.currentIndex()

    def is_in_view(self, face: Face) -> bool:
        """Whether a face is in view."""
        return self.faces[self.index] is face

    def turn(self, index: int) -> None:
        """Brings another face into view."""
        self.buttons[index].setChecked(True)
        self._stack.setCurrentIndex(index)
        self._show()
        self.turned.emit(index)

    def turn_to(self, face: Face) -> None:
        """Brings a face into view."""
        self.turn(self.faces.index(face))

    def button_of(self, face: Face) -> QPushButton:
        """The button that brings a face into view."""
        return self.buttons[self.faces.index(face)]

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
        self.faces[self.index].show_flow(self._flow, self._result)

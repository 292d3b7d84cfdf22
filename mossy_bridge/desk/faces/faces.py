"""Shows one face at a time, with a bar to choose it."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.plain_text import plain


class Faces(QWidget):
    """A stack of faces under a bar with their names. ``turned(index)`` follows every change."""

    turned = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.buttons: list[QPushButton] = []
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

    def add(self, face: QWidget, title: str, tip: str) -> None:
        """Adds a face behind the others."""
        index = len(self.buttons)
        button = QPushButton(title)
        button.setCheckable(True)
        button.setProperty("face", True)
        button.setToolTip(plain(f"{tip} (Alt+{(index + 1) % 10})"))
        button.setChecked(index == 0)
        button.clicked.connect(lambda: self.turn(index))
        self._group.addButton(button)
        self.buttons.append(button)
        self._bar.insertWidget(index, button)
        self._stack.addWidget(face)

    def add_button(self, button: QPushButton) -> None:
        """Adds a button at the end of the bar."""
        self._bar.addWidget(button)

    @property
    def index(self) -> int:
        """The number of the face shown."""
        return self._stack.currentIndex()

    def turn(self, index: int) -> None:
        """Shows another face."""
        self.buttons[index].setChecked(True)
        self._stack.setCurrentIndex(index)
        self.turned.emit(index)

"""The bench while nothing is selected: how to begin with a flow, or with what there is."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.flow_layout import FlowingLayout
from mossy_bridge.desk.widgets.plain_text import MarkedLabel

FIRST_STEPS = """<p style="font-size: 120%"><b>Begin here</b></p>
<p>Say what your game is like, and change the small sound flow that is laid; or make a flow of the level files you have.
The line at the top says at once whether every level is reached.<br>
New to all this? Seven steps on the demo show how it works, in some five minutes.</p>"""
NOTHING_CHOSEN = "Choose a level or a crossing on the map or the strip to see it here."
BEGINNING = (("new", "New flow…"), ("new_from_folder", "New flow from a folder…"), ("first_steps", "First steps"),
             ("demo", "Open the demo"))  # fmt: skip
CHOOSING = (("find", "Find a level…"),)


class EmptyBench(QWidget):
    """Says how to begin. ``wanted(action)`` asks for an action of the menus, by its name."""

    wanted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._about = MarkedLabel()
        self._about.setWordWrap(True)
        self._about.setMaximumWidth(680)
        self._beginning, self._choosing = self._row(BEGINNING), self._row(CHOOSING)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 10, 16, 10)
        layout.setSpacing(10)
        layout.addStretch(1)
        words = QHBoxLayout()
        words.addWidget(self._about, 10)
        words.addStretch(1)
        layout.addLayout(words)
        layout.addWidget(self._beginning)
        layout.addWidget(self._choosing)
        layout.addStretch(1)

    def _row(self, actions: tuple[tuple[str, str], ...]) -> QWidget:
        row = QWidget()
        line = FlowingLayout(row, gap=8, line_gap=6)
        line.setContentsMargins(0, 0, 0, 0)
        for number, (action, words) in enumerate(actions):
            button = QPushButton(words)
            button.setProperty("leading", number == 0)
            button.clicked.connect(lambda _, name=action: self.wanted.emit(name))
            line.addWidget(button)
        return row

    def show_empty(self, has_levels: bool) -> None:
        """Shows how to begin with a flow, or with the levels there are."""
        self._about.setText(NOTHING_CHOSEN if has_levels else FIRST_STEPS)
        self._beginning.setVisible(not has_levels)
        self._choosing.setVisible(has_levels)

"""The band that shows a step, below the strip."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout

from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.theme import Look


class StepBand(QFrame):
    """Says what is to be done, and what has changed once it is. ``leave`` puts it away."""

    leave = pyqtSignal()

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self._title, self._words = Label(), Label()
        self._words.setWordWrap(True)
        self._words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._words.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.show_me, self.on, self.stop = QPushButton("Sho&w me"), QPushButton("&Next"), QPushButton("Stop")
        self.on.setProperty("leading", True)
        self.show_me.setToolTip("Does this step for you")
        self.stop.setToolTip("Leaves the first steps; Help → First steps begins them again")
        self.stop.clicked.connect(self.leave)
        words = QVBoxLayout()
        words.setSpacing(2)
        words.addWidget(self._title)
        words.addWidget(self._words)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 8, 14, 8)
        row.setSpacing(8)
        row.addLayout(words, 1)
        for button in (self.show_me, self.on, self.stop):
            row.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
        self.setObjectName("steps")
        self.setAccessibleName("First steps")
        look.changed.connect(self._wear)
        self._wear()
        self.hide()

    def _wear(self) -> None:
        c = self._look.colours
        self.setStyleSheet(f"#steps {{ background: {c.route_wash}; border-bottom: 1px solid {c.line}; }}")
        self._title.setFont(self._look.font(0, bold=True))
        self._words.setMinimumHeight(2 * self._words.fontMetrics().lineSpacing())  # or the map would jump at each step

    def show_task(self, title: str, task: str) -> None:
        """Shows what to do."""
        self._say(title, task, done=False)

    def show_done(self, title: str, seen: str, on: str) -> None:
        """Shows what has changed; ``on`` is what the button that goes on says."""
        self._say(f"✓  {title}", seen, done=True)
        self.on.setText(on)

    def _say(self, title: str, words: str, done: bool) -> None:
        self._title.setText(title)
        self._words.setText(words)
        self.show_me.setVisible(not done)
        self.on.setVisible(done)
        self.setAccessibleDescription(f"{title}\n{words}")
        self.show()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        if event.key() == Qt.Key.Key_Escape:
            self.leave.emit()
        else:
            super().keyPressEvent(event)

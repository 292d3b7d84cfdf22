"""How far long work is, over the window, with a way to stop it."""

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QProgressBar, QPushButton, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.plain_text import Label

PATIENCE_MS = 300
"""Work that is done sooner shows nothing."""
WIDTH = 380


class ProgressDialog(QDialog):
    """Shows a bar that fills. ``stopped()`` says that somebody wants no more of it."""

    stopped = pyqtSignal()

    def __init__(self, parent: QWidget | None, told: str):
        super().__init__(parent)
        self.setWindowTitle(told)
        self.setWindowModality(Qt.WindowModality.WindowModal)
        self.bar = QProgressBar()
        self.bar.setAccessibleName(told)
        self.bar.setRange(0, 0)
        self.stop = QPushButton("&Stop")
        self.stop.clicked.connect(self.reject)
        self.rejected.connect(self.stopped)
        below = QHBoxLayout()
        below.addStretch(1)
        below.addWidget(self.stop)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 14, 16, 12)
        layout.setSpacing(10)
        layout.addWidget(Label(f"{told}…"))
        layout.addWidget(self.bar)
        layout.addLayout(below)
        self.setMinimumWidth(WIDTH)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.show)
        self._timer.start(PATIENCE_MS)

    def say(self, share: float) -> None:
        """Shows which share of the work is done, from 0 to 1."""
        self.bar.setRange(0, 100)
        self.bar.setValue(round(100 * share))

    def end(self) -> None:
        """The work is over."""
        self._timer.stop()
        self.blockSignals(True)
        self.hide()
        self.deleteLater()

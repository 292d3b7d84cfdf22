"""Asks which game to listen to: one that connects to a port, one that writes a log file, or the stand-in."""

from pathlib import Path

from PyQt6.QtWidgets import (
    QButtonGroup,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QGridLayout,
    QLineEdit,
    QPushButton,
    QRadioButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label

ABOUT = (
    "A game logs one event a line as JSON, by print or through a socket; the handbook tells how, For programmers. "
    "What it logs is held against the flow as it comes. Nobody but this machine itself can connect."
)
LOWEST, HIGHEST = 1024, 65535
Heard = int | Path


class ListenDialog(QDialog):
    """Asks; ``answer`` is a port or a file."""

    def __init__(self, parent: QWidget | None, port: int, stand_in: Path):
        super().__init__(parent)
        self.setWindowTitle("Listen to a game")
        self._stand_in = stand_in
        self.by_port = QRadioButton("A game that connects to &port")
        self.by_file = QRadioButton("A game that writes the log &file")
        self.by_stand_in = QRadioButton("The &stand-in, when it is played from here (F7)")
        self.port = QSpinBox()
        self.port.setRange(LOWEST, HIGHEST)
        self.port.setValue(port)
        self.port.setAccessibleName("Port")
        self.port.setGroupSeparatorShown(False)
        self.port.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.file = QLineEdit()
        self.file.setAccessibleName("Log file")
        self.file.setPlaceholderText("it need not be there yet")
        self.choose = QPushButton("&Choose…")
        group = QButtonGroup(self)
        for button in (self.by_port, self.by_file, self.by_stand_in):
            group.addButton(button)
        buttons = QDialogButtonBox.StandardButton
        self.box = QDialogButtonBox(buttons.Ok | buttons.Cancel)
        self.listen = given(self.box.button(buttons.Ok))
        self.listen.setText("&Listen")
        self._lay_out()
        self.by_port.setChecked(True)
        self.port.valueChanged.connect(lambda: self.by_port.setChecked(True))
        self.file.textEdited.connect(lambda: self.by_file.setChecked(True))
        self.file.textChanged.connect(self._say)
        self.choose.clicked.connect(self._choose)
        group.buttonToggled.connect(self._say)
        self.box.accepted.connect(self.accept)
        self.box.rejected.connect(self.reject)

    def _lay_out(self) -> None:
        about = Label(ABOUT)
        about.setWordWrap(True)
        about.setMinimumWidth(470)
        grid = QGridLayout()
        grid.setVerticalSpacing(8)
        grid.addWidget(self.by_port, 0, 0)
        grid.addWidget(self.port, 0, 1)
        grid.addWidget(self.by_file, 1, 0)
        grid.addWidget(self.file, 1, 1)
        grid.addWidget(self.choose, 1, 2)
        grid.addWidget(self.by_stand_in, 2, 0, 1, 3)
        grid.setColumnStretch(1, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 14, 16, 12)
        layout.setSpacing(12)
        layout.addWidget(about)
        layout.addLayout(grid)
        layout.addWidget(self.box)

    @property
    def answer(self) -> Heard:
        """What to listen to."""
        if self.by_stand_in.isChecked():
            return self._stand_in
        return Path(self.file.text().strip()).expanduser() if self.by_file.isChecked() else self.port.value()

    def _say(self, *_: object) -> None:
        self.listen.setEnabled(not self.by_file.isChecked() or bool(self.file.text().strip()))

    def _choose(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "The log that the game writes", self.file.text(), "All files (*)")
        if name:
            self.file.setText(name)
            self.by_file.setChecked(True)

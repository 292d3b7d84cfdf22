"""Shows what the program has noted of its own doings, to copy for a letter."""

from pathlib import Path

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QFontDatabase, QGuiApplication
from PyQt6.QtWidgets import QCheckBox, QDialog, QDialogButtonBox, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from mossy_bridge.desk.happenings.log import FILE, happenings, without_names
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label

ABOUT = ("What the program has noted lately of its own doings: what was opened and saved, how long surveys took, what "
         "went wrong and where. It stays on this computer.")  # fmt: skip


class HappeningsDialog(QDialog):
    """Shows it, the latest last."""

    def __init__(self, parent: QWidget | None, folder: Path):
        super().__init__(parent)
        self.setWindowTitle("What happened")
        self._all = happenings(folder)
        about, kept = Label(ABOUT), Label(f"Kept in {folder / FILE}")
        for label in (about, kept):
            label.setWordWrap(True)
        kept.setProperty("dim", True)
        self.text = QPlainTextEdit()
        self.text.setReadOnly(True)
        self.text.setAccessibleName("What happened, the latest last")
        self.text.setPlaceholderText("Nothing has been noted yet.")
        self.text.setFont(QFontDatabase.systemFont(QFontDatabase.SystemFont.FixedFont))
        self.text.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.names = QCheckBox("With &names from the flow, and of files")
        self.names.toggled.connect(self._show)
        self.copy = QPushButton("&Copy")
        self.copy.setProperty("leading", True)
        self.copy.clicked.connect(self._copy)
        box = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        box.addButton(self.copy, QDialogButtonBox.ButtonRole.ActionRole)
        box.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 14, 16, 12)
        layout.setSpacing(10)
        for widget in (about, self.text, self.names, kept, box):
            layout.addWidget(widget)
        self._show()

    def sizeHint(self) -> QSize:
        return super().sizeHint().expandedTo(QSize(760, 480))

    def _show(self) -> None:
        self.text.setPlainText(self._all if self.names.isChecked() else without_names(self._all))
        bar = given(self.text.verticalScrollBar())
        bar.setValue(bar.maximum())

    def _copy(self) -> None:
        given(QGuiApplication.clipboard()).setText(self.text.toPlainText())
        self.copy.setText("Copied")

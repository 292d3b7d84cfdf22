"""A new flow from a folder of level files: the naming pattern found by itself, editable, with a preview."""

from pathlib import Path

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QLineEdit, QListWidget, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.exchange.folders import code_of, files_below, matching, name_of, naming_pattern


class FolderDialog(QDialog):
    """Asks which files of a folder are levels, and what the flow is called."""

    def __init__(self, parent: QWidget | None, folder: Path):
        super().__init__(parent)
        self.setWindowTitle("New flow from a folder")
        self._files = files_below(folder)
        self.title, self.pattern = QLineEdit(folder.name.replace("_", " ").title()), QLineEdit()
        self.preview, self._count = QListWidget(), Label()
        self.preview.setWordWrap(True)
        buttons = QDialogButtonBox.StandardButton
        self._box = QDialogButtonBox(buttons.Ok | buttons.Cancel)
        given(self._box.button(buttons.Ok)).setText("Make the flow")
        layout = QVBoxLayout(self)
        for words, widget in (("What the game is called", self.title),
                              ("Which files are levels (* stands for anything)", self.pattern),
                              ("", self._count), ("", self.preview), ("", self._box)):  # fmt: skip
            if words:
                label = Label(words)
                label.setBuddy(widget)
                layout.addWidget(label)
                widget.setAccessibleName(words)
            layout.addWidget(widget)
        self.preview.setAccessibleName("The levels there would be")
        self.resize(560, 520)
        self._box.accepted.connect(self.accept)
        self._box.rejected.connect(self.reject)
        self.pattern.textChanged.connect(self._look)
        self.pattern.setText(naming_pattern(self._files))
        self._look()

    @property
    def chosen(self) -> list[str]:
        """The files that fit, in their order."""
        return matching(self._files, self.pattern.text())

    def _look(self) -> None:
        self.preview.clear()
        files = self.chosen
        for number, file in enumerate(files, 1):
            code = code_of(file) or str(number)
            self.preview.addItem(f"{code}   {name_of(file, self.pattern.text())}    {file}")
        of = f"{len(files)} levels, of {len(self._files)} files below the folder"
        self._count.setText(of if files else f"No file fits. There are {len(self._files)} below the folder.")
        given(self._box.button(QDialogButtonBox.StandardButton.Ok)).setEnabled(bool(files))

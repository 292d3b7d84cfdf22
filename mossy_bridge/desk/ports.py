"""What the window asks of the person in front of it, behind one small port, so that tests can answer."""

from pathlib import Path
from typing import Literal, Protocol

from PyQt6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QWidget

FILTER = "Flows (*.mossy);;All files (*)"


class Person(Protocol):
    """Answers questions."""

    def open_path(self, folder: Path | None) -> Path | None:
        """Which file to open, or None for none."""

    def save_path(self, suggested: Path) -> Path | None:
        """Where to save, or None for nowhere."""

    def unsaved(self, title: str) -> Literal["save", "discard", "cancel"]:
        """What to do with changes that are not saved."""

    def overwrite_changed(self, path: Path) -> bool:
        """Whether to save over a file that somebody else has changed."""

    def reason(self, message: str) -> str | None:
        """Why a finding is accepted, or None for not at all."""

    def tell(self, title: str, sentence: str) -> None:
        """Something worth stopping for: what went wrong and the way out, or help that was asked for."""


class DialogPerson:
    """Asks with dialogs over a window."""

    def __init__(self, window: QWidget):
        self._window = window

    def open_path(self, folder: Path | None) -> Path | None:
        """Asks which file to open."""
        name, _ = QFileDialog.getOpenFileName(self._window, "Open a flow", str(folder or ""), FILTER)
        return Path(name) if name else None

    def save_path(self, suggested: Path) -> Path | None:
        """Asks where to save."""
        name, _ = QFileDialog.getSaveFileName(self._window, "Save the flow", str(suggested), FILTER)
        if not name:
            return None
        path = Path(name)
        return path if path.suffix else path.with_suffix(".mossy")

    def unsaved(self, title: str) -> Literal["save", "discard", "cancel"]:
        """Asks whether to save first."""
        button = QMessageBox.StandardButton
        box = QMessageBox(self._window)
        box.setWindowTitle("Unsaved changes")
        box.setText(f"{title} has changes that are not saved.")
        box.setInformativeText("Save them first?")
        box.setStandardButtons(button.Save | button.Discard | button.Cancel)
        box.setDefaultButton(button.Save)
        answer = box.exec()
        return {button.Save.value: "save", button.Discard.value: "discard"}.get(answer, "cancel")  # type: ignore[return-value]

    def overwrite_changed(self, path: Path) -> bool:
        """Asks whether to overwrite somebody's changes."""
        button = QMessageBox.StandardButton
        box = QMessageBox(self._window)
        box.setWindowTitle("Changed on disk")
        box.setText(f"{path.name} was changed or removed by another program since it was opened.")
        box.setInformativeText("Saving replaces it; what is there now is kept beside it as a backup (~).")
        replace = box.addButton("Save over it", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton(button.Cancel)
        box.exec()
        return box.clickedButton() is replace

    def reason(self, message: str) -> str | None:
        """Asks for the reason."""
        text, given = QInputDialog.getText(
            self._window, "Accept a finding", f"{message}\n\nWhy is this as it should be?"
        )
        return text.strip() if given and text.strip() else None

    def tell(self, title: str, sentence: str) -> None:
        """Shows it."""
        QMessageBox.information(self._window, title, sentence)

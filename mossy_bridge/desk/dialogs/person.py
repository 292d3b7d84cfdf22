"""What the window asks of the person in front of it, behind one small port, so that tests can answer."""

from collections.abc import Sequence
from pathlib import Path
from typing import Literal, Protocol

from PyQt6.QtCore import Qt
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from mossy_bridge.desk.dialogs.ask import AskDialog
from mossy_bridge.desk.dialogs.earlier_versions import ChosenVersion, VersionsDialog
from mossy_bridge.desk.dialogs.listen import ListenDialog
from mossy_bridge.desk.dialogs.new_flow import NewFlowDialog
from mossy_bridge.desk.dialogs.new_from_folder import FolderDialog
from mossy_bridge.desk.dialogs.progress import ProgressDialog
from mossy_bridge.desk.happenings.dialog import HappeningsDialog
from mossy_bridge.desk.map.picture import PictureKind
from mossy_bridge.desk.plan.pictures import KINDS
from mossy_bridge.desk.pointing.workshop import ReaderWorkshop
from mossy_bridge.desk.settings.dialog import SettingsDialog
from mossy_bridge.desk.settings.preferences import Preferences
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.exchange.game.constants import Language
from mossy_bridge.exchange.tables.files import Kind
from mossy_bridge.exchange.versions import Version
from mossy_bridge.model.flow import Flow, Reader

IMPORTED = "Tables and graphs (*.csv *.tsv *.txt *.graphml);;All files (*)"
ReportKind = Literal["report as html", "report as pdf"]
ExportKind = Kind | PictureKind | Literal["table"] | ReportKind | Language
"""What a flow can be exported as; a language stands for the constants in it."""
EXPORTED: dict[str, ExportKind] = {
    "Tables as comma-separated values, a folder (*)": "csv",
    "Tables as tab-separated values, a folder (*)": "tsv",
    "GraphML (*.graphml)": "graphml",
    "DOT (*.dot)": "dot",
    "A report as a page (*.html)": "report as html",
    "A report for paper (*.pdf)": "report as pdf",
    "The map as SVG (*.svg)": "svg",
    "The map as PNG (*.png)": "png",
    "The map as PDF (*.pdf)": "pdf",
    "The table that the game reads (*.json)": "table",
    "Constants for C (*.h)": "c",
    "Constants for C# (*.cs)": "csharp",
    "Constants for Go (*.go)": "go",
    "Constants for Java (*.java)": "java",
    "Constants for JavaScript (*.mjs)": "javascript",
    "Constants for TypeScript (*.ts)": "typescript",
    "Constants for Lua (*.lua)": "lua",
    "Constants for Python (*.py)": "python",
    "Constants for Rust (*.rs)": "rust",
}
FILTER = "Flows (*.mossy);;All files (*)"


class Person(Protocol):
    """Answers questions."""

    def open_path(self, folder: Path | None) -> Path | None:
        """Which file to open, or None for none."""

    def version_path(self, which: str, folder: Path | None) -> Path | None:
        """Which file holds a version of the flow, or None."""

    def save_path(self, suggested: Path) -> Path | None:
        """Where to save, or None for nowhere."""

    def tour_path(self, suggested: Path) -> Path | None:
        """Where to write a tour, or None for nowhere."""

    def unsaved(self, title: str) -> Literal["save", "discard", "cancel"]:
        """What to do with changes that are not saved."""

    def overwrite_changed(self, path: Path) -> bool:
        """Whether to save over a file that somebody else has changed."""

    def reason(self, message: str) -> str | None:
        """Why a finding is accepted, or None for not at all."""

    def ask(self, title: str, question: str) -> str | None:
        """A name that is needed, or None for not at all."""

    def picture_path(self, folder: Path) -> Path | None:
        """Which picture to put behind a plan, or None."""

    def folder_path(self) -> Path | None:
        """Which folder holds the level files, or None."""

    def reader_path(self, folder: Path | None) -> Path | None:
        """Which file holds a reader, or None."""

    def import_path(self) -> Path | None:
        """Which tables or graph to make a flow of, or None."""

    def export_path(self, suggested: Path) -> tuple[Path, ExportKind] | None:
        """Where to write the flow, and as what; or None."""

    def log_paths(self) -> list[Path]:
        """Which play logs to read; none for not at all."""

    def heard(self, port: int, stand_in: Path) -> int | Path | None:
        """Which game to listen to: a port, or a log file; None for none. The one of the stand-in is known."""

    def printer(self) -> QPrinter | None:
        """Where to print, or None for nowhere."""

    def settings(self, preferences: Preferences) -> None:
        """Lets everything be set that can be."""

    def what_happened(self, folder: Path) -> None:
        """Shows what is noted in a folder."""

    def progress(self, told: str) -> ProgressDialog:
        """Shows how far some work is, until its end."""

    def agrees(self, title: str, told: str) -> bool:
        """Whether what is told is to be done."""

    def new_flow(self) -> Flow | None:
        """What a new flow begins with, or None for none."""

    def flow_of_folder(self, folder: Path) -> Flow | None:
        """A flow of the level files in a folder; None for not at all."""

    def reader(self, folder: Path, flow: Flow, files: Sequence[str], before: Reader | None) -> Reader | None:
        """A reader for some of the files, made anew or changed; None for not at all."""

    def recover(self, title: str, told: str) -> Literal["take", "throw", "later"]:
        """What to do with unsaved work that was found."""

    def earlier_version(self, versions: Sequence[Version], present: Flow) -> ChosenVersion | None:
        """Which earlier version to bring back or to compare with, or None."""

    def tell(self, title: str, sentence: str, details: str = "") -> None:
        """Something worth stopping for: what went wrong and the way out, or help that was asked for; and what only
        some want to know."""


class DialogPerson:
    """Asks with dialogs over a window."""

    def __init__(self, window: QWidget, look: Look):
        self._window, self._look = window, look

    def open_path(self, folder: Path | None) -> Path | None:
        """Asks which file to open."""
        name, _ = QFileDialog.getOpenFileName(self._window, "Open a flow", str(folder or ""), FILTER)
        return Path(name) if name else None

    def version_path(self, which: str, folder: Path | None) -> Path | None:
        """Asks which file."""
        name, _ = QFileDialog.getOpenFileName(self._window, which, str(folder or ""), FILTER)
        return Path(name) if name else None

    def save_path(self, suggested: Path) -> Path | None:
        """Asks where to save."""
        name, _ = QFileDialog.getSaveFileName(self._window, "Save the flow", str(suggested), FILTER)
        if not name:
            return None
        path = Path(name)
        return path if path.suffix else path.with_suffix(".mossy")

    def tour_path(self, suggested: Path) -> Path | None:
        """Asks where to write a tour."""
        kinds = "Markdown, a list to tick off (*.md);;Comma-separated values (*.csv)"
        name, kind = QFileDialog.getSaveFileName(self._window, "Write the tour", str(suggested), kinds)
        path = Path(name)
        return None if not name else path if path.suffix else path.with_suffix(".csv" if "csv" in kind else ".md")

    def unsaved(self, title: str) -> Literal["save", "discard", "cancel"]:
        """Asks whether to save first."""
        button = QMessageBox.StandardButton
        box = self._box("Unsaved changes", f"{title} has changes that are not saved.", "Save them first?")
        box.setStandardButtons(button.Save | button.Discard | button.Cancel)
        box.setDefaultButton(button.Save)
        answer = box.exec()
        if answer == button.Save:
            return "save"
        return "discard" if answer == button.Discard else "cancel"

    def overwrite_changed(self, path: Path) -> bool:
        """Asks whether to overwrite somebody's changes."""
        button = QMessageBox.StandardButton
        box = self._box(
            "Changed on disk",
            f"{path.name} was changed or removed by another program since it was opened.",
            "Saving replaces it; what is there now is kept beside it as a backup (~).",
        )
        replace = box.addButton("Save over it", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton(button.Cancel)
        box.exec()
        return box.clickedButton() is replace

    def reason(self, message: str) -> str | None:
        """Asks for the reason."""
        return self.ask("Accept a finding", f"{message}\n\nWhy is this as it should be?")

    def ask(self, title: str, question: str) -> str | None:
        """Asks for the name."""
        dialog = AskDialog(self._window, title, question)
        return dialog.answer or None if dialog.exec() == AskDialog.DialogCode.Accepted else None

    def picture_path(self, folder: Path) -> Path | None:
        """Asks which picture."""
        name, _ = QFileDialog.getOpenFileName(self._window, "A picture behind the plan", str(folder), KINDS)
        return Path(name) if name else None

    def folder_path(self) -> Path | None:
        """Asks which folder."""
        name = QFileDialog.getExistingDirectory(self._window, "The folder of the level files")
        return Path(name) if name else None

    def reader_path(self, folder: Path | None) -> Path | None:
        """Asks which file."""
        kinds = "Readers (*.json);;All files (*)"
        name, _ = QFileDialog.getOpenFileName(self._window, "Add a reader from a file", str(folder or ""), kinds)
        return Path(name) if name else None

    def import_path(self) -> Path | None:
        """Asks which file."""
        name, _ = QFileDialog.getOpenFileName(self._window, "Import tables or a graph", "", IMPORTED)
        path = Path(name)
        whole = path.stem == "exits" and (path.parent / f"levels{path.suffix}").is_file()
        return None if not name else path.parent if whole else path

    def export_path(self, suggested: Path) -> tuple[Path, ExportKind] | None:
        """Asks where, and as what."""
        name, chosen = QFileDialog.getSaveFileName(self._window, "Export", str(suggested), ";;".join(EXPORTED))
        if not name:
            return None
        kind, path = EXPORTED.get(chosen, "csv"), Path(name)
        ending = chosen.rpartition("(*")[2].removesuffix(")")
        return (path if path.suffix else path.with_suffix(ending)), kind

    def log_paths(self) -> list[Path]:
        """Asks which files."""
        kinds = "Play logs (*.jsonl *.ndjson *.log *.txt);;All files (*)"
        names, _ = QFileDialog.getOpenFileNames(self._window, "Add play logs", "", kinds)
        return [Path(name) for name in names]

    def heard(self, port: int, stand_in: Path) -> int | Path | None:
        """Asks which game."""
        dialog = ListenDialog(self._window, port, stand_in)
        return dialog.answer if dialog.exec() == ListenDialog.DialogCode.Accepted else None

    def printer(self) -> QPrinter | None:
        """Asks which printer."""
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        dialog = QPrintDialog(printer, self._window)
        return printer if dialog.exec() == QPrintDialog.DialogCode.Accepted else None

    def settings(self, preferences: Preferences) -> None:
        """In a dialog."""
        SettingsDialog(self._window, preferences).exec()

    def what_happened(self, folder: Path) -> None:
        """In a dialog."""
        HappeningsDialog(self._window, folder).exec()

    def progress(self, told: str) -> ProgressDialog:
        """Over the window, if it takes longer than a moment."""
        return ProgressDialog(self._window, told)

    def agrees(self, title: str, told: str) -> bool:
        """Asks with all that is told."""
        button = QMessageBox.StandardButton
        box = self._box(title, told, "Make a flow of it?")
        box.setStandardButtons(button.Ok | button.Cancel)
        return box.exec() == button.Ok

    def new_flow(self) -> Flow | None:
        """Asks what the game is like."""
        dialog = NewFlowDialog(self._window, self._look)
        return dialog.flow if dialog.exec() == NewFlowDialog.DialogCode.Accepted else None

    def flow_of_folder(self, folder: Path) -> Flow | None:
        """Asks with a preview."""
        dialog = FolderDialog(self._window, self._look, folder)
        return dialog.flow if dialog.exec() == FolderDialog.DialogCode.Accepted else None

    def reader(self, folder: Path, flow: Flow, files: Sequence[str], before: Reader | None) -> Reader | None:
        """Asks by a sample file to point at."""
        dialog = ReaderWorkshop(self._window, self._look, folder, flow, files, before)
        return dialog.reader if dialog.exec() == ReaderWorkshop.DialogCode.Accepted else None

    def recover(self, title: str, told: str) -> Literal["take", "throw", "later"]:
        """Asks; closing the question leaves it for the next time."""
        more = f"{told}\n\nTake it up again? The file itself stays as it is until you save."
        box = self._box("Unsaved work", f"The program ended before {title} was saved.", more)
        take = box.addButton("Take it up", QMessageBox.ButtonRole.AcceptRole)
        throw = box.addButton("Throw it away", QMessageBox.ButtonRole.DestructiveRole)
        later = box.addButton("Ask again next time", QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(take)
        box.setEscapeButton(later)
        box.exec()
        return "take" if box.clickedButton() is take else "throw" if box.clickedButton() is throw else "later"

    def earlier_version(self, versions: Sequence[Version], present: Flow) -> ChosenVersion | None:
        """Asks with a list."""
        dialog = VersionsDialog(self._window, versions, present)
        return dialog.chosen if dialog.exec() == VersionsDialog.DialogCode.Accepted else None

    def tell(self, title: str, sentence: str, details: str = "") -> None:
        """Shows it."""
        box = self._box(title, sentence)
        box.setIcon(QMessageBox.Icon.Information)
        if details:
            box.setDetailedText(details)
        box.exec()

    def _box(self, title: str, sentence: str, more: str = "") -> QMessageBox:
        """A message of plain words."""
        box = QMessageBox(self._window)
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setWindowTitle(title)
        box.setText(sentence)
        box.setInformativeText(more)
        return box

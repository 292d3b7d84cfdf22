"""A new flow from a folder of level files: which files are levels, how they are read, and what there would be."""

from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.desk.pointing.workshop import ReaderWorkshop
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.workers.background_task import BackgroundTask, Job
from mossy_bridge.exchange.folders import code_of, files_below, flow_from_folder, matching, name_of, naming_pattern
from mossy_bridge.exchange.readers.new_flow import fitting, flow_from_level_files
from mossy_bridge.exchange.readers.processes import ReadingCancelled
from mossy_bridge.level_files.contents import fits
from mossy_bridge.model.flow import Flow, Reader
from mossy_bridge.model.ids import id_from
from mossy_bridge.reach.survey.budget import Cancelled

NOT_READ = (
    "As it is, each level leads on to the next, and plans are empty. Say what is in the files, and their plans, exits "
    "and spawn points are read as they are."
)


class FolderDialog(QDialog):
    """Asks which files of a folder are levels, how they are read, and what the flow is called. ``flow`` is what came
    of it."""

    def __init__(self, parent: QWidget | None, look: Look, folder: Path):
        super().__init__(parent)
        self.setWindowTitle("New flow from a folder")
        self._look, self._folder, self._files = look, folder, files_below(folder)
        self.readers: list[Reader] = []
        self.flow: Flow | None = None
        self.title, self.pattern = QLineEdit(folder.name.replace("_", " ").title()), QLineEdit()
        self.preview, self._count = QListWidget(), Label()
        self.preview.setWordWrap(True)
        self.read = QPushButton("&Say what is in them…")
        self.read.setAutoDefault(False)
        self._told = Label(NOT_READ)
        self._told.setWordWrap(True)
        self._readers = QVBoxLayout()
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.hide()
        buttons = QDialogButtonBox.StandardButton
        self._box = QDialogButtonBox(buttons.Ok | buttons.Cancel)
        given(self._box.button(buttons.Ok)).setText("Make the flow")
        self._lay_out()
        self._task = BackgroundTask(self)
        self._task.reported.connect(self._on_progress)
        self._task.done.connect(self._on_made)
        self._box.accepted.connect(self.make)
        self._box.rejected.connect(self._on_cancel)
        self.read.clicked.connect(self.add_reader)
        self.pattern.textChanged.connect(self._look_again)
        self.pattern.setText(naming_pattern(self._files))
        self._look_again()

    def _lay_out(self) -> None:
        layout = QVBoxLayout(self)
        for words, widget in (("What the game is called", self.title),
                              ("Which files are levels (* stands for anything)", self.pattern)):  # fmt: skip
            label = Label(words)
            label.setBuddy(widget)
            self._pattern_label = label
            widget.setAccessibleName(words)
            layout.addWidget(label)
            layout.addWidget(widget)
        layout.addWidget(self._count)
        layout.addWidget(self.preview, 1)
        layout.addWidget(self._told)
        layout.addLayout(self._readers)
        row = QHBoxLayout()
        row.addWidget(self.read)
        row.addStretch(1)
        layout.addLayout(row)
        layout.addWidget(self.progress)
        layout.addWidget(self._box)
        self.preview.setAccessibleName("The levels there would be")
        self.resize(600, 600)

    @property
    def chosen(self) -> list[str]:
        """The files that are levels, in their order: with readers those that they read."""
        return fitting(self.readers, self._files) if self.readers else matching(self._files, self.pattern.text())

    def add_reader(self) -> None:
        """Makes a reader by pointing, of files that none reads yet."""
        left = [file for file in self._files if not any(fits(reader, file) for reader in self.readers)]
        first = left if self.readers else self.chosen
        dialog = ReaderWorkshop(self, self._look, self._folder, None, [*first, *(f for f in left if f not in first)])
        if dialog.exec() == ReaderWorkshop.DialogCode.Accepted:
            self.take_reader(dialog.reader)
        dialog.deleteLater()

    def take_reader(self, reader: Reader) -> None:
        """Reads files by one more reader."""
        taken = {known.id for known in self.readers}
        self.readers.append(replace(reader, id=id_from(reader.id, taken, "reader")))
        self._look_again()

    def _change_reader(self, index: int) -> None:
        dialog = ReaderWorkshop(self, self._look, self._folder, None, self._files, self.readers[index])
        if dialog.exec() == ReaderWorkshop.DialogCode.Accepted:
            self.readers[index] = dialog.reader
            self._look_again()
        dialog.deleteLater()

    def _drop_reader(self, index: int) -> None:
        del self.readers[index]
        self._look_again()

    def _look_again(self) -> None:
        self._list_readers()
        self.preview.clear()
        files = self.chosen
        pattern = naming_pattern(files) if self.readers else self.pattern.text()
        for number, file in enumerate(files, 1):
            code = code_of(file) or str(number)
            self.preview.addItem(f"{code}   {name_of(file, pattern)}    {file}")
        of = f"{len(files)} levels, of {len(self._files)} files below the folder"
        self._count.setText(of if files else f"No file fits. There are {len(self._files)} below the folder.")
        given(self._box.button(QDialogButtonBox.StandardButton.Ok)).setEnabled(bool(files))

    def _list_readers(self) -> None:
        while item := self._readers.takeAt(0):
            if widget := item.widget():
                widget.hide()
                widget.deleteLater()
        for index, reader in enumerate(self.readers):
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 0, 0, 0)
            line.addWidget(Label(f"{reader.name or reader.id}: {reader.files}, {len(reader.rules)} rules"))
            for words, run in (("Change it", self._change_reader), ("Remove it", self._drop_reader)):
                link = Link(words)
                link.clicked.connect(lambda _, run=run, index=index: run(index))
                line.addWidget(link)
            line.addStretch(1)
            self._readers.addWidget(row)
        self._told.setVisible(not self.readers)
        for widget in (self._pattern_label, self.pattern):  # the readers say which files are levels
            widget.setVisible(not self.readers)
        self.read.setText("&Say what is in other files…" if self.readers else "&Say what is in them…")

    # -- making the flow -------------------------------------------------------------------------------

    def make(self) -> None:
        """Makes the flow; reading the files can be given up."""
        self._set_making(True)
        self._task.ask(
            partial(
                _flow, self.title.text().strip(), self._folder, self.pattern.text(), self.chosen, tuple(self.readers)
            )
        )

    def _set_making(self, making: bool) -> None:
        self.progress.setVisible(making and bool(self.readers))
        for widget in (
            self.title,
            self.preview,
            self.read,
            given(self._box.button(QDialogButtonBox.StandardButton.Ok)),
        ):
            widget.setEnabled(not making)

    def _on_progress(self, told: tuple[int, int]) -> None:
        self.progress.setRange(0, told[1])
        self.progress.setValue(told[0])

    def _on_made(self, flow: Flow) -> None:
        self.flow = flow
        self.accept()

    def _on_cancel(self) -> None:
        if self._task.busy:
            self._task.cancel()
            self._set_making(False)
        else:
            self.reject()

    def done(self, result: int) -> None:
        self._task.stop()
        super().done(result)


def _flow(title: str, folder: Path, pattern: str, files: list[str], readers: tuple[Reader, ...], job: Job) -> Flow:
    if not readers:
        return flow_from_folder(title, files, pattern)
    try:
        flow, _ = flow_from_level_files(
            title, folder, files, readers, lambda done, of: job.report((done, of)), job.cancelled
        )
    except ReadingCancelled:
        raise Cancelled from None
    return flow

"""The window in which a reader is made: the sample on the left, what comes of pointing on the right."""

from collections.abc import Sequence
from pathlib import Path
from typing import Any, get_args

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QSplitter,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.desk.pointing.draft import ReaderDraft
from mossy_bridge.desk.pointing.drawing import PlanDrawing
from mossy_bridge.desk.pointing.rule_form import RuleForm
from mossy_bridge.desk.pointing.sample_tree import SampleView
from mossy_bridge.desk.pointing.word_table import WordTable
from mossy_bridge.desk.widgets.drop_down import DropDown
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.language.numbers import number_text
from mossy_bridge.level_files.pointing.sample import MOST_NODES
from mossy_bridge.level_files.pointing.telling import KIND_NAMES
from mossy_bridge.model.flow import FileForm, Flow, Reader, ThingKind
from mossy_bridge.model.ids import id_from

FORM_NAMES: dict[FileForm, str] = {"xml": "XML", "json": "JSON", "text": "plain text, line by line"}
GROWS = {"down": "y grows downwards in it", "up": "y grows upwards in it"}
ORDER: tuple[ThingKind, ...] = ("plan", "solid", "exit", "spawn", "deed")
KEYS = {"plan": "The plan’s si&ze", "solid": "&Walls", "exit": "E&xits", "spawn": "&Spawn points", "deed": "&Pick-ups"}


class ReaderWorkshop(QDialog):
    """Makes a reader, or changes one. ``reader`` is what was made. Without a flow, the files are to become one."""

    def __init__(
        self,
        parent: QWidget | None,
        look: Look,
        folder: Path,
        flow: Flow | None,
        files: Sequence[str],
        reader: Reader | None = None,
    ):
        super().__init__(parent)
        self.setWindowTitle("How level files are read")
        self.draft = ReaderDraft(folder, flow, files, reader)
        self._made, self._is_new = len(reader.rules) if reader else 0, reader is None
        self._name_edits()
        self.sample, self.drawing = SampleView(look), PlanDrawing(look)
        self.rules, self.words = RuleForm(self.draft), WordTable(self.draft)
        self.kinds = {kind: QPushButton(KEYS[kind]) for kind in ORDER}
        self.told = Label()
        self.told.setWordWrap(True)
        self.progress = QProgressBar()
        self.progress.setFixedWidth(160)
        self.progress.setTextVisible(False)
        buttons = QDialogButtonBox.StandardButton
        self.box = QDialogButtonBox(buttons.Ok | buttons.Cancel)
        given(self.box.button(buttons.Ok)).setText("Keep the reader")
        self._lay_out()
        self._connect()
        self.resize(1180, 740)
        self._show()
        self._show_progress()
        self.draft.begin()

    def _name_edits(self) -> None:
        """What the reader says beside its rules."""
        self.name, self.files, self.unit = QLineEdit(), QLineEdit(), QLineEdit()
        self.form, self.grows, self.file = DropDown(), DropDown(), DropDown()
        for form in get_args(FileForm):
            self.form.addItem(FORM_NAMES[form], form)
        for value, words in GROWS.items():
            self.grows.addItem(words, value)
        self.file.setSizeAdjustPolicy(DropDown.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.file.setMinimumContentsLength(20)
        self.unit.setFixedWidth(70)
        self.name.setMaximumWidth(220)
        for widget, words in (
            (self.name, "What the reader is called"),
            (self.files, "Which files it reads: * stands for anything within a name, ** for any folders"),
            (self.form, "What form the files have"),
            (self.unit, "How many units of the file are one of the plan"),
            (self.grows, "How y grows in the file"),
            (self.file, "The sample"),
        ):
            widget.setAccessibleName(words)
            widget.setToolTip(plain(words))

    def _lay_out(self) -> None:
        top = QVBoxLayout()
        for cells in (("&Name", self.name, "&reads the files", self.files, "which are", self.form),
                      ("Sa&mple", self.file, "in which one plan unit is", self.unit, "and", self.grows)):  # fmt: skip
            top.addLayout(_sentence(cells))
        split = QSplitter()
        split.setChildrenCollapsible(False)
        split.addWidget(self._left())
        split.addWidget(self._right())
        split.setStretchFactor(0, 1)
        split.setStretchFactor(1, 1)
        split.setSizes([560, 600])
        bottom = QHBoxLayout()
        bottom.addWidget(self.told, 1)
        bottom.addWidget(self.progress)
        bottom.addWidget(self.box)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 12, 14, 12)
        layout.setSpacing(10)
        layout.addLayout(top)
        layout.addWidget(split, 1)
        layout.addLayout(bottom)

    def _left(self) -> QWidget:
        side = QWidget()
        layout = QVBoxLayout(side)
        layout.setContentsMargins(0, 0, 6, 0)
        layout.setSpacing(6)
        self.empty = Label()
        self.empty.setWordWrap(True)
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.cut = Label(f"It is long: only the first {MOST_NODES:,} of what is in it can be pointed at.")
        self.cut.setProperty("dim", True)
        self.cut.setWordWrap(True)
        layout.addWidget(self.cut)
        layout.addWidget(self.empty, 1)
        layout.addWidget(self.sample, 1)
        row = QHBoxLayout()
        row.setSpacing(6)
        self.question = Label("What is chosen is")
        row.addWidget(self.question)
        for button in self.kinds.values():
            button.setProperty("tool", True)
            button.setAutoDefault(False)
            row.addWidget(button)
        row.addStretch(1)
        layout.addLayout(row)
        return side

    def _right(self) -> QWidget:
        self.tabs = QTabWidget()
        given(self.tabs.tabBar()).setDrawBase(False)
        self.tabs.addTab(self.rules, "Rules")
        self.tabs.addTab(self.words, "Where exits lead")
        split = QSplitter(Qt.Orientation.Vertical)
        split.setChildrenCollapsible(False)
        split.addWidget(self.drawing)
        split.addWidget(self.tabs)
        split.setSizes([200, 410])
        return split

    def _connect(self) -> None:
        self.draft.changed.connect(self._show)
        self.draft.progressed.connect(self._show_progress)
        self.draft.said.connect(self._on_said)
        self.sample.chosen_changed.connect(self._on_chosen)
        self.drawing.picked.connect(self.sample.choose)
        for kind, button in self.kinds.items():
            button.clicked.connect(lambda _, kind=kind: self.draft.point(kind, self.sample.chosen))
        self.name.editingFinished.connect(lambda: self._set(name=self.name.text().strip()))
        self.files.editingFinished.connect(lambda: self._set(files=self.files.text().strip()))
        self.unit.editingFinished.connect(self._on_unit)
        self.form.activated.connect(lambda _: self._set(form=self.form.currentData()))
        self.grows.activated.connect(lambda _: self._set(y=self.grows.currentData()))
        self.file.activated.connect(lambda _: self.draft.look_at(self.file.currentText()))
        self.box.accepted.connect(self._on_keep)
        self.box.rejected.connect(self.reject)
        QShortcut(QKeySequence(QKeySequence.StandardKey.Undo), self, self.draft.undo)
        QShortcut(QKeySequence("Ctrl+Shift+Z"), self, self.draft.redo)

    # -- showing ---------------------------------------------------------------------------------------

    def _show(self) -> None:
        draft = self.draft
        reader, sample = draft.reader, draft.sample
        self._show_names(reader)
        self.sample.show_sample(sample)
        if sample and self.sample.isHidden():
            self.sample.show()
            self.sample.setFocus()
        self.sample.setHidden(sample is None)
        self.cut.setVisible(sample is not None and sample.cut)
        self.empty.setVisible(sample is None)
        self.empty.setText(self._why_empty())
        found: dict[int, list[ThingKind]] = {}
        for thing in draft.here.things if draft.here else ():
            if thing.node >= 0 and thing.kind not in found.setdefault(thing.node, []):
                found[thing.node].append(thing.kind)
        self.sample.show_found(found)
        self.drawing.show_found(draft.found)
        newest = len(reader.rules) > self._made
        self._made = len(reader.rules)
        self.rules.show_draft(newest)
        lost = self.words.show_draft()
        self.tabs.setTabText(0, f"Rules ({len(reader.rules)})" if reader.rules else "Rules")
        self.tabs.setTabText(1, f"Where exits lead ({lost} unknown)" if lost else "Where exits lead")
        problems = draft.problems()
        keep = given(self.box.button(QDialogButtonBox.StandardButton.Ok))
        keep.setEnabled(not problems)
        keep.setToolTip(plain(problems[0] if problems else ""))
        self._on_chosen()

    def _show_names(self, reader: Reader) -> None:
        for edit, text in ((self.name, reader.name), (self.files, reader.files),
                           (self.unit, number_text(round(1 / reader.scale, 6)))):  # fmt: skip
            if not edit.hasFocus() or not edit.isModified():
                edit.setText(text)
        self.form.setCurrentIndex(self.form.findData(reader.form))
        self.grows.setCurrentIndex(self.grows.findData(reader.y))
        files = self.draft.files
        if [self.file.itemText(row) for row in range(self.file.count())] != files:
            self.file.clear()
            self.file.addItems(files)
        self.file.setCurrentIndex(self.file.findText(self.draft.file))

    def _show_progress(self) -> None:
        progress = self.draft.progress
        self.progress.setVisible(progress is not None)
        if progress:
            self.progress.setRange(0, progress[1])
            self.progress.setValue(progress[0])

    def _why_empty(self) -> str:
        if not self.draft.files:
            return f"No level file fits “{self.draft.reader.files}”. There are {len(self.draft.known_files):,}."
        here = self.draft.here
        if here and here.faults:
            return f"{self.draft.file} cannot be read: {here.faults[0].told()}."
        return "Reading…"

    def _on_said(self, words: str) -> None:
        self.told.setText(words)

    def _on_chosen(self) -> None:
        chosen = self.sample.chosen
        for kind, button in self.kinds.items():
            button.setEnabled(bool(chosen))
            tip = f"Makes a rule that finds all like it: {KIND_NAMES[kind].lower()}"
            button.setToolTip(plain(tip if chosen else "Choose something in the sample first"))
        self.question.setText("These are" if len(chosen) > 1 else "This is among the")
        self.drawing.show_chosen(frozenset(chosen))

    # -- changing --------------------------------------------------------------------------------------

    def _set(self, **values: Any) -> None:
        self.draft.set_reader(**values)

    def _on_unit(self) -> None:
        try:
            unit = float(self.unit.text().replace(",", "."))
        except ValueError:
            unit = 0.0
        if 1e-6 <= unit <= 1e6:
            self._set(scale=1 / unit)
        else:
            self._on_said(f"“{self.unit.text()}” is no number above 0; the unit stays as it was.")
            self.unit.setText(number_text(round(1 / self.draft.reader.scale, 6)))

    def _on_keep(self) -> None:
        problems = self.draft.problems()
        if problems:
            self._on_said(problems[0])
        else:
            self.accept()

    @property
    def reader(self) -> Reader:
        """What was made; a new one gets its id from its name."""
        made = self.draft.reader
        return replace(made, id=id_from(made.name or "reader", (), "reader")) if self._is_new else made

    def done(self, result: int) -> None:
        self.draft.stop()
        super().done(result)


def _sentence(cells: Sequence[str | QWidget]) -> QHBoxLayout:
    """Words with widgets between them; a word leads to the widget behind it."""
    row = QHBoxLayout()
    row.setSpacing(8)
    for cell, behind in zip(cells, (*cells[1:], ""), strict=True):
        widget = cell if isinstance(cell, QWidget) else Label(cell)
        if isinstance(widget, Label) and isinstance(behind, QWidget):
            widget.setBuddy(behind)
        row.addWidget(widget, 1 if isinstance(widget, DropDown | QLineEdit) else 0)
    return row

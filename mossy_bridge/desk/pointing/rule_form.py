"""The rules of a reader: a list of them, and what the chosen one says, to be changed by hand."""

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QMenu,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.desk.pointing.draft import ReaderDraft
from mossy_bridge.desk.widgets.drop_down import DropDown
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.level_files.pointing.telling import KIND_NAMES
from mossy_bridge.model.flow import TAKEN, Rule

FIELD_NAMES = {
    "id": "its id", "name": "its name", "x": "x", "y": "y", "width": "width", "height": "height",
    "level": "where it leads", "spawn": "the spawn point there", "trigger": "what sets it off",
    "opens": "when it opens", "faces": "which way it faces", "gains": "what it gives", "picture": "the picture behind",
}  # fmt: skip
ANCHORS = {
    "corner": "x and y are its corner",
    "centre": "x and y are its centre",
    "foot": "x and y are the middle of its lower edge",
}
PAIRS = {"x": (0, 0), "y": (0, 2), "width": (1, 0), "height": (1, 2)}
"""Where the boxes stand that have no examples beside them: line and column."""
EXAMPLES, MOST_ROWS, MOST_ASKED = 3, 6, 200
NOT_TAKEN = "not taken"


class RuleForm(QWidget):
    """Shows the rules of a draft, and changes them."""

    def __init__(self, draft: ReaderDraft):
        super().__init__()
        self._draft = draft
        self.list = QListWidget()
        self.list.setAccessibleName("Rules")
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.each = QLineEdit()
        self.each.setAccessibleName("What is one")
        self.other = QPushButton("Other ways")
        self.other.setMenu(QMenu(self.other))
        self.remove = Link("Remove the rule")
        self.trouble = Label()
        self.trouble.setProperty("wrong", True)
        self.trouble.setWordWrap(True)
        self.complete = QCheckBox("It finds every one there is: what the flow has more is an error")
        self.anchor = DropDown()
        self.anchor.setAccessibleName("What x and y are")
        for value, words in ANCHORS.items():
            self.anchor.addItem(words, value)
        self.takes: dict[str, DropDown] = {}
        self._beside: dict[str, Label] = {}
        self._grid = QGridLayout()
        self._details = QWidget()
        self._built = ("", 0)
        self._lay_out()
        self.list.currentRowChanged.connect(lambda _: self._show_rule())
        self.each.editingFinished.connect(self._on_each)
        self.remove.clicked.connect(self._on_remove)
        self.complete.clicked.connect(lambda on: self._set(complete=on))
        self.anchor.activated.connect(lambda _: self._set(anchor=self.anchor.currentData()))

    def _lay_out(self) -> None:
        first = QHBoxLayout()
        first.addWidget(Label("What is one:"))
        first.addWidget(self.each, 1)
        first.addWidget(self.other)
        last = QHBoxLayout()
        last.addWidget(self.anchor)
        last.addStretch(1)
        last.addWidget(self.remove)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(4)
        inside = QVBoxLayout(self._details)
        inside.setContentsMargins(0, 4, 6, 0)
        inside.setSpacing(6)
        inside.addLayout(first)
        inside.addWidget(self.trouble)
        inside.addLayout(self._grid)
        inside.addWidget(self.complete)
        inside.addLayout(last)
        inside.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self._details)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        given(scroll.viewport()).setAutoFillBackground(False)
        self._details.setAutoFillBackground(False)
        self.hint = Label("No rules yet. Choose something in the sample, and say below it what it is.")
        self.hint.setProperty("dim", True)
        self.hint.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 0, 0)
        layout.setSpacing(4)
        for widget in (self.hint, self.list, scroll):
            layout.addWidget(widget)
        self._scroll = scroll

    # -- showing ---------------------------------------------------------------------------------------

    def show_draft(self, newest: bool = False) -> None:
        """Shows the rules as they are now; with ``newest`` chooses the last one made."""
        rules = self._draft.reader.rules
        row = len(rules) - 1 if newest or self.list.currentRow() >= len(rules) else max(self.list.currentRow(), 0)
        self.list.blockSignals(True)
        while self.list.count() > len(rules):
            self.list.takeItem(self.list.count() - 1)
        for index, rule in enumerate(rules):
            if index == self.list.count():
                self.list.addItem("")
            given(self.list.item(index)).setText(self._told(index, rule))
        self.list.setCurrentRow(row if rules else -1)
        self.list.blockSignals(False)
        self.list.setFixedHeight(min(max(len(rules), 1), MOST_ROWS) * (self.fontMetrics().height() + 9) + 4)
        self.hint.setVisible(not rules)
        self.list.setVisible(bool(rules))
        self._scroll.setVisible(bool(rules))
        self._show_rule()

    def _told(self, index: int, rule: Rule) -> str:
        here, everywhere, files = self._draft.counts(index)
        found = f"{here:,} here, {everywhere:,} in {files:,} files"
        failing = self._draft.failing(index)
        fails = f"; fails in {len(failing):,}" if failing else "; cannot be read" if self._draft.problem(index) else ""
        return f"{KIND_NAMES[rule.makes]}: {found if everywhere else 'none found'}{fails}"

    @property
    def rule(self) -> int:
        """The rule that is shown; -1 without any."""
        return self.list.currentRow()

    def _show_rule(self) -> None:
        index, rules = self.rule, self._draft.reader.rules
        if not 0 <= index < len(rules):
            return
        rule = rules[index]
        if not self.each.hasFocus() or self.each.text() == "":
            self.each.setText(rule.each)
            self.each.setCursorPosition(0)
        problem = self._draft.problem(index)
        self.trouble.setText(problem)
        self.trouble.setVisible(bool(problem))
        self.complete.setChecked(rule.complete)
        self.complete.setVisible(rule.makes in ("exit", "spawn", "deed"))
        self.anchor.setCurrentIndex(self.anchor.findData(rule.anchor))
        sized = rule.makes != "plan" and "width" in rule.take and "height" in rule.take
        self.anchor.setVisible(sized)
        self._show_ways(index)
        self._show_takes(index, rule)

    def _show_ways(self, index: int) -> None:
        menu = given(self.other.menu())
        menu.clear()
        choices = self._draft.choices(index)
        for proposal in choices:
            count = len(proposal.finds)
            action = given(menu.addAction(f"{proposal.rule.each.replace('&', '&&')}   ({count:,} in the samples)"))
            action.triggered.connect(partial(self._draft.choose, index, proposal))
        self.other.setVisible(len(choices) > 1)

    def _show_takes(self, index: int, rule: Rule) -> None:
        """A box for each thing that can be taken, filled with what the sample has."""
        if self._built != (rule.makes, index):
            self._build(rule)
            self._built = (rule.makes, index)
        fields = self._draft.fields(index)
        for key, box in self.takes.items():
            given(box.lineEdit()).blockSignals(True)
            if [box.itemText(row) for row in range(box.count())] != ["", *fields]:
                box.clear()
                box.addItems(["", *fields])
                for row, texts in enumerate(fields.values(), 1):
                    box.setItemData(row, _examples(texts), Qt.ItemDataRole.ToolTipRole)
            if not box.hasFocus():
                box.setCurrentText(rule.take.get(key, ""))
            given(box.lineEdit()).blockSignals(False)
            told = _examples(fields.get(rule.take.get(key, ""), []))
            self._beside[key].setText(told)
            box.setToolTip(plain(told))

    def _build(self, rule: Rule) -> None:
        while item := self._grid.takeAt(0):
            if widget := item.widget():
                widget.hide()
                widget.deleteLater()
        self.takes.clear()
        self._beside.clear()
        keys = [key for key in TAKEN[rule.makes] if key not in PAIRS]
        spots = {key: (row, 0) for row, key in enumerate(keys)}
        spots |= {key: (len(keys) + row, column) for key, (row, column) in PAIRS.items()}
        for key in TAKEN[rule.makes]:
            row, first = spots[key]
            label, box, beside = Label(FIELD_NAMES[key]), DropDown(), Label()
            box.setEditable(True)
            box.setAccessibleName(FIELD_NAMES[key])
            given(box.lineEdit()).setPlaceholderText(NOT_TAKEN)
            box.setSizeAdjustPolicy(DropDown.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.setMinimumContentsLength(14)
            label.setBuddy(box)
            beside.setProperty("dim", True)
            beside.setMinimumWidth(10)
            self._grid.addWidget(label, row, first)
            self._grid.addWidget(box, row, first + 1)
            if key not in PAIRS:
                self._grid.addWidget(beside, row, 2, 1, 2)
            box.activated.connect(partial(self._on_take, key))
            given(box.lineEdit()).editingFinished.connect(partial(self._on_take, key))
            self.takes[key], self._beside[key] = box, beside
        self._grid.setColumnStretch(1, 1)
        self._grid.setColumnStretch(3, 1)

    # -- changing --------------------------------------------------------------------------------------

    def _set(self, **values: object) -> None:
        if 0 <= self.rule < len(self._draft.reader.rules):
            self._draft.set_rule(self.rule, **values)

    def _on_each(self) -> None:
        if self.each.text():
            self._set(each=self.each.text())

    def _on_take(self, key: str, _row: int = 0) -> None:
        if not 0 <= self.rule < len(self._draft.reader.rules):
            return
        rule = self._draft.reader.rules[self.rule]
        text = self.takes[key].currentText().strip()
        take = {**rule.take, key: text}
        self._set(take={one: take[one] for one in TAKEN[rule.makes] if take.get(one)})

    def _on_remove(self) -> None:
        if 0 <= self.rule < len(self._draft.reader.rules):
            self._draft.remove_rule(self.rule)


def _examples(texts: Sequence[str]) -> str:
    """Some of the values, each once."""
    distinct = list(dict.fromkeys(text for text in texts[:MOST_ASKED] if text))
    more = ", …" if len(distinct) > EXAMPLES else ""
    return ", ".join(text[:24] for text in distinct[:EXAMPLES]) + more

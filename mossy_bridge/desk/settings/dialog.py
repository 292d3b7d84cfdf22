"""The settings, each with its default beside it; what is changed takes effect at once."""

from functools import partial

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFrame,
    QGridLayout,
    QLineEdit,
    QScrollArea,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.desk.settings.preferences import PREFERENCES, Preference, Preferences, Value
from mossy_bridge.desk.widgets.drop_down import DropDown
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label

STEP = 10
"""By so much a size is stepped."""


class SettingsDialog(QDialog):
    """Shows and changes them."""

    def __init__(self, parent: QWidget | None, preferences: Preferences):
        super().__init__(parent)
        self.setWindowTitle("Settings")
        self._preferences = preferences
        self.fields: dict[str, DropDown | QSpinBox | QLineEdit] = {}
        self.backs: dict[str, Link] = {}
        self._defaults: dict[str, Label] = {}
        inside = QWidget()
        rows = QGridLayout(inside)
        rows.setContentsMargins(0, 0, 8, 0)
        rows.setHorizontalSpacing(14)
        rows.setVerticalSpacing(4)
        rows.setColumnStretch(1, 1)
        for number, one in enumerate(PREFERENCES):
            self._add_row(rows, 2 * number, one)
        rows.setRowStretch(2 * len(PREFERENCES), 1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidget(inside)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        kept = Label(f"Kept in {preferences.file}")
        kept.setProperty("dim", True)
        kept.setWordWrap(True)
        kept.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        box = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        given(box.button(QDialogButtonBox.StandardButton.Close)).setAutoDefault(False)  # Enter ends a field only
        box.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 18, 12)
        layout.setSpacing(12)
        layout.addWidget(area, 1)
        layout.addWidget(kept)
        layout.addWidget(box)
        letter = self.fontMetrics().averageCharWidth()
        self.resize(QSize(84 * letter, 76 * letter).boundedTo(given(self.screen()).availableSize() * 0.9))
        preferences.changed.connect(self._show)
        for one in PREFERENCES:
            self._show(one.key)

    def _add_row(self, rows: QGridLayout, row: int, one: Preference) -> None:
        field = self._field(one)
        field.setAccessibleName(one.title)
        field.setAccessibleDescription(one.about)
        self.fields[one.key] = field
        default = self._defaults[one.key] = Label("the default")
        default.setProperty("dim", True)
        back = self.backs[one.key] = Link(f"Back to {one.words(one.default)}")
        back.setAccessibleName(f"{one.title}: back to {one.words(one.default)}")
        back.clicked.connect(lambda: self._preferences.set(one.key, one.default))
        about = Label(one.about)
        about.setProperty("dim", True)
        about.setWordWrap(True)
        title = Label(one.title)
        title.setBuddy(field)
        rows.addWidget(title, row, 0)
        rows.addWidget(field, row, 1)
        rows.addWidget(back, row, 2)
        rows.addWidget(default, row, 2)
        rows.addWidget(about, row + 1, 1, 1, 2)

    def _field(self, one: Preference) -> DropDown | QSpinBox | QLineEdit:
        take = partial(self._take, one)
        if one.choices:
            choice = DropDown()
            for value, words in one.choices:
                choice.addItem(words, value)
            choice.activated.connect(lambda index: take(str(choice.itemData(index))))
            return choice
        if isinstance(one.default, int):
            number = QSpinBox()
            number.setRange(one.low, one.high)
            number.setSingleStep(STEP if one.unit else 1)
            number.setSuffix(f" {one.unit}" if one.unit else "")
            number.setGroupSeparatorShown(False)
            number.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
            number.setKeyboardTracking(False)
            number.valueChanged.connect(take)
            return number
        text = QLineEdit()
        text.setPlaceholderText("the desktop's own")
        text.editingFinished.connect(lambda: take(text.text().strip()))
        return text

    def _take(self, one: Preference, value: Value) -> None:
        self._preferences.set(one.key, value)

    def _show(self, key: str) -> None:
        one = next(one for one in PREFERENCES if one.key == key)
        field, value = self.fields[key], self._preferences.value(key)
        field.blockSignals(True)
        if isinstance(field, DropDown):
            field.setCurrentIndex(field.findData(value))
        elif isinstance(field, QSpinBox):
            field.setValue(int(value))
        else:
            field.setText(str(value))
        field.blockSignals(False)
        self.backs[key].setVisible(value != one.default)
        self._defaults[key].setVisible(value == one.default)

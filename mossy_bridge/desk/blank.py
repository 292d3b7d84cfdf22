"""A blank in a sentence: a button that opens a picker with only what exists."""

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget


@dataclass(frozen=True)
class Choice:
    """Something a blank can be filled with: its id, and what it is called."""

    id: str
    text: str


class Picker(QFrame):
    """A pop-up list that narrows while one types. ``picked`` brings the id."""

    picked = pyqtSignal(str)

    def __init__(self, parent: QWidget, choices: Sequence[Choice], present: str):
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setObjectName("picker")
        self._choices = choices
        self._search = QLineEdit()
        self._search.setPlaceholderText("Type to find")
        self._search.setAccessibleName("Find")
        self._list = QListWidget()
        self._list.setAccessibleName("Choices")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 6, 6, 6)
        layout.setSpacing(4)
        layout.addWidget(self._search)
        layout.addWidget(self._list)
        self._search.textChanged.connect(self._narrow)
        self._list.itemClicked.connect(self._on_clicked)
        self._search.installEventFilter(self)
        self._present = present
        self._narrow("")
        self.resize(270, min(340, 66 + 28 * max(1, len(choices))))

    def open_at(self, corner: QPoint) -> None:
        """Shows the list below the point, inside the screen."""
        room = self.screen().availableGeometry()
        corner.setX(min(corner.x(), room.right() - self.width()))
        if corner.y() + self.height() > room.bottom():
            corner.setY(max(room.top(), corner.y() - self.height() - 30))
        self.move(corner)
        self.show()
        self._search.setFocus()

    def _narrow(self, text: str) -> None:
        self._list.clear()
        for choice in self._choices:
            if text.casefold() in choice.text.casefold() or text.casefold() in choice.id:
                item = QListWidgetItem(choice.text)
                item.setData(Qt.ItemDataRole.UserRole, choice.id)
                self._list.addItem(item)
                if choice.id == self._present:
                    self._list.setCurrentItem(item)
        if self._list.currentRow() < 0 or text:
            self._list.setCurrentRow(0)
        if not self._list.count():
            item = QListWidgetItem("Nothing by that name")
            item.setFlags(Qt.ItemFlag.NoItemFlags)
            self._list.addItem(item)

    def _on_clicked(self, item: QListWidgetItem) -> None:
        name = item.data(Qt.ItemDataRole.UserRole)
        if name is not None:
            self.close()
            self.picked.emit(name)

    def eventFilter(self, _: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            row = self._list.currentRow()
            match event.key():
                case Qt.Key.Key_Down:
                    self._list.setCurrentRow(min(row + 1, self._list.count() - 1))
                case Qt.Key.Key_Up:
                    self._list.setCurrentRow(max(row - 1, 0))
                case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                    if self._list.currentItem():
                        self._on_clicked(self._list.currentItem())
                case _:
                    return False
            return True
        return False


class Blank(QPushButton):
    """A word of a sentence that can be picked anew. ``picked`` brings the id."""

    picked = pyqtSignal(str)

    def __init__(self, what: str, text: str, choices: Sequence[Choice], present: str, missing: bool = False):
        super().__init__(text)
        self.what = what
        self._choices, self._present = choices, present
        self.setProperty("blank", True)
        self.setProperty("missing", missing)
        self.setAccessibleName(f"{what}: {text}")
        self.setToolTip(f"Choose {what}")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.clicked.connect(self.open_picker)

    def open_picker(self) -> Picker:
        """Opens the list of what can stand here."""
        picker = Picker(self, self._choices, self._present)
        picker.picked.connect(self.picked)
        picker.open_at(self.mapToGlobal(QPoint(0, self.height() + 2)))
        return picker

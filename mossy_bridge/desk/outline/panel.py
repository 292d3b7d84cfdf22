"""The outline beside the painted views: what each of them shows, line by line, with the same commands."""

from collections.abc import Callable, Iterator, Sequence

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QPoint, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QKeyEvent
from PyQt6.QtWidgets import QAbstractItemView, QComboBox, QListView, QVBoxLayout, QWidget

from mossy_bridge.desk.outline.rows import OutlineRow
from mossy_bridge.desk.widgets.drop_down import DropDown
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label

NOTHING = "Nothing to list here: select a level, a crossing or a board."


class RowModel(QAbstractListModel):
    """Lines, for the list."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: Sequence[OutlineRow] = ()

    def take(self, rows: Sequence[OutlineRow]) -> None:
        """Takes other lines; where there are as many as before, only those that differ are told of, so that a reader
        stays where it is."""
        if len(rows) == len(self.rows):
            changed = [at for at, (old, new) in enumerate(zip(self.rows, rows, strict=True)) if old != new]
            self.rows = rows
            if changed:
                self.dataChanged.emit(self.index(changed[0]), self.index(changed[-1]))
            return
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent and parent.isValid() else len(self.rows)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row = self.rows[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return row.text
        if role in (Qt.ItemDataRole.AccessibleTextRole, Qt.ItemDataRole.ToolTipRole):
            return row.text.strip()
        if role == Qt.ItemDataRole.FontRole and row.is_heading:
            font = QFont()
            font.setBold(True)
            return font
        return None


class OutlineList(QListView):
    """The lines. ``chosen(row)`` says at which one is, ``opened(row)`` is Enter or a double click,
    ``menu_wanted(row, point)`` the key or click for a menu."""

    chosen = pyqtSignal(object)
    opened = pyqtSignal(object)
    menu_wanted = pyqtSignal(object, QPoint)

    def __init__(self) -> None:
        super().__init__()
        self.lines = RowModel()
        self.setModel(self.lines)
        self.setUniformItemSizes(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)  # a tip tells the rest of a line
        self.setStyleSheet("OutlineList::item { padding: 2px 3px; }")
        self.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.activated.connect(lambda index: self.opened.emit(self.lines.rows[index.row()]))
        self.customContextMenuRequested.connect(self._on_menu)

    @property
    def current(self) -> OutlineRow | None:
        """The line one is at."""
        index = self.currentIndex()
        return self.lines.rows[index.row()] if index.isValid() else None

    def point_at(self, number: int) -> None:
        """Goes to a line, without choosing it."""
        self.blockSignals(True)
        self.setCurrentIndex(self.lines.index(number))
        self.blockSignals(False)

    def currentChanged(self, current: QModelIndex, previous: QModelIndex) -> None:
        super().currentChanged(current, previous)
        if current.isValid() and not self.signalsBlocked():
            self.chosen.emit(self.lines.rows[current.row()])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if given(event).key() == Qt.Key.Key_Menu and self.current:
            place = self.visualRect(self.currentIndex()).bottomLeft()
            self.menu_wanted.emit(self.current, given(self.viewport()).mapToGlobal(place))
        else:
            super().keyPressEvent(event)

    def _on_menu(self, at: QPoint) -> None:
        index = self.indexAt(at)
        if index.isValid():
            self.menu_wanted.emit(self.lines.rows[index.row()], given(self.viewport()).mapToGlobal(at))


class OutlinePanel(QWidget):
    """One view at a time as a list. ``views`` gives for the name of each its lines. It is told when something has
    changed, and lists nothing while it is hidden."""

    def __init__(self, views: dict[str, Callable[[], Iterator[OutlineRow]]]):
        super().__init__()
        self._views = views
        self.setAccessibleName("Outline")
        self.view: QComboBox = DropDown()
        self.view.addItems(list(views))
        self.view.setAccessibleName("Outline of")
        self.list = OutlineList()
        self.nothing = Label(NOTHING)
        self.nothing.setWordWrap(True)
        self.view.currentIndexChanged.connect(self.refresh)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 8, 8)
        layout.setSpacing(6)
        for widget in (self.view, self.nothing, self.list):
            layout.addWidget(widget)
        layout.setStretchFactor(self.list, 1)
        self.hide()

    def sizeHint(self) -> QSize:
        return QSize(300, 400)

    def minimumSizeHint(self) -> QSize:
        return QSize(180, 160)

    @property
    def shown(self) -> str:
        """The view that is listed."""
        return self.view.currentText()

    def show_view(self, name: str) -> None:
        """Lists another view."""
        self.view.setCurrentText(name)

    def refresh(self) -> None:
        """Lists the view as it now is; one stays at the same thing, or at the same line."""
        if not self.isVisibleTo(self.parentWidget()):
            return
        before, number = self.list.current, self.list.currentIndex().row()
        rows = list(self._views[self.shown]())
        self.list.lines.take(rows)
        self.list.setAccessibleName(f"Outline of the {self.shown.lower()}")
        self.nothing.setVisible(not rows)
        if before and rows and self.list.current != before:
            same = (at for at, row in enumerate(rows) if _same(row, before))
            self.list.point_at(next(same, min(max(number, 0), len(rows) - 1)))

    def point_at(self, level: str, thing: str, step: int = -1) -> None:
        """Goes to the line of what is selected, where it has one."""
        sought = (level, thing, step)
        wanted = [at for at, row in enumerate(self.list.lines.rows) if _stands_for(row) == sought]
        if wanted and (self.list.current is None or self.list.currentIndex().row() not in wanted):
            self.list.point_at(wanted[0])


def _stands_for(row: OutlineRow) -> tuple[str, str, int]:
    return row.level, row.part.name if row.part else "", row.step


def _same(one: OutlineRow, other: OutlineRow) -> bool:
    return (one.level, one.part, one.step) == (other.level, other.part, other.step)

"""A table of which every cell is a text: subclasses say which."""

from collections.abc import Sequence
from typing import Any, Generic, TypeVar

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt

from mossy_bridge.desk.widgets.plain_text import plain

RowT = TypeVar("RowT")


class TextTable(QAbstractTableModel, Generic[RowT]):
    """A model of rows under named columns. Tool tips and what readers hear tell the text of the cell, too, unless
    ``tip`` says more."""

    def __init__(self, columns: Sequence[str]) -> None:
        super().__init__()
        self._columns = columns
        self.rows: list[RowT] = []

    def show_rows(self, rows: list[RowT]) -> None:
        """Shows other rows."""
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def told(self, row: RowT, column: int) -> str:
        """What stands in a cell."""
        raise NotImplementedError

    def tip(self, row: RowT, column: int) -> str:
        """What is told of a cell besides."""
        return self.told(row, column)

    def rowCount(self, _: QModelIndex = QModelIndex()) -> int:  # noqa: B008 - Qt's own signature
        return len(self.rows)

    def columnCount(self, _: QModelIndex = QModelIndex()) -> int:  # noqa: B008 - Qt's own signature
        return len(self._columns)

    def headerData(self, section: int, way: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        named = way == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole
        return self._columns[section] if named else None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        row, column = self.rows[index.row()], index.column()
        if role == Qt.ItemDataRole.DisplayRole:
            return self.told(row, column)
        if role in (Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.AccessibleTextRole):
            return plain(self.tip(row, column))
        return None

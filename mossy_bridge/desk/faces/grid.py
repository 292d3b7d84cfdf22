"""A table with a column for each level, painted by its face."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from PyQt6.QtCore import QAbstractItemModel, QModelIndex, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPen
from PyQt6.QtWidgets import QHeaderView, QStyledItemDelegate, QStyleOptionViewItem, QTableView

from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.theme import Look

PaintCell = Callable[[QPainter, QRect, QModelIndex], object]


class _Cells(QStyledItemDelegate):
    """Has a face paint each cell, and frames the one with the keyboard."""

    def __init__(self, look: Look, paint_cell: PaintCell):
        super().__init__()
        self._look, self._paint_cell = look, paint_cell

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        painter = given(painter)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint_cell(painter, option.rect, index)
        view = option.widget
        if isinstance(view, QTableView) and view.currentIndex() == index:
            painter.setPen(QPen(self._look.colours.colour("route"), 2 if view.hasFocus() else 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(option.rect.adjusted(1, 1, -2, -2))
        painter.restore()


class Grid(QTableView):
    """``entered_cell(index)`` for Space, Enter, or a click."""

    entered_cell = pyqtSignal(QModelIndex)

    def __init__(self, look: Look, table: QAbstractItemModel, name: str, paint_cell: PaintCell, column: int, row: int):
        super().__init__()
        self.setModel(table)
        self._cells = _Cells(look, paint_cell)
        self.setItemDelegate(self._cells)
        self.setAccessibleName(name)
        self.setSelectionMode(QTableView.SelectionMode.NoSelection)
        given(self.horizontalHeader()).setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        given(self.horizontalHeader()).setDefaultSectionSize(column)
        given(self.horizontalHeader()).setTextElideMode(Qt.TextElideMode.ElideRight)
        given(self.verticalHeader()).setDefaultSectionSize(row)
        self.clicked.connect(self.entered_cell)

    @contextmanager
    def keeping_place(self) -> Iterator[None]:
        """While another flow is put in: the cell one was at stays, and what is in view."""
        here = self.currentIndex()
        at = (max(here.row(), 0), max(here.column(), 0))
        bars = given(self.horizontalScrollBar()).value(), given(self.verticalScrollBar()).value()
        yield
        self.setCurrentIndex(given(self.model()).index(*at))
        given(self.horizontalScrollBar()).setValue(bars[0])
        given(self.verticalScrollBar()).setValue(bars[1])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        if Qt.Key(event.key()) in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.entered_cell.emit(self.currentIndex())
        else:
            super().keyPressEvent(event)

"""The findings as a list to go through by mouse and keys, however many there are: only what is in view is painted."""

from collections.abc import Sequence

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QPoint, QPointF, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QAbstractItemView, QListView, QStyledItemDelegate, QStyleOptionViewItem

from mossy_bridge.checks.finding import Finding
from mossy_bridge.desk.survey.finding_rows import FindingRow
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.marks import COLOUR_OF, SEVERITY_MARK, paint_mark
from mossy_bridge.desk.widgets.theme import Look

LEFT, RIGHT, INDENT, PAD = 26, 10, 14, 5
"""Pixels beside the words of a finding, how much further in those of a group stand, and above and below them."""
MOST_LINES = 6
BATCH = 120
"""So many lines are laid out before other events have their turn."""
WRAP = Qt.TextFlag.TextWordWrap
ROW = Qt.ItemDataRole.UserRole


class FindingRows(QAbstractListModel):
    """The lines, for the list."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[FindingRow] = []

    def take(self, rows: list[FindingRow]) -> None:
        """Takes other lines."""
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent and parent.isValid() else len(self.rows)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row = self.rows[index.row()]
        if role == ROW:
            return row
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return row.text
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        heading = not self.rows[index.row()].findings
        return Qt.ItemFlag.ItemIsEnabled if heading else Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable


class _Painter(QStyledItemDelegate):
    """Paints the lines; a long sentence takes several."""

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self._heights: dict[tuple[str, int], int] = {}

    def forget(self) -> None:
        """Other fonts: heights are worked out anew."""
        self._heights.clear()

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        row: FindingRow = index.data(ROW)
        view = option.widget
        width = given(view.viewport()).width() if isinstance(view, QListView) else 260
        if not row.findings:
            return QSize(width, QFontMetrics(self._look.font(0, bold=True)).height() + 12)
        room = width - LEFT - RIGHT - (INDENT if row.in_group else 0)
        key = row.text, room
        if key not in self._heights:
            metrics = QFontMetrics(self._look.font(-0.5, bold=row.is_group))
            wrapped = metrics.boundingRect(QRect(0, 0, max(room, 40), 10_000), WRAP, row.text).height()
            self._heights[key] = min(wrapped, MOST_LINES * metrics.lineSpacing()) + 2 * PAD
        return QSize(width, self._heights[key])

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        painter = given(painter)
        row: FindingRow = index.data(ROW)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if row.findings:
            view = option.widget
            current = isinstance(view, QAbstractItemView) and view.currentIndex() == index
            self._paint_finding(painter, option.rect, row, current, current and view.hasFocus())
        else:
            self._paint_heading(painter, option.rect, row)
        painter.restore()

    def _paint_heading(self, painter: QPainter, rect: QRect, row: FindingRow) -> None:
        c = self._look.colours
        mark = SEVERITY_MARK["hint" if row.heading == "accepted" else row.heading]
        painter.setFont(self._look.font(0, bold=True))
        painter.setPen(c.colour("dim" if row.heading == "accepted" else COLOUR_OF[mark]))
        painter.drawText(rect.adjusted(14, 6, -8, 0), Qt.AlignmentFlag.AlignVCenter, row.text)

    def _paint_finding(self, painter: QPainter, rect: QRect, row: FindingRow, current: bool, focused: bool) -> None:
        c, inner = self._look.colours, rect.adjusted(10, 1, -4, -1)
        severity = row.findings[0].severity
        mark = SEVERITY_MARK[severity]
        painter.setPen(QPen(c.colour("route" if current else "line"), 2 if focused else 1))
        painter.setBrush(c.colour("route_wash" if current else "card"))
        painter.drawRoundedRect(inner, 5, 5)
        left = rect.left() + LEFT + (INDENT if row.in_group else 0)
        middle = QPointF(left - 8, rect.top() + PAD + QFontMetrics(painter.font()).height() / 2)
        if row.is_group:
            _paint_arrow(painter, c.colour("ink"), middle, row.is_open)
        else:
            paint_mark(painter, c, mark, middle, 4.6)
        painter.setPen(c.colour("dim" if row.heading == "accepted" else "ink"))
        painter.setFont(self._look.font(-0.5, bold=row.is_group))
        words = QRect(left, rect.top() + PAD, rect.right() - RIGHT - left, rect.height() - 2 * PAD)
        painter.drawText(words, WRAP, row.text)
        if row.is_new:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(c.colour("route"))
            painter.drawEllipse(QPointF(rect.right() - 9, rect.top() + 9), 3.2, 3.2)


def _paint_arrow(painter: QPainter, colour: object, at: QPointF, is_open: bool) -> None:
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour)  # type: ignore[call-overload]
    points = [QPointF(-4, -2.5), QPointF(4, -2.5), QPointF(0, 3)] if is_open else [QPointF(-2.5, -4), QPointF(-2.5, 4),
              QPointF(3, 0)]  # fmt: skip
    painter.drawPolygon(QPolygonF([at + point for point in points]))


class FindingList(QListView):
    """The list. ``pointed(row)`` follows the line that has the keyboard, ``turned(row)`` asks to open or close a group,
    ``entered(finding)`` is for Enter and a double click."""

    pointed = pyqtSignal(object)
    turned = pyqtSignal(object)
    entered = pyqtSignal(object)

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self._rows = FindingRows()
        self._delegate = _Painter(look)
        self.setModel(self._rows)
        self.setItemDelegate(self._delegate)
        self.setAccessibleName("Findings")
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFrameShape(QListView.Shape.NoFrame)
        self.setLayoutMode(QListView.LayoutMode.Batched)
        self.setBatchSize(BATCH)
        self.setStyleSheet("QListView { background: transparent; border: none; outline: none; }")
        given(self.viewport()).setAutoFillBackground(False)
        given(self.selectionModel()).currentChanged.connect(self._on_current)
        look.changed.connect(self._on_look)

    @property
    def rows(self) -> list[FindingRow]:
        """The lines, from the top."""
        return self._rows.rows

    @property
    def current(self) -> FindingRow | None:
        """The line that has the keyboard."""
        at = self.currentIndex().row()
        return self.rows[at] if 0 <= at < len(self.rows) else None  # while others are taken it is behind the last

    def take(self, rows: list[FindingRow]) -> None:
        """Lists other lines; the one that has the keyboard keeps it if it is still there, and the list its place."""
        before, at = self.current, given(self.verticalScrollBar()).value()
        self._rows.take(rows)
        same = next((number for number, row in enumerate(rows) if before and _same(row, before)), None)
        if same is not None:
            self.setCurrentIndex(self._rows.index(same))
        given(self.verticalScrollBar()).setValue(at)
        self.pointed.emit(self.current)

    def point_at(self, number: int) -> None:
        """Gives the keyboard's place to a line."""
        index = self._rows.index(number)
        self.setCurrentIndex(index)
        self.scrollTo(index)

    def choose(self, finding: Finding) -> bool:
        """Brings a finding into view; whether it is listed."""
        number = next((at for at, row in enumerate(self.rows) if row.finding is finding), None)
        if number is not None:
            self.point_at(number)
        return number is not None

    def _on_current(self, _now: QModelIndex, _before: QModelIndex) -> None:
        self.pointed.emit(self.current)

    def _on_look(self) -> None:
        self._delegate.forget()
        self.scheduleDelayedItemsLayout()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if event and event.oldSize().width() != event.size().width():
            self.scheduleDelayedItemsLayout()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event, row = given(event), self.current
        key = Qt.Key(event.key())
        if row and row.is_group and key in _TURNS[row.is_open]:
            self.turned.emit(row)
        elif row and row.in_group and key == Qt.Key.Key_Left:
            self.point_at(next(at for at in range(self.currentIndex().row(), -1, -1) if self.rows[at].is_group))
        elif row and row.finding and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.entered.emit(row.finding)
        else:
            super().keyPressEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        event = given(event)
        row = self._row_at(event.position().toPoint())
        if row and row.is_group and event.button() == Qt.MouseButton.LeftButton:
            self.turned.emit(row)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        row = self._row_at(given(event).position().toPoint())
        if row and row.finding:
            self.entered.emit(row.finding)

    def _row_at(self, point: QPoint) -> FindingRow | None:
        index = self.indexAt(point)
        return self.rows[index.row()] if index.isValid() else None


_TURN = (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space)
_TURNS = {True: (*_TURN, Qt.Key.Key_Left), False: (*_TURN, Qt.Key.Key_Right)}
"""The keys that close an open group, and open a closed one."""


def _same(one: FindingRow, other: FindingRow) -> bool:
    """Whether two lines of different surveys stand for the same."""
    if one.heading != other.heading or one.check != other.check:
        return False
    first, second = one.finding, other.finding
    if first is None or second is None:
        return first is second and bool(one.check)
    return (first.check, first.at, first.message) == (second.check, second.at, second.message)


def next_finding(rows: Sequence[FindingRow], at: int, step: int) -> int | None:
    """The number of the next line that is a finding or a closed group, from the end back to the start."""
    count = len(rows)
    for far in range(1, count + 1):
        number = (at + far * step) % count
        row = rows[number]
        if row.heading != "accepted" and (row.finding or (row.is_group and not row.is_open)):
            return number
    return None

"""The sample file as a tree of elements or values, or as its lines, with what the rules make of each."""

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QAbstractItemModel, QItemSelectionModel, QModelIndex, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontDatabase
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTreeView

from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.level_files.pointing.sample import Sample, SampleNode
from mossy_bridge.model.flow import ThingKind

WHAT, SAYS, IS = range(3)
HEADINGS = ("In the file", "It says", "Is")
FOUND_AS: Mapping[ThingKind, str] = {
    "exit": "exit",
    "spawn": "spawn point",
    "deed": "pick-up",
    "solid": "wall",
    "plan": "plan",
}
LONGEST = 160
"""So much of what a node says is shown in its row."""
NO_PARENT = QModelIndex()


class SampleModel(QAbstractItemModel):
    """The nodes of a sample as rows. Cells are made when they are looked at."""

    def __init__(self, look: Look, parent: QObject | None = None):
        super().__init__(parent)
        self._look = look
        self.sample: Sample | None = None
        self._roots: tuple[int, ...] = ()
        self._rows: list[int] = []
        self._found: Mapping[int, Sequence[ThingKind]] = {}
        self._fixed = QFontDatabase.systemFont(QFontDatabase.SystemFont.FixedFont)

    def show_sample(self, sample: Sample | None) -> None:
        """Shows another file."""
        self.beginResetModel()
        self.sample = sample
        nodes = sample.nodes if sample else ()
        self._roots = tuple(number for number, node in enumerate(nodes) if node.parent < 0)
        self._rows = [0] * len(nodes)
        for group in (self._roots, *(sample.children if sample else ())):
            for row, number in enumerate(group):
                self._rows[number] = row
        self._found = {}
        self.endResetModel()

    def take_found(self, found: Mapping[int, Sequence[ThingKind]]) -> None:
        """Takes what rules make of nodes; who shows it paints it anew."""
        self._found = found

    def index_of(self, number: int, column: int = 0) -> QModelIndex:
        """The index of a node."""
        return self.createIndex(self._rows[number], column, number)

    def _inside(self, parent: QModelIndex) -> tuple[int, ...]:
        if not parent.isValid():
            return self._roots
        return self.sample.children[parent.internalId()] if self.sample and parent.column() == 0 else ()

    def index(self, row: int, column: int, parent: QModelIndex = NO_PARENT) -> QModelIndex:
        inside = self._inside(parent)
        return self.createIndex(row, column, inside[row]) if 0 <= row < len(inside) else QModelIndex()

    def parent(self, child: QModelIndex = NO_PARENT) -> QModelIndex:  # type: ignore[override]
        above = self.sample.nodes[child.internalId()].parent if self.sample and child.isValid() else -1
        return self.index_of(above) if above >= 0 else QModelIndex()

    def rowCount(self, parent: QModelIndex = NO_PARENT) -> int:
        return len(self._inside(parent))

    def columnCount(self, _parent: QModelIndex = NO_PARENT) -> int:
        return len(HEADINGS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            lines = self.sample is not None and self.sample.form == "text"
            return "Line" if lines and section == WHAT else HEADINGS[section]
        return None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if self.sample is None or not index.isValid():
            return None
        number = index.internalId()
        node, column = self.sample.nodes[number], index.column()
        if role == Qt.ItemDataRole.DisplayRole:
            return (self._what(number, node), self._says(number, node)[:LONGEST], self._is(number))[column]
        if role == Qt.ItemDataRole.ToolTipRole and column == SAYS:
            return plain(self._says(number, node))
        if role == Qt.ItemDataRole.AccessibleTextRole:
            return f"{self._what(number, node)} {self._says(number, node)[:LONGEST]} {self._is(number)}".strip()
        return self._shown(number, column, role)

    def _shown(self, number: int, column: int, role: int) -> QFont | QColor | None:
        if role == Qt.ItemDataRole.FontRole and column == SAYS:
            return self._fixed
        if role == Qt.ItemDataRole.ForegroundRole:
            names = {WHAT: "ink", SAYS: "dim", IS: "route"}
            return self._look.colours.colour("route" if number in self._found else names[column])
        return None

    def _what(self, number: int, node: SampleNode) -> str:
        if node.kind == "line":
            return str(node.line)
        if node.name:
            return f"<{node.name}>" if node.kind == "element" else node.name
        return f"{self._rows[number] + 1}." if node.parent >= 0 else "the file"

    def _says(self, number: int, node: SampleNode) -> str:
        if node.kind == "element":
            return "  ".join([*(f"{name}={text}" for name, text in node.attributes.items()), node.text]).strip()
        if node.kind == "object":
            return self._members(number)
        if node.kind == "list":
            return self._listed(number)
        return node.text

    def _members(self, number: int) -> str:
        sample = given(self.sample)
        inside = [sample.nodes[child] for child in sample.children[number][:20]]
        return "  ".join(f"{one.name}: {one.text}" for one in inside if one.kind not in ("object", "list"))

    def _listed(self, number: int) -> str:
        sample = given(self.sample)
        inside = [sample.nodes[child] for child in sample.children[number]]
        if any(one.kind in ("object", "list") for one in inside) or len(inside) > 20:
            return f"{len(inside):,} of them"
        return ", ".join(one.text for one in inside)

    def _is(self, number: int) -> str:
        return ", ".join(FOUND_AS[kind] for kind in self._found.get(number, ()))


class SampleView(QTreeView):
    """Shows a sample; several rows can be chosen. ``chosen_changed`` follows the choice."""

    chosen_changed = pyqtSignal()

    def __init__(self, look: Look):
        super().__init__()
        self.nodes = SampleModel(look, self)
        self.setModel(self.nodes)
        self.setUniformRowHeights(True)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setAccessibleName("The sample file")
        header = given(self.header())
        header.setStretchLastSection(False)
        header.setSectionResizeMode(WHAT, QHeaderView.ResizeMode.Interactive)
        header.setSectionResizeMode(SAYS, QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(IS, QHeaderView.ResizeMode.Interactive)
        given(self.selectionModel()).selectionChanged.connect(lambda *_: self.chosen_changed.emit())

    def show_sample(self, sample: Sample | None) -> None:
        """Shows a file, opened as far as there is room."""
        if sample is self.nodes.sample:
            return
        self.nodes.show_sample(sample)
        lines = sample is not None and sample.form == "text"
        self.setRootIsDecorated(not lines)
        metrics = self.fontMetrics()
        widest = metrics.horizontalAdvance("spawn point") + 24
        self.setColumnWidth(WHAT, metrics.horizontalAdvance("99999") + 20 if lines else 170)
        self.setColumnWidth(IS, widest)
        if sample and not lines:
            self._open_some(sample)

    def show_found(self, found: Mapping[int, Sequence[ThingKind]]) -> None:
        """Shows what rules make of nodes."""
        self.nodes.take_found(found)
        given(self.viewport()).update()

    def _open_some(self, sample: Sample) -> None:
        """Opens the root, and lists below it that are not long."""
        waiting, shown = [number for number, node in enumerate(sample.nodes) if node.parent < 0], 0
        while waiting and shown < 200:
            number = waiting.pop(0)
            self.expand(self.nodes.index_of(number))
            children = sample.children[number]
            shown += len(children)
            waiting += [child for child in children if self._is_worth_opening(sample, child)]

    @staticmethod
    def _is_worth_opening(sample: Sample, number: int) -> bool:
        """Whether there is more in a node than its row says."""
        inside = [sample.nodes[child].kind for child in sample.children[number]]
        return sample.nodes[number].kind in ("list", "element") and any(
            kind in ("object", "list", "element") for kind in inside
        )

    @property
    def chosen(self) -> list[int]:
        """The nodes that are chosen, in the order of the file."""
        return sorted(index.internalId() for index in given(self.selectionModel()).selectedRows())

    def choose(self, number: int) -> None:
        """Chooses one node, and shows it."""
        index = self.nodes.index_of(number)
        flags = QItemSelectionModel.SelectionFlag
        given(self.selectionModel()).setCurrentIndex(index, flags.ClearAndSelect | flags.Rows)
        self.scrollTo(index)

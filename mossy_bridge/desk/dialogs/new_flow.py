"""Asks what a new game is like, and shows the small flow that one of its kind begins with."""

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.desk.dialogs.flow_sketch import FlowSketch
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.exchange.starters.starters import STARTERS, starting_flow
from mossy_bridge.language.numbers import counted
from mossy_bridge.model.flow import LONGEST_NAME, Flow

ABOUT = "Every one is sound: all its levels are reached and nobody gets stuck. Change whatever is otherwise in yours."


class NewFlowDialog(QDialog):
    """Asks; ``flow`` is what was chosen."""

    def __init__(self, parent: QWidget | None, look: Look):
        super().__init__(parent)
        self.setWindowTitle("New flow")
        self._flows = [starting_flow(starter, "") for starter in STARTERS]
        self.name = QLineEdit()
        self.name.setMaxLength(LONGEST_NAME)
        self.name.setPlaceholderText("can be given later")
        self.list = QListWidget()
        self.list.setAccessibleName("What is the game like?")
        self.list.setSpacing(3)
        for starter in STARTERS:
            item = QListWidgetItem(starter.title)
            item.setToolTip(plain(starter.about))
            item.setData(Qt.ItemDataRole.AccessibleDescriptionRole, starter.about)
            self.list.addItem(item)
        self.list.setMaximumWidth(220)
        self.sketch = FlowSketch(look)
        self.told = Label()
        self.told.setWordWrap(True)
        self.told.setMinimumHeight(2 * self.told.fontMetrics().lineSpacing())
        self.told.setAlignment(Qt.AlignmentFlag.AlignTop)
        buttons = QDialogButtonBox.StandardButton
        self.box = QDialogButtonBox(buttons.Ok | buttons.Cancel)
        given(self.box.button(buttons.Ok)).setText("&Begin")
        self.box.accepted.connect(self.accept)
        self.box.rejected.connect(self.reject)
        self.list.currentRowChanged.connect(self._show)
        self.list.itemActivated.connect(lambda _: self.accept())
        self._lay_out()
        self.list.setCurrentRow(0)
        self.list.setFocus()

    def _lay_out(self) -> None:
        about, called, like = Label(ABOUT), Label("&Name"), Label("What is the &game like?")
        about.setProperty("dim", True)
        about.setWordWrap(True)
        called.setBuddy(self.name)
        like.setBuddy(self.list)
        shown = QVBoxLayout()
        shown.addWidget(self.sketch, 1)
        shown.addWidget(self.told)
        middle = QHBoxLayout()
        middle.setSpacing(14)
        middle.addWidget(self.list)
        middle.addLayout(shown, 1)
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.addWidget(called, 0, 0)
        grid.addWidget(self.name, 0, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 14, 16, 12)
        layout.setSpacing(10)
        layout.addWidget(like)
        layout.addLayout(middle, 1)
        layout.addWidget(about)
        layout.addLayout(grid)
        layout.addWidget(self.box)

    def sizeHint(self) -> QSize:
        return super().sizeHint().expandedTo(QSize(680, 430))

    @property
    def flow(self) -> Flow:
        """The flow to begin with."""
        return starting_flow(STARTERS[self.list.currentRow()], self.name.text().strip())

    def _show(self, row: int) -> None:
        flow = self._flows[row]
        self.sketch.show_flow(flow)
        count = len([level for level in flow.levels if level.kind == "play"])
        what = f" {counted(count, 'level')}, with title, retry screen and credits." if count else ""
        self.told.setText(f"{STARTERS[row].about}{what}")

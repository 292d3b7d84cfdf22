"""Earlier versions of the file: when each was saved, and what is other in it than now."""

from collections.abc import Sequence
from typing import NamedTuple

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.workers.background_task import done_beside
from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.exchange.versions import Version, read_version
from mossy_bridge.language.numbers import enumerated
from mossy_bridge.model.flow import Flow, Level

HELP = ("Every save is kept on this computer, outside the project: the last twenty, and the first of each day. "
        "Bringing one back is a step that can be undone; the file changes only when you save.")  # fmt: skip
MOST_NAMES = 6


class ChosenVersion(NamedTuple):
    """An earlier version, and whether it is to be compared with, or else brought back."""

    version: Version
    flow: Flow
    compared: bool


class VersionsDialog(QDialog):
    """Lists versions; ``chosen`` is the one to bring back or to compare with."""

    def __init__(self, parent: QWidget | None, versions: Sequence[Version], present: Flow):
        super().__init__(parent)
        self.setWindowTitle("Earlier versions")
        self._versions, self._present = versions, present
        self._read: dict[int, Flow | None] = {}
        self.list = QListWidget()
        self.list.setWordWrap(True)
        self.list.setAccessibleName("Versions, the latest first")
        self.list.setSpacing(2)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        for version in versions:
            self.list.addItem(QListWidgetItem(told_time(version)))
        self.told = Label()
        self.told.setWordWrap(True)
        self.told.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.told.setAccessibleName("What is other in it")
        help_line = Label(HELP if versions else f"Nothing has been saved yet since versions are kept.\n\n{HELP}")
        help_line.setWordWrap(True)
        help_line.setProperty("dim", True)
        buttons = QDialogButtonBox.StandardButton
        box = QDialogButtonBox(buttons.Ok | buttons.Cancel)
        self.bring = box.button(buttons.Ok)
        given(self.bring).setText("&Bring it back")
        self.compare = box.addButton("&Compare with it", QDialogButtonBox.ButtonRole.ActionRole)
        given(self.compare).clicked.connect(self._on_compare)
        self._compared = False
        box.accepted.connect(self.accept)
        box.rejected.connect(self.reject)
        middle = QHBoxLayout()
        middle.setSpacing(14)
        middle.addWidget(self.list, 1)
        middle.addWidget(self.told, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 14, 16, 12)
        layout.setSpacing(10)
        layout.addWidget(help_line)
        layout.addLayout(middle, 1)
        layout.addWidget(box)
        self.resize(640, 420)
        self.list.currentRowChanged.connect(self._show)
        self.list.setCurrentRow(0)
        self._show(self.list.currentRow())

    @property
    def chosen(self) -> ChosenVersion | None:
        """The version selected."""
        row = self.list.currentRow()
        flow = self._flow(row)
        return ChosenVersion(self._versions[row], flow, self._compared) if flow is not None else None

    def _on_compare(self) -> None:
        self._compared = True
        self.accept()

    def _flow(self, row: int) -> Flow | None:
        if row < 0:
            return None
        if row not in self._read:
            try:
                self._read[row] = done_beside(lambda: read_version(self._versions[row]))
            except CannotRead:
                self._read[row] = None
        return self._read[row]

    def _show(self, row: int) -> None:
        flow = self._flow(row)
        if row < 0:
            self.told.setText("")
        elif flow is None:
            self.told.setText("This version is damaged and cannot be brought back.")
        else:
            self.told.setText(difference(self._present, flow))
        for button in (self.bring, self.compare):
            given(button).setEnabled(flow is not None and flow != self._present)


def told_time(version: Version) -> str:
    """When a version was saved, in words."""
    return f"{version.when:%a %-d %b %Y, %H:%M:%S}"


def difference(now: Flow, then: Flow) -> str:
    """What is other in an earlier version than now, in words."""
    if then == now:
        return "The same as now."
    present, earlier = ({level.id: level for level in flow.levels} for flow in (now, then))
    only_then = [level for level in then.levels if level.id not in present]
    only_now = [level for level in now.levels if level.id not in earlier]
    other = [level for level in then.levels if level.id in present and present[level.id] != level]
    named = (("Only in it", only_then), ("Not in it yet", only_now), ("Other than now", other))
    lines = [f"{len(then.levels)} levels.", "", *(_named(words, levels) for words, levels in named if levels)]
    if not (only_then or only_now or other):
        lines.append("The levels are as they are now; something else of the flow is other.")
    return "\n".join(lines)


def _named(words: str, levels: Sequence[Level]) -> str:
    return f"{words}: {enumerated([level.title for level in levels], MOST_NAMES)}."

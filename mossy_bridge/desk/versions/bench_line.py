"""Above the bench: what another version has otherwise in what is selected."""

from PyQt6.QtWidgets import QFrame, QHBoxLayout, QSizePolicy

from mossy_bridge.appraisal.comparison import ToldChange
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.versions.other_version import OtherVersion
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.desk.widgets.theme import Look


class BenchDifferences(QFrame):
    """One difference at a time, to be taken over; hidden while there is none."""

    def __init__(self, look: Look, other: OtherVersion, selection: Selection):
        super().__init__()
        self._look, self._other, self._selection = look, other, selection
        self._found: list[ToldChange] = []
        self._at = 0
        self.told = Label()
        self.told.setWordWrap(True)
        self.told.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.more, self.take = Link("Next one"), Link("Take this over")
        self.more.clicked.connect(self._on_more)
        self.take.clicked.connect(lambda: self._other.take(self._found[self._at]))
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 4, 14, 4)
        row.setSpacing(12)
        row.addWidget(self.told, 1)
        row.addWidget(self.more)
        row.addWidget(self.take)
        self.setObjectName("differences")
        other.changed.connect(self._refresh)
        selection.changed.connect(self._refresh)
        look.changed.connect(self._wear)
        self._wear()
        self.hide()

    def _wear(self) -> None:
        c = self._look.colours
        self.setStyleSheet(f"#differences {{ background: {c.route_wash}; border-top: 1px solid {c.line}; }}")

    def _refresh(self) -> None:
        selected = self._selection
        found = self._other.differences_of(selected.level_id, selected.exit_id) if selected.level_id else []
        if found != self._found:
            self._found, self._at = found, 0
        self._show()

    def _on_more(self) -> None:
        self._at = (self._at + 1) % len(self._found)
        self._show()

    def _show(self) -> None:
        count = len(self._found)
        self.setVisible(bool(count))
        if count:
            number = f" ({self._at + 1} of {count})" if count > 1 else ""
            words = f"{self._other.name} has it otherwise{number}: {self._found[self._at].words}"
            self.told.setText(words)
            self.told.setToolTip(plain("\n".join(one.words for one in self._found)))
            self.setAccessibleName(words)
            self.more.setVisible(count > 1)

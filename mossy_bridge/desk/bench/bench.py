"""The bench: shows whatever is selected."""

from PyQt6.QtCore import QSize, QTimer, pyqtSignal
from PyQt6.QtWidgets import QStackedWidget, QWidget

from mossy_bridge.desk.bench.crossing import CrossingBench
from mossy_bridge.desk.bench.empty import EmptyBench
from mossy_bridge.desk.bench.level import LevelBench
from mossy_bridge.desk.bench.several import SeveralBench
from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.widgets.scrolled import Scrolled
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.edits.levels import looked_at, whole

PAGES = "EmptyBench, CrossingBench, LevelBench, SeveralBench"
LOOKED_MS = 1200
"""How long a part of a copy must be on the bench to count as looked at."""


class Bench(QStackedWidget):
    """Shows the selected crossing, level, or several of them. ``selected(level, exit)`` asks for another one,
    ``plan_wanted`` for the plan of the level in full."""

    selected = pyqtSignal(str, str)
    plan_wanted = pyqtSignal()

    def __init__(self, look: Look, document: Document, selection: Selection, requests: Requests, person: Person):
        super().__init__()
        self._look, self._document, self._selection, self._requests = look, document, selection, requests
        self.empty = EmptyBench()
        self.crossing = CrossingBench(look, requests)
        self.level = LevelBench(look, requests, selection, person)
        self.several = SeveralBench(requests)
        self._shown: QWidget = self.empty
        pages: tuple[QWidget, ...] = (self.empty, self.crossing, self.level, self.several)
        self._scrolled = {page: Scrolled(page) for page in pages}
        for scrolled in self._scrolled.values():
            self.addWidget(scrolled)
        self.setAccessibleName("Bench")
        self._looking = QTimer(self)
        self._looking.setSingleShot(True)
        self._looking.setInterval(LOOKED_MS)
        self._looking.timeout.connect(self._on_looked)
        self.crossing.level_wanted.connect(lambda level: self.selected.emit(level, ""))
        self.level.exit_wanted.connect(self.selected)
        self.level.plan_wanted.connect(self.plan_wanted)
        selection.changed.connect(self._on_selected)
        look.changed.connect(self._wear)
        self._wear()

    def minimumSizeHint(self) -> QSize:
        return QSize(420, 220)  # what sentences need at the narrowest would leave no room for the map

    @property
    def page(self) -> QWidget:
        """The page in view."""
        return self._shown

    def _show(self, page: QWidget) -> None:
        self._shown = page
        self.setCurrentWidget(self._scrolled[page])

    def _wear(self) -> None:
        ground = self._look.colours.bench
        self.setStyleSheet(f"Bench, Bench > QWidget, {PAGES} {{ background: {ground}; }}")

    def _on_selected(self) -> None:
        self.refresh()
        self._looking.start()

    def _on_looked(self) -> None:
        """A part of a copy that stayed on the bench for a while has been looked at."""
        key, parts = self._selection.level_id, self._selection.parts
        level = self._selection.level(self._document.flow)
        if level and len(parts) == 1:
            name = f"{parts[0].group.removesuffix('s')} {parts[0].name}"
            if name in level.unreviewed:
                self._requests.door.amend(lambda flow: looked_at(flow, key, name))

    def refresh(self) -> None:
        """Shows the selection as it now is in the flow. What was being typed about another level is kept."""
        self.level.finish_typing()
        flow, selection = self._document.flow, self._selection
        key, folder = selection.level_id, self._document.folder
        level, exit_ = whole(flow, key), selection.exit(flow)
        if len(selection.levels) > 1:
            self.several.show_levels(flow, selection.levels)
            self._show(self.several)
        elif len(selection.now.crossings) > 1:
            self.several.show_crossings(flow, selection.crossings)
            self._show(self.several)
        elif level and exit_:
            self.crossing.show_crossing(flow, key, level, exit_, folder)
            self._show(self.crossing)
        elif level:
            self.level.show_level(flow, key, level, folder)
            self._show(self.level)
        else:
            self._show(self.empty)
            self.empty.show_empty(bool(flow.levels))  # the keyboard may leave a button of it, and a level be selected

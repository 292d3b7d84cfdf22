"""The bench: shows whatever is selected, and turns what is picked on it into requests to edit."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QLabel, QStackedWidget

from mossy_bridge.desk.bench.crossing import CrossingBench
from mossy_bridge.desk.bench.level import LevelBench
from mossy_bridge.desk.document import Document
from mossy_bridge.desk.look import Look
from mossy_bridge.desk.requests import Requests
from mossy_bridge.desk.selection import Selection
from mossy_bridge.model.patterns import resolved

FIRST_STEPS = """<p style="font-size: 120%"><b>Three steps to a first flow</b></p>
<p>1 &nbsp; Add a level: <b>Level → New level</b>, Ctrl+Shift+N.<br>
2 &nbsp; Add another, and give the first an exit: <b>Level → New exit</b>, Ctrl+E.<br>
3 &nbsp; Drag from the exit’s door on the map to the level it leads to.</p>
<p>The line at the top says at once whether every level is reached. Or look around in the demo:
<b>Help → Open the demo</b>.</p>"""
NOTHING_CHOSEN = "Choose a level or a crossing on the map or the strip to see it here."


class Bench(QStackedWidget):
    """Shows the selected crossing or level. ``selected(level, exit)`` asks for another one."""

    selected = pyqtSignal(str, str)

    def __init__(self, look: Look, document: Document, selection: Selection, requests: Requests):
        super().__init__()
        self._look, self._document, self._selection = look, document, selection
        self._empty = QLabel()
        self._empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._empty.setWordWrap(True)
        self._empty.setMargin(20)
        self.crossing, self.level = CrossingBench(look), LevelBench(look)
        for page in (self._empty, self.crossing, self.level):
            self.addWidget(page)
        self.setAccessibleName("Bench")
        self._ask_with(requests)
        selection.changed.connect(self.refresh)
        look.changed.connect(self._wear)
        self._wear()

    def _ask_with(self, requests: Requests) -> None:
        sentence = self.crossing.sentence
        sentence.level_picked.connect(requests.lead_to_level)
        sentence.spawn_picked.connect(requests.land_at)
        sentence.transition_picked.connect(requests.use_transition)
        self.crossing.level_wanted.connect(lambda level: self.selected.emit(level, ""))
        self.level.exit_wanted.connect(self.selected)
        self.level.renamed.connect(requests.rename)
        self.level.recoded.connect(requests.recode)
        self.level.moved_to_region.connect(requests.move_to_region)
        self.level.new_exit_wanted.connect(requests.new_exit)

    def _wear(self) -> None:
        ground = self._look.colours.bench
        self.setStyleSheet(f"Bench, Bench > QWidget {{ background: {ground}; }}")

    def refresh(self) -> None:
        """Shows the selection as it now is in the flow. What was being typed about another level is kept."""
        self.level.finish_typing()
        flow = resolved(self._document.flow)
        level, exit_ = self._selection.level(flow), self._selection.exit(flow)
        if level and exit_:
            self.crossing.show_crossing(flow, level, exit_)
            self.setCurrentWidget(self.crossing)
        elif level:
            self.level.show_level(flow, level)
            self.setCurrentWidget(self.level)
        else:
            self._empty.setText(NOTHING_CHOSEN if flow.levels else FIRST_STEPS)
            self.setCurrentWidget(self._empty)

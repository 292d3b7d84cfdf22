"""A route, move by move, with what each move changes; a click shows the place."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QListWidgetItem, QWidget

from mossy_bridge.desk.sentences.popups import ROLE, Popup
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.narration import told_route
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move
from mossy_bridge.reach.survey.verdicts import Route, is_shortest


class RouteBox(Popup):
    """Lists the moves. ``chosen(level, thing)`` brings a place; ``kept(route)`` asks to keep it as a walk,
    ``walk_wanted(route)`` to walk it."""

    chosen = pyqtSignal(str, str)
    kept = pyqtSignal(tuple)
    walk_wanted = pyqtSignal(tuple)

    def __init__(self, parent: QWidget, flow: Flow, route: Route, about: str):
        super().__init__(parent)
        self._line.setReadOnly(True)
        self._line.setText(about)
        self._line.setCursorPosition(0)
        self._line.setToolTip(plain(about))
        self._line.setAccessibleName("Route")
        rules = Rules(flow, resuming=True)
        start = rules.begin()
        self._add(f"Start in {rules.levels[start.place].source.title}" if start else "There is no start",
                  start.place if start else "")  # fmt: skip
        for number, (place, text) in enumerate(told_route(rules, route), 1):
            self._add(f"{number}.  {text}", place)
        self._list.itemClicked.connect(self._on_clicked)
        self._list.setCurrentRow(0)
        if not is_shortest(route):
            note = Label("There may be a shorter one: looking for it took too long.")
            note.setWordWrap(True)
            self._layout.addWidget(note)
        keep = Link("Keep as a recorded walk…", "Every survey then walks it again")
        keep.clicked.connect(lambda: self._keep(route))
        walk = Link("Walk it", "A trial walk along this route, to continue from there")
        walk.clicked.connect(lambda: self._walk(route))
        self._layout.addWidget(walk)
        self._layout.addWidget(keep)
        self.resize(440, min(480, 136 + 26 * (len(route) + 1)))

    def _keep(self, route: tuple[Move, ...]) -> None:
        self.close()
        self.kept.emit(route)

    def _walk(self, route: tuple[Move, ...]) -> None:
        self.close()
        self.walk_wanted.emit(route)

    def _add(self, text: str, place: str) -> None:
        item = QListWidgetItem(text)
        item.setData(ROLE, place)
        item.setToolTip(plain(text))
        self._list.addItem(item)

    def _on_clicked(self, item: QListWidgetItem) -> None:
        level, _, thing = item.data(ROLE).partition(".")
        self.chosen.emit(level, thing)

    def _on_enter(self) -> None:
        if item := self._list.currentItem():
            self._on_clicked(item)

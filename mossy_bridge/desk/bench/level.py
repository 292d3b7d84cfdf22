"""The bench for a level: its plan large, its ways in at the left, its ways out at the right."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from mossy_bridge.desk.bench.banks import Bank
from mossy_bridge.desk.bench.sentence import DEPENDS
from mossy_bridge.desk.link import Link
from mossy_bridge.desk.look import Look
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.flow import Exit, Flow, Level


class LevelBench(QWidget):
    """Shows one level. ``renamed(level, text)``, ``recoded(level, text)`` and ``moved_to_region(region)`` bring
    what is typed or picked;
    ``exit_wanted(level, exit)`` asks for a crossing; ``new_exit_wanted`` for one more exit."""

    renamed = pyqtSignal(str, str)
    recoded = pyqtSignal(str, str)
    moved_to_region = pyqtSignal(str)
    exit_wanted = pyqtSignal(str, str)
    new_exit_wanted = pyqtSignal()

    def __init__(self, look: Look):
        super().__init__()
        self._level_id = ""
        self.name, self.code, self.region = QLineEdit(), QLineEdit(), QComboBox()
        self._kind = QLabel()
        self._plan = Bank(look, "Plan")
        self._ways_in, self._ways_out, self._inside = _Column("Ways in"), _Column("Ways out"), _Column("In the level")
        self._new_exit = Link("+ New exit", "Add an exit to this level")
        self._new_exit.clicked.connect(self.new_exit_wanted)
        self.name.setAccessibleName("Name")
        self.name.setPlaceholderText("Name")
        self.code.setAccessibleName("Code")
        self.code.setPlaceholderText("Code")
        self.code.setFixedWidth(70)
        self.region.setAccessibleName("Region")
        self.name.editingFinished.connect(self.finish_typing)
        self.code.editingFinished.connect(self.finish_typing)
        self.region.activated.connect(lambda: self.moved_to_region.emit(self.region.currentData()))
        self._arrange()

    def _arrange(self) -> None:
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(self.code)
        head.addWidget(self.name, 2)
        head.addWidget(self.region)
        head.addWidget(self._kind, 3)
        middle = QHBoxLayout()
        middle.setSpacing(12)
        middle.addWidget(self._ways_in, 3)
        middle.addWidget(self._plan, 7)
        middle.addWidget(self._ways_out, 3)
        middle.addWidget(self._inside, 3)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 10, 16, 10)
        layout.setSpacing(8)
        layout.addLayout(head)
        layout.addLayout(middle, 1)

    def finish_typing(self) -> None:
        """Asks for what has been typed and not yet asked for, for the level it was typed at."""
        for field, signal in ((self.name, self.renamed), (self.code, self.recoded)):
            if field.isModified():
                field.setModified(False)
                signal.emit(self._level_id, field.text().strip())

    def show_level(self, flow: Flow, level: Level) -> None:
        """Shows a level of the flow (patterns filled in)."""
        self._level_id = level.id
        for field, text in ((self.name, level.name), (self.code, level.code)):
            if field.text() != text:
                field.setText(text)
        self.region.clear()
        self.region.addItem("no region", "")
        for region in flow.regions:
            self.region.addItem(region.name or region.id, region.id)
        known = self.region.findData(level.region)
        if known < 0:
            self.region.addItem(f"{level.region} (missing)", level.region)
            known = self.region.count() - 1
        self.region.setCurrentIndex(known)
        self._kind.setText(_described(flow, level))
        self._plan.show_plan(flow, level, everything=True)
        self._ways_in.show_rows(self._entries(flow, level))
        self._ways_out.show_rows([self._way_out(flow, level, exit_) for exit_ in level.exits], self._new_exit)
        self._inside.show_rows([(text, None) for text in _contents(flow, level)])

    def _entries(self, flow: Flow, level: Level) -> "Sequence[tuple[str, object]]":
        rows: list[tuple[str, object]] = []
        if flow.start.level == level.id:
            rows.append(("the start of the game", None))
        for other in flow.levels:
            for exit_ in other.exits:
                if any(to.kind == "level" and to.level == level.id for to in exit_.destinations):
                    text = f"{other.title}: {exit_.name or exit_.id}"
                    rows.append((text, lambda o=other.id, e=exit_.id: self.exit_wanted.emit(o, e)))
            for tile in other.tiles:
                if tile.level == level.id:
                    rows.append((f"{other.title}: tile {tile.id}", None))
        return rows

    def _way_out(self, flow: Flow, level: Level, exit_: Exit) -> tuple[str, object]:
        to = exit_.to
        if to is None:
            target = "nowhere"
        elif to.kind == "level":
            found = flow.level(to.level)
            target = found.title if found else f"{to.level} (missing)"
        elif to.kind == "end":
            target = next((e.name or e.id for e in flow.endings if e.id == to.ending), to.ending)
        else:
            target = DEPENDS[to.kind]
        text = f"{exit_.name or exit_.id} → {target}"
        return text, lambda: self.exit_wanted.emit(level.id, exit_.id)


def _described(flow: Flow, level: Level) -> str:
    parts = [{"play": "level", "screen": "screen", "board": "board"}[level.kind]]
    if not level.ships:
        parts.append("does not ship")
    if level.status != "ready":
        parts.append(level.status)
    if level.minutes:
        parts.append(f"{level.minutes:g} min")
    if level.opens != "always":
        parts.append(f"opens when: {Wording(flow).condition(level.opens)}")
    return " · ".join(parts)


def _contents(flow: Flow, level: Level) -> list[str]:
    wording = Wording(flow)
    rows = []
    for deed in level.deeds:
        effects = ", ".join(map(wording.effect, deed.effects))
        checkpoint = "checkpoint" if deed.checkpoint else ""
        told = ", ".join(filter(None, (effects, checkpoint)))
        rows.append(f"◇ {deed.name or deed.id}" + (f": {told}" if told else ""))
    rows += [f"▽ {spawn.name or spawn.id}, faces {spawn.faces}" for spawn in level.spawns]
    rows += [f"▭ zone {zone.name or zone.id}" for zone in level.zones]
    titles = {other.id: other.title for other in flow.levels}
    rows += [f"▦ tile {tile.id}: {titles.get(tile.level, tile.level or 'no level')}" for tile in level.tiles]
    rows += [f"on arrival: {wording.effect(effect)}" for effect in level.on_arrival]
    return rows


class _Column(QScrollArea):
    """A titled list of lines, some of which can be clicked."""

    def __init__(self, title: str):
        super().__init__()
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(title)
        self._title = title
        self.viewport().setAutoFillBackground(False)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def show_rows(self, rows: "Sequence[tuple[str, object]]", last: QWidget | None = None) -> None:
        if last:
            last.setParent(None)
        body = QWidget()
        body.setAutoFillBackground(False)
        layout = QVBoxLayout(body)
        layout.setContentsMargins(0, 0, 4, 0)
        layout.setSpacing(3)
        layout.addWidget(QLabel(f"<b>{self._title}</b>"))
        for text, action in rows:
            if action is None:
                label = QLabel(text)
                label.setWordWrap(True)
                layout.addWidget(label)
            else:
                link = Link(text)
                link.clicked.connect(action)
                layout.addWidget(link)
        if not rows:
            layout.addWidget(QLabel("none"))
        if last:
            layout.addWidget(last)
            last.show()
        layout.addStretch(1)
        self.setWidget(body)
        body.setAutoFillBackground(False)  # adopting it, the scroll area has turned it on

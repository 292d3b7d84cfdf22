"""The bench for a level: what it is in a sentence, its plan, its ways in and out, and what lies in it."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPlainTextEdit, QStackedWidget, QVBoxLayout, QWidget

from mossy_bridge.checks.level_links import LevelLinks
from mossy_bridge.desk.bench.line_column import Line, LineColumn
from mossy_bridge.desk.bench.wiring import wire_canvas
from mossy_bridge.desk.boards.canvas import BoardCanvas, tiles_of
from mossy_bridge.desk.boards.wiring import wire_board
from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.plan.canvas import PlanCanvas
from mossy_bridge.desk.plan.numbers import Numbers
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.crossing import leads_to
from mossy_bridge.desk.sentences.things import LevelSentence, ThingSentence, ZonesSentence
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.edits.levels import PATTERN
from mossy_bridge.model.edits.patterns import overridden
from mossy_bridge.model.flow import Exit, Flow, Level, Spawn, Tile
from mossy_bridge.model.patterns import resolved
from mossy_bridge.plan.laying import Part

FIELD_WORDS = {"on_arrival": "what happens on arrival", "cast": "who roams here", "opens": "when it opens",
               "ships": "whether it ships"}  # fmt: skip

NOTES_H = 44
"""Pixels that notes take up; of longer ones the rest scrolls."""
ENLARGE = "Enlarge the plan", "Lay out the plan in the full middle (also by a double click)"
OPEN_BOARD = "Open the board", "Lay out the board in the full middle"


class LevelBench(QWidget):
    """Shows one level and lets it be changed. ``exit_wanted(level, exit)`` asks for a crossing, or with
    no exit for a level, ``plan_wanted`` for the plan in full."""

    exit_wanted = pyqtSignal(str, str)
    plan_wanted = pyqtSignal()

    def __init__(self, look: Look, requests: Requests, selection: Selection, person: Person):
        super().__init__()
        self._requests, self._selection = requests, selection
        self._key, self._flow, self._noted = "", Flow(), ""
        self.links: LevelLinks | None = None
        """Which levels name which, of the flow surveyed or shown last."""
        self.name, self.code = QLineEdit(), QLineEdit()
        self.sentence = LevelSentence(requests, person.ask)
        self.thing = ThingSentence(requests)
        self.zones = ZonesSentence(requests, person.ask)
        self.plan = PlanCanvas(look, "Plan")
        self.board = BoardCanvas(look)
        self.pages = QStackedWidget()
        self.pages.addWidget(self.plan)
        self.pages.addWidget(self.board)
        self.numbers = Numbers(requests)
        self._enlarge = Link()
        self._enlarge.clicked.connect(self.plan_wanted)
        self._ways_in, self._ways_out, self._inside = LineColumn("Ways in"), LineColumn("Ways out"), LineColumn("")
        self._new_exit = Link("+ New exit", "Add an exit to this level")
        self._new_exit.clicked.connect(requests.crossings.new)
        self._new_deed = Link("+ Deed", "Something the player can do here that the game remembers")
        self._new_deed.clicked.connect(lambda: requests.plans.new_deed(self._key))
        self._new_spawn = Link("+ Spawn point", "A place where the player can appear")
        self._new_spawn.clicked.connect(lambda: requests.plans.new_spawn(self._key))
        self.notes = QPlainTextEdit()
        self.notes.setAccessibleName("Notes")
        self.notes.setPlaceholderText("Notes on this level")
        self.notes.setTabChangesFocus(True)
        self.notes.setMaximumHeight(NOTES_H)
        self.notes.installEventFilter(self)
        for field, name, width in ((self.name, "Name", 220), (self.code, "Code", 64)):
            field.setAccessibleName(name)
            field.setPlaceholderText(name)
            field.setFixedWidth(width)
            field.editingFinished.connect(self.finish_typing)
        wire_canvas(self.plan, requests)
        wire_board(self.board, requests, selection)
        self.plan.chosen.connect(lambda parts: selection.select_parts(self._key, parts))
        self.plan.opened.connect(self._on_opened)
        self._arrange()

    def _arrange(self) -> None:
        names = QHBoxLayout()
        names.setSpacing(6)
        names.addWidget(self.code)
        names.addWidget(self.name)
        names.addStretch(1)
        below = QHBoxLayout()
        below.addWidget(self.numbers, 1)
        below.addWidget(self._enlarge)
        middle = QVBoxLayout()
        middle.setSpacing(3)
        middle.addWidget(self.pages, 1)
        middle.addLayout(below)
        columns = QHBoxLayout()
        columns.setSpacing(12)
        columns.addWidget(self._ways_in, 3)
        columns.addLayout(middle, 8)
        columns.addWidget(self._ways_out, 3)
        inside = QVBoxLayout()
        inside.setSpacing(4)
        inside.addWidget(self._inside, 1)
        new = QHBoxLayout()
        new.addWidget(self._new_deed)
        new.addWidget(self._new_spawn)
        new.addStretch(1)
        inside.addLayout(new)
        inside.addWidget(self.notes)
        columns.addLayout(inside, 4)
        head = QHBoxLayout()
        head.setSpacing(10)
        head.addLayout(names)
        head.setAlignment(names, Qt.AlignmentFlag.AlignTop)
        words = QVBoxLayout()
        words.setSpacing(4)
        for sentence in (self.sentence, self.thing, self.zones):
            words.addWidget(sentence)
        head.addLayout(words, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 10, 16, 8)
        layout.setSpacing(6)
        layout.addLayout(head)
        layout.addLayout(columns, 1)

    def _on_opened(self, part: Part | None) -> None:
        if part is not None and part.group == "exits":
            self.exit_wanted.emit(self._key, part.name)
        else:
            self.plan_wanted.emit()

    def finish_typing(self) -> None:
        """Asks for what has been typed and not yet asked for, for the level it was typed at."""
        for field, what in ((self.name, "name"), (self.code, "code")):
            if field.isModified():
                field.setModified(False)
                self._requests.levels.set(self._key, **{what: field.text().strip()})
        text = self.notes.toPlainText()
        if text != self._noted:
            self._noted = text
            self._requests.levels.set(self._key, notes=text)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if watched is self.notes and event is not None and event.type() == QEvent.Type.FocusOut:
            self.finish_typing()
        return super().eventFilter(watched, event)

    # -- showing ---------------------------------------------------------------------------------------

    def show_level(self, flow: Flow, key: str, level: Level, folder: Path | None) -> None:
        """Shows a level or pattern of the flow as written; the level with what it takes from its pattern."""
        self._key, self._flow = key, flow
        for field, text in ((self.name, level.name), (self.code, level.code)):
            if field.text() != text:
                field.setText(text)
                if not field.hasFocus():
                    field.home(False)  # of a long text its beginning is seen
        if level.notes != self._noted:
            self._noted = level.notes
            self.notes.setPlainText(level.notes)
        parts = self._selection.parts
        one = parts[0] if len(parts) == 1 and parts[0].group in ("deeds", "spawns") else None
        self.sentence.setVisible(one is None)
        self.thing.setVisible(one is not None)
        if one:
            self.thing.say(flow, key, level, one)
        else:
            self.sentence.say(flow, key, level)
        self.zones.setVisible(bool(level.zones) and one is None)
        if level.zones and one is None:
            self.zones.say(flow, key, level)
        board = level.kind == "board" and not key.startswith(PATTERN)
        self.pages.setCurrentWidget(self.board if board else self.plan)
        self._enlarge.say(*(OPEN_BOARD if board else ENLARGE))
        if board:
            self.board.show_board(resolved(flow), level, tiles_of(parts), folder)
        self.plan.show_plan(flow, key, parts, everything=True, folder=folder)
        self.numbers.setVisible(not board)  # whose tiles lie in cells
        if not board:
            self.numbers.show_parts(flow, key, parts, self.plan.step)
        self._ways_in.show_lines(self._entries(flow, key))
        self._ways_out.show_lines([self._way_out(flow, key, exit_) for exit_ in level.exits], self._new_exit)
        self._inside.show_lines([*self._to_look_at(key, level), *self._own(flow, key, level),
                                 *self._contents(flow, key, level), *self._checklist(flow, key, level)])  # fmt: skip

    def _entries(self, flow: Flow, key: str) -> list[Line]:
        if key.startswith(PATTERN):
            name = key.removeprefix(PATTERN)
            based = [level for level in flow.levels if level.pattern == name]
            return [
                Line("Followed by:"),
                *(Line(lv.title, partial(self.exit_wanted.emit, lv.id, "")) for lv in based),
            ]
        lines = [Line("the start of the game")] if flow.start.level == key else []
        self.links = LevelLinks(resolved(flow), self.links)
        for way in {(way.level.id, way.thing.id): way for way in self.links.ways_in(key)}.values():
            title, thing = way.level.title, way.thing
            if isinstance(thing, Tile):
                lines.append(Line(f"{title}: tile {thing.id}", partial(self.exit_wanted.emit, way.level.id, "")))
            else:
                wanted = partial(self.exit_wanted.emit, way.level.id, thing.id)
                lines.append(Line(f"{title}: {thing.name or thing.id}", wanted))
        return lines

    def _way_out(self, flow: Flow, key: str, exit_: Exit) -> Line:
        return Line(f"{exit_.name or exit_.id} → {leads_to(flow, exit_)}", lambda: self.exit_wanted.emit(key, exit_.id))

    def _to_look_at(self, key: str, level: Level) -> list[Line]:
        """The list a copy carries until everything has been looked at."""
        if not level.unreviewed:
            return []
        flow = self._flow
        lines = [Line("A copy: still to look at", heading=True)]
        confirm = self._requests.plans.confirm
        for part in level.unreviewed:
            kind, _, name = part.partition(" ")
            things: tuple[Exit | Spawn, ...] = level.exits if kind == "exit" else level.spawns
            thing = next((one for one in things if one.id == name), None)
            words = f"{kind} {getattr(thing, 'name', '') or name}" if name else f"the file {level.file}"
            if isinstance(thing, Exit):
                words += f" → {leads_to(flow, thing)}"
            lines.append(Line(words, partial(confirm, key, part), ticked=False))
        lines.append(Line("All of it is right", lambda: confirm(key)))
        return lines

    def _own(self, flow: Flow, key: str, level: Level) -> list[Line]:
        """What a level with a pattern sets itself."""
        if not level.pattern or key.startswith(PATTERN):
            return []
        own = overridden(flow, key)
        lines = [Line(f"Set here, not by {level.pattern}" if own else f"All as {level.pattern} has it", heading=True)]
        take_back = self._requests.upkeep.take_back
        for field, thing in own:
            words = f"{field.removesuffix('s')} {thing}" if thing else FIELD_WORDS.get(field, field)
            lines.append(Line(f"↩ {words}", partial(take_back, key, field, thing)))
        lines.append(Line("Show the pattern", lambda: self.exit_wanted.emit(PATTERN + level.pattern, "")))
        return lines

    def _contents(self, flow: Flow, key: str, level: Level) -> list[Line]:
        wording = Wording(flow)
        lines = [Line("In the level", heading=True)]
        for deed in level.deeds:
            effects = ", ".join(map(wording.effect, deed.effects))
            told = ", ".join(filter(None, (effects, "checkpoint" if deed.checkpoint else "")))
            text = f"◇ {deed.name or deed.id}" + (f": {told}" if told else "")
            lines.append(Line(text, self._choosing(key, Part("deeds", deed.id))))
        for spawn in level.spawns:
            text = f"▽ {spawn.name or spawn.id}, faces {spawn.faces}"
            lines.append(Line(text, self._choosing(key, Part("spawns", spawn.id))))
        for tile in level.tiles:
            target = flow.level(tile.level)
            lines.append(Line(f"▦ tile {tile.id}: {target.title if target else tile.level or 'no level'}"))
        return lines if len(lines) > 1 else []

    def _choosing(self, key: str, part: Part) -> Callable[[], None]:
        return lambda: self._selection.select_parts(key, [part])

    def _checklist(self, flow: Flow, key: str, level: Level) -> list[Line]:
        items = [item for item in flow.checklist if level.kind in item.kinds]
        if not items or key.startswith(PATTERN):
            return []
        tick = self._requests.upkeep.tick
        lines = [Line("Checklist", heading=True)]
        for item in items:
            on = item.id in level.ticked
            lines.append(Line(item.text or item.id, partial(tick, key, item.id, not on), ticked=on))
        return lines

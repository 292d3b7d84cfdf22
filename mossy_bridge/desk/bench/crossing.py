"""The bench for a crossing: its sentence, and below it the bridge from bank to bank."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QLabel, QVBoxLayout, QWidget

from mossy_bridge.desk.bench.banks import Bank
from mossy_bridge.desk.bench.deck import Deck
from mossy_bridge.desk.bench.sentence import Sentence
from mossy_bridge.desk.link import Link
from mossy_bridge.desk.look import Look
from mossy_bridge.desk.plan_painting import has_area
from mossy_bridge.model.flow import Exit, Flow, Level


class CrossingBench(QWidget):
    """Shows one crossing. ``sentence`` says what is picked; ``level_wanted`` asks for a level instead."""

    level_wanted = pyqtSignal(str)

    def __init__(self, look: Look):
        super().__init__()
        self.sentence = Sentence()
        self._left, self._right = Bank(look, "Where the player leaves"), Bank(look, "Where the player arrives")
        self._deck = Deck(look)
        tip = "Show this level on the bench"
        self._left_title, self._right_title = Link(tip=tip), Link(tip=tip)
        self._left_note, self._right_note = QLabel(), QLabel()
        self._targets = ["", ""]
        for index, button in enumerate((self._left_title, self._right_title)):
            button.clicked.connect(lambda _, i=index: self.level_wanted.emit(self._targets[i]))
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(2)
        for column, widgets in enumerate(
            ((self._left_title, self._left, self._left_note), (None, self._deck, None),
             (self._right_title, self._right, self._right_note))
        ):  # fmt: skip
            for row, widget in enumerate(widgets):
                if widget:
                    grid.addWidget(widget, row, column)
        grid.setRowStretch(1, 1)
        for column, stretch in enumerate((5, 6, 5)):
            grid.setColumnStretch(column, stretch)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 10, 16, 8)
        layout.setSpacing(6)
        layout.addWidget(self.sentence)
        layout.addLayout(grid, 1)

    def show_crossing(self, flow: Flow, level: Level, exit_: Exit) -> None:
        """Shows a crossing of the flow (patterns filled in)."""
        self.sentence.say(flow, level, exit_)
        to = exit_.to
        target = flow.level(to.level) if to and to.kind == "level" else None
        spawn = target.spawn(to.spawn) if target and to else None
        self._targets = [level.id, target.id if target else ""]
        self._left_title.say(f"{level.title} · leaves here")
        self._right_title.say(f"{target.title} · arrives here" if target else "")
        self._right_title.setVisible(target is not None)
        self._left.show_plan(flow, level, exit_=exit_)
        self._right.show_plan(flow, target, spawn=spawn)
        self._deck.show_transition(flow.transition(exit_.transition), exit_.transition)
        x, y, width, height = exit_.area
        unit = flow.units.name
        plural = f"{unit}s" if unit and not unit.endswith("s") else unit
        area = f"area {x:g}, {y:g} · {width:g} × {height:g} {plural}" if has_area(exit_) else "set off anywhere"
        self._left_note.setText(area)
        self._right_note.setText(f"x {spawn.x:g}, y {spawn.y:g} · faces {spawn.faces}" if spawn else "")
        self._same_scale()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._same_scale()

    def _same_scale(self) -> None:
        scale = min(self._left.best_scale(), self._right.best_scale())
        for bank in (self._left, self._right):
            bank.use_scale(scale if scale < 1e9 else None)

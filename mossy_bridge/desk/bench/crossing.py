"""The bench for a crossing: its sentence, and below it the bridge from bank to bank."""

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QLabel, QVBoxLayout, QWidget

from mossy_bridge.desk.bench.deck import Deck
from mossy_bridge.desk.bench.wiring import wire_canvas
from mossy_bridge.desk.link import Link
from mossy_bridge.desk.look import Look
from mossy_bridge.desk.plan.canvas import PlanCanvas
from mossy_bridge.desk.plan.numbers import Numbers
from mossy_bridge.desk.plan.painting import has_area
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.crossing import CrossingSentence
from mossy_bridge.model.flow import Exit, Flow, Level
from mossy_bridge.plan.laying import Part


class CrossingBench(QWidget):
    """Shows one crossing and lets it be changed. ``level_wanted`` asks for a level instead."""

    level_wanted = pyqtSignal(str)

    def __init__(self, look: Look, requests: Requests):
        super().__init__()
        self.sentence = CrossingSentence(requests)
        self.left = PlanCanvas(look, "Where the player leaves")
        self.right = PlanCanvas(look, "Where the player arrives")
        self.left.beside, self.right.beside = self.right, self.left
        self._deck = Deck(look)
        tip = "Show this level on the bench"
        self._titles = (Link(tip=tip), Link(tip=tip))
        self._numbers = (Numbers(requests), Numbers(requests))
        self._note = QLabel()
        self._targets = ["", ""]
        for index, button in enumerate(self._titles):
            button.clicked.connect(lambda _, i=index: self.level_wanted.emit(self._targets[i]))
        for canvas, numbers in zip((self.left, self.right), self._numbers, strict=True):
            wire_canvas(canvas, requests)
            canvas.chosen.connect(lambda _, c=canvas, n=numbers: n.show_parts(c.flow, c.key, c.parts, c.step))
            canvas.opened.connect(lambda _, c=canvas: self.level_wanted.emit(c.key))
        self._arrange()

    def _arrange(self) -> None:
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(2)
        places = (
            (self._titles[0], 0, 0),
            (self.left, 1, 0),
            (self._numbers[0], 2, 0),
            (self._note, 2, 1),
            (self._deck, 1, 1),
            (self._titles[1], 0, 2),
            (self.right, 1, 2),
            (self._numbers[1], 2, 2),
        )
        for widget, row, column in places:
            grid.addWidget(widget, row, column)
        grid.setRowStretch(1, 1)
        for column, stretch in enumerate((5, 5, 5)):
            grid.setColumnStretch(column, stretch)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 10, 16, 8)
        layout.setSpacing(6)
        layout.addWidget(self.sentence)
        layout.addLayout(grid, 1)

    def show_crossing(self, flow: Flow, key: str, level: Level, exit_: Exit, folder: Path | None) -> None:
        """Shows a crossing of the flow as written; the level with what it takes from its pattern."""
        self.sentence.say(flow, key, level, exit_)
        to = exit_.to
        target = flow.level(to.level) if to and to.kind == "level" else None
        spawn = target.spawn(to.spawn) if target and to else None
        self._targets = [key, target.id if target else ""]
        self._titles[0].say(f"{level.title} · leaves here")
        self._titles[1].say(f"{target.title} · arrives here" if target else "")
        self._titles[1].setVisible(target is not None)
        self._show(0, flow, key, (Part("exits", exit_.id),) if has_area(exit_) else (), folder)
        self._show(1, flow, target.id if target else "", (Part("spawns", spawn.id),) if spawn else (), folder)
        self._deck.show_transition(flow.transition(exit_.transition), exit_.transition)
        self._note.setText("" if has_area(exit_) else "Set off anywhere in the level.")

    def _show(self, side: int, flow: Flow, key: str, parts: tuple[Part, ...], folder: Path | None) -> None:
        canvas, numbers = (self.left, self.right)[side], self._numbers[side]
        canvas.show_plan(flow, key, parts, folder=folder)
        numbers.setVisible(bool(parts))
        if parts:
            numbers.show_parts(flow, key, parts, canvas.step)

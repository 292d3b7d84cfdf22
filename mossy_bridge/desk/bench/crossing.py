"""The bench for a crossing: its sentence, and below it the bridge from bank to bank."""

from collections.abc import Callable, Iterator, Sequence
from pathlib import Path

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from mossy_bridge.checks.finding import Finding
from mossy_bridge.desk.bench.deck import Deck
from mossy_bridge.desk.bench.playing import Playing
from mossy_bridge.desk.bench.wiring import wire_canvas
from mossy_bridge.desk.plan.canvas import PlanCanvas
from mossy_bridge.desk.plan.numbers import Numbers
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.crossing import CrossingSentence
from mossy_bridge.desk.sentences.transition import StepSentence, TransitionSentence
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Exit, Flow, Level, Transition
from mossy_bridge.plan.doors import has_area
from mossy_bridge.plan.laying import Part

AT_FAULT = {
    "cut-in-view": ("load",), "shown-too-early": ("fade_in",), "player-loose": ("hold_player",),
    "player-stuck": ("hold_player",), "never-black-out": ("fade_in",), "never-back": ("fade_out",),
    "message-unreadable": ("show_message",), "message-left-over": ("show_message",), "flash": ("fade_in",),
}  # fmt: skip
"""The kinds of step that each check is about."""

ANYWHERE = {
    "touch": "It has no area yet: draw one on the plan, or type its numbers.",
    "press": "It has no area yet: draw one on the plan, or type its numbers.",
}
"""What is said of an exit without an area that needs one."""


class CrossingBench(QWidget):
    """Shows one crossing and lets it be changed. ``level_wanted`` asks for a level instead."""

    level_wanted = pyqtSignal(str)

    def __init__(self, look: Look, requests: Requests):
        super().__init__()
        self.sentence = CrossingSentence(requests)
        self.left = PlanCanvas(look, "Where the player leaves")
        self.right = PlanCanvas(look, "Where the player arrives")
        self.left.beside, self.right.beside = self.right, self.left
        self._requests, self._look = requests, look
        self._leaving: tuple[Level | None, Exit | None] = (None, None)
        self._folder: Path | None = None
        self.deck = Deck(look)
        self.transition, self.step = TransitionSentence(requests, self.play), StepSentence(requests)
        self._findings: Sequence[Finding] = ()
        self._shown: tuple[Flow, Transition | None] = (Flow(), None)
        tip = "Show this level on the bench"
        self._titles = (Link(tip=tip), Link(tip=tip))
        self._numbers = (Numbers(requests), Numbers(requests))
        self._targets = ["", ""]
        for index, button in enumerate(self._titles):
            button.clicked.connect(lambda _, i=index: self.level_wanted.emit(self._targets[i]))
        for canvas, numbers in zip((self.left, self.right), self._numbers, strict=True):
            wire_canvas(canvas, requests)
            canvas.chosen.connect(lambda _, c=canvas, n=numbers: n.show_parts(c.flow, c.key, c.parts, c.step))
            canvas.opened.connect(lambda _, c=canvas: self.level_wanted.emit(c.key))
        self._named, self._place_told = "", ""
        self._wire_deck()
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
            (self.transition, 0, 1),
            (self.deck, 1, 1),
            (self.step, 2, 1),
            (self._titles[1], 0, 2),
            (self.right, 1, 2),
            (self._numbers[1], 2, 2),
        )
        for widget, row, column in places:
            grid.addWidget(widget, row, column)
        for title in self._titles:
            grid.setAlignment(title, Qt.AlignmentFlag.AlignBottom)
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
        self._leaving, self._folder = (level, exit_), folder
        self._show_deck(flow, key, exit_)

    def show_findings(self, findings: Sequence[Finding]) -> None:
        """Takes what a survey has found, to mark the steps that are at fault."""
        self._findings = findings
        flow, transition = self._shown
        self.deck.show_transition(transition, self._named, flow.limits, self._faults(transition))
        self._say_step()

    def _show_deck(self, flow: Flow, key: str, exit_: Exit) -> None:
        transition = flow.transition(exit_.transition)
        self._shown, self._named = (flow, transition), exit_.transition
        self._place_told = "" if has_area(exit_) else ANYWHERE.get(exit_.trigger.kind, "Set off anywhere in the level.")
        self.deck.show_transition(transition, exit_.transition, flow.limits, self._faults(transition))
        self.transition.setVisible(transition is not None)
        if transition:
            self.transition.say(flow, transition, (key, exit_.id))
        self._say_step()

    def play(self) -> Playing | None:
        """Plays the transition between the two banks."""
        flow, transition = self._shown
        level, exit_ = self._leaving
        if transition is None or level is None or exit_ is None:
            return None
        to = exit_.to
        target = flow.level(to.level) if to and to.kind == "level" else None
        spawn = target.spawn(to.spawn) if target and to else None
        landing = (target, spawn) if target else None
        box = Playing(self, self._look, flow, (level, exit_), landing, transition, self._folder)
        box.move(self.deck.mapToGlobal(QPoint(self.deck.width() // 2 - box.width() // 2, -box.height() - 30)))
        box.show()
        box.run()
        return box

    def _say_step(self) -> None:
        flow, transition = self._shown
        if transition and 0 <= self.deck.step < len(transition.steps):
            here = [finding for index, finding in self._at_fault(transition) if index == self.deck.step]
            self.step.say(flow, transition, self.deck.step, here)
        else:
            self.step.say_nothing(flow, self._place_told)

    def _faults(self, transition: Transition | None) -> dict[int, list[str]]:
        """What is wrong with which step."""
        found: dict[int, list[str]] = {}
        for index, finding in self._at_fault(transition):
            found.setdefault(index, []).append(finding.message)
        return found

    def _at_fault(self, transition: Transition | None) -> Iterator[tuple[int, Finding]]:
        for finding in self._findings:
            if transition is None or finding.waived or finding.at[:1] != (transition.id,):
                continue
            for index, step in enumerate(transition.steps):
                if index in finding.steps or (not finding.steps and step.do in AT_FAULT.get(finding.check, ())):
                    yield index, finding

    def _wire_deck(self) -> None:
        requests = self._requests.transitions

        def on(change: Callable[..., object]) -> Callable[..., object]:
            return lambda *args: change(self._named, *args)

        self.deck.chosen.connect(lambda _: self._say_step())
        self.deck.moved.connect(on(requests.move_step))
        self.deck.stretched.connect(on(requests.stretch_step))
        self.deck.removed.connect(on(requests.remove_step))

    def _show(self, side: int, flow: Flow, key: str, parts: tuple[Part, ...], folder: Path | None) -> None:
        canvas, numbers = (self.left, self.right)[side], self._numbers[side]
        canvas.show_plan(flow, key, parts, folder=folder)
        numbers.setVisible(bool(parts))
        if parts:
            numbers.show_parts(flow, key, parts, canvas.step)

"""The crossing as a sentence with blanks. The words are of one kind with those of the trial walk and docs."""

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QLabel, QSizePolicy, QWidget

from mossy_bridge.desk.blank import Blank, Choice
from mossy_bridge.desk.flowing import FlowingLayout
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.flow import PLAYER, Destination, Exit, Flow, Level

TRIGGERS = {
    "touch": "walks into", "press": "presses a button in", "choose": "chooses", "auto": "is where",
    "timer": "has waited for", "fail": "fails at",
}  # fmt: skip
DEPENDS = {
    "next": "the next level of the order", "previous": "the previous level of the order",
    "again": "this level again", "back": "the level last played", "resume": "the saved game",
}  # fmt: skip


class Sentence(QWidget):
    """Says a crossing, with pickers for level, spawn point and transition.

    ``level_picked``, ``spawn_picked`` and ``transition_picked`` bring ids.
    """

    level_picked = pyqtSignal(str)
    spawn_picked = pyqtSignal(str)
    transition_picked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._picked_last = ""
        self._words = FlowingLayout(self)
        self._words.setContentsMargins(0, 0, 0, 0)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.setAccessibleName("Crossing")

    def say(self, flow: Flow, level: Level, exit_: Exit) -> None:
        """Says another crossing."""
        while (item := self._words.takeAt(0)) is not None:
            if item.widget():
                item.widget().hide()
                item.widget().deleteLater()
        self._say_trigger(Wording(flow), level, exit_)
        self._say_transition(flow, exit_)
        self._say_destination(flow, exit_.to)
        self.updateGeometry()
        self._focus_again()

    def _focus_again(self) -> None:
        """The blank filled last was made anew with the sentence; the keyboard stays there."""
        for index in range(self._words.count()):
            blank = self._words.itemAt(index).widget()
            if isinstance(blank, Blank) and blank.what == self._picked_last:
                blank.setFocus()
        self._picked_last = ""

    def _remember(self, what: str) -> None:
        self._picked_last = what

    def _text(self, text: str, strong: bool = False) -> None:
        label = QLabel(f"<b>{text}</b>" if strong else text)
        label.setProperty("closes", text[0] in ",;")
        self._words.addWidget(label)

    def _say_trigger(self, wording: Wording, level: Level, exit_: Exit) -> None:
        trigger = exit_.trigger
        actors = " or ".join("the player" if name == PLAYER else name for name in trigger.by) or "nobody"
        self._text("When")
        self._text(actors if trigger.kind in ("touch", "press") else "the player", strong=True)
        self._text(TRIGGERS[trigger.kind])
        self._text(exit_.name or exit_.id, strong=True)
        if trigger.seconds:
            self._text(f"for {trigger.seconds:g} s")
        if trigger.when != "always":
            self._text("and")
            self._text(wording.condition(trigger.when), strong=True)
        if exit_.opens != "always":
            self._text("provided")
            self._text(wording.condition(exit_.opens), strong=True)
        if exit_.completes:
            self._text(f", {level.title} is <b>completed</b>")
        if exit_.fresh:
            self._text(", a <b>new run</b> begins")
        for effect in exit_.effects:
            self._text(f", <b>{wording.effect(effect)}</b>")

    def _say_transition(self, flow: Flow, exit_: Exit) -> None:
        choices = [Choice("", "at once, no transition")]
        choices += [Choice(t.id, t.name or t.id) for t in flow.transitions]
        present = flow.transition(exit_.transition)
        text = (present.name or present.id) if present else exit_.transition or "at once"
        self._text("; then")
        self._blank("transition", text, choices, exit_.transition, self.transition_picked,
                    bool(exit_.transition) and present is None)  # fmt: skip

    def _say_destination(self, flow: Flow, to: Destination | None) -> None:
        levels = [Choice(lv.id, f"{lv.code} {lv.title}".strip()) for lv in flow.levels]
        if to is None:
            self._text("; it leads")
            self._blank("level", "nowhere yet", levels, "", self.level_picked, missing=True)
            return
        if to.kind == "end":
            ending = next((e.name or e.id for e in flow.endings if e.id == to.ending), to.ending or "nowhere")
            self._text(f"; the game ends: <b>{ending}</b>. Lead to")
            self._blank("level", "a level instead", levels, "", self.level_picked)
        elif to.kind == "level":
            self._say_level(flow, to, levels)
        else:
            self._text("; the player appears in")
            self._blank("level", DEPENDS[to.kind], levels, "", self.level_picked)
        if to.otherwise:
            self._text(f"(otherwise {self._briefly(flow, to.otherwise)})")

    def _say_level(self, flow: Flow, to: Destination, levels: Sequence[Choice]) -> None:
        target = flow.level(to.level)
        self._text("; the player appears in")
        self._blank("level", target.title if target else to.level or "nowhere yet", levels, to.level,
                    self.level_picked, target is None)  # fmt: skip
        if target is None or (not target.spawns and not to.spawn):
            return
        point = target.spawn(to.spawn)
        choices = [Choice(s.id, s.name or s.id) for s in target.spawns]
        text = (point.name or point.id) if point else to.spawn
        self._text("at")
        self._blank("spawn point", text, choices, point.id if point else "", self.spawn_picked, point is None)

    def _blank(
        self, what: str, text: str, choices: Sequence[Choice], present: str, picked: object, missing: bool = False
    ) -> None:
        blank = Blank(what, text, choices, present, missing)
        blank.picked.connect(lambda: self._remember(what))
        blank.picked.connect(picked)
        self._words.addWidget(blank)

    def _briefly(self, flow: Flow, to: Destination) -> str:
        if to.kind == "level":
            target = flow.level(to.level)
            text = target.title if target else to.level
        elif to.kind == "end":
            text = next((f"the ending {e.name or e.id}" for e in flow.endings if e.id == to.ending), to.ending)
        else:
            text = DEPENDS[to.kind]
        return f"{text}, otherwise {self._briefly(flow, to.otherwise)}" if to.otherwise else text

"""A transition and its steps as sentences."""

from collections.abc import Callable, Sequence
from functools import partial
from typing import cast

from mossy_bridge.checks.finding import Finding
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.popups import Choice
from mossy_bridge.desk.sentences.sentence import Sentence
from mossy_bridge.model import timing
from mossy_bridge.model.flow import Flow, Step, StepKind, Transition

STEP_WORDS: dict[StepKind, str] = {
    "hold_player": "hold the player", "fade_out": "fade out", "fade_in": "fade in", "show_message": "show a message",
    "tally": "tally points", "load": "load the level", "wait": "wait", "sound": "play a sound",
    "scene": "play a scene", "confirm": "wait for a button",
}  # fmt: skip


class TransitionSentence(Sentence):
    """Says a transition: its name, how long it takes, who uses it."""

    def __init__(self, requests: Requests, play: Callable[[], object]):
        super().__init__("Transition")
        self._requests, self._play = requests, play

    def say(self, flow: Flow, transition: Transition, crossing: tuple[str, str]) -> None:
        """Says another transition, as used by a crossing."""
        self.begin(flow)
        requests, name = self._requests.transitions, transition.id
        self.type_text("the transition's name", transition.name or name, transition.name,
                       lambda text: requests.rename(name, text), (Transition, "name"))  # fmt: skip
        control = timing.control(transition)
        held = f", control at {control:g} s" if control is not None else ", never held"
        self.text(f"{transition.seconds:g} s{held}")
        if transition.seconds:
            self.toggle("play it", "▷ Play it", self._play)
        self.pick("add a step", "+ step", [Choice(kind, words) for kind, words in STEP_WORDS.items()], "",
                  lambda kind: requests.add_step(name, cast(StepKind, kind)))  # fmt: skip
        users = [exit_ for level in flow.levels for exit_ in level.exits if exit_.transition == name]
        if len(users) > 1:
            self.text(f"; {len(users)} crossings")
            self.toggle("copy it for this crossing", "Own copy", lambda: requests.own_copy(name, *crossing))
        self.finish()


class StepSentence(Sentence):
    """Says one step of a transition, with what is wrong with it."""

    def __init__(self, requests: Requests):
        super().__init__("Step", requests.upkeep)
        self._requests = requests

    def say(self, flow: Flow, transition: Transition, index: int, faults: Sequence[Finding]) -> None:
        """Says another step."""
        self.begin(flow)
        requests, name, step = self._requests.transitions, transition.id, transition.steps[index]
        words = STEP_WORDS[step.do]
        self.text(words[0].upper() + words[1:])
        if step.do == "show_message":
            least = timing.reading_time(step.text, flow.limits)
            self.type_text("the message", f"“{step.text}”", step.text,
                           lambda text: requests.set_step(name, index, text=text), (Step, "text"))  # fmt: skip
            self.text(f"(read in {least:g} s)")
        self.text("at")
        place = f"transitions.{name}.steps.{index}"
        self.type_number("when it begins", f"{step.at:g} s", step.at, lambda v: requests.move_step(name, index, v),
                         (Step, "at"), f"{place}.at")  # fmt: skip
        self.text("for")
        self.type_number("how long it lasts", f"{step.lasts:g} s", step.lasts,
                         lambda v: requests.stretch_step(name, index, v), (Step, "lasts"),
                         f"{place}.lasts")  # fmt: skip
        self.toggle("remove the step", "Remove it", lambda: requests.remove_step(name, index))
        for fault in faults:
            self.text(fault.message, strong=True)
            if fault.repair:
                self.toggle(f"mend {fault.check}", fault.repair.label,
                            partial(self._requests.findings.repair, fault))  # fmt: skip
        self.finish()

    def say_nothing(self, flow: Flow, words: str) -> None:
        """Says something else."""
        self.begin(flow)
        if words:
            self.text(words)
        self.finish()

"""The crossing as a sentence with blanks. The words are of one kind with those of the trial walk and docs."""

from collections.abc import Callable
from typing import cast

from msgspec.structs import replace

from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.popups import Choice
from mossy_bridge.desk.sentences.sentence import Sentence
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.destination_words import BY_PLAY
from mossy_bridge.model.edits.levels import PATTERN
from mossy_bridge.model.flow import PLAYER, Destination, DestinationKind, Exit, Flow, Level, Trigger

TRIGGERS = {
    "touch": "walks into", "press": "presses a button in", "choose": "chooses", "auto": "by itself",
    "timer": "has waited", "fail": "fails at",
}  # fmt: skip
TRIGGER_WORDS = {
    "touch": "walks into its area", "press": "presses a button in its area", "choose": "chooses it from a menu",
    "auto": "comes true by itself", "timer": "lets a time run out", "fail": "fails (dies)",
}  # fmt: skip


def leads_to(flow: Flow, exit_: Exit) -> str:
    """Where an exit leads, in a word or two."""
    to = exit_.to
    if to is None:
        return "nowhere"
    if to.kind == "level":
        found = flow.level(to.level)
        return found.title if found else f"{to.level} (missing)"
    if to.kind == "end":
        return next((e.name or e.id for e in flow.endings if e.id == to.ending), to.ending)
    return BY_PLAY[to.kind]


def actors_text(by: tuple[str, ...]) -> str:
    """Who sets something off, in words."""
    return " or ".join("the player" if name == PLAYER else name for name in by) or "nobody"


def levels_to_choose(flow: Flow) -> list[Choice]:
    """Every level by code and name."""
    return [Choice(lv.id, f"{lv.code} {lv.title}".strip() if lv.code != lv.title else lv.title) for lv in flow.levels]


class CrossingSentence(Sentence):
    """Says a crossing and takes every part of it."""

    def __init__(self, requests: Requests):
        super().__init__("Crossing", requests.upkeep)
        self._requests = requests
        self._wording = Wording(Flow())
        self._at = ""

    def say(self, flow: Flow, key: str, level: Level, exit_: Exit) -> None:
        """Says another crossing; the level with what it takes from its pattern."""
        self.begin(flow)
        self._wording = Wording(flow)
        own = any(e.id == exit_.id for lv in (*flow.levels, *flow.patterns) for e in lv.exits if lv.id == level.id)
        group, name = ("patterns", key.removeprefix(PATTERN)) if key.startswith(PATTERN) else ("levels", key)
        self._at = f"{group}.{name}.exits.{exit_.id}" if own else ""
        self._say_trigger(level, exit_)
        self._say_outcome(level, exit_)
        self._say_transition(flow, exit_)
        if exit_.to is None:
            self.text("; it leads")
            self._destination(flow, None, 0)
        else:
            for depth, to in enumerate(exit_.destinations):
                self.text("; the player appears in" if depth == 0 else "; where that is nowhere,")
                self._destination(flow, to, depth)
            self._say_otherwise(exit_)
        self.text(".")
        self.finish()

    def _place(self, field: str) -> str:
        return f"{self._at}.{field}" if self._at else ""

    # -- what sets it off ------------------------------------------------------------------------------

    def _say_trigger(self, level: Level, exit_: Exit) -> None:
        requests, trigger = self._requests.crossings, exit_.trigger
        if trigger.kind == "auto":
            self._say_by_itself(level, exit_)
            return
        self.text("When")
        if trigger.kind in ("touch", "press"):
            actors = [Choice(name, "the player" if name == PLAYER else name) for name in self._flow.actors]
            self.tick("who sets it off", actors_text(trigger.by), actors, trigger.by,
                      lambda names: requests.set_trigger("the actors", by=names), not trigger.by,
                      self._place("trigger.by"))  # fmt: skip
        else:
            self.text("the player", strong=True)
        self._pick_kind(exit_)
        if trigger.kind == "timer":
            self.type_number("the seconds", f"{trigger.seconds:g} s", trigger.seconds,
                             lambda value: requests.set_trigger("the seconds", seconds=value),
                             (Trigger, "seconds"), self._place("trigger.seconds"))  # fmt: skip
            self.text("at")
        self._type_name(exit_)
        self._say_zone(level, exit_)
        self.text("and")
        self._say_when(exit_)
        if trigger.kind == "touch":
            words = "even at the moment of arrival" if trigger.armed_on_arrival else "only after having moved"
            self.toggle("whether it is armed on arrival", words,
                        lambda: requests.set_trigger("the arming", armed_on_arrival=not trigger.armed_on_arrival),
                        self._place("trigger.armed_on_arrival"))  # fmt: skip

    def _say_by_itself(self, level: Level, exit_: Exit) -> None:
        self._type_name(exit_)
        self.text("fires")
        self._pick_kind(exit_)
        self._say_zone(level, exit_)
        self.text("as soon as")
        self._say_when(exit_)

    def _pick_kind(self, exit_: Exit) -> None:
        kinds = [Choice(kind, words) for kind, words in TRIGGER_WORDS.items()]
        self.pick("what sets it off", TRIGGERS[exit_.trigger.kind], kinds, exit_.trigger.kind,
                  lambda kind: self._requests.crossings.set_trigger("the trigger", kind=kind),
                  at=self._place("trigger.kind"))  # fmt: skip

    def _type_name(self, exit_: Exit) -> None:
        self.type_text("the exit's name", exit_.name or exit_.id, exit_.name,
                       lambda name: self._requests.crossings.set("the name", name=name), (Exit, "name"))  # fmt: skip

    def _say_when(self, exit_: Exit) -> None:
        self.condition("when it is set off", self._wording.condition(exit_.trigger.when), exit_.trigger.when,
                       lambda text: self._requests.crossings.set_trigger("the trigger's condition", when=text),
                       at=self._place("trigger.when"))  # fmt: skip

    def _say_zone(self, level: Level, exit_: Exit) -> None:
        if level.zones or exit_.zone:
            zones = [Choice("", "any zone"), *(Choice(zone.id, zone.name or zone.id) for zone in level.zones)]
            known = next((zone.text for zone in zones if zone.id == exit_.zone), "")
            self.text("in")
            self.pick("the zone", known or exit_.zone, zones, exit_.zone,
                      lambda name: self._requests.crossings.set("the zone", zone=name), not known,
                      self._place("zone"))  # fmt: skip

    # -- what comes of it ------------------------------------------------------------------------------

    def _say_outcome(self, level: Level, exit_: Exit) -> None:
        requests = self._requests.crossings
        self.text(", provided")
        self.condition(
            "the unlock condition",
            self._wording.condition(exit_.opens),
            exit_.opens,
            lambda text: requests.set("the unlock condition", opens=text),
            at=self._place("opens"),
        )
        self.text(f", {level.title} is")
        self.toggle("whether it completes the level", "completed" if exit_.completes else "not completed",
                    lambda: requests.set("the completion", completes=not exit_.completes),
                    self._place("completes"))  # fmt: skip
        self.text(",")
        self.toggle("whether a new run begins", "a new run begins" if exit_.fresh else "the run goes on",
                    lambda: requests.set("the run", fresh=not exit_.fresh), self._place("fresh"))  # fmt: skip
        self.text("with")
        told = ", ".join(map(self._wording.effect, exit_.effects)) or "no effects"
        self.effects("the effects", told, exit_.effects, lambda new: requests.set("the effects", effects=new),
                     self._place("effects"))  # fmt: skip

    def _say_transition(self, flow: Flow, exit_: Exit) -> None:
        requests = self._requests.crossings
        choices = [Choice("", "at once, no transition"), *(Choice(t.id, t.name or t.id) for t in flow.transitions)]
        present = flow.transition(exit_.transition)
        text = (present.name or present.id) if present else exit_.transition or "at once"
        number = len(flow.transitions) + 1
        self.text("; then")
        self.pick("the transition", text, choices, exit_.transition,
                  lambda name: requests.set("the transition", transition=name),
                  bool(exit_.transition) and present is None, self._place("transition"),
                  [("New transition…", lambda: requests.use_new_transition(f"Transition {number}"))])  # fmt: skip

    # -- where it leads --------------------------------------------------------------------------------

    def _destination(self, flow: Flow, to: Destination | None, depth: int) -> None:
        def choices() -> list[Choice]:
            return self._choices(flow, [Choice("-", "nowhere")] if to is not None else [])

        text, present, missing = self._told(flow, to)
        what = "the level" if depth == 0 else f"the level otherwise {depth}"
        at = self._place("to.level") if depth == 0 and to and to.kind == "level" else ""
        self.pick(what, text, choices, present, lambda name: self._lead(name, depth), missing, at, self._offers(depth))
        if to and to.kind == "level":
            self._say_landing(flow, to, depth)

    def _told(self, flow: Flow, to: Destination | None) -> tuple[str, str, bool]:
        """What the blank says, the choice it stands for, and whether that is missing."""
        if to is None:
            return "nowhere yet", "", True
        if to.kind == "level":
            target = flow.level(to.level)
            return (target.title if target else to.level or "no level"), to.level, target is None
        if to.kind == "end":
            known = next((e for e in flow.endings if e.id == to.ending), None)
            told = f"the ending: {(known.name or known.id) if known else to.ending or 'none'}"
            return told, f"!{to.ending}", known is None
        return BY_PLAY[to.kind], f"={to.kind}", False

    def _lead(self, name: str, depth: int) -> None:
        requests = self._requests.crossings
        if name == "-":
            requests.lead(None, depth)
        elif name.startswith("="):
            requests.lead(Destination(kind=cast(DestinationKind, name[1:])), depth)
        elif name.startswith("!"):
            requests.lead(Destination(kind="end", ending=name[1:]), depth)
        else:
            requests.lead(Destination(level=name), depth)

    def _say_landing(self, flow: Flow, to: Destination, depth: int) -> None:
        target = flow.level(to.level)
        if target is None:
            return
        requests = self._requests.crossings
        point = target.spawn(to.spawn)
        if point is None and not to.spawn and target.kind != "play":
            return
        choices = [Choice(s.id, s.name or s.id) for s in target.spawns]
        text = (point.name or point.id) if point else to.spawn or "no spawn point"
        self.text("at")
        what = "the spawn point" if depth == 0 else f"the spawn point otherwise {depth}"
        self.pick(what, text, choices, point.id if point else "",
                  lambda name: requests.lead(replace(to, spawn=name), depth), point is None,
                  self._place("to.spawn") if depth == 0 else "",
                  [("New spawn point…", lambda: requests.lead_to_new_spawn(depth))])  # fmt: skip

    def _say_otherwise(self, exit_: Exit) -> None:
        last = exit_.destinations[-1]
        if last.kind in ("next", "previous", "back", "resume"):
            depth = len(exit_.destinations)
            self.text("; where that is nowhere,")
            self.pick(f"the level otherwise {depth}", "nowhere", lambda: self._choices(self._flow, [], last.kind), "",
                      lambda name: self._lead(name, depth), offers=self._offers(depth))  # fmt: skip

    def _offers(self, depth: int) -> list[tuple[str, Callable[[], object]]]:
        """What a destination may be that does not exist yet."""
        requests, number = self._requests.crossings, len(self._flow.endings) + 1
        return [
            ("New level…", lambda: requests.lead_to_new_level(depth)),
            ("New ending…", lambda: requests.lead_to_new_ending(f"Ending {number}", depth)),
        ]

    def _choices(self, flow: Flow, more: list[Choice], but: str = "") -> list[Choice]:
        """Everything an exit can lead to, except destinations of one kind."""
        kinds = [Choice(f"={kind}", words) for kind, words in BY_PLAY.items() if kind != but]
        endings = [Choice(f"!{e.id}", f"the ending: {e.name or e.id}") for e in flow.endings]
        return [*levels_to_choose(flow), *endings, *kinds, *more]

"""The game itself as sentences: its name, how it keeps what was done, how plans are measured, who moves in them."""

from collections.abc import Callable
from functools import partial
from typing import Any

from msgspec.structs import replace

from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.crossing import levels_to_choose
from mossy_bridge.desk.sentences.popups import Choice
from mossy_bridge.desk.sentences.sentence import Field, Sentence
from mossy_bridge.desk.sentences.things import told
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits.actors import add_actor, rename_actor
from mossy_bridge.model.edits.endings import add_ending
from mossy_bridge.model.edits.levels import whole
from mossy_bridge.model.flow import PLAYER, CheckLimits, Ending, Flow, Units, Walker

SAVING = (Choice("arrival", "at each arrival"), Choice("deed", "by deeds that save"), Choice("never", "never"))
PROGRESS = (Choice("run", "lasts a run"), Choice("profile", "is never forgotten"))
VIEWS = (Choice("side", "from the side"), Choice("top", "from above"))
WAYS = (Choice("down", "downwards"), Choice("up", "upwards"))
WALKER = (("width", "wide"), ("height", "high"), ("speed", "units a second"), ("jump_height", "high a jump"),
          ("gravity", "units a second² of gravity"), ("tick", "seconds a tick"))  # fmt: skip
LIMITS = (
    ("transition_seconds", "seconds are long for a transition"),
    ("read_start", "seconds before one reads"),
    ("read_per_word", "seconds a word"),
    ("held_after", "seconds held after the end are too many"),
    ("flash_seconds", "seconds of black are a flash"),
    ("return_distance", "units to the door back are far"),
)


class GameSentence(Sentence):
    """Says one of the things that hold for the whole flow, and takes it."""

    def __init__(self, name: str, requests: Requests, person: Person):
        super().__init__(name, requests.upkeep)
        self._door, self._person = requests.door, person

    def _set(self, what: str, change: Callable[[Flow], Flow]) -> None:
        self._door.edit(f"change {what} of the game", change)

    def _put(self, what: str, **values: Any) -> None:
        self._set(what, lambda flow: replace(flow, **values))

    def say_game(self, flow: Flow) -> None:
        """The name, the start and what is kept."""
        self.begin(flow)
        self.text("The game is called")
        self.type_text("the title", flow.title or "nothing yet", flow.title, lambda t: self._put("the title", title=t),
                       (Flow, "title"))  # fmt: skip
        self._say_start(flow)
        self.text(". It is saved")
        self.pick(
            "when it saves", told(SAVING, flow.saving), SAVING, flow.saving, lambda n: self._put("saving", saving=n)
        )
        self.text("; what was seen and done")
        self.pick("what lasts", told(PROGRESS, flow.progress), PROGRESS, flow.progress,
                  lambda n: self._put("progress", progress=n))  # fmt: skip
        self.text(".")
        self.finish()

    def _say_start(self, flow: Flow) -> None:
        """The level and the spawn point at which the game starts."""
        start, level = flow.start, whole(flow, flow.start.level)
        known = level is not None
        self.text("and starts in")
        shown = level.title if level else f"{start.level} (missing)" if start.level else "no level yet"
        self.pick("the first level", shown, lambda: levels_to_choose(flow), start.level,
                  lambda name: self._set("the start", lambda now: edits.set_start(now, name)), not known,
                  at="start.level")  # fmt: skip
        if level is None or not (level.spawns or start.spawn):
            return
        spawns = [Choice("", "its first spawn point"), *(Choice(s.id, s.name or s.id) for s in level.spawns)]
        named = any(choice.id == start.spawn for choice in spawns)
        self.text("at")
        self.pick("the first spawn point", told(spawns, start.spawn) if named else f"{start.spawn} (missing)", spawns,
                  start.spawn, lambda name: self._put("the start", start=replace(start, spawn=name)), not named,
                  at="start.spawn")  # fmt: skip

    def say_plans(self, flow: Flow) -> None:
        """Units and direction of plans."""
        self.begin(flow)
        units, walker = flow.units, flow.walker
        self.text("Plans are measured in")
        self.type_text("the unit", units.name or "units", units.name,
                       lambda t: self._put("the unit", units=replace(units, name=t)), (Units, "name"))  # fmt: skip
        self.text("; y grows")
        self.pick("where y grows", told(WAYS, units.y), WAYS, units.y,
                  lambda n: self._put("the direction", units=replace(units, y=n)))  # fmt: skip
        self.text("; levels are seen")
        self.pick("the view", told(VIEWS, walker.view), VIEWS, walker.view,
                  lambda n: self._put("the view", walker=replace(walker, view=n)))  # fmt: skip
        self.text(".")
        self.finish()

    def say_walker(self, flow: Flow) -> None:
        """The player's body and movement."""
        self.begin(flow)
        self.text("The walker is")
        for name, words in WALKER:
            self._number(
                f"the walker's {name.replace('_', ' ')}",
                words,
                getattr(flow.walker, name),
                partial(self._set_walker, flow, name),
                (Walker, name),
            )
        self.finish()

    def say_limits(self, flow: Flow) -> None:
        """The thresholds of checks."""
        self.begin(flow)
        self.text("To the checks,")
        for name, words in LIMITS:
            self._number(
                words,
                words,
                getattr(flow.limits, name),
                partial(self._set_limit, flow, name),
                (CheckLimits, name),
            )
        self.finish()

    def _set_walker(self, flow: Flow, name: str, value: float) -> None:
        self._put("the walker", walker=replace(flow.walker, **{name: value}))

    def _set_limit(self, flow: Flow, name: str, value: float) -> None:
        self._put("a limit", limits=replace(flow.limits, **{name: value}))

    def _name_ending(self, flow: Flow, ending: Ending, name: str) -> None:
        endings = tuple(replace(one, name=name) if one is ending else one for one in flow.endings)
        self._put("an ending", endings=endings)

    def _number(self, name: str, words: str, value: float, put: Callable[[float], None], of: Field) -> None:
        """A number with the words that say what it is."""
        self.type_number(name, f"{value:g} {words}", value, put, of)

    def say_actors(self, flow: Flow) -> None:
        """Who can set things off, and the endings."""
        self.begin(flow)
        others = [Choice(f"-{name}", f"remove {name}") for name in flow.actors if name != PLAYER]
        self.text("Besides the player")
        for name in (name for name in flow.actors if name != PLAYER):
            self.type_text(f"the actor {name}", name, name, partial(self._rename_actor, name), _nameless)
        self.text("can set things off." if others else "nobody can set things off.")
        self.pick("actors", "+ actor", others, "",
                  lambda n: self._put("the actors", actors=tuple(a for a in flow.actors if a != n[1:])),
                  offers=[("New actor…", self._new_actor)])  # fmt: skip
        self.text("The game can end:")
        for ending in flow.endings:
            self.type_text(
                f"the ending {ending.id}",
                ending.name or ending.id,
                ending.name,
                partial(self._name_ending, flow, ending),
                (Ending, "name"),
            )
        gone = [Choice(ending.id, f"remove {ending.name or ending.id}") for ending in flow.endings]
        self.pick("endings", "+ ending", gone, "",
                  lambda n: self._put("the endings", endings=tuple(e for e in flow.endings if e.id != n)),
                  offers=[("New ending…", self._new_ending)])  # fmt: skip
        self.finish()

    def _new_actor(self) -> None:
        name = self._person.ask("New actor", "Who else can set things off?")
        if name:
            self._set("the actors", lambda flow: add_actor(flow, name))

    def _rename_actor(self, name: str, text: str) -> None:
        self._set("an actor", lambda flow: rename_actor(flow, name, text))

    def _new_ending(self) -> None:
        name = self._person.ask("New ending", "What is it called?")
        if name:
            self._set("the endings", lambda flow: add_ending(flow, name)[0])


def _nameless(text: str) -> str:
    return "" if text.strip() else "An actor needs a name"

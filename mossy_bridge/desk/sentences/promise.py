"""Promises and recorded walks as sentences."""

from mossy_bridge.desk.requests.upkeep import UpkeepRequests
from mossy_bridge.desk.sentences.crossing import levels_to_choose
from mossy_bridge.desk.sentences.popups import Choice
from mossy_bridge.desk.sentences.sentence import Sentence
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.flow import Flow, Promise, Walk

KINDS = (Choice("can", "The player can get to"), Choice("never", "The player never gets to"),
         Choice("always_can", "The player can always get to"),
         Choice("within", "The player can soon get to"))  # fmt: skip


class PromiseSentence(Sentence):
    """Says a promise and takes every part of it."""

    def __init__(self, requests: UpkeepRequests):
        super().__init__("Promise")
        self._requests = requests

    def say(self, flow: Flow, promise: Promise) -> None:
        """Says another promise."""
        self.begin(flow)
        set_promise = self._requests.set_promise
        words = next(kind.text for kind in KINDS if kind.id == promise.kind)
        self.pick("the kind of promise", words, KINDS, promise.kind, lambda kind: set_promise(promise.id, kind=kind))
        self._say_goal(flow, promise)
        self.text("with")
        self.condition("what must be true there", Wording(flow).condition(promise.when) if promise.when != "always" else
                       "whatever", promise.when, lambda text: set_promise(promise.id, when=text))  # fmt: skip
        if promise.kind == "within":
            self.text("in at most")
            self.type_number(
                "the crossings",
                f"{promise.crossings} crossings",
                promise.crossings,
                lambda number: set_promise(promise.id, crossings=number),
                (Promise, "crossings"),
            )
        if promise.kind in ("can", "within"):
            titles = {level.id: level.title for level in flow.levels}
            avoided = ", ".join(titles.get(name, name) for name in promise.avoiding) or "any level"
            self.text("without entering" if promise.avoiding else "through")
            self.tick("what is avoided", avoided, levels_to_choose(flow), promise.avoiding,
                      lambda names: set_promise(promise.id, avoiding=names))  # fmt: skip
        self.text(", called")
        self.type_text("the name", promise.name or "nothing yet", promise.name,
                       lambda text: set_promise(promise.id, name=text), (Promise, "name"))  # fmt: skip
        self.text(".")
        self.toggle("remove the promise", "Remove", lambda: self._requests.remove_promise(promise.id))
        self.finish()

    def _say_goal(self, flow: Flow, promise: Promise) -> None:
        endings = [Choice(f"!{e.id}", f"the ending: {e.name or e.id}") for e in flow.endings]
        names = {choice.id: choice.text for choice in (*levels_to_choose(flow), *endings)}
        present = f"!{promise.ending}" if promise.ending and not promise.level else promise.level
        shown = names.get(present, present.removeprefix("!") or "nowhere yet")
        if promise.level and promise.ending:
            shown += f" or {names.get(f'!{promise.ending}', promise.ending)}"

        def lead(name: str) -> None:
            level, ending = ("", name[1:]) if name.startswith("!") else (name, "")
            self._requests.set_promise(promise.id, level=level, ending=ending)

        self.pick("where to", shown, lambda: [*levels_to_choose(flow), *endings], present, lead, present not in names)


class WalkSentence(Sentence):
    """Says a recorded walk and what it should reach."""

    def __init__(self, requests: UpkeepRequests):
        super().__init__("Recorded walk")
        self._requests = requests

    def say(self, flow: Flow, walk: Walk) -> None:
        """Says another walk."""
        self.begin(flow)
        set_walk = self._requests.set_walk
        self.type_text("the walk", walk.name or walk.id, walk.name, lambda text: set_walk(walk.id, name=text),
                       (Walk, "name"))  # fmt: skip
        self.text(f", of {len(walk.moves)} moves, should")
        endings = [Choice(f"ends:{e.id}", f"end: {e.name or e.id}") for e in flow.endings]
        levels = [Choice(f"at:{choice.id}", f"reach {choice.text}") for choice in levels_to_choose(flow)]
        choices = [Choice("works", "work"), Choice("fails", "fail"), *endings, *levels]
        shown = next((choice.text for choice in choices if choice.id == walk.expect), walk.expect)
        self.pick("what it should lead to", shown, choices, walk.expect, lambda name: set_walk(walk.id, expect=name))
        self.text(".")
        self.toggle("remove the walk", "Remove", lambda: self._requests.remove_walk(walk.id))
        self.finish()

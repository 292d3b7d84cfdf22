"""A fact as a sentence: its name, kind and bounds, how long it lasts, and what can be done with it."""

from collections.abc import Callable, Collection
from functools import partial

from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.popups import Choice
from mossy_bridge.desk.sentences.sentence import Sentence
from mossy_bridge.desk.sentences.things import told
from mossy_bridge.exchange.validation import field_problem
from mossy_bridge.language.fact_uses import FactUse, FactUses
from mossy_bridge.model.flow import Fact, Flow

KINDS = (Choice("flag", "a flag"), Choice("count", "a count"), Choice("choice", "one of several values"))
FAILING = (Choice("back", "goes back when the player fails"), Choice("kept", "is kept when the player fails"))
"""What becomes of a fact by a restart: to what it was at the last arrival or checkpoint, or nothing."""
FAILING_FOR_ALL = (
    Choice("back", "keys and points since the checkpoint are lost"), Choice("kept", "everything is kept"),
)  # fmt: skip
LIFETIMES = (Choice("visit", "a visit"), Choice("run", "a run"), Choice("profile", "for ever"))


def told_kind(fact: Fact) -> str:
    """Kind, bounds and lifetime in a few words."""
    kind = {"flag": "flag", "count": f"count {fact.low}–{fact.high}", "choice": ", ".join(fact.values)}[fact.kind]
    return f"{kind} · {fact.lifetime}{', goes back' if fact.rewinds else ''}"


def told_uses(uses: Collection[FactUse]) -> str:
    """In how many places a fact is changed and asked for."""
    changed = sum(use.use != "asked" for use in uses)
    places = f"{changed or 'no'} place{'' if changed == 1 else 's'}"
    return f"changed in {places}, asked for in {len(uses) - changed or 'none'}"


class FactSentence(Sentence):
    """Says a fact."""

    def __init__(self, requests: Requests):
        super().__init__("Fact", requests.upkeep)
        self._requests = requests

    def say_nothing(self, flow: Flow) -> None:
        """Says that there is no fact."""
        self.begin(flow)
        self.text("The game remembers nothing yet but which levels were seen and completed. Name the first fact above: "
                  "a key, a tide, how much oil there is.")  # fmt: skip
        self.finish()

    def say(self, flow: Flow, fact: Fact, uses: FactUses | None) -> None:
        """Says another fact; how often it is used as soon as that is known."""
        self.begin(flow)
        facts = self._requests.facts
        self.type_text("the name", fact.name or fact.id, fact.name, lambda t: facts.set(fact.id, "the name", name=t),
                       (Fact, "name"))  # fmt: skip
        self.text(f"({fact.id}) is")
        self.pick(
            "the kind", told(KINDS, fact.kind), KINDS, fact.kind, lambda n: facts.set(fact.id, "the kind", kind=n)
        )
        self._say_values(fact)
        self.text("; it lasts")
        self.pick("how long it lasts", told(LIFETIMES, fact.lifetime), LIFETIMES, fact.lifetime,
                  lambda n: facts.set(fact.id, "the lifetime", lifetime=n))  # fmt: skip
        if fact.lifetime == "run":
            self.text("and")
            now = "back" if fact.rewinds else "kept"
            self.pick("what failing does to it", told(FAILING, now), FAILING, now,
                      lambda n: facts.set(fact.id, "what failing does to it", rewinds=n == "back"))  # fmt: skip
        self.text(f"; {told_uses(uses.of(fact.id))}." if uses else ".")
        others = [Choice(other.id, other.name or other.id) for other in flow.facts
                  if other.kind == fact.kind and other.id != fact.id]  # fmt: skip
        if others:
            self.pick("merge it", "Merge it into…", others, "", lambda n: facts.merge(fact.id, n))
        self.pick("what failing does to all facts", "When the player fails…", FAILING_FOR_ALL, "",
                  lambda n: facts.set_rewinding(n == "back"))  # fmt: skip
        self.toggle("remove the fact", "Remove it", lambda: facts.remove(fact.id))
        unused = sum(one.id not in uses.facts() for one in flow.facts) if uses else 0
        if unused:
            self.toggle("remove unused facts", f"Remove all {unused} unused", facts.remove_unused)
        self.finish()

    def _say_values(self, fact: Fact) -> None:
        facts = self._requests.facts
        if fact.kind == "flag":
            self.text(", at first")
            self.toggle("what it is at first", "had" if fact.first else "not had",
                        lambda: facts.set(fact.id, "the beginning", initial=None if fact.first else True))  # fmt: skip
        elif fact.kind == "count":
            for what, words, field in (("the least", "from", "low"), ("the most", "to", "high"),
                                       ("what it is at first", ", at first", "initial")):  # fmt: skip
                value = int(fact.first) if field == "initial" else getattr(fact, field)
                self.text(words)
                self.type_number(what, str(value), value,
                                 partial(self._set_number, fact.id, what, field),
                                 (Fact, "low"))  # fmt: skip
        else:
            self.text(":")
            self.type_text("the values", ", ".join(fact.values), ", ".join(fact.values), self._take_values(fact),
                           _wrong_values)  # fmt: skip
            self.text("; at first")
            values = [Choice(value, value) for value in fact.values]
            self.pick("what it is at first", str(fact.first), values, str(fact.first),
                      lambda n: facts.set(fact.id, "the beginning", initial=n))  # fmt: skip

    def _set_number(self, fact: str, what: str, field: str, value: float) -> None:
        self._requests.facts.set(fact, what, **{field: value})

    def _take_values(self, fact: Fact) -> Callable[[str], None]:
        def take(text: str) -> None:
            values = _values(text)
            initial = fact.initial if fact.initial in values else None
            self._requests.facts.set(fact.id, "the values", values=values, initial=initial)

        return take


def _values(text: str) -> tuple[str, ...]:
    return tuple(dict.fromkeys(part.strip() for part in text.split(",")))


def _wrong_values(text: str) -> str:
    if not all(_values(text)):
        return "Values stand with commas between them"
    return field_problem(list(_values(text)), Fact, "values")

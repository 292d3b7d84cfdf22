"""What conditions and effects mean: compiled against the facts of one flow into plain functions.

A condition in which anything named is unknown never holds, as a whole; an effect that names something
unknown is left out. :func:`unknown_in_condition` says what is unknown.
"""

from collections.abc import Callable, Iterable
from typing import Literal, Protocol

from msgspec import Struct

from mossy_bridge.language import tree as t
from mossy_bridge.language.parsing import parse_condition, parse_effect
from mossy_bridge.model.flow import Fact, Flow

FactValue = bool | int | str
Facts = tuple[FactValue, ...]
"""The value of every fact, in the flow's order."""


class Known(Protocol):
    """What a condition can ask."""

    @property
    def facts(self) -> Facts: ...
    @property
    def seen(self) -> frozenset[str]: ...
    @property
    def done(self) -> frozenset[str]: ...


Test = Callable[[Known], bool]
Change = Callable[[Facts], Facts]


class Unknown(Struct, frozen=True):
    """A name in a condition or effect that does not fit: what it should be, and what may stand there."""

    name: str
    wanted: Literal["flag", "count", "choice", "fact", "level", "value"]
    fact: str = ""
    """For a value: the choice it should belong to."""


class Vocabulary:
    """The names that the conditions and effects of one flow can use."""

    def __init__(self, flow: Flow):
        self.facts = {fact.id: fact for fact in flow.facts}
        self.index = {fact.id: i for i, fact in enumerate(flow.facts)}
        self.levels = frozenset(level.id for level in flow.levels)
        self._tests: dict[str, Test] = {}

    def names(self, unknown: Unknown) -> list[str]:
        """What could stand in the place of an unknown name."""
        if unknown.wanted == "level":
            return sorted(self.levels)
        if unknown.wanted == "value":
            return list(self.facts[unknown.fact].values)
        return [f.id for f in self.facts.values() if unknown.wanted in (f.kind, "fact")]

    def test(self, text: str) -> Test:
        """The condition as a function of a state."""
        if text not in self._tests:
            tree = parse_condition(text)
            self._tests[text] = _never if unknown_in_condition(tree, self) else _compiled(tree, self.index)
        return self._tests[text]

    def changes(self, texts: Iterable[str]) -> tuple[Change, ...]:
        """The effects as functions of the facts, the meaningless ones left out."""
        effects = [parse_effect(text) for text in texts]
        if not effects:
            return ()  # as mostly
        return tuple([self.change(effect) for effect in effects if not unknown_in_effect(effect, self)])

    def change(self, effect: t.Effect) -> Change:
        """One effect, all of whose names are known, as a function of the facts."""
        at = self.index[effect.fact]
        result = _new_value(effect, self.facts[effect.fact])
        return lambda facts: (*facts[:at], result(facts[at]), *facts[at + 1 :])


def unknown_in_condition(tree: t.Condition, words: Vocabulary) -> list[Unknown]:
    """The names in the condition that nothing fitting has."""
    return [problem for atom in t.atoms(tree) for problem in _unknown_in_atom(atom, words)]


def _unknown_in_atom(atom: t.Condition, words: Vocabulary) -> list[Unknown]:
    match atom:
        case t.Has(fact):
            return _unless_kind(fact, "flag", words)
        case t.Count(_, _, fact):
            return _unless_kind(fact, "count", words)
        case t.Is(fact, value):
            return _unless_value(fact, value, words)
        case t.Visited(_, level) if level not in words.levels:
            return [Unknown(level, "level")]
    return []


def unknown_in_effect(effect: t.Effect, words: Vocabulary) -> list[Unknown]:
    """The names in the effect that nothing fitting has."""
    match effect.verb:
        case "gain" | "lose":
            return _unless_kind(effect.fact, "flag", words)
        case "turn":
            return _unless_value(effect.fact, effect.value, words)
        case "clear":
            return [] if effect.fact in words.facts else [Unknown(effect.fact, "fact")]
        case _:
            return _unless_kind(effect.fact, "count", words)


def _unless_kind(name: str, kind: Literal["flag", "count", "choice"], words: Vocabulary) -> list[Unknown]:
    fact = words.facts.get(name)
    return [] if fact and fact.kind == kind else [Unknown(name, kind)]


def _unless_value(name: str, value: str, words: Vocabulary) -> list[Unknown]:
    wrong_fact = _unless_kind(name, "choice", words)
    if wrong_fact or value in words.facts[name].values:
        return wrong_fact
    return [Unknown(value, "value", fact=name)]


def _never(_: Known) -> bool:
    return False


def _compiled(tree: t.Condition, index: dict[str, int]) -> Test:
    match tree:
        case t.Constant(constant):
            return lambda _: constant
        case t.Has(fact, wanted):
            at = index[fact]
            return lambda state: bool(state.facts[at]) is wanted
        case t.Count(bound, number, fact):
            at = index[fact]
            return lambda state: t.within_bound(bound, int(state.facts[at]), number)
        case t.Is(fact, value, wanted):
            at = index[fact]
            return lambda state: (state.facts[at] == value) is wanted
        case t.Visited(what, level):
            return (lambda state: level in state.seen) if what == "seen" else lambda state: level in state.done
        case t.SomeOf(bound, number, parts):
            tests = [_compiled(part, index) for part in parts]
            return lambda state: t.within_bound(bound, sum(test(state) for test in tests), number)
        case t.Not(part):
            inner = _compiled(part, index)
            return lambda state: not inner(state)
        case t.All(parts):
            every = [_compiled(part, index) for part in parts]
            return lambda state: all(test(state) for test in every)
        case t.AnyOf(parts):
            some = [_compiled(part, index) for part in parts]
            return lambda state: any(test(state) for test in some)


def _new_value(effect: t.Effect, fact: Fact) -> Callable[[FactValue], FactValue]:
    """The fact's value after the effect as a function of the one before; counts stop at low and high."""
    number = effect.number

    def kept(value: int) -> int:
        return min(max(value, fact.low), fact.high)

    match effect.verb:
        case "gain" | "lose":
            held = effect.verb == "gain"
            return lambda _: held
        case "turn":
            return lambda _: effect.value
        case "clear":
            return lambda _: fact.first
        case "add":
            return lambda value: kept(int(value) + number)
        case "take":
            return lambda value: kept(int(value) - number)
        case "set":
            return lambda _: kept(number)
        case "raise":
            return lambda value: kept(max(int(value), number))
        case _:
            return lambda value: kept(min(int(value), number))

"""Conditions and effects as nested lists, keyword first, that a game can follow without reading sentences."""

from collections.abc import Iterable, Mapping
from typing import Any

from mossy_bridge.language import tree as t
from mossy_bridge.language.evaluation import Vocabulary, unknown_in_condition, unknown_in_effect
from mossy_bridge.language.parsing import parse_condition, parse_effect
from mossy_bridge.model.flow import Flow

NEVER = ["never"]


class Places:
    """Says conditions and effects of one flow by the places of facts, values and levels; ``levels`` are those that
    ship."""

    def __init__(self, flow: Flow, levels: Mapping[str, int]):
        self._words, self._levels = Vocabulary(flow), levels
        self._facts = {fact.id: at for at, fact in enumerate(flow.facts)}
        self._values = {fact.id: list(fact.values) for fact in flow.facts}

    def condition(self, text: str) -> list[Any]:
        """A condition; one in which anything is unknown is never."""
        tree = parse_condition(text)
        return NEVER if unknown_in_condition(tree, self._words) else self._condition(tree)

    def _condition(self, tree: t.Condition) -> list[Any]:
        match tree:
            case t.Constant(value):
                return ["always"] if value else NEVER
            case t.Has(fact, wanted):
                return ["has" if wanted else "lacks", self._facts[fact]]
            case t.Count(bound, number, fact):
                return [bound, number, self._facts[fact]]
            case t.Is(fact, value, wanted):
                return ["is" if wanted else "is not", self._facts[fact], self._values[fact].index(value)]
            case t.Visited(what, level):
                return [what, self._levels[level]] if level in self._levels else NEVER
            case t.SomeOf(bound, number, parts):
                return ["of", bound, number, list(map(self._condition, parts))]
            case t.Not(part):
                return ["not", self._condition(part)]
            case t.All(parts):
                return ["and", *map(self._condition, parts)]
            case t.AnyOf(parts):
                return ["or", *map(self._condition, parts)]

    def effects(self, texts: Iterable[str]) -> list[list[Any]]:
        """Effects; unknown ones are left out."""
        effects = map(parse_effect, texts)
        return [self._effect(effect) for effect in effects if not unknown_in_effect(effect, self._words)]

    def _effect(self, effect: t.Effect) -> list[Any]:
        fact = self._facts[effect.fact]
        if effect.verb in ("gain", "lose", "clear"):
            return [effect.verb, fact]
        if effect.verb == "turn":
            return ["turn", fact, self._values[effect.fact].index(effect.value)]
        return [effect.verb, effect.number, fact]

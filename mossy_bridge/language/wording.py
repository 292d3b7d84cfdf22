"""Conditions and effects in the designer's words: display names instead of ids, and what is missing."""

from collections.abc import Mapping
from functools import cached_property

from mossy_bridge.language import tree as t
from mossy_bridge.language.evaluation import Known, Vocabulary, unknown_in_condition
from mossy_bridge.language.parsing import parse_condition, parse_effect
from mossy_bridge.model.flow import Flow


class Wording:
    """Says conditions and effects of one flow with its display names."""

    def __init__(self, flow: Flow):
        self._names: Mapping[str, str] = {fact.id: fact.name or fact.id for fact in flow.facts}
        self._flow = flow

    @cached_property
    def _levels(self) -> Mapping[str, str]:
        return {level.id: level.title for level in self._flow.levels}

    @cached_property
    def _words(self) -> Vocabulary:
        return Vocabulary(self._flow)

    def condition(self, text: str) -> str:
        """The condition, with names for ids."""
        return self._condition(parse_condition(text))

    def effect(self, text: str) -> str:
        """The effect, with the name for the id."""
        effect = parse_effect(text)
        named = t.Effect(effect.verb, self._names.get(effect.fact, effect.fact), effect.number, effect.value)
        return t.effect_text(named)

    def missing(self, text: str, state: Known) -> str:
        """What the condition lacks in the state, in words and numbers; "" where it holds."""
        tree = parse_condition(text)
        unknown = unknown_in_condition(tree, self._words)
        if unknown:
            return f"asks for “{unknown[0].name}”, which does not exist"
        return self._missing(tree, state)

    def _condition(self, tree: t.Condition) -> str:
        match tree:
            case t.Has(fact, wanted):
                return f"{'has' if wanted else 'lacks'} {self._names.get(fact, fact)}"
            case t.Count(bound, number, fact):
                return f"{bound} {number} {self._names.get(fact, fact)}"
            case t.Is(fact, value, wanted):
                return f"{self._names.get(fact, fact)} is {'' if wanted else 'not '}{value}"
            case t.Visited(what, level):
                verb = "has been in" if what == "seen" else "has completed"
                return f"{verb} {self._levels.get(level, level)}"
            case t.SomeOf(bound, number, parts):
                return f"{bound} {number} of ({', '.join(map(self._condition, parts))})"
            case t.Not(part):
                return f"not {self._inside(part)}"
            case t.All(parts):
                return " and ".join(map(self._inside, parts))
            case t.AnyOf(parts):
                return " or ".join(map(self._inside, parts))
            case t.Constant(value):
                return "always" if value else "never"

    def _inside(self, tree: t.Condition) -> str:
        text = self._condition(tree)
        return f"({text})" if isinstance(tree, t.All | t.AnyOf) else text

    def _missing(self, tree: t.Condition, state: Known) -> str:
        if self._words.test(t.condition_text(tree))(state):
            return ""
        match tree:
            case t.All(parts):
                return " and ".join(filter(None, (self._missing(part, state) for part in parts)))
            case t.AnyOf(parts):
                return " or ".join(self._missing(part, state) for part in parts)
            case t.Count(bound, number, fact):
                have = state.facts[self._words.index[fact]]
                return f"needs {bound} {number} {self._names[fact]}, has {have}"
            case t.Is(fact):
                have = state.facts[self._words.index[fact]]
                return f"needs {self._condition(tree)}, it is {have}"
            case t.Has(fact, wanted):
                return f"needs {self._names[fact]}" if wanted else f"must not have {self._names[fact]}"
            case t.Constant():
                return "never opens"
            case _:
                return f"needs: {self._condition(tree)}"

"""Where facts are gained, spent, turned, reset and asked for."""

from collections.abc import Collection, Iterable, Iterator, Sequence
from itertools import chain
from typing import Literal

from msgspec import Struct

from mossy_bridge.language.naming import facts_named
from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.model.flow import Flow, Level

Use = Literal["gained", "spent", "turned", "reset", "asked"]
OF_VERB: dict[str, Use] = {
    "gain": "gained", "add": "gained", "raise": "gained", "lose": "spent", "take": "spent", "lower": "spent",
    "turn": "turned", "set": "turned", "clear": "reset",
}  # fmt: skip


class FactUse(Struct, frozen=True):
    """One place that changes a fact or asks for it: the level, or "" for a promise; its short place; what is written
    there."""

    fact: str
    use: Use
    level: str
    at: str
    text: str


def uses_of_facts(flow: Flow) -> Iterator[FactUse]:
    """Every use of every fact, in strip order."""
    for level in flow.levels:
        yield from _in_level(level)
    yield from _in_promises(flow)


class FactUses:
    """The uses of every fact of one flow, in strip order. Of ``before`` is taken over what levels hold that are the
    same."""

    def __init__(self, flow: Flow, before: "FactUses | None" = None):
        self._in_levels: dict[str, tuple[Level, tuple[FactUse, ...]]] = {}
        for level in flow.levels:
            known = before._in_levels.get(level.id) if before else None
            same = known is not None and known[0] is level
            self._in_levels[level.id] = known if known and same else (level, tuple(_in_level(level)))
        self._by_fact: dict[str, dict[str, list[FactUse]]] = {}
        in_levels = chain.from_iterable(uses for _, uses in self._in_levels.values())
        for use in chain(in_levels, _in_promises(flow)):
            self._by_fact.setdefault(use.fact, {}).setdefault(use.level, []).append(use)

    def of(self, fact: str) -> list[FactUse]:
        """All uses of a fact."""
        return list(chain.from_iterable(self._by_fact.get(fact, {}).values()))

    def at(self, fact: str, level: str) -> Sequence[FactUse]:
        """The uses of a fact in a level."""
        return self._by_fact.get(fact, {}).get(level, ())

    def facts(self) -> Collection[str]:
        """The facts that are used at all."""
        return self._by_fact.keys()


def _in_promises(flow: Flow) -> Iterator[FactUse]:
    for promise in flow.promises:
        yield from _asked("", promise.id, [promise.when])


def _in_level(level: Level) -> Iterator[FactUse]:
    yield from _asked(level.id, level.id, [level.opens, *(path.when for path in level.paths)])
    yield from _changed(level.id, level.id, level.on_arrival)
    for deed in level.deeds:
        at = f"{level.id}.{deed.id}"
        yield from _asked(level.id, at, [deed.when])
        yield from _changed(level.id, at, deed.effects)
    for exit_ in level.exits:
        at = f"{level.id}.{exit_.id}"
        yield from _asked(level.id, at, [exit_.trigger.when, exit_.opens])
        yield from _changed(level.id, at, exit_.effects)


def _asked(level: str, at: str, conditions: Iterable[str]) -> Iterator[FactUse]:
    for condition in conditions:
        for fact in sorted(facts_named(condition)):
            yield FactUse(fact, "asked", level, at, condition)


def _changed(level: str, at: str, effects: Iterable[str]) -> Iterator[FactUse]:
    for text in effects:
        effect = parse_effect(text)
        yield FactUse(effect.fact, OF_VERB[effect.verb], level, at, text)

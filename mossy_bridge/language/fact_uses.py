"""Where facts are gained, spent, turned, reset and asked for."""

from collections.abc import Iterable, Iterator
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

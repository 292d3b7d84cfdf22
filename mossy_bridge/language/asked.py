"""What some condition of a flow asks: facts, and levels by ``seen`` and ``done``."""

from collections.abc import Iterable, Iterator

from msgspec import Struct

from mossy_bridge.language import tree as t
from mossy_bridge.language.parsing import parse_condition
from mossy_bridge.model.flow import Flow, Level


class Asked(Struct, frozen=True):
    """Facts and levels that conditions name."""

    facts: frozenset[str]
    seen: frozenset[str]
    done: frozenset[str]


def asked_by(conditions: Iterable[str]) -> Asked:
    """What the conditions name."""
    atoms = [atom for text in set(conditions) for atom in t.atoms(parse_condition(text))]
    visited = [atom for atom in atoms if isinstance(atom, t.Visited)]
    return Asked(
        facts=frozenset(atom.fact for atom in atoms if isinstance(atom, t.Has | t.Count | t.Is)),
        seen=frozenset(atom.level for atom in visited if atom.what == "seen"),
        done=frozenset(atom.level for atom in visited if atom.what == "done"),
    )


def conditions_of_level(level: Level) -> list[str]:
    """Every condition written in the level."""
    found = [level.opens]
    found += [path.when for path in level.paths]
    found += [deed.when for deed in level.deeds]
    for exit_ in level.exits:
        found += exit_.trigger.when, exit_.opens
    return found


def conditions_of(flow: Flow) -> Iterator[str]:
    """Every condition written in the flow, those of promises included."""
    for level in flow.levels:
        yield from conditions_of_level(level)
    yield from (promise.when for promise in flow.promises)


def effects_of_level(level: Level) -> list[str]:
    """Every effect written in the level."""
    found = list(level.on_arrival)
    for exit_ in level.exits:
        found += exit_.effects
    for deed in level.deeds:
        found += deed.effects
    return found


def effects_of(flow: Flow) -> Iterator[str]:
    """Every effect written in the flow."""
    for level in flow.levels:
        yield from effects_of_level(level)


def progress_marks(flow: Flow) -> frozenset[str]:
    """The counts that some level's ``opens`` asks by *at least*. A name that no count has is none."""
    counts = {fact.id for fact in flow.facts if fact.kind == "count"}
    atoms = [atom for level in flow.levels for atom in t.atoms(parse_condition(level.opens))]
    return frozenset(a.fact for a in atoms if isinstance(a, t.Count) and a.bound == "at least" and a.fact in counts)

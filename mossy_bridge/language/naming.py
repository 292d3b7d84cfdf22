"""Which facts and levels a condition or effect names."""

from functools import lru_cache

from mossy_bridge.language import tree as t
from mossy_bridge.language.parsing import parse_condition, parse_effect


@lru_cache(maxsize=4096)
def facts_named(condition: str) -> frozenset[str]:
    """The facts that a condition asks."""
    atoms = t.atoms(parse_condition(condition))
    return frozenset(atom.fact for atom in atoms if isinstance(atom, t.Has | t.Count | t.Is))


@lru_cache(maxsize=4096)
def levels_named(condition: str) -> frozenset[str]:
    """The levels that a condition asks about."""
    return frozenset(atom.level for atom in t.atoms(parse_condition(condition)) if isinstance(atom, t.Visited))


def fact_changed(effect: str) -> str:
    """The fact that an effect changes."""
    return parse_effect(effect).fact

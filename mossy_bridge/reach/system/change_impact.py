"""Change impact: whether an edit can change any verdict at all; most only move, name or describe things."""

from mossy_bridge.model.flow import Level
from mossy_bridge.play.as_played import as_played
from mossy_bridge.play.compiled_level import ReadyLevel
from mossy_bridge.play.rules import Rules


def plays_alike(rules: Rules, other: Rules) -> bool:
    """Whether two flows play alike: the same moves from the same states, under the same names, and the same
    promises."""
    one, two = rules.flow, other.flow
    whole = (one.start, one.endings, one.facts, one.progress, one.saving, one.promises)
    if whole != (two.start, two.endings, two.facts, two.progress, two.saving, two.promises):
        return False
    if len(one.levels) != len(two.levels):
        return False
    pairs = zip(rules.levels.values(), other.levels.values(), strict=True)
    return all(ready is before or _what_rules_read(ready) == _what_rules_read(before) for ready, before in pairs)


def _what_rules_read(ready: ReadyLevel) -> tuple[Level, tuple[frozenset[str], ...]]:
    return as_played(ready.source), tuple(exit_.armed_at for exit_ in ready.exits)

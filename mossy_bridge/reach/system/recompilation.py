"""Which levels have to be compiled again after an edit: those whose moves it may have changed."""

from itertools import compress
from operator import is_not

from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.level_changes import level_changes
from mossy_bridge.model.sequence import in_sequence
from mossy_bridge.play.compiled_level import ReadyLevel
from mossy_bridge.play.rules import Rules


def touched(rules: Rules, other: Rules) -> frozenset[str] | None:
    """The levels from which the moves may not be the same in both flows, provided that the bits of state vectors mean
    the same. None stands for all of them: where something that all depend on differs, such as their sequence."""
    changes = level_changes(other.flow, rules.flow)
    same_sequence = changes.same_order and all(_in_order(was) == _in_order(now) for was, now in changes.changed)
    if not same_sequence or _shared(rules.flow) != _shared(other.flow):
        return None
    differ = map(is_not, rules.levels.values(), other.levels.values())
    changed = set(compress(rules.levels, differ))
    doors = {name for name in changed if _door(rules.levels[name]) != _door(other.levels[name])}
    entering = (name for name in rules.levels if doors and _may_enter(rules, name, doors))
    return frozenset(changed.union(entering))


def _shared(flow: Flow) -> tuple[object, ...]:
    return flow.start, flow.endings, flow.facts, flow.progress, flow.saving


def _in_order(level: Level) -> tuple[str, bool]:
    """What next and previous levels depend on."""
    return level.kind, in_sequence(level)


def _door(ready: ReadyLevel) -> tuple[object, ...]:
    """All of a level that a move into it depends on."""
    level = ready.source
    return level.opens, level.on_arrival, ready.zone_at, level.ships


def _may_enter(rules: Rules, name: str, doors: set[str]) -> bool:
    """Whether some move of a level may lead into one of others."""
    level = rules.levels[name].source
    led_to = [to for exit_ in level.exits for to in exit_.destinations]
    return any(to.kind not in ("level", "end") or to.level in doors for to in led_to) or any(
        tile.level in doors for tile in level.tiles
    )

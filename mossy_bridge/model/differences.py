"""What is different between two flows, place by place, in the designer's words: for showing an edit before it is
made."""

from collections.abc import Iterator
from typing import Any

from mossy_bridge.model.destination_words import BY_PLAY
from mossy_bridge.model.flow import Destination, Flow, Level, Rule, Step, TrialSetting, Value, Waiver
from mossy_bridge.model.flow import Path as ZonePath

LISTS = ("levels", "patterns", "exits", "spawns", "deeds", "zones", "tiles", "transitions", "facts", "endings",
         "regions", "promises", "walks", "readers", "checklist")  # fmt: skip
"""Fields that hold things with ids."""
ONE = {"levels": "level", "exits": "exit", "spawns": "spawn point", "deeds": "deed", "zones": "zone", "tiles": "tile",
       "transitions": "transition", "facts": "fact", "endings": "ending", "regions": "region", "patterns": "pattern",
       "promises": "promise", "walks": "recorded walk", "readers": "reader", "checklist": "item"}  # fmt: skip
FIELDS = {"to": "destination", "armed_on_arrival": "armed on arrival", "when": "condition", "cast": "who roams"}
LONGEST = 90


def differences(old: Flow, new: Flow) -> Iterator[str]:
    """One sentence for each thing that is new, gone or otherwise: ``Rope Walk, South end: destination nowhere → Weigh
    House``."""
    yield from _between(old, new, (old, new), ())


def _between(one: Value, other: Value, flows: tuple[Flow, Flow], place: tuple[str, ...]) -> Iterator[str]:
    for field in one.__struct_fields__:
        was, now = getattr(one, field), getattr(other, field)
        if field == "set_here" or was is now or was == now:
            continue
        if field in LISTS:
            yield from _in_list(field, was, now, flows, place)
        elif isinstance(was, Value) and isinstance(now, Value) and not isinstance(was, Destination):
            yield from _between(was, now, flows, place)
        else:
            name = FIELDS.get(field, field.replace("_", " "))
            yield f"{_where(place)}{name} {_said(was, flows[0])} → {_said(now, flows[1])}"


def _in_list(
    name: str, was: tuple[Any, ...], now: tuple[Any, ...], flows: tuple[Flow, Flow], place: tuple[str, ...]
) -> Iterator[str]:
    before, after = {part.id: part for part in was}, {part.id: part for part in now}
    for key, part in before.items():
        if key not in after:
            yield f"{_where(place)}{ONE[name]} {_title(part)} goes"
    for key, part in after.items():
        if key not in before:
            yield f"{_where(place)}new {ONE[name]} {_title(part)}"
        elif part != before[key]:
            yield from _between(before[key], part, flows, (*place, _title(part)))
    if [key for key in before if key in after] != [key for key in after if key in before]:
        yield f"{_where(place)}the {ONE[name]}s stand in another order"


def _where(place: tuple[str, ...]) -> str:
    return f"{', '.join(place)}: " if place else ""


def _title(part: Any) -> str:
    return part.title if isinstance(part, Level) else getattr(part, "name", "") or part.id


def _said(value: Any, flow: Flow) -> str:
    if value is None:
        return "nowhere"
    if isinstance(value, Destination):
        return _leading(value, flow)
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float | int):
        return f"{value:g}"
    told = "; ".join(map(_part, value)) if isinstance(value, tuple) else str(value)
    told = told or "none"
    return told if len(told) <= LONGEST else f"{told[: LONGEST - 1]}…"


def _part(part: Any) -> str:
    if isinstance(part, Step):
        return f"{part.do.replace('_', ' ')} {part.at:g}-{part.at + part.lasts:g} s"
    if isinstance(part, ZonePath):
        return f"{part.start} {'and' if part.both_ways else 'to'} {part.end}"
    if isinstance(part, TrialSetting | Waiver):
        return part.at
    if isinstance(part, Rule):
        return part.makes
    return f"{part:g}" if isinstance(part, float | int) else _title(part) if isinstance(part, Value) else str(part)


def _leading(to: Destination, flow: Flow) -> str:
    if to.kind == "level":
        level = flow.level(to.level)
        point = level.spawn(to.spawn) if level and to.spawn else None
        told = (level.title if level else to.level or "no level") + (f" at {point.name or point.id}" if point else "")
    elif to.kind == "end":
        told = next((f"the ending {one.name or one.id}" for one in flow.endings if one.id == to.ending), "no ending")
    else:
        told = BY_PLAY[to.kind]
    return f"{told}, otherwise {_leading(to.otherwise, flow)}" if to.otherwise else told

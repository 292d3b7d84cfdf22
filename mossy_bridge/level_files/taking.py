"""Taking over what level files say: pure edits of the flow as written."""

from collections.abc import Iterable, Sequence
from re import sub
from typing import Any, Literal, cast, get_args

from msgspec.structs import replace

from mossy_bridge.language.parsing import WrongWording, canonical_condition
from mossy_bridge.level_files.contents import FileThing, LevelFiles, as_rect
from mossy_bridge.level_files.destinations import Led
from mossy_bridge.level_files.differences import GROUPS, Difference, compared
from mossy_bridge.model.edits.levels import set_level, whole
from mossy_bridge.model.flow import (
    Deed,
    Exit,
    Fact,
    Flow,
    Level,
    Plan,
    Rect,
    Spawn,
    Trigger,
    TriggerKind,
)
from mossy_bridge.model.ids import id_from
from mossy_bridge.model.patterns import resolved

Facing = Literal["left", "right", "up", "down"]
Extent = Literal["places", "all"]


def take_over(flow: Flow, files: LevelFiles, extent: Extent, level: str = "") -> Flow:
    """The flow with everything taken over that its files say, or those of one level: with ``places`` where things lie
    and how large they are, with ``all`` also where exits lead and what the files have more. What they lack is left."""
    for kinds in (("plan", "solid", "spawn", "deed"), ("exit",)):  # first the spawn points that exits may lead to
        found = [one for one in compared(resolved(flow), files).differences if one.makes in kinds]
        wanted = [
            one for one in found if (not level or one.level == level) and (extent == "all" or one.kind == "place")
        ]
        flow = taken(flow, wanted)
    return flow


def can_be_taken(difference: Difference) -> bool:
    """Whether taking it over changes the flow: what a file lacks is left, and what means nothing cannot be taken."""
    if difference.kind == "leads":
        return difference.led is not None and difference.led.to is not None
    return difference.kind != "lacks"


def taken(flow: Flow, wanted: Iterable[Difference]) -> Flow:
    """The flow with some differences taken over."""
    by_level: dict[str, list[Difference]] = {}
    for one in wanted:
        if can_be_taken(one):
            by_level.setdefault(one.level, []).append(one)
    for name, found in by_level.items():
        level = whole(flow, name)
        if level is not None:
            flow = _with_flags(flow, found)
            flow = set_level(flow, name, **_changed(flow, level, found))
    return flow


def _changed(flow: Flow, level: Level, wanted: Sequence[Difference]) -> dict[str, Any]:
    """The fields of a level that change."""
    own = flow.level(level.id) or level
    changed: dict[str, Any] = {}
    for one in wanted:
        if one.makes in ("plan", "solid"):
            changed["plan"] = _plan(changed.get("plan", level.plan) or Plan(), one)
            continue
        group = GROUPS[one.makes]
        filled = {thing.id: thing for thing in getattr(level, group)}
        things = changed.get(group, getattr(own, group))
        if one.kind == "more" and one.found:
            new = _made(flow, one.found, one.led, {thing.id for thing in (*filled.values(), *things)})
            changed[group] = (*things, new)
        elif one.found:
            before = next((thing for thing in things if thing.id == one.thing), filled[one.thing])
            after = _moved(before, one.found) if one.kind == "place" else _led(before, one.led)
            rest = tuple(after if thing is before else thing for thing in things)
            changed[group] = rest if before in things else (*things, after)  # taken from the pattern until now
    return changed


def _plan(plan: Plan, difference: Difference) -> Plan:
    if difference.makes == "solid":
        return replace(plan, solids=difference.rects)
    found = difference.found
    if found is None or found.size is None:
        return plan
    width, height = found.size
    return replace(
        plan, width=_neat(width), height=_neat(height), picture=plan.picture or found.texts.get("picture", "")
    )


def _moved(thing: Any, found: FileThing) -> Any:
    if isinstance(thing, Exit):
        return replace(thing, area=_area(found)) if found.rect else thing
    return replace(thing, x=_neat(found.point[0]), y=_neat(found.point[1])) if found.point else thing


def _led(exit_: Exit, led: Led | None) -> Exit:
    if led is None or led.to is None:
        return exit_
    return replace(exit_, to=replace(led.to, otherwise=exit_.to.otherwise if exit_.to else None))


def _area(found: FileThing) -> Rect:
    return as_rect(tuple(map(_neat, found.rect or (0, 0, 0, 0))))


def _neat(value: float) -> float:
    """Without the noise of scaling."""
    return round(value, 6) + 0.0


# -- things made anew ----------------------------------------------------------------------------------


def _made(flow: Flow, found: FileThing, led: Led | None, taken_ids: set[str]) -> Exit | Spawn | Deed:
    text = found.texts.get("id", "").strip() or found.texts.get("name", "").strip()
    new_id, name = id_from(text or found.kind, taken_ids, found.kind), found.texts.get("name") or words_of(text)
    x, y = map(_neat, found.point or (0.0, 0.0))
    if found.kind == "spawn":
        return Spawn(id=new_id, name=name, x=x, y=y, faces=_facing(found.texts.get("faces", "")))
    if found.kind == "deed":
        return Deed(id=new_id, name=name, x=x, y=y, effects=tuple(_effects(flow, found)))
    kind = found.texts.get("trigger", "touch").strip()
    trigger = Trigger(kind=cast(TriggerKind, kind) if kind in get_args(TriggerKind) else "touch")
    to, opens = led.to if led else None, _condition(found.texts.get("opens", ""))
    return Exit(id=new_id, name=name, area=_area(found), trigger=trigger, opens=opens, to=to)


def words_of(text: str) -> str:
    """An id as words."""
    words = sub(r"[_\- ]+", " ", text).strip()
    return words[:1].upper() + words[1:]


def _facing(text: str) -> Facing:
    plain = text.strip().lower()
    return cast(Facing, plain) if plain in get_args(Facing) else "right"


def _condition(text: str) -> str:
    """The condition that a file writes; "always" where it is none."""
    try:
        return canonical_condition(text.strip() or "always")
    except WrongWording:
        return "always"


def gains_of(found: FileThing) -> list[str]:
    """The facts that a deed of a file gains, as the file calls them."""
    return [part for part in (text.strip() for text in found.texts.get("gains", "").split(",")) if part]


def _effects(flow: Flow, found: FileThing) -> list[str]:
    facts = [fact for text in gains_of(found) if (fact := _fact(flow, text))]
    return [f"gain {fact.id}" if fact.kind == "flag" else f"add 1 {fact.id}" for fact in facts if fact.kind != "choice"]


def _fact(flow: Flow, text: str) -> Fact | None:
    """The fact of that id, made id or name."""
    made = id_from(text, (), "flag")
    return next((fact for fact in flow.facts if text in (fact.id, fact.name) or fact.id == made), None)


def _with_flags(flow: Flow, wanted: Sequence[Difference]) -> Flow:
    """The flow with a flag for each fact that new deeds gain and it does not know."""
    for one in wanted:
        for text in gains_of(one.found) if one.kind == "more" and one.found else ():
            if _fact(flow, text) is None:
                taken_ids = {fact.id for fact in flow.facts}
                new = Fact(id=id_from(text, taken_ids, "flag"), name=words_of(text), kind="flag")
                flow = replace(flow, facts=(*flow.facts, new))
    return flow

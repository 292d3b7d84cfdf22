"""Differences between levels and their files, in sentences for the designer."""

from collections.abc import Mapping

from mossy_bridge.level_files.contents import FileThing
from mossy_bridge.level_files.destinations import Led
from mossy_bridge.level_files.differences import GROUPS, Difference, Thing
from mossy_bridge.model.addresses import title_of
from mossy_bridge.model.flow import Destination, DestinationKind, Exit, Flow, Level, Plan, ThingKind

NAMES: Mapping[ThingKind, str] = {
    "plan": "plan", "solid": "solids", "exit": "exit", "spawn": "spawn point", "deed": "deed",
}  # fmt: skip
BY_THEMSELVES: Mapping[DestinationKind, str] = {
    "next": "to the next level", "previous": "to the previous level", "again": "to this level again",
    "back": "back to where the player came from", "resume": "to the saved game",
}  # fmt: skip


def told(flow: Flow, difference: Difference) -> str:
    """A difference in one sentence; the flow has its patterns filled in."""
    level = flow.level(difference.level)
    assert level is not None
    match difference.kind:
        case "lacks":
            return f"{_named(flow, difference)} is not in {level.file}."
        case "more":
            return f"{level.file} has {called(difference)}, which {level.title} lacks{_leading(flow, difference.led)}."
        case "leads":
            thing = thing_of(level, difference)
            now = leads(flow, thing.to if isinstance(thing, Exit) else None)
            return f"{_named(flow, difference)} leads {now}, but in {level.file} {file_leads(flow, difference.led)}."
    if difference.makes == "solid":
        return f"The solids of {level.title} are not those of {level.file}."
    return f"{_named(flow, difference)} {_place(level, difference)}, but in {level.file} {_file_place(difference)}."


def _named(flow: Flow, difference: Difference) -> str:
    if difference.thing:
        return title_of(flow, f"{difference.level}.{difference.thing}")
    return f"The plan of {title_of(flow, difference.level)}"


def called(difference: Difference) -> str:
    """What a file has more: “an exit “north_door””, “a deed without a name at 3, 4”."""
    found, name = difference.found, NAMES[difference.makes]
    article = "an" if name[0] in "aeiou" else "a"
    if found and found.called:
        return f"{article} {name} “{found.called[:60]}”"
    place = found.place if found else None
    return f"{article} {name} without a name" + (f" at {_numbers(place[:2])}" if place else "")


def _leading(flow: Flow, led: Led | None) -> str:
    return f"; it leads {file_leads(flow, led)}" if led else ""


def file_leads(flow: Flow, led: Led | None) -> str:
    """Where a file leads: “to Bell Sands at West end”, or why that means nothing."""
    if led is None or led.to is None:
        return led.doubt if led else "nowhere"
    return leads(flow, led.to)


def leads(flow: Flow, to: Destination | None) -> str:
    """Where a destination leads: “to Bell Sands at West end”, “to the next level”."""
    if to is None:
        return "nowhere yet"
    if to.kind == "end":
        ending = next((one.name or one.id for one in flow.endings if one.id == to.ending), to.ending)
        return f"to the ending {ending}"
    if to.kind != "level":
        return BY_THEMSELVES[to.kind]
    target = flow.level(to.level)
    point = target.spawn(to.spawn) if target and to.spawn else None
    at = f" at {point.name or point.id}" if point else f" at “{to.spawn}”" if to.spawn else ""
    return f"to {target.title if target else to.level or 'no level'}{at}"


def thing_of(level: Level, difference: Difference) -> Thing | None:
    """The flow's thing that a difference is about."""
    group = GROUPS.get(difference.makes)
    return next((one for one in getattr(level, group) if one.id == difference.thing), None) if group else None


def _place(level: Level, difference: Difference) -> str:
    thing = thing_of(level, difference)
    if thing is None:
        plan = level.plan or Plan()
        return f"is {_size((plan.width, plan.height))}" if plan.width or plan.height else "has no size yet"
    return f"lies at {_at(thing.area if isinstance(thing, Exit) else (thing.x, thing.y))}"


def _file_place(difference: Difference) -> str:
    found = difference.found
    if found is None:
        return "elsewhere"
    return _size(found.size) if found.size else f"at {_at(found.place or ())}"


def placed(found: FileThing) -> str:
    """Where a thing of a file lies: “at 3, 4”; "" where that is not known."""
    return f"at {_at(found.place)}" if found.place else ""


def _at(place: tuple[float, ...]) -> str:
    return _numbers(place[:2]) + (f" ({_size((place[2], place[3]))})" if len(place) == 4 else "")


def _size(size: tuple[float, float]) -> str:
    return f"{_number(size[0])} × {_number(size[1])}"


def _numbers(values: tuple[float, ...]) -> str:
    return ", ".join(map(_number, values))


def _number(value: float) -> str:
    return f"{round(value, 2):g}".replace("-", "−")

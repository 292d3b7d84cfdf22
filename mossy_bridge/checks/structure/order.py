"""The order of levels against the ways that play takes, and levels that repeat one another."""

import re
from collections.abc import Iterator
from typing import Any

from msgspec.structs import replace

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Destination, Exit, Flow, Level, Start
from mossy_bridge.model.sequence import first_play_level, in_sequence, neighbours
from mossy_bridge.reach.queries.crossing_columns import levels_led_to


@check("start-out-of-order", "warning", "structure", "The order that everybody works by is not the order of play.")
def start_out_of_order(here: Inspection) -> Iterator[Found]:
    """The first play level that play reaches is not the first of the order.

    Example: New game leads to 1-2.
    To mend: Lead the start to the first level, or move the level in the order.
    """
    first = first_play_level(here.flow)
    entered = _first_entered(here)
    if first is None or not entered or first.id in {level.id for level, _ in entered}:
        return
    level, way = min(entered, key=lambda one: here.flow.place_of(one[0].id) or 0)
    message = f"The game begins with {level.title}, though {first.title} is the first of the order."
    yield Found((level.id,), message, repair=_begun(here, first, level, way) if len(entered) == 1 else None)


def _first_entered(here: Inspection) -> list[tuple[Level, tuple[Level, Exit] | None]]:
    """The play levels that a game may begin with, by way of screens and boards alone, each with the exit into it if it
    is one that always leads there."""
    levels = {level.id: level for level in here.flow.levels}
    begun = levels.get(here.flow.start.level)
    if begun is None or not begun.ships:
        return []
    if begun.kind == "play":
        return [(begun, None)]
    leads = levels_led_to(here.survey)
    found: dict[str, tuple[Level, tuple[Level, Exit] | None]] = {}
    passed, waiting = {begun.id}, [begun]
    while waiting:
        here_level = waiting.pop()
        ways: list[tuple[str, Exit | None]] = [
            (name, exit_) for exit_ in here_level.exits for name in leads.get((here_level.id, exit_.id), ())
        ]
        tiles = here.survey.tiles
        ways += [(t.level, None) for t in here_level.tiles if tiles[here_level.id, t.id].answer == "yes"]
        for name, exit_ in ways:
            target = levels[name]
            if target.kind == "play":
                found.setdefault(name, (target, (here_level, exit_) if exit_ else None))
            elif name not in passed:
                passed.add(name)
                waiting.append(target)
    return list(found.values())


def _begun(here: Inspection, first: Level, entered: Level, way: tuple[Level, Exit] | None) -> Repair | None:
    """Begin with the first of the order instead."""
    if not first.spawns:
        return None
    label = f"Begin with {first.title}"
    if here.flow.start.level == entered.id:
        return Repair(label, lambda flow: replace(flow, start=Start(level=first.id)))
    if way is None or way[1].to is None or way[1].to.kind != "level":
        return None
    level, exit_ = way
    to = replace(way[1].to, level=first.id, spawn="")
    return Repair(label, lambda flow: edits.set_exit(flow, level.id, exit_.id, to=to))


@check("order-goes-back", "hint", "structure", "The order says one thing and play another.")
def order_goes_back(here: Inspection) -> Iterator[Found]:
    """An exit that completes a level leads to an earlier one of the order.

    Example: Pan Row completed leads to The Slipway.
    To mend: Reorder the levels, or lead the exit on.
    """
    places = {level.id: number for number, level in enumerate(here.flow.levels) if in_sequence(level)}
    leading = _leading(here.flow)
    completing: dict[str, set[tuple[str, str]]] = {}
    for level, exit_ in here.exits():
        if exit_.completes:
            for name in leading[level.id, exit_.id]:
                completing.setdefault(name, set()).add((level.id, exit_.id))
    for level, exit_ in here.exits():
        to = exit_.to
        if not exit_.completes or to is None or to.kind != "level" or level.id not in places:
            continue
        earlier = here.flow.level(to.level) if places.get(to.level, places[level.id]) < places[level.id] else None
        if earlier is None or completing[earlier.id] != {(level.id, exit_.id)}:
            continue
        if not any(level.id in leading[earlier.id, back.id] for back in earlier.exits):
            at = f"{level.id}.{exit_.id}"
            message = f"{here.title(at)} completes and goes on to {earlier.title}, which is earlier in the order."
            yield Found((at,), message)


def _leading(flow: Flow) -> dict[tuple[str, str], set[str]]:
    """For each exit the levels that it leads to by what is written."""
    steps = {"next": neighbours(flow, 1), "previous": neighbours(flow, -1)}

    def named(level: Level, to: Destination) -> str:
        if to.kind in steps:
            found = steps[to.kind][level.id] if level.kind == "play" else None
            return found.id if found else ""
        return to.level if to.kind == "level" else ""

    return {
        (level.id, exit_.id): {name for to in exit_.destinations if (name := named(level, to))}
        for level in flow.levels
        for exit_ in level.exits
    }


@check("twins", "hint", "structure", "One of them may be a copy that nobody has gone on with.")
def twins(here: Inspection) -> Iterator[Found]:
    """Two levels have the same plan, exits and spawn points, and names that differ by digits only.

    Example: Mud Flats 2 is Mud Flats.
    To mend: Go on with the copy, mark it as planned, or remove it.
    """
    alike: dict[Any, list[Level]] = {}
    for level in here.flow.levels:
        if level.status != "planned" and level.plan is not None and level.exits:
            exits = tuple((exit_.id, exit_.trigger, exit_.area) for exit_ in level.exits)
            key = (level.plan, exits, level.spawns, re.sub(r"\d+", "", level.name))
            alike.setdefault(key, []).append(level)
    for levels in alike.values():
        patterns = [level.pattern for level in levels]
        if len(levels) > 1 and not (patterns[0] and len(set(patterns)) == 1):
            names = ", ".join(level.title for level in levels[:-1]) + f" and {levels[-1].title}"
            message = f"{names} have the same plan, exits and spawn points, and names that differ in digits only."
            yield Found(tuple(level.id for level in levels), message)

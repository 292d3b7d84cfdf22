"""The order of levels against the ways that play takes, and levels that repeat one another."""

import re
from collections.abc import Iterator
from functools import partial
from typing import Any

from msgspec.structs import replace

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.inspection import Inspection, exits_of
from mossy_bridge.checks.registry import check
from mossy_bridge.language.numbers import enumerated
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Exit, Flow, Level, Start
from mossy_bridge.model.sequence import STEPS, first_play_level, having_as_neighbour, in_sequence, neighbour
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
    going_back = here.level_results.each("ways back in the order", partial(_going_back, here.flow), "beside")
    for level, ways in going_back:
        for exit_, earlier in ways:
            if list(_completing(here, earlier)) == [(level.id, exit_)]:
                at = f"{level.id}.{exit_}"
                told = f"{here.title(at)} completes and goes on to {here.title(earlier)}"
                yield Found((at,), f"{told}, which is earlier in the order.")


def _going_back(flow: Flow, level: Level) -> tuple[tuple[str, str], ...] | None:
    """The exits that complete a level and lead to an earlier one of the order, from which nothing leads back, each with
    that one."""
    found = []
    for exit_ in level.exits if in_sequence(level) else ():
        target = flow.level(exit_.to.level) if exit_.completes and exit_.to and exit_.to.kind == "level" else None
        if target is None or not in_sequence(target):
            continue
        before = (flow.place_of(target.id) or 0) < (flow.place_of(level.id) or 0)
        if before and not any(level.id in _leading(flow, target, back) for back in target.exits):
            found.append((exit_.id, target.id))
    return tuple(found) or None


def _completing(here: Inspection, name: str) -> Iterator[tuple[str, str]]:
    """The exits that complete their level and lead to another, as written."""
    level = here.flow.level(name)
    near = {one.id: one for one in here.nearby(()).naming(level)} if level else {}
    near |= {one.id: one for one in having_as_neighbour(here.flow, name)}
    for one, exit_ in exits_of(near.values()):
        if exit_.completes and name in _leading(here.flow, one, exit_):
            yield one.id, exit_.id


def _leading(flow: Flow, level: Level, exit_: Exit) -> set[str]:
    """The levels that an exit leads to by what is written."""
    found = set()
    for to in exit_.destinations:
        step = STEPS.get(to.kind, 0) if level.kind == "play" else 0
        beside = neighbour(flow, level.id, step) if step else None
        found.add(beside.id if beside else to.level if to.kind == "level" else "")
    return found - {""}


@check("twins", "hint", "structure", "One of them may be a copy that nobody has gone on with.")
def twins(here: Inspection) -> Iterator[Found]:
    """Two levels have the same plan, exits and spawn points, and names that differ by digits only.

    Example: Mud Flats 2 is Mud Flats.
    To mend: Go on with the copy, mark it as planned, or remove it.
    """
    alike: dict[int, list[Level]] = {}
    for level, value in here.level_results.each("likeness", _digest):
        alike.setdefault(value, []).append(level)
    groups: dict[Any, list[Level]] = {}
    for level in (one for levels in alike.values() if len(levels) > 1 for one in levels):
        groups.setdefault(_likeness(level), []).append(level)
    for levels in groups.values():
        patterns = [level.pattern for level in levels]
        if len(levels) > 1 and not (patterns[0] and len(set(patterns)) == 1):
            names = enumerated([level.title for level in levels])
            message = f"{names} have the same plan, exits and spawn points, and names that differ in digits only."
            yield Found(tuple(level.id for level in levels), message)


def _digest(level: Level) -> int | None:
    """A number for a level that may be a twin; twins have the same one."""
    may_be = level.status != "planned" and level.plan is not None and level.exits
    return hash(_likeness(level)) if may_be else None


def _likeness(level: Level) -> Any:
    """All in which twins are the same."""
    exits = tuple((exit_.id, exit_.trigger, exit_.area) for exit_ in level.exits)
    return level.plan, exits, level.spawns, re.sub(r"\d+", "", level.name)

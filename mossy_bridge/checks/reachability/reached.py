"""Levels, exits, deeds, tiles, paths and endings that no route reaches."""

from collections.abc import Iterator, Mapping
from typing import Any

from msgspec import Struct

from mossy_bridge.checks.finding import Found, Severity
from mossy_bridge.checks.inspection import Inspection, exits_of
from mossy_bridge.checks.registry import check
from mossy_bridge.checks.structure.connections import runs_out
from mossy_bridge.language.naming import fact_changed, facts_named
from mossy_bridge.language.numbers import enumerated
from mossy_bridge.model.flow import Deed, Level
from mossy_bridge.play.compiled_level import ReadyExit
from mossy_bridge.play.destinations import Landing, Leads, Nowhere
from mossy_bridge.reach.survey.verdicts import Verdict


class WayIn(Struct, frozen=True):
    """A way into a level: the level it leaves, the exit or tile, and the conditions on it."""

    level: Level
    thing: str
    conditions: tuple[str, ...]


def ways_in(here: Inspection) -> dict[str, list[WayIn]]:
    """For each level the exits and tiles of others that lead there by what is written."""
    found: dict[str, list[WayIn]] = {}
    levels = {level.id: level for level in here.flow.levels}

    def note(level: Level, name: str, thing: str, *conditions: str) -> None:
        if name in levels and name != level.id:
            found.setdefault(name, []).append(WayIn(level, thing, (*conditions, levels[name].opens)))

    for level, exit_ in here.exits():
        for name in dict.fromkeys(to.level for to in exit_.destinations if to.kind == "level"):
            note(level, name, exit_.name or exit_.id, exit_.trigger.when, exit_.opens)
    for level in here.flow.levels:
        for tile in level.tiles:
            note(level, tile.level, tile.id)
    return found


def obstacle(here: Inspection, ways: list[WayIn]) -> str:
    """What stands in the way of a level nothing reaches, in one sentence: of the ways into it the one from the nearest
    reached place, and the condition that never holds there."""
    survey = here.survey
    if not ways:
        return "No exit and no tile leads there."
    reached = [way for way in ways if survey.levels[way.level.id].answer == "yes"]
    if not reached:
        names = ", ".join(dict.fromkeys(way.level.title for way in ways))
        return f"The only ways in are from {names}, and nothing reaches there either."
    way = min(reached, key=lambda w: len(survey.levels[w.level.id].route))
    *of_exit, of_level = way.conditions
    for text in of_exit:
        if text != "always" and survey.never_holds_at(way.level.id, text):
            return (
                f"{way.thing} in {way.level.title} asks for “{here.wording.condition(text)}”, which never holds there."
            )
    if of_level != "always" and survey.never_holds_at(way.level.id, of_level):
        return f"It opens when “{here.wording.condition(of_level)}”, which never holds in {way.level.title}."
    return f"{way.thing} in {way.level.title} leads there, but can never be used."


@check("level-unreachable", "error", "reachability", "Nobody will ever see it.")
def level_unreachable(here: Inspection) -> Iterator[Found]:
    """It is proven that no route of play gets there. What stands in the way is said.

    Example: Fog Horn opens with the horn key, which is nowhere to be had.
    To mend: Lead something there, or make what its lock asks for possible.
    """
    unreachable = here.survey.unreachable_levels
    unreached = [level for level in here.flow.levels if level.ships and level.id in unreachable] if unreachable else []
    ways = ways_in(here) if unreached else {}
    for level in unreached:
        message = f"{level.title} is never reached. {obstacle(here, ways.get(level.id, []))}"
        yield Found((level.id,), message, severity=_severity(here, level))


def _severity(here: Inspection, level: Level) -> Severity | None:
    """A hint of what is only planned, and of what would be reached were the planned levels made."""
    if here.final:
        return None
    made = here.completed.levels[level.id].answer if here.completed else "no"
    return "hint" if level.status == "planned" or made == "yes" else None


@check("exit-never-opens", "warning", "reachability", "The way was meant for somebody.")
def exit_never_opens(here: Inspection) -> Iterator[Found]:
    """Its level is reached, but the exit can fire in no state of it.

    Example: A gate that asks for two clappers, of which there is one.
    To mend: Change its condition, or give what it asks for.
    """
    survey = here.survey
    for level, exit_ in exits_of(_with_some_never(here, survey.exits)):
        if survey.exits[level.id, exit_.id].answer != "no":
            continue
        ready = next(e for e in survey.rules.levels[level.id].exits if e.source.id == exit_.id)
        if not _said_elsewhere(here, level, ready) and not runs_out(here, level, exit_):
            at = f"{level.id}.{exit_.id}"
            yield Found((at,), f"{here.title(at)} never opens{_because(here, level, ready)}.")


def _with_some_never(here: Inspection, verdicts: Mapping[Any, Verdict]) -> list[Level]:
    """The levels that are reached and have a thing, of those that verdicts are about, that is not."""
    names = {key[0] for key, verdict in verdicts.items() if verdict.answer == "no"}
    return [level for level in here.flow.levels if level.id in names and here.survey.levels[level.id].answer == "yes"]


def _said_elsewhere(here: Inspection, level: Level, ready: ReadyExit) -> bool:
    """Whether the exit reaches resuming, is broken, or is not connected, in some state."""
    rules = here.survey.rules
    targets = (rules.target(ready, state) for state in here.survey.samples(level.id))
    return any(isinstance(target, Nowhere) and target.reason != "runs-out" for target in targets)


def _because(here: Inspection, level: Level, ready: ReadyExit) -> str:
    survey = here.survey
    if not ready.by_player:
        return ": the player cannot set it off"
    for text in (ready.source.trigger.when, ready.source.opens):
        if text != "always" and survey.never_holds_at(level.id, text):
            late = facts_named(text) & set(map(fact_changed, ready.source.effects))
            note = "; what the exit itself changes comes only after that was asked" if late else ""
            return f": “{here.wording.condition(text)}” never holds here{note}"
    targets = [survey.rules.target(ready, state) for state in survey.samples(level.id)]
    landings = [target for target in targets if isinstance(target, Landing)]
    shut = [
        not to.restart and survey.never_holds_at(level.id, survey.rules.levels[to.level].source.opens)
        for to in landings
    ]
    if landings and all(shut) and not any(isinstance(target, Leads) for target in targets):
        return f": {survey.rules.levels[landings[0].level].source.title} is locked whenever the player is here"
    return ""


@check("deed-never-happens", "warning", "reachability", "The player will never get to do it.")
def deed_never_happens(here: Inspection) -> Iterator[Found]:
    """Its level is reached, but the deed can be done in no state of it.

    Example: The lamp can be lit only with three flasks, and two can be carried.
    To mend: Change its condition, or give what it asks for.
    """
    for level in _with_some_never(here, here.survey.deeds):
        for deed in level.deeds:
            if here.survey.deeds[level.id, deed.id].answer == "no":
                at = f"{level.id}.{deed.id}"
                yield Found((at,), f"{here.title(at)} can never be done{_deed_because(level, deed, here)}.")


def _deed_because(level: Level, deed: Deed, here: Inspection) -> str:
    if deed.zone and level.zones and deed.zone not in {zone.id for zone in level.zones}:
        return ": its zone does not exist"
    return f": “{here.wording.condition(deed.when)}” is asked" if deed.when != "always" else ""


@check("tile-never-opens", "warning", "reachability", "The player will never get to choose it.")
def tile_never_opens(here: Inspection) -> Iterator[Found]:
    """Its board is reached, but the tile can be chosen in no state of it.

    Example: The tile of Pan Row waits for a mark that is never raised.
    To mend: Change what its level opens with.
    """
    for level in _with_some_never(here, here.survey.tiles):
        for tile in level.tiles:
            if here.survey.tiles[level.id, tile.id].answer == "no":
                at = f"{level.id}.{tile.id}"
                target = here.title(tile.level) if tile.level else "no level"
                yield Found((at,), f"The tile {tile.id} of {level.title} (to {target}) can never be chosen.")


@check("path-never-opens", "warning", "reachability", "What lies behind it may be out of reach.")
def path_never_opens(here: Inspection) -> Iterator[Found]:
    """Its level is reached, but the path can be walked in no state of it.

    Example: A path that asks for ebb in a level that is entered at flood only.
    To mend: Change its condition.
    """
    for level in _with_some_never(here, here.survey.paths):
        names = {zone.id: zone.name or zone.id for zone in level.zones}
        for path in level.paths:
            if here.survey.paths[level.id, path.start, path.end].answer == "no":
                ends = f"{names.get(path.start, path.start)} to {names.get(path.end, path.end)}"
                at = f"{level.id}.{path.start}.{path.end}"
                yield Found((at,), f"In {level.title} the path from {ends} can never be walked.")


@check("ending-unreachable", "error", "reachability", "No player will ever see how it ends.")
def ending_unreachable(here: Inspection) -> Iterator[Found]:
    """It is proven that no route of play reaches the ending.

    Example: The bell cannot be rung, for its rope is in a level that is out of reach.
    To mend: Follow what stands in the way of the exit that ends so.
    """
    for ending in here.flow.endings:
        if here.survey.endings[ending.id].answer == "no":
            made = here.completed is not None and here.completed.endings[ending.id].answer == "yes"
            message = f"The ending “{ending.name or ending.id}” is never reached."
            yield Found((ending.id,), message, severity="hint" if made else None)


@check("not-settled", "warning", "reachability", "What is not settled may be fine or broken.")
def not_settled(here: Inspection) -> Iterator[Found]:
    """The time given did not suffice to settle everything; or a check could look at a part of the states only.

    Example: Twenty switches, each of which matters everywhere.
    To mend: Give the survey more time (`--budget`), or let fewer facts matter in few levels.
    """
    survey = here.survey
    if survey.settled:
        return
    unknown = [level.title for level in here.flow.levels if survey.levels[level.id].answer == "unknown"]
    parts = [f"whether {enumerated(unknown)} can be reached"] if unknown else []
    parts += ["whether the player can get stuck"] if survey.stuck.answer == "unknown" else []
    missed = sum(answer == "unknown" for answer in survey.missed.values())
    parts += [f"whether {missed} levels and deeds can be missed"] if missed else []
    severity: Severity | None = None if parts else "hint"
    message = f"Time ran out after {survey.graph.expanded:,} states; not known: {', '.join(parts)}."
    if not parts:
        message = (
            f"All is proven from {len(survey.graph):,} states; "
            "what is odd about arrivals and saved games was looked for in these only."
        )
    yield Found((), message, severity=severity)

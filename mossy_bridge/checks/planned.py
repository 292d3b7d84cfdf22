"""What would be so if planned levels were made: what follows from their gaps alone is no error yet."""

from collections.abc import Callable

from msgspec.structs import replace

from mossy_bridge.model.flow import Destination, Exit, Flow, Level, Spawn, Trigger
from mossy_bridge.model.ids import id_from
from mossy_bridge.model.sequence import neighbours
from mossy_bridge.reach.survey.budget import Budget
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.survey.run import survey_flow

SECONDS = 5.0
"""Spent at most on the survey of what would be."""


def completed_survey(survey: Survey, cancelled: Callable[[], bool]) -> Survey | None:
    """The survey of the flow with the gaps of its planned levels filled; None where they have none."""
    completed = _completed(survey.flow)
    return survey_flow(completed, Budget(SECONDS, cancelled), before=survey) if completed is not survey.flow else None


def _completed(flow: Flow) -> Flow:
    """The flow, each planned level with every spawn point that is asked of it, and one without a way out with ways on
    to the next level and to every ending."""
    following = neighbours(flow, 1)
    named: dict[str, set[str]] = {}
    for level in flow.levels:
        for exit_ in level.exits:
            for to in exit_.destinations:
                named.setdefault(to.level, set()).add(to.spawn)
        for tile in level.tiles:
            named.setdefault(tile.level, set()).add(tile.spawn)

    def filled(level: Level) -> Level:
        if level.status != "planned":
            return level
        have = {spawn.id for spawn in level.spawns}
        lacking = named.get(level.id, set()) - have - {""}
        if level.kind == "play" and not have and not lacking:
            lacking = {"somewhere"}
        spawns = tuple(Spawn(id=name) for name in sorted(lacking))
        level = replace(level, spawns=(*level.spawns, *spawns)) if spawns else level
        return level if level.exits or level.tiles else replace(level, exits=_ways_on(flow, following[level.id]))

    levels = tuple(map(filled, flow.levels))
    same = all(one is other for one, other in zip(levels, flow.levels, strict=True))
    return flow if same else replace(flow, levels=levels)


def _ways_on(flow: Flow, following: Level | None) -> tuple[Exit, ...]:
    ways = [Destination(kind="end", ending=ending.id) for ending in flow.endings]
    if following:
        ways.append(Destination(kind="level", level=following.id))
    taken: set[str] = set()
    exits = []
    for to in ways:
        taken.add(name := id_from("on", taken, "exit"))
        exits.append(Exit(id=name, trigger=Trigger(kind="choose"), completes=True, to=to))
    return tuple(exits)

"""What happens, or was left over, at the moment of an arrival."""

from collections.abc import Iterator

from mossy_bridge.checks.finding import Found, Inspection, check
from mossy_bridge.model.flow import Level
from mossy_bridge.model.order import first_play_level
from mossy_bridge.play.prepared import ReadyExit
from mossy_bridge.reach.asked import asked_by, conditions_of
from mossy_bridge.reach.graph import Edge


@check("fires-on-arrival", "warning", "reachability", "The player is carried off before having done anything.")
def fires_on_arrival(here: Inspection) -> Iterator[Found]:
    survey = here.survey
    graph, rules = survey.graph, survey.rules
    arrivals = {edge.target for _, edge in graph.numbered_edges() if edge.crosses} | {0}
    said: set[str] = set()
    for number in sorted(arrivals):
        if number >= len(graph.states):
            continue
        state = graph.states[number]
        level = rules.levels[state.place].source
        exit_ = rules.sprung(state)
        at = f"{level.id}.{exit_.source.id}" if exit_ else ""
        if exit_ and at not in said and not _harmless(level, exit_):
            said.add(at)
            spawn = level.spawn(state.respawn) if exit_.source.trigger.kind == "touch" else None
            cause = f"its area covers {spawn.name or spawn.id}" if spawn else "its condition is already true"
            message = f"{here.title(at)} fires at once on arrival: {cause}."
            yield Found((at,), message, tuple(graph.route(number)))


def _harmless(level: Level, exit_: ReadyExit) -> bool:
    """A screen that simply leads on by itself."""
    trigger = exit_.source.trigger
    return (
        level.kind == "screen"
        and trigger.kind == "auto"
        and trigger.when == "always"
        and exit_.source.opens == "always"
    )


@check("left-over-facts", "warning", "reachability", "A second game begins with things from the first.")
def left_over_facts(here: Inspection) -> Iterator[Found]:
    first = first_play_level(here.flow)
    if first is None:
        return
    said: dict[str, Found] = {}
    for number, edge in here.survey.graph.numbered_edges():
        at = f"{edge.move.level}.{edge.move.thing}"
        if at in said or not _starts_over(here, number, edge, first):
            continue
        left = _left_over(here, number, edge)
        if left:
            names = ", ".join(here.title(fact) for fact in left)
            message = f"{here.title(at)} begins at {first.title} again with {names} left over from before."
            route = (*here.survey.graph.route(number), edge.move)
            said[at] = Found((at, *left), message, route)
    yield from said.values()


def _starts_over(here: Inspection, number: int, edge: Edge, first: Level) -> bool:
    rules = here.survey.rules
    state = here.survey.graph.states[number]
    level = rules.levels[edge.move.level].source
    if level.kind != "screen" or edge.move.kind != "exit" or edge.fresh or not edge.crosses:
        return False
    if first.id not in state.seen:
        return False
    exit_ = next(e for e in rules.levels[level.id].exits if e.source.id == edge.move.thing)
    used = exit_.source.to
    if used is None or used.kind != "level" or used.level != first.id:
        return False
    over_it = state.origin is not None and state.origin.level == first.id and level.id != here.flow.start.level
    return not over_it


def _left_over(here: Inspection, number: int, edge: Edge) -> list[str]:
    survey = here.survey
    state = survey.graph.states[number]
    exit_ = next(e for e in survey.rules.levels[state.place].exits if e.source.id == edge.move.thing)
    facts = survey.rules.before_arrival(survey.rules.on_leaving(exit_, state).facts)
    asked = asked_by(conditions_of(here.flow)).facts
    return [
        fact.id
        for fact, value in zip(here.flow.facts, facts, strict=True)
        if fact.lifetime == "run" and fact.id in asked and value != fact.first
    ]

"""What happens, or was left over, at the moment of an arrival."""

from collections.abc import Iterator
from functools import partial

import numpy as np

from mossy_bridge.checks.finding import Found
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.language.asked import asked_by, conditions_of
from mossy_bridge.model.flow import Level
from mossy_bridge.model.sequence import first_play_level
from mossy_bridge.play.compiled_level import ReadyExit
from mossy_bridge.play.state import Move, State


@check("fires-on-arrival", "warning", "reachability", "The player is carried off before having done anything.")
def fires_on_arrival(here: Inspection) -> Iterator[Found]:
    """In some state that play can reach, an exit fires at the very moment of arrival.

    Example: The bells' counter kept its three, so Bell Sands ends as one enters it.
    To mend: Reset what the exit asks for when the level is entered, or move the landing.
    """
    graph, rules = here.survey.graph, here.survey.rules
    arrived = np.zeros(len(graph), dtype=np.bool_)
    arrived[graph.target[graph.crosses]] = True
    arrived[:1] = True
    springing = graph.forced & arrived[graph.source]
    transitions, sources = graph.transition[springing], graph.source[springing]
    first = dict(zip(transitions[::-1].tolist(), sources[::-1].tolist(), strict=True))
    said: set[str] = set()
    for transition, number in sorted(first.items(), key=lambda pair: pair[1]):
        state = graph.state(number)
        exit_ = rules.exit(graph.transitions[transition].move)
        level = rules.levels[state.place].source
        at = f"{level.id}.{exit_.source.id}"
        if at not in said and not _harmless(level, exit_):
            said.add(at)
            spawn = level.spawn(state.respawn) if exit_.source.trigger.kind == "touch" else None
            cause = f"its area covers {spawn.name or spawn.id}" if spawn else "its condition is already true"
            message = f"{here.title(at)} fires at once on arrival: {cause}."
            yield Found((at,), message, partial(graph.route, number))


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
    """A screen leads into the first play level, and some fact of the run that a condition asks for is not as at a new
    game.

    Example: After the credits, New game begins with the clapper in hand.
    To mend: Let the exit begin a new run (fresh).
    """
    first = first_play_level(here.flow)
    if first is None:
        return
    graph = here.survey.graph
    lasting = [fact.id for fact in here.flow.facts if fact.lifetime == "run"]
    said: set[str] = set()
    for index, transition in enumerate(graph.transitions):
        move = transition.move
        at = f"{move.level}.{move.thing}"
        if at in said or not _starts_over(here, index, first):
            continue
        numbers = graph.source[graph.transition == index].astype(np.int64)
        second = numbers[graph.holds_seen(first.id, numbers)]
        for number in graph.differing(second, lasting):
            left = _left_over(here, graph.state(int(number)), move)
            if left:
                said.add(at)
                names = ", ".join(here.title(fact) for fact in left)
                message = f"{here.title(at)} begins at {first.title} again with {names} left over from before."
                yield Found((at, *left), message, partial(graph.route, int(number), move))
                break


def _starts_over(here: Inspection, number: int, first: Level) -> bool:
    """Whether a transition leads from a screen into the first play level, other than back to it."""
    rules, program = here.survey.rules, here.survey.program
    transition = program.transitions[number]
    move = transition.move
    level = rules.levels[move.level].source
    if level.kind != "screen" or move.kind != "exit" or transition.restarts or not transition.crosses:
        return False
    used = rules.exit(move).source.to
    if used is None or used.kind != "level" or used.level != first.id:
        return False
    origin = program.locations[transition.location].origin
    over_it = origin is not None and origin.level == first.id and level.id != here.flow.start.level
    return not over_it


def _left_over(here: Inspection, state: State, move: Move) -> list[str]:
    rules = here.survey.rules
    facts = rules.before_arrival(rules.on_leaving(rules.exit(move), state).facts)
    asked = asked_by(conditions_of(here.flow)).facts
    return [
        fact.id
        for fact, value in zip(here.flow.facts, facts, strict=True)
        if fact.lifetime == "run" and fact.id in asked and value != fact.first
    ]

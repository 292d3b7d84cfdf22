"""Unlock conditions and progress marks, asked in every reachable state."""

from collections.abc import Callable, Iterator
from functools import partial

import numpy as np
from numpy.typing import NDArray

from mossy_bridge.checks.finding import Found
from mossy_bridge.checks.inspection import Inspection, exits_of
from mossy_bridge.checks.registry import check
from mossy_bridge.language.asked import progress_marks
from mossy_bridge.language.evaluation import Facts, unknown_in_effect
from mossy_bridge.language.parsing import parse_condition, parse_effect
from mossy_bridge.language.tree import Count, atoms
from mossy_bridge.model.flow import Deed, Exit, Level
from mossy_bridge.model.sequence import neighbour
from mossy_bridge.play.destinations import Landing
from mossy_bridge.play.state import Move, MoveKind

States = NDArray[np.int64]
"""Numbers of states."""
_PLAIN = ("always", "never")


def _answers(here: Inspection) -> Iterator[tuple[str, str, set[bool]]]:
    """Every unlock condition worth asking: where it stands, its text, and the answers it ever gives; where that is not
    certain, both."""
    yield from _seen_answers(here) if here.survey.settled else _proven_answers(here)


def _proven_answers(here: Inspection) -> Iterator[tuple[str, str, set[bool]]]:
    for level, exit_ in _locked_exits(here):
        if here.survey.levels[level.id].answer == "yes":
            yield f"{level.id}.{exit_.id}", exit_.opens, _certain_answers(here, {level.id}, exit_.opens)
    locked = _locked_levels(here)
    reached = [level for level in here.flow.levels if here.survey.levels[level.id].answer == "yes"] if locked else []
    asking: dict[str, set[str]] = {}
    for level in reached:
        for name in _may_lead_to(here, level):
            asking.setdefault(name, set()).add(level.id)
    for level in locked:
        if level.id in asking:
            yield level.id, level.opens, _certain_answers(here, asking[level.id], level.opens)


def _locked_exits(here: Inspection) -> Iterator[tuple[Level, Exit]]:
    """The exits whose locks ask for something."""

    def is_locked(level: Level) -> bool:
        return any(exit_.opens not in _PLAIN for exit_ in level.exits)

    exits = exits_of(here.level_results.where("locked exits", is_locked))
    return ((level, exit_) for level, exit_ in exits if exit_.opens not in _PLAIN)


def _locked_levels(here: Inspection) -> list[Level]:
    return here.level_results.where("locked levels", lambda level: level.opens not in _PLAIN)


def _certain_answers(here: Inspection, levels: set[str], condition: str) -> set[bool]:
    if all(here.survey.never_holds_at(level, condition) for level in levels):
        return {False}
    return {True} if all(here.survey.always_holds_at(level, condition) for level in levels) else {True, False}


def _may_lead_to(here: Inspection, level: Level) -> set[str]:
    """The levels that exits and tiles of a level may lead to, some by the order of levels or by where one came from."""
    rules = here.survey.rules
    ready = rules.levels[level.id]
    found = {to.level for exit_ in level.exits for to in exit_.destinations if to.kind == "level"}
    found |= {tile.level for tile in ready.tiles.values()}
    moving = [exit_ for exit_ in ready.exits if any(to.kind != "level" for to in exit_.source.destinations)]
    for state in here.survey.samples(level.id) if moving else ():
        targets = (rules.target(exit_, state) for exit_ in moving)
        found |= {to.level for to in targets if isinstance(to, Landing) and not to.restart}
    return found


def _seen_answers(here: Inspection) -> Iterator[tuple[str, str, set[bool]]]:
    graph = here.survey.graph
    for level, exit_ in _locked_exits(here):
        answers = graph.holds(exit_.opens, graph.in_level(level.id))
        yield f"{level.id}.{exit_.id}", exit_.opens, set(answers.tolist())
    locked = _locked_levels(here)
    asked = _states_that_ask(here) if locked else {}
    for level in locked:
        parts = [graph.holds(level.opens, numbers).tolist() for numbers in asked.get(level.id, ())]
        yield level.id, level.opens, set().union(*parts)


def _states_that_ask(here: Inspection) -> dict[str, list[States]]:
    """For each level, the states whose level has an exit or tile to it there and then."""
    rules, graph = here.survey.rules, here.survey.graph
    found: dict[str, list[States]] = {}
    for level in here.flow.levels:
        ready, numbers = rules.levels[level.id], graph.in_level(level.id)
        asked = {to.level for exit_ in level.exits for to in exit_.destinations if to.kind == "level"}
        for name in asked | {tile.level for tile in ready.tiles.values()}:
            found.setdefault(name, []).append(numbers)
        moving = [e for e in ready.exits if any(to.kind != "level" for to in e.source.destinations)]
        for state, alike in graph.by_location(numbers) if moving else ():
            for exit_ in moving:
                target = rules.target(exit_, state)
                if isinstance(target, Landing) and not target.restart:
                    found.setdefault(target.level, []).append(alike)
    return found


@check("always-holds", "hint", "reachability", "The lock never shuts anybody out.")
def always_holds(here: Inspection) -> Iterator[Found]:
    """The condition of a lock holds in every state in which it is asked.

    Example: A gate asks for the rope that every way there brings along.
    To mend: Remove the condition, or ask for what it was meant to ask for.
    """
    for at, text, answers in _answers(here):
        if answers == {True}:
            condition = here.wording.condition(text)
            yield Found((at,), f"{here.title(at)} asks for “{condition}”, which always holds there.")


@check("never-holds", "hint", "reachability", "The lock never opens.")
def never_holds(here: Inspection) -> Iterator[Found]:
    """The condition of a lock fails in every state in which it is asked.

    Example: A gate asks for ebb, and nothing ever turns the tide there.
    To mend: Make a way to fulfil it, or change it; what is missing is said beside it.
    """
    for at, text, answers in _answers(here):
        if answers == {False}:
            condition = here.wording.condition(text)
            yield Found((at,), f"{here.title(at)} asks for “{condition}”, which never holds there.")


@check("opened-unseen", "warning", "reachability", "The player can skip the level before it.")
def opened_unseen(here: Inspection) -> Iterator[Found]:
    """A level that opens with a progress mark is open although the level before it has not been seen.

    Example: The mark was raised by the side path, and Pan Row opens before Salt Gate was played.
    To mend: Raise the mark only where the level before is completed.
    """
    survey = here.survey
    asking = [(level, neighbour(here.flow, level.id, -1)) for level in _asking_progress(here)]
    pairs = [(level, before) for level, before in asking if before]
    every = np.arange(len(survey.graph))

    def opens(at: int) -> NDArray[np.bool_]:
        return survey.graph.holds(pairs[at][0].opens, every)

    early = survey.explored.missable.routes_leaving_open([before.id for _, before in pairs], opens)
    for at, (level, before) in enumerate(pairs):
        if at in early:
            message = f"{level.title} opens before {before.title}, the level before it, has been seen."
            yield Found((level.id,), message, early[at].as_sure(survey.settled).trace)


def _asking_progress(here: Inspection) -> list[Level]:
    return here.level_results.where("levels that ask for progress", _asks_progress)


def _asks_progress(level: Level) -> bool:
    return any(isinstance(a, Count) and a.bound == "at least" for a in atoms(parse_condition(level.opens)))


@check("progress-lowered", "warning", "reachability", "Levels that were open are shut again.")
def progress_lowered(here: Inspection) -> Iterator[Found]:
    """An exit or a deed sends a progress mark below what it was.

    Example: Playing The Slipway again sets the mark back to 1.
    To mend: Raise it to a number instead of setting it.
    """
    marks = progress_marks(here.flow) if _asking_progress(here) else frozenset()
    for level in here.flow.levels if marks else ():
        things: tuple[Deed | Exit, ...] = (*level.deeds, *level.exits)
        for thing in things:
            for effect in map(parse_effect, thing.effects):
                if effect.verb in ("set", "lower") and effect.fact in marks:
                    yield from _lowered(here, level, thing, effect.fact)
                    break


def _lowered(here: Inspection, level: Level, thing: Deed | Exit, mark: str) -> Iterator[Found]:
    survey = here.survey
    kind: MoveKind = "deed" if isinstance(thing, Deed) else "exit"
    index = survey.rules.words.index[mark]
    sinks = _sinks(here, thing, mark, index)
    move = Move(kind, level.id, thing.id)
    for number in survey.graph.differing(survey.graph.states_with(move), survey.rules.words.index):
        if sinks(survey.graph.state(int(number)).facts):
            at, name = f"{level.id}.{thing.id}", here.title(mark)
            trace = partial(survey.graph.route, int(number), move)
            yield Found((at, mark), f"{here.title(at)} lowers {name}, which was already further along.", trace)
            return


def _sinks(here: Inspection, thing: Deed | Exit, mark: str, index: int) -> Callable[[Facts], bool]:
    """Whether some ``set`` or ``lower`` of the thing's effects takes the mark below what it was."""
    words = here.survey.rules.words
    effects = [e for e in map(parse_effect, thing.effects) if not unknown_in_effect(e, words)]

    def sinks(facts: Facts) -> bool:
        for effect in effects:
            after = words.change(effect)(facts)
            if effect.fact == mark and effect.verb in ("set", "lower") and int(after[index]) < int(facts[index]):
                return True
            facts = after
        return False

    return sinks

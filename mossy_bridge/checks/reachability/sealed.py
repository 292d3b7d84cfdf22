"""Stuck states, forced cycles, and what can be missed for good."""

from collections.abc import Iterator

from mossy_bridge.checks.finding import Found, known
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.play.state import Ended, Move, State
from mossy_bridge.reach.queries.saved_games import lost_when_resumed
from mossy_bridge.reach.survey.budget import Budget


def _thing_moved(move: Move) -> str:
    return f"{move.level}.{move.thing}"


@check("stuck", "error", "reachability", "The player must give up the run.")
def stuck(here: Inspection) -> Iterator[Found]:
    """A state can be reached from which no ending can be reached any more.

    Example: Both flasks are spent on the sluice, and the lamp asks for one.
    To mend: Look at the move that sealed it, and give a way on; or let it fail.
    """
    verdict = here.survey.stuck
    if verdict.answer != "yes":
        return
    level = _place_after(here, verdict.route)
    seal = verdict.route[-1] if verdict.route else None
    sealed = (_thing_moved(seal),) if seal and seal.kind != "path" else ()
    by = f", after {here.title(sealed[0])}" if sealed else ""
    kind = here.survey.rules.levels[level].source.kind
    told = "from there no ending can be reached in the same run" if kind == "play" else "nothing can be done there"
    message = f"The player can get stuck in {here.title(level)}{by}: {told}."
    planned = here.completed is not None and here.completed.stuck.answer == "no"
    yield Found((level, *sealed), message, verdict.trace, severity="hint" if planned else None)


@check("can-be-missed", "hint", "reachability", "A player who goes on may want it and be unable to go back.")
def can_be_missed(here: Inspection) -> Iterator[Found]:
    """A level, board or deed can be put out of reach for good by going on.

    Example: Whoever leaves Mud Flats at flood never finds the shell there.
    To mend: Nothing, if that is meant: accept it. Else make a way back.
    """
    screens = {level.id for level in here.flow.levels if level.kind == "screen"}
    for thing, answer in here.survey.missed.items():
        if answer != "yes" or thing in screens:
            continue
        at = thing if isinstance(thing, str) else ".".join(thing)
        loss = here.survey.losses[thing]
        message = f"{here.title(at)} can be missed for good, by going on from {here.title(loss.left or at)}."
        yield Found((at,), message, loss.trace)


@check("loops-by-itself", "error", "reachability", "The game hangs, going round without the player.")
def loops_by_itself(here: Inspection) -> Iterator[Found]:
    """Exits that fire by themselves come back to the same state without a move of the player.

    Example: Two screens that each lead on to the other.
    To mend: Let one of them wait for the player.
    """
    verdict = here.survey.loops
    if verdict.answer != "yes":
        return
    level = _place_after(here, verdict.route)
    yield Found((level,), f"From {here.title(level)} forced exits go round in a circle by themselves.", verdict.trace)


def _place_after(here: Inspection, route: tuple[Move, ...]) -> str:
    state: State | Ended | None = here.survey.rules.begin()
    for wanted in route:
        if isinstance(state, State):
            state = next(after for move, after in here.survey.rules.moves(state) if move == wanted)
    return state.place if isinstance(state, State) else ""


LONGEST = 3.0
"""Seconds spent on exploring what follows after saved games."""


@check("resume-stuck", "warning", "reachability", "Whoever quits there and resumes has lost the run.")
def resume_stuck(here: Inspection) -> Iterator[Found]:
    """The game was saved by a deed, and coming back to that save is stuck, though the state that saved was not.

    Example: Saved behind the sluice, resumed in front of it, the flask is spent.
    To mend: Save elsewhere, or keep what is needed.
    """
    survey = here.survey
    if survey.flow.saving != "deed" or not survey.settled:
        return
    stop = Budget(LONGEST, here.cancelled).until(1.0)
    for move, route in lost_when_resumed(survey, stop):
        at = _thing_moved(move)
        yield Found((at,), f"Resuming the game that {here.title(at)} saves, the player is stuck.", known(route))

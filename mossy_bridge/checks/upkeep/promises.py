"""Whether promises and recorded walks still hold."""

from collections.abc import Iterator

from mossy_bridge.checks.finding import Found, Repair, known
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.model.edits import upkeep
from mossy_bridge.model.flow import Promise, Walk
from mossy_bridge.play.replay import Replay

_BROKEN = {
    "can": "no route gets there",
    "within": "no route gets there in so few crossings",
    "never": "a route gets there",
    "always_can": "from the place this route leads to there is no way on",
}


@check("promise-broken", "error", "upkeep", "The flow must keep what it was promised to do.")
def promise_broken(here: Inspection) -> Iterator[Found]:
    """It is proven that play can break, or never keeps, what was promised.

    Example: The lamp can be lit without oil.
    To mend: Follow its route, and close the way it takes.
    """
    for promise in here.flow.promises:
        answer = here.survey.promises[promise.id]
        if answer.holds == "no":
            message = f"The promise “{promise.name or _said(here, promise)}” is broken: {_BROKEN[promise.kind]}."
            yield Found((promise.id,), message, known(answer.route or ()))


def _said(here: Inspection, promise: Promise) -> str:
    """The promise as a sentence, where it has no name of its own."""
    names = [here.title(name) for name in (promise.level, promise.ending) if name]
    goal = " or ".join(names) or "nowhere"
    when = f" with {here.wording.condition(promise.when)}" if promise.when != "always" else ""
    crossings = f" in at most {promise.crossings} crossings" if promise.kind == "within" else ""
    verb = {"can": "can reach", "within": "can reach", "never": "never reaches", "always_can": "can always reach"}
    return f"the player {verb[promise.kind]} {goal}{when}{crossings}"


@check("walk-broken", "error", "upkeep", "What was once played that way no longer plays so.")
def walk_broken(here: Inspection) -> Iterator[Found]:
    """A recorded walk cannot be walked any more, or ends elsewhere than expected.

    Example: The walk of the fullest run stops at the locked stair.
    To mend: Mend what broke it, or record it anew.
    """
    for walk in here.flow.walks:
        replay = here.survey.walks[walk.id]
        if not replay.holds:
            at_move = f" at move {replay.stopped_at + 1}" if replay.stopped_at is not None else ""
            message = f"The walk “{walk.name or walk.id}” no longer does what it expects{at_move}: {replay.problem}."
            yield Found((walk.id,), message, repair=_mended(here, walk, replay))


def _mended(here: Inspection, walk: Walk, replay: Replay) -> Repair | None:
    """The shortest way to what the walk should reach, or the part of it that still works."""
    kind, _, name = walk.expect.partition(":")
    group = {"at": here.survey.levels, "ends": here.survey.endings}.get(kind, {})
    verdict = group.get(name)
    if verdict and verdict.answer == "yes":
        moves = tuple(str(move) for move in verdict.route)
        label = f"Walk the shortest way to {here.title(name)} instead"
        return Repair(label, lambda flow: upkeep.set_walk(flow, walk.id, moves=moves))
    if kind != "fails" and replay.stopped_at:
        kept = walk.moves[: replay.stopped_at]
        label = f"Keep the {len(kept)} moves that still work" if len(kept) > 1 else "Keep the move that still works"
        return Repair(label, lambda flow: upkeep.set_walk(flow, walk.id, moves=kept, expect="works"))
    return None

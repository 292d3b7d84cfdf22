"""What proofs answer where the explored states have left something open."""

from collections.abc import Callable, Collection, Iterable
from dataclasses import replace
from functools import partial
from itertools import repeat
from typing import Any

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.abstraction.must_reachability import MustReachability
from mossy_bridge.reach.monotone.dead_ends import Trap
from mossy_bridge.reach.monotone.promises import prove_promise
from mossy_bridge.reach.monotone.prover import Prover
from mossy_bridge.reach.survey.from_graph import stuck_in_graph
from mossy_bridge.reach.survey.merge import is_final
from mossy_bridge.reach.survey.result import Answers, Explored, Survey
from mossy_bridge.reach.survey.verdicts import NO, UNKNOWN, Answer, Verdict, Verdicts
from mossy_bridge.reach.system.routes import Route
from mossy_bridge.reach.system.things import Numbering, Things


def answers_of_proofs(explored: Explored, prover: Prover, known: Survey) -> Answers:
    """Answers by proofs to what is unknown."""
    reached = _reachability(prover, known.things)
    promises = [promise for promise in explored.rules.flow.promises if not is_final(known.promises[promise.id])]
    return replace(
        reached,
        stuck=UNKNOWN if known.stuck.answer != "unknown" else _stuck(explored, prover),
        loops=NO if known.loops.answer == "unknown" and prover.nothing_loops else UNKNOWN,
        missed=dict.fromkeys(_never_missed(known, reached, prover), "no"),
        promises={promise.id: prove_promise(promise, prover) for promise in promises},
    )


def _reachability(prover: Prover, things: Things) -> Answers:
    entered, levels = prover.entered(), things.numbers["level"]
    inside = [levels[level] for level in entered]
    found = {"level": _reached(levels, inside, partial(prover.route_to, "level"), entered.items())}
    for kind, used in prover.uses().items():
        by = zip(used.states, used.transitions, strict=True)
        found[kind] = _reached(things.numbers[kind], used.things, partial(prover.route_by, kind), by)
    if prover.complete:
        return Answers.about_reaching(found)
    return Answers.about_reaching(  # what was not found may be reachable all the same
        {kind: {name: one for name, one in verdicts.items() if one is not NO} for kind, verdicts in found.items()}
    )


def _reached(
    numbers: Numbering, reached: Iterable[int], find: Callable[..., Route], by: Iterable[tuple[Any, ...]]
) -> Verdicts[Any]:
    """What is reachable of one kind, with what finds a route to each; nothing else is."""
    yes: Answer = "yes"
    found = [NO] * len(numbers)
    for number, verdict in zip(reached, map(Verdict, repeat(yes), repeat(find), by), strict=True):
        found[number] = verdict
    return Verdicts(numbers, found)


def _stuck(explored: Explored, prover: Prover) -> Verdict:
    """What proofs say, where the stuck state nearest to the start has not been explored."""
    trap = prover.stuck
    if not isinstance(trap, Trap):
        return NO if trap is False else UNKNOWN
    return stuck_in_graph(explored) or Verdict("yes", prover.route_into, (trap,))


def _never_missed(known: Survey, reached: Answers, prover: Prover) -> Collection[Thing]:
    """What cannot be missed, as it cannot be reached, or since that is shown."""
    shown, undecided = prover.never_missed, known.undecided_losses(known.things)
    if shown.issuperset(undecided):
        return undecided
    return [thing for thing in undecided if thing in shown or "no" in (known.reaches(thing), reached.reaches(thing))]


def answers_of_must_reachability(must: MustReachability, known: Answers) -> Answers:
    """Answers that hold whatever values the facts have."""
    never = must.never_missed | (must.landmarks if known.some_ending else set())
    return Answers(
        stuck=NO if must.nobody_stuck else UNKNOWN,
        loops=NO if must.nothing_loops else UNKNOWN,
        missed=dict.fromkeys(never, "no"),
    )

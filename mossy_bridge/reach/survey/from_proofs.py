"""What proofs answer where the explored states have left something open."""

from collections.abc import Collection
from dataclasses import replace
from functools import partial
from typing import Any

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.abstraction.must_reachability import MustReachability
from mossy_bridge.reach.monotone.dead_ends import Trap
from mossy_bridge.reach.monotone.promises import prove_promise
from mossy_bridge.reach.monotone.prover import Prover
from mossy_bridge.reach.survey.from_graph import stuck_in_graph
from mossy_bridge.reach.survey.merge import is_final
from mossy_bridge.reach.survey.questions import KINDS, Questions
from mossy_bridge.reach.survey.result import NO, UNKNOWN, Answers, Explored, Survey, Verdict


def answers_of_proofs(explored: Explored, prover: Prover, known: Survey) -> Answers:
    """Answers by proofs to what is unknown."""
    reached = _reachability(prover, known.questions)
    promises = [promise for promise in explored.rules.flow.promises if not is_final(known.promises[promise.id])]
    return replace(
        reached,
        stuck=UNKNOWN if known.stuck.answer != "unknown" else _stuck(explored, prover),
        loops=NO if known.loops.answer == "unknown" and prover.nothing_loops else UNKNOWN,
        missed=dict.fromkeys(_never_missed(known, reached, prover), "no"),
        promises={promise.id: prove_promise(promise, prover) for promise in promises},
    )


def _reachability(prover: Prover, questions: Questions) -> Answers:
    # what is not found is unreachable, if all was searched
    found: dict[str, dict[Any, Verdict]] = {
        kind: dict.fromkeys(names, NO) if prover.complete else {} for kind, names in questions.names.items()
    }
    into_level, levels = partial(prover.route_to, "level"), found["level"]
    for level, number in prover.entered().items():
        levels[level] = Verdict("yes", into_level, (level, number))
    by_use = {kind: partial(prover.route_by, kind) for kind in KINDS}
    for kind, name, use in prover.uses():
        found[kind][name] = Verdict("yes", by_use[kind], use)
    return Answers.about_reaching(found)


def _stuck(explored: Explored, prover: Prover) -> Verdict:
    """What proofs say, where the stuck state nearest to the start has not been explored."""
    trap = prover.stuck
    if not isinstance(trap, Trap):
        return NO if trap is False else UNKNOWN
    return stuck_in_graph(explored) or Verdict("yes", prover.route_into, (trap,))


def _never_missed(known: Survey, reached: Answers, prover: Prover) -> Collection[Thing]:
    """What cannot be missed, as it cannot be reached, or since that is shown."""
    shown, undecided = prover.never_missed, known.undecided_losses(known.questions)
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

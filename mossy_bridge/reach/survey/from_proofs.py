"""What proofs answer where the explored states have left something open."""

from collections.abc import Callable, Collection, Iterable
from dataclasses import replace
from itertools import repeat
from typing import Any

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.abstraction.must_reachability import MustReachability
from mossy_bridge.reach.monotone.dead_ends import Trap
from mossy_bridge.reach.monotone.promises import prove_promise
from mossy_bridge.reach.monotone.prover import Prover
from mossy_bridge.reach.survey.from_graph import stuck_in_graph
from mossy_bridge.reach.survey.merge import is_final
from mossy_bridge.reach.survey.questions import Questions
from mossy_bridge.reach.survey.result import NO, UNKNOWN, Answers, Explored, Survey, Verdict
from mossy_bridge.reach.system.routes import Route


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
    entered, uses = prover.entered(), prover.uses()
    found["level"] |= _yes(entered, prover.route_into_level, entered.items())
    for kind, by in uses.items():
        found[kind] |= _yes(by, prover.route_to_ending if kind == "ending" else prover.route_by, by.values())
    return Answers.about_reaching(found)


def _yes(names: Iterable[Any], trace: Callable[..., Route], of: Iterable[tuple[Any, ...]]) -> dict[Any, Verdict]:
    """A verdict for each of some names, with what ``trace`` is called with. Made in one go: there may be thousands."""
    return dict(zip(names, map(Verdict, repeat("yes"), repeat(trace), of), strict=False))


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

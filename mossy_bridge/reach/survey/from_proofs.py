"""What proofs answer where the explored states have left something open."""

from collections.abc import Iterator
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
from mossy_bridge.reach.survey.result import KINDS, UNKNOWN, Answers, Explored, Verdict


def answers_of_proofs(explored: Explored, prover: Prover, known: Answers) -> Answers:
    """Answers by proofs to what is unknown."""
    reached = _reachability(prover, known)
    promises = [promise for promise in explored.rules.flow.promises if not is_final(known.promises[promise.id])]
    found = _never_missed(known, reached, prover)
    return replace(
        reached,
        stuck=UNKNOWN if known.stuck.answer != "unknown" else _stuck(explored, prover),
        loops=Verdict("no") if known.loops.answer == "unknown" and prover.nothing_loops else UNKNOWN,
        missed=dict.fromkeys(found, "no"),
        promises={promise.id: prove_promise(promise, prover) for promise in promises},
    )


def _reachability(prover: Prover, known: Answers) -> Answers:
    # what is not found is unreachable, if all was searched
    never = Verdict("no")
    found: dict[str, dict[Any, Verdict]] = {
        kind: dict.fromkeys(known.verdicts(kind), never) if prover.complete else {} for kind in KINDS
    }
    for level, number in prover.entered().items():
        found["level"][level] = Verdict("yes", partial(prover.route_to, "level", level, number))
    for kind, uses in prover.uses().items():
        for name, use in uses.items():
            found[kind][name] = Verdict("yes", partial(prover.route_to, kind, name, *use))
    return Answers.about_reaching(found)


def _stuck(explored: Explored, prover: Prover) -> Verdict:
    """What proofs say, where the stuck state nearest to the start has not been explored."""
    trap = prover.stuck
    if not isinstance(trap, Trap):
        return Verdict("no") if trap is False else UNKNOWN
    return stuck_in_graph(explored) or Verdict("yes", partial(prover.route_into, trap))


def _never_missed(known: Answers, reached: Answers, prover: Prover) -> Iterator[Thing]:
    """What cannot be missed, as it cannot be reached, or since that is shown."""
    shown = prover.never_missed
    for thing in known.undecided_losses:
        if thing in shown or "no" in (known.reaches(thing), reached.reaches(thing)):
            yield thing


def answers_of_must_reachability(must: MustReachability, known: Answers) -> Answers:
    """Answers that hold whatever values the facts have."""
    never = must.never_missed | (must.landmarks if known.some_ending else set())
    return Answers(
        stuck=Verdict("no") if must.nobody_stuck else UNKNOWN,
        loops=Verdict("no") if must.nothing_loops else UNKNOWN,
        missed=dict.fromkeys(never, "no"),
    )

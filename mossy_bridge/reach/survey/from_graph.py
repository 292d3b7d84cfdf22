"""What follows from the states that were explored: every answer that a reachability graph gives."""

from dataclasses import replace
from typing import Any

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph, crossings_at_most
from mossy_bridge.reach.explicit.forced_cycles import route_into_forced_cycle
from mossy_bridge.reach.explicit.promises import judge_promise
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.survey.merge import merge
from mossy_bridge.reach.survey.result import Answers, Explored
from mossy_bridge.reach.survey.verdicts import NO, UNKNOWN, Answer, Verdict
from mossy_bridge.reach.system.program_graph import Stopper
from mossy_bridge.reach.system.routes import Loss, as_sure
from mossy_bridge.reach.system.things import Things


def answers_of_graph(explored: Explored, things: Things, stop: Stopper) -> Answers:
    """Every answer that the explored states give; nothing is said of what unexpanded ones could decide."""
    reached = reachability_of_graph(explored, things, stop)
    return merge(reached, losses_of_graph(explored, things, reached))


def reachability_of_graph(explored: Explored, things: Things, stop: Stopper) -> Answers:
    """What is reachable, loops and promises. Of what can be lost nothing is said yet."""
    graph, flow = explored.graph, explored.rules.flow
    otherwise = _otherwise(graph)
    found: dict[str, dict[Any, Verdict]] = {
        kind: dict.fromkeys(names, NO) if graph.complete else {} for kind, names in things.numbers.items()
    }
    for level, number in graph.first_in_levels().items():
        found["level"][level] = Verdict("yes", graph.route, (number, None, level))
    for kind, uses in graph.uses().items():
        for name, (number, transition) in uses.items():
            found[kind][name] = Verdict("yes", graph.route, (number, transition.move))
    cycle = route_into_forced_cycle(explored.rules, graph, stop)
    system = graph.system
    return replace(
        Answers.about_reaching(found),
        loops=otherwise if cycle is None else Verdict("yes", lambda: cycle),
        promises={promise.id: judge_promise(promise, graph) for promise in flow.promises},
        crossed=crossings_at_most(system, graph) if isinstance(system, QuotientGraph) else {},
    )


def losses_of_graph(explored: Explored, things: Things, known: Answers) -> Answers:
    """What is stuck and what can be missed, where it is not known yet."""
    stuck = known.stuck
    if stuck.answer == "unknown":
        stuck = stuck_in_graph(explored) or _otherwise(explored.graph)
    undecided = known.undecided_losses(things)
    if not undecided:
        return Answers(stuck=stuck)
    losses = _losses(explored, known)
    graph = explored.graph
    sure = graph.complete and graph.system.tells_level
    lost = graph.surely(losses.keys() & undecided)
    missed: dict[Thing, Answer] = {thing: "yes" for thing in undecided if thing in lost}
    if graph.complete:
        missed |= {thing: "no" for thing in undecided if thing not in losses}
    found = {thing: losses[thing].as_sure(sure) for thing in undecided if thing in lost}
    return Answers(stuck=stuck, missed=missed, losses=found)


def stuck_in_graph(explored: Explored) -> Verdict | None:
    """With a route into the nearest state that is surely stuck, if one has been explored: a shortest one, if it is
    known of all states as near whether they are."""
    graph, number = explored.graph, explored.dead_ends.first_stuck
    if number is None:
        return None
    sure = graph.complete or (explored.lookahead is not None and explored.lookahead.exact)
    return Verdict("yes", lambda: as_sure(graph.route(number), sure))


def _otherwise(graph: ReachabilityGraph) -> Verdict:
    return NO if graph.complete else UNKNOWN


def _losses(explored: Explored, known: Answers) -> dict[Thing, Loss]:
    """What is reachable and lost in some state, or seems to be."""
    if not explored.graph.complete and not explored.few_unexpanded:
        return {}  # hardly anything could be said, at great length
    found = explored.missable.losses(explored.dead_ends.sound)
    return {thing: loss for thing, loss in found.items() if known.reaches(thing) == "yes"}

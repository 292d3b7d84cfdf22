"""What follows from the states that were explored: every answer that a reachability graph gives."""

from dataclasses import replace
from functools import partial
from typing import Any

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.state import Thing
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph, crossings_at_most
from mossy_bridge.reach.explicit.crossing_distance import crossing_distances
from mossy_bridge.reach.explicit.forced_cycles import route_into_forced_cycle
from mossy_bridge.reach.explicit.missable import missable_things
from mossy_bridge.reach.explicit.promises import judge_promise
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.survey.merge import merge
from mossy_bridge.reach.survey.result import Answer, Answers, Explored, Verdict
from mossy_bridge.reach.system.program_graph import Stopper
from mossy_bridge.reach.system.routes import as_sure


def answers_of_graph(explored: Explored, stop: Stopper) -> Answers:
    """Every answer that the explored states give; unknown is what unexpanded ones could decide."""
    reached = reachability_of_graph(explored, stop)
    return merge(reached, losses_of_graph(explored, reached))


def reachability_of_graph(explored: Explored, stop: Stopper) -> Answers:
    """What is reachable, loops and promises. Of what can be lost nothing is said yet."""
    graph, flow = explored.graph, explored.rules.flow
    otherwise = _otherwise(graph)
    found: dict[str, dict[Any, Verdict]] = {
        kind: dict.fromkeys(names, otherwise) for kind, names in _names(flow).items()
    }
    for level, number in graph.first_in_levels().items():
        found["level"][level] = Verdict("yes", partial(graph.route, number, into=level))
    for (kind, name), (number, transition) in graph.uses().items():
        found[kind][name] = Verdict("yes", partial(graph.route, number, transition.move))
    cycle = route_into_forced_cycle(explored.rules, graph, stop)
    system = graph.system
    return replace(
        Answers.about_reaching(found),
        loops=otherwise if cycle is None else Verdict("yes", lambda: cycle),
        missed=dict.fromkeys(missable_things(flow), "unknown"),
        promises={promise.id: judge_promise(promise, graph) for promise in flow.promises},
        crossed=crossings_at_most(system, graph) if isinstance(system, QuotientGraph) else crossing_distances(graph),
    )


def losses_of_graph(explored: Explored, known: Answers) -> Answers:
    """What is stuck and what can be missed, where it is not known yet."""
    stuck = known.stuck
    if stuck.answer == "unknown":
        stuck = stuck_in_graph(explored) or _otherwise(explored.graph)
    undecided = known.undecided_losses
    if not undecided:
        return Answers(stuck=stuck)
    missed = _missed(explored, known)
    lost = [thing for thing in undecided if missed[thing] == "yes"]
    return Answers(
        stuck=stuck, missed={thing: missed[thing] for thing in undecided}, losses=dict.fromkeys(lost, explored)
    )


def stuck_in_graph(explored: Explored) -> Verdict | None:
    """With a route into the nearest state that is surely stuck, if one has been explored: a shortest one, if it is
    known of all states as near whether they are."""
    graph, number = explored.graph, explored.dead_ends.first_stuck
    if number is None:
        return None
    sure = graph.complete or (explored.lookahead is not None and explored.lookahead.exact)
    return Verdict("yes", lambda: as_sure(graph.route(number), sure))


def _otherwise(graph: ReachabilityGraph) -> Verdict:
    return Verdict("no" if graph.complete else "unknown")


def _names(flow: Flow) -> dict[str, list[Any]]:
    """Everything that can be reached, by kind."""
    levels = flow.levels
    return {
        "level": [level.id for level in levels],
        "exit": [(level.id, exit_.id) for level in levels for exit_ in level.exits],
        "deed": [(level.id, deed.id) for level in levels for deed in level.deeds],
        "tile": [(level.id, tile.id) for level in levels for tile in level.tiles],
        "path": [(level.id, path.start, path.end) for level in levels for path in level.paths],
        "ending": [ending.id for ending in flow.endings],
    }


def _missed(explored: Explored, known: Answers) -> dict[Thing, Answer]:
    graph = explored.graph
    # Where much was not expanded, hardly anything could be said, at great length.
    few = graph.complete or explored.few_unexpanded
    lost = explored.missable.missed(explored.dead_ends.sound) if few else set()
    lost = {thing for thing in lost if known.reaches(thing) == "yes"}
    otherwise: Answer = "no" if graph.complete else "unknown"
    found: dict[Thing, Answer] = dict.fromkeys(explored.missable.things, otherwise)
    return found | dict.fromkeys(lost, "unknown") | dict.fromkeys(graph.surely(lost), "yes")

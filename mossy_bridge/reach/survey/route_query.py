"""A shortest route to one target, asked for by itself."""

import numpy as np

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.explicit.explore import explore, glance
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.limits import LIMITS, Limits
from mossy_bridge.reach.monotone.prover import Prover
from mossy_bridge.reach.monotone.regression_astar import GivenUp
from mossy_bridge.reach.monotone.shortest_routes import ShortestRoutes
from mossy_bridge.reach.survey.budget import Budget
from mossy_bridge.reach.survey.strategy import starts_of
from mossy_bridge.reach.survey.verdicts import UNKNOWN, Verdict
from mossy_bridge.reach.system.program_graph import ProgramGraph, Stopper
from mossy_bridge.reach.system.routes import as_sure
from mossy_bridge.reach.system.transitions import GuardedTransition


def route_to(
    flow: Flow, target: str, avoid: frozenset[str], when: str, budget: float | Budget, limits: Limits = LIMITS
) -> Verdict:
    """A shortest route to a level, an ending, or an exit or deed (``level.thing``), with the condition holding there
    and without an arrival at the levels to avoid; within about ``budget`` seconds."""
    program = ProgramGraph(Rules(flow), [when], limits=limits)
    spending = budget if isinstance(budget, Budget) else Budget(budget)
    starts, stop = starts_of(program), spending.until(1.0)
    near = glance(program, starts, stop)
    found = _in_graph(near, target, avoid, when)
    doubtful = found.answer == "unknown" or (avoid and not near.complete)  # detours may be shorter elsewhere
    if doubtful and program.compile_all(stop):
        prover = Prover(QuotientGraph(program), stop)
        proven = _by_proof(prover, target, avoid, when, spending.until(limits.search_end))
        found = found if proven.answer == "unknown" else proven
    if found.answer == "unknown":
        found = _in_graph(explore(program, starts, stop), target, avoid, when)
    return found


def _in_graph(graph: ReachabilityGraph, target: str, avoid: frozenset[str], when: str) -> Verdict:
    sure = graph.complete or not avoid
    if avoid:
        graph = graph.avoiding(avoid)
    otherwise = Verdict("no" if graph.complete else "unknown")
    if graph.system.rules.flow.level(target):
        inside = np.flatnonzero(graph.inside(target))
        meeting = inside[graph.holds(when, inside)].tolist()
        return Verdict("yes", lambda: as_sure(graph.route(meeting[0]), sure)) if meeting else otherwise
    level, _, thing = target.partition(".")

    def fits(transition: GuardedTransition) -> bool:
        move = transition.move
        return (move.level, move.thing) == (level, thing) if thing else transition.ending == target

    fitting = np.array([fits(transition) for transition in graph.transitions] or [False])
    edges = np.flatnonzero(fitting[graph.transition])
    edges = edges[graph.holds(when, graph.source[edges].astype(np.int64))]
    if not len(edges):
        return otherwise
    last = graph.transitions[graph.transition[edges[0]]].move
    return Verdict("yes", lambda: as_sure(graph.route(int(graph.source[edges[0]]), last), sure))


def _by_proof(prover: Prover, target: str, avoid: frozenset[str], when: str, stop: Stopper) -> Verdict:
    """The same without exploring every state, where that can be said."""
    asking = prover.asking(when)
    routes = asking.routes and ShortestRoutes(asking.routes.graph, stop)
    level, _, thing = target.partition(".")
    at = prover.program.rules.flow.level(level)
    moves = {e.id for e in at.exits} | {d.id for d in at.deeds} | {t.id for t in at.tiles} if at else set()
    usable = not thing or thing in moves
    if routes is None or not usable or (avoid and thing):  # where its move leads would have to be avoided, too
        return UNKNOWN
    uses = [(kind, (level, thing)) for kind in ("exit", "deed", "tile")] if thing else [("ending", target)]
    goals = routes.subgoals(target, uses, when)
    try:
        route = None if goals is None else routes.route_among(goals, avoid)
    except GivenUp:
        return UNKNOWN
    if route is None:
        return UNKNOWN if goals is None else Verdict("no")
    return Verdict("yes", lambda: route)

"""Whether a promise holds, by proof, where not every state was explored."""

from mossy_bridge.model.flow import Promise
from mossy_bridge.reach.explicit.promises import PromiseVerdict
from mossy_bridge.reach.monotone.dead_ends import Trap
from mossy_bridge.reach.monotone.prover import Prover
from mossy_bridge.reach.monotone.regression import Subgoal
from mossy_bridge.reach.monotone.regression_astar import GivenUp
from mossy_bridge.reach.monotone.shortest_routes import ShortestRoutes
from mossy_bridge.reach.system.routes import Route

Subgoals = dict[Subgoal, Route]
UNKNOWN = PromiseVerdict("unknown")


def prove_promise(promise: Promise, prover: Prover) -> PromiseVerdict:
    """What is shown of a promise; exact where anything is."""
    asking = prover.asking(promise.when)
    ending = [("ending", promise.ending)]
    subgoals = asking.routes.subgoals(promise.level, ending, promise.when) if asking.routes else None
    if asking.routes is None or subgoals is None:
        return UNKNOWN
    match promise.kind:
        case "always_can":
            return _always(asking, subgoals)
        case "never":
            found = _some_route(asking, asking.routes, subgoals)
            return PromiseVerdict("yes") if found is None else PromiseVerdict("no", found)
        case "can" if not promise.avoiding:
            found = _some_route(asking, asking.routes, subgoals)
        case "can" | "within":
            crossings = promise.crossings if promise.kind == "within" else None
            try:
                found = asking.routes.route_among(subgoals, frozenset(promise.avoiding), crossings)
            except GivenUp:
                return UNKNOWN
    return PromiseVerdict("no") if found is None else PromiseVerdict("yes", found)


def _some_route(prover: Prover, routes: ShortestRoutes, subgoals: Subgoals) -> Route | None:
    try:
        return routes.route_among(subgoals)
    except GivenUp:
        return prover.route_to_some(subgoals)


def _always(prover: Prover, subgoals: Subgoals) -> PromiseVerdict:
    trap = prover.ever_short_of(subgoals)
    if trap is None:
        return UNKNOWN
    return PromiseVerdict("no", prover.route_into(trap)) if isinstance(trap, Trap) else PromiseVerdict("yes")

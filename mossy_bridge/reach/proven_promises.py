"""Whether a promise holds, where not every state was looked at."""

from mossy_bridge.model.flow import Promise
from mossy_bridge.reach.enough import Need
from mossy_bridge.reach.nearest import Nearest
from mossy_bridge.reach.promises import Kept
from mossy_bridge.reach.proofs import Proofs, Trap
from mossy_bridge.reach.routes import Route
from mossy_bridge.reach.shortest import TooMany

Needs = dict[Need, Route]
UNKNOWN = Kept("unknown")


def proven(promise: Promise, proofs: Proofs) -> Kept:
    """What is shown of a promise; exact where anything is."""
    asking = proofs.asking(promise.when)
    ending = [("ending", promise.ending)]
    needs = asking.nearest.needs(promise.level, ending, promise.when) if asking.nearest else None
    if asking.nearest is None or needs is None:
        return UNKNOWN
    match promise.kind:
        case "always_can":
            return _always(asking, needs)
        case "never":
            found = _some_route(asking, asking.nearest, needs)
            return Kept("yes") if found is None else Kept("no", found)
        case "can" if not promise.avoiding:
            found = _some_route(asking, asking.nearest, needs)
        case "can" | "within":
            crossings = promise.crossings if promise.kind == "within" else None
            try:
                found = asking.nearest.route_among(needs, frozenset(promise.avoiding), crossings)
            except TooMany:
                return UNKNOWN
    return Kept("no") if found is None else Kept("yes", found)


def _some_route(proofs: Proofs, nearest: Nearest, needs: Needs) -> Route | None:
    try:
        return nearest.route_among(needs)
    except TooMany:
        return proofs.route_to_some(needs)


def _always(proofs: Proofs, needs: Needs) -> Kept:
    found = proofs.ever_short_of(needs)
    if found is None:
        return UNKNOWN
    return Kept("no", proofs.route_into(found)) if isinstance(found, Trap) else Kept("yes")

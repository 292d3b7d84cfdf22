"""Routes: moves from the start, one after the other."""

from mossy_bridge.play.state import Move

Route = tuple[Move, ...]


class SomeRoute(tuple[Move, ...]):
    """A route that may be longer than the shortest: looking for that would have taken too long."""


def is_shortest(route: Route) -> bool:
    """Whether no shorter route leads where this one does."""
    return not isinstance(route, SomeRoute)


def as_sure(route: Route, sure: bool) -> Route:
    """A route, as a shortest one only if that is sure."""
    return route if sure else SomeRoute(route)

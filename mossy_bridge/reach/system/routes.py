"""Routes: the moves from the start to somewhere, and how a search reads one back from the parents it noted."""

from collections.abc import Callable
from typing import TypeVar

from msgspec import Struct

from mossy_bridge.play.state import Move

Node = TypeVar("Node")
Step = TypeVar("Step")
Route = tuple[Move, ...]


class SomeRoute(tuple[Move, ...]):
    """A route that may not be the shortest: searching for that would have taken too long."""


def is_shortest(route: Route) -> bool:
    """Whether no shorter route leads where this one does."""
    return not isinstance(route, SomeRoute)


def as_sure(route: Route, sure: bool) -> Route:
    """The route, as a shortest one only if that is sure."""
    return route if sure else SomeRoute(route)


def read_back(end: Node, parent: Callable[[Node], tuple[Node, Step] | None]) -> list[Step]:
    """The steps from a root of a search tree to ``end``: ``parent`` gives for each node the one before it and the step
    from there, None for a root. ``O(length of the route)``."""
    steps: list[Step] = []
    while link := parent(end):
        end, step = link
        steps.append(step)
    return steps[::-1]


class Loss(Struct, frozen=True):
    """A state in which something is missed for good: how to trace a route into it, and the level that its last move
    leaves, "" where there is no move."""

    trace: Callable[[], Route]
    left: str

    def at_the_end_of(self, moves: Route) -> "Loss":
        """The same at the end of some moves; its route may not be the shortest."""
        return Loss(lambda: SomeRoute((*moves, *self.trace())), self.left or (moves[-1].level if moves else ""))

    def as_sure(self, sure: bool) -> "Loss":
        """The same, with a shortest route only if that is sure."""
        return self if sure else Loss(lambda: SomeRoute(self.trace()), self.left)

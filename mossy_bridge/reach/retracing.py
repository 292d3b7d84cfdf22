"""Turns what a search has noted on its way back into a route."""

from collections.abc import Mapping
from typing import TypeVar

from mossy_bridge.play.state import Move

Node = TypeVar("Node")


def retraced(came: Mapping[Node, tuple[Node, Move] | None], end: Node) -> list[Move]:
    """The moves to the end, where each node has the one before it and the move from there, a start None."""
    moves = []
    step = came[end]
    while step:
        moves.append(step[1])
        step = came[step[0]]
    return moves[::-1]

"""What is known of the states that a search did not expand: the protocol that analyses of a graph ask."""

from collections.abc import Iterable, Sequence
from typing import Protocol

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.arrays import Bools
from mossy_bridge.reach.system.program_graph import PackedState


class Lookahead(Protocol):
    """What follows from any state, known without exploring."""

    @property
    def some_ending(self) -> bool:
        """Whether some ending is reachable at all, be it in a later run."""
        ...

    @property
    def exact(self) -> bool:
        """Whether what is said about endings is the whole truth."""
        ...

    def can_end(self, states: Iterable[PackedState], /) -> Bools:
        """For each state whether an ending is known to be reachable in the same run."""
        ...

    def possible(self, states: Iterable[PackedState], things: Sequence[Thing], /) -> list[int]:
        """For each state those of the things that may be reached in the same run, as bits; no others can be."""
        ...

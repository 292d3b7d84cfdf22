"""What a search needs of a flow as a transition system: the protocol that a program graph and its quotient both keep.

States are pairs of a location and a state vector (an integer). In a program graph a location is in one level; in the
quotient (:mod:`mossy_bridge.reach.abstraction.quotient_graph`) it stands for several places joined into one.
"""

from collections.abc import Iterable, Iterator, Sequence
from typing import Protocol

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move, State
from mossy_bridge.reach.arrays import Bools, Vectors
from mossy_bridge.reach.limits import Limits
from mossy_bridge.reach.system.guards import Guards
from mossy_bridge.reach.system.program_graph import PackedState, Stopper
from mossy_bridge.reach.system.routes import Route
from mossy_bridge.reach.system.state_vector import VectorLayout
from mossy_bridge.reach.system.transitions import GuardedTransition


class TransitionSystem(Protocol):
    """Locations, numbered from 0, and the guarded transitions between them."""

    rules: Rules
    limits: Limits
    layout: VectorLayout
    guards: Guards
    transitions: list[GuardedTransition]
    first_transition: list[int]
    """Where the transitions of each location begin, and after the last one where they end."""
    start: PackedState | None

    @property
    def tells_level(self) -> bool:
        """Whether each location is in one level, so that a state tells where the player is."""
        ...

    @property
    def count(self) -> int:
        """How many locations are known."""
        ...

    def compile_all(self, stop: Stopper, /) -> bool:
        """Makes every location and transition known; False if stopped."""
        ...

    def transitions_of(self, location: int, /) -> range:
        """The numbers of a location's transitions, forced ones first."""
        ...

    def moves(self, location: int, vector: int, /) -> list[tuple[int, int, int]]:
        """Every enabled transition, with the location and the vector it leads to."""
        ...

    def levels_of(self, location: int, /) -> Sequence[str]:
        """The levels in which the player may be."""
        ...

    def in_play(self, location: int, /) -> bool:
        """Whether one of them is a play level."""
        ...

    def enters(self, transition: int, /) -> str:
        """The level that a transition arrives at, "" if it does not."""
        ...

    def level_begun_in(self, location: int, /) -> str:
        """The level in which a search that starts at a location begins."""
        ...

    def state(self, location: int, vector: int, /) -> State:
        """A state of the rules of play that the pair stands for."""
        ...

    def sample(self, location: int, /) -> State:
        """Some state with the location; its facts mean nothing."""
        ...

    def staying(self, location: int, vectors: Vectors, /) -> Iterator[tuple[GuardedTransition, int]]:
        """Enabled transitions that the system has no number for since they change nothing in it, each with the index of
        the first of the vectors for which it is enabled."""
        ...

    def stays(self, location: int, vectors: Vectors, /) -> Bools:
        """For each vector whether such a transition is enabled."""
        ...

    def told_apart(self, level: str, /) -> bool:
        """Whether no location stands for the level and for others too."""
        ...

    def route(self, transitions: Iterable[int], last: Move | None = None, into: str = "", vector: int = 0) -> Route:
        """The moves of some transitions from the start, one after the other; on to a level (a play level, if none is
        named and there is one) or, with a vector, to where a last move is enabled, and that move."""
        ...

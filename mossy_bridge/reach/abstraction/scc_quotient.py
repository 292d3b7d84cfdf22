"""Places joined there and back: the partition of locations by free transitions that lead between them both ways.

A *free* transition is a move from one place to another that is enabled in every state there, changes nothing that is
tracked, begins no new run and is no deed; from a place where an exit may be forced there is none. Whoever is in one
place of a strongly connected component (Tarjan 1972) of free transitions can reach all of them with the same state
vector. So what is reachable from one is reachable from all, and a state need not say in which of them the player is.
"""

from collections import deque
from collections.abc import Container

import numpy as np

from mossy_bridge.play.state import Move
from mossy_bridge.reach.abstraction.constant_propagation import Constants
from mossy_bridge.reach.arrays import Bools, Ints, unique
from mossy_bridge.reach.scc import strong_components
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.routes import read_back
from mossy_bridge.reach.system.transition_columns import TransitionColumns
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition


class Partition:
    """The locations of a program graph, all of which are compiled, in components. No places of the level ``apart`` are
    joined."""

    def __init__(self, program: ProgramGraph, columns: TransitionColumns, constants: Constants, apart: str = ""):
        self.program = program
        count = len(program.locations)
        possible = ~constants.never_enabled
        self.forcing: Bools = _forcing(columns.location[possible], columns.forced[possible], count)
        """For each location whether an exit may be forced there."""
        free = possible & columns.plain & (columns.target != ENDING) & ~self.forcing[columns.location]
        free &= constants.always_enabled & constants.changing_nothing
        if apart:
            within = np.fromiter((place.place == apart for place in program.locations), np.bool_, count)
            free &= ~within[columns.location] & ~within[columns.target]
        self._is_free: bytes = free.tobytes()
        """For each transition whether it is free."""
        source, target = columns.location[free], columns.target[free]
        labels = strong_components(count, source, target, program.limits).tolist()
        numbers: dict[int, int] = {}  # in the order of the locations
        self.component: list[int] = [numbers.setdefault(label, len(numbers)) for label in labels]
        """For each location the number of its component."""
        self.members: list[list[int]] = [[] for _ in numbers]
        """For each component its locations."""
        for location, component in enumerate(self.component):
            self.members[component].append(location)
        with_free = {self.component[location] for location in unique(source).tolist()}
        self.has_free: list[bool] = [component in with_free for component in range(len(self.members))]
        """For each component whether some free transition is always possible in it."""

    def _free(self, location: int) -> list[GuardedTransition]:
        """The free transitions of a location."""
        numbers = self.program.transitions_of(location)
        return [self.program.transitions[number] for number in numbers if self._is_free[number]]

    def walk(self, here: int, to: Container[int]) -> list[Move]:
        """The fewest free moves from a location to one of some others in its component."""
        parent: dict[int, tuple[int, Move] | None] = {here: None}
        waiting = deque([here])
        while waiting and (here := waiting.popleft()) not in to:
            for transition in self._free(here):
                if transition.target not in parent:
                    parent[transition.target] = here, transition.move
                    waiting.append(transition.target)
        return read_back(here, parent.__getitem__)

    def crossings_from(self, here: int) -> dict[int, int]:
        """For each location of a component the fewest crossings on free moves there from one of them: a 0-1 search."""
        found: dict[int, int] = {}
        waiting = deque([(0, here)])  # moves without a crossing come first
        while waiting:
            crossed, location = waiting.popleft()
            if location in found:
                continue
            found[location] = crossed
            for transition in self._free(location):
                if self.component[transition.target] == self.component[here]:
                    put = waiting.append if transition.crosses else waiting.appendleft
                    put((crossed + transition.crosses, transition.target))
        return found


def _forcing(location: Ints, forced: Bools, count: int) -> Bools:
    """For each location whether the first of its transitions is forced; locations are ascending."""
    first = np.flatnonzero(np.diff(location, prepend=-1))
    found = np.zeros(count, np.bool_)
    found[location[first]] = forced[first]
    return found

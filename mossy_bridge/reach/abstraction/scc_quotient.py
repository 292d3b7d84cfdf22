"""Places joined there and back: the partition of locations by free transitions that lead between them both ways.

A *free* transition is a move from one place to another that is enabled in every state there, changes nothing that is
tracked, begins no new run and is no deed; from a place where an exit may be forced there is none. Whoever is in one
place of a strongly connected component (Tarjan 1972) of free transitions can reach all of them with the same state
vector. So what is reachable from one is reachable from all, and a state need not say in which of them the player is.
"""

from collections import deque
from collections.abc import Container

from mossy_bridge.play.state import Move
from mossy_bridge.reach.abstraction.constant_propagation import Constants
from mossy_bridge.reach.scc import components_of_pairs
from mossy_bridge.reach.system.program_graph import ENDING, GuardedTransition, ProgramGraph
from mossy_bridge.reach.system.routes import read_back


class Partition:
    """The locations of a program graph, all of which are compiled, in components. No places of the level ``apart`` are
    joined."""

    def __init__(self, program: ProgramGraph, constants: Constants, apart: str = ""):
        self.program, self._constants, self._apart = program, constants, apart
        self._free = [self._free_transitions(location) for location in range(len(program.locations))]
        pairs = [(one.location, one.target) for transitions in self._free for one in transitions]
        numbers: dict[int, int] = {}  # in the order of the locations
        labels = components_of_pairs(len(program.locations), pairs, program.limits)
        self.component: list[int] = [numbers.setdefault(label, len(numbers)) for label in labels]
        """For each location the number of its component."""
        self.members: list[list[int]] = [[] for _ in numbers]
        """For each component its locations."""
        for location, component in enumerate(self.component):
            self.members[component].append(location)

    def _free_transitions(self, location: int) -> list[GuardedTransition]:
        program, constants = self.program, self._constants
        if program.locations[location].place == self._apart:
            return []
        numbers = program.transitions_of(location)
        enabled = [program.transitions[number] for number in numbers if not constants.never_enabled[number]]
        if enabled and enabled[0].forced:
            return []
        return [transition for transition in enabled if self._is_free(transition)]

    def _is_free(self, transition: GuardedTransition) -> bool:
        if transition.target == ENDING or transition.restarts or transition.move.kind == "deed":
            return False
        if not self._constants.always_holds(transition) or not self._constants.changes_nothing(transition):
            return False
        return self.program.locations[transition.target].place != self._apart

    def has_free(self, component: int) -> bool:
        """Whether some free transition is always possible in a component."""
        return any(self._free[location] for location in self.members[component])

    def walk(self, here: int, to: Container[int]) -> list[Move]:
        """The fewest free moves from a location to one of some others in its component."""
        parent: dict[int, tuple[int, Move] | None] = {here: None}
        waiting = deque([here])
        while waiting and (here := waiting.popleft()) not in to:
            for transition in self._free[here]:
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
            for transition in self._free[location]:
                if self.component[transition.target] == self.component[here]:
                    put = waiting.append if transition.crosses else waiting.appendleft
                    put((crossed + transition.crosses, transition.target))
        return found

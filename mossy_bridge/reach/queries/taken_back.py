"""What restarts take back in the states that were explored: which facts, which deeds, and what was changed in vain."""

from collections.abc import Iterator
from functools import cached_property

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from mossy_bridge.play.state import DeedPlace, Move
from mossy_bridge.reach.arrays import Bools, Numbers, Vectors
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.system.guards import machine_words
from mossy_bridge.reach.system.routes import Route
from mossy_bridge.reach.system.state_vector import BITS, CopyName, Field
from mossy_bridge.reach.system.transitions import GuardedTransition


class InVain(Struct, frozen=True):
    """A move that changes a fact from the value that a restart then gives back, with a shortest route that ends with
    it."""

    move: Move
    fact: str
    route: Route


class Restarts:
    """The restarts that take back, among the moves of the states that a survey explored."""

    def __init__(self, survey: Survey):
        self._survey, self.graph, self.program = survey, survey.graph, survey.program
        self._copies = self.program.layout.copies
        goes_back = np.array([bool(one.goes_back) for one in self.graph.transitions], dtype=np.bool_)
        self._restarting: Bools = goes_back[self.graph.transition]
        """For each edge whether it is such a restart."""

    @property
    def any(self) -> bool:
        """Whether one can fire."""
        return bool(self._restarting.any())

    # -- facts and deeds -------------------------------------------------------------------------------

    def may_change(self, fact: str) -> bool:
        """Whether some restart changes a fact, or may: of a count that is only tracked up to some number, more is not
        known. So may it be where nothing asks for the fact."""
        if not self.any:
            return False
        if not self._copies or fact not in self._copies["now"].facts:
            return True
        field = self._copies["now"].facts[fact]
        highest = self._bits_of_highest(fact, field)
        for edges, transition in self._by_transition(self._restarting):
            before = _part(self._after_effects(edges, transition), field)
            after = _part(self.graph.vectors[self.graph.target[edges]], field)
            if (before != after).any() or (before == highest).any():
                return True
        return False

    def _bits_of_highest(self, fact: str, field: Field) -> int:
        """The bits of the highest number of a count told apart, where there are higher ones; no bits otherwise."""
        whole = next(one for one in self._survey.flow.facts if one.id == fact)
        cut = whole.kind == "count" and field.top < whole.high
        return field.bits(field.top) >> field.offset if cut else -1

    def done_again(self) -> Iterator[tuple[DeedPlace, Route]]:
        """The deeds that some restart takes back, so that they can be done again; each with a shortest route to one."""
        graph = self.graph
        edges = np.flatnonzero(self._restarting)
        for deed, bit in self._copies["now"].spent.items() if self._copies else ():
            before = graph.vectors[graph.source[edges]]
            after = graph.vectors[graph.target[edges]]
            taken_back = edges[_fits(before, bit, bit) & _fits(after, bit, 0)]
            if len(taken_back):
                yield deed, self._route(int(taken_back[0]))

    # -- in vain ---------------------------------------------------------------------------------------

    def in_vain(self) -> Iterator[InVain]:
        """Effects that a restart undoes: of its own exit, of the exit that left the level, or of an exit or deed of a
        screen in between. Each move and fact once."""
        if not self._copies or not self.any:
            return
        graph, told = self.graph, set[tuple[Move, str]]()
        kept = self._restarting | (~graph.in_play[graph.target] & (graph.target >= 0) & self._leads_back[graph.target])
        kept &= ~graph.restarts | self._restarting
        now = self._copies["now"].facts
        for edges, transition in self._by_transition(kept):
            changed = [fact for fact in self.program.updates.facts_changed_by(transition.move) if fact in now]
            given = self._given_back(transition) if changed else None
            if given is None:
                continue
            before, after = graph.vectors[graph.source[edges]], self._after_effects(edges, transition)
            for fact in changed:
                field = now[fact]
                same = _part(before, field) == _part(before, self._copies[given].facts[fact])
                lost = same & (_part(after, field) != _part(before, field))
                if lost.any() and (transition.move, fact) not in told:
                    told.add((transition.move, fact))
                    yield InVain(transition.move, fact, self._route(int(edges[np.argmax(lost)])))

    def _given_back(self, transition: GuardedTransition) -> CopyName | None:
        """The copy that a restart after a transition, or by it, gives back; None where there is none."""
        here, restart = self.program.locations[transition.location], transition.goes_back
        rewind, in_play = self.program.updates.rewind, self.program.in_play(transition.location)
        if restart == "again" or (in_play and not restart):
            return rewind.source_of_point(here)
        return rewind.source_of_origin(here) if here.origin else None

    @cached_property
    def _leads_back(self) -> Bools:
        """For each state on a screen or board whether a restart goes back from there, by way of others alone."""
        graph = self.graph
        outside = ~graph.in_play
        found = np.zeros(len(graph), dtype=np.bool_)
        found[graph.source[self._restarting & outside[graph.source]]] = True
        inner = np.flatnonzero((graph.target >= 0) & outside[graph.source] & outside[graph.target] & ~graph.restarts)
        while True:
            more = graph.source[inner[found[graph.target[inner]]]]
            if found[more].all():
                return found
            found[more] = True

    def _by_transition(self, wanted: Bools) -> Iterator[tuple[Numbers, GuardedTransition]]:
        """The wanted edges, by their transitions."""
        edges = np.flatnonzero(wanted)
        edges = edges[np.argsort(self.graph.transition[edges], kind="stable")]
        numbers, first = np.unique(self.graph.transition[edges], return_index=True)
        for number, some in zip(numbers.tolist(), np.split(edges, first[1:]), strict=True):
            yield some, self.graph.transitions[number]

    def _after_effects(self, edges: Numbers, transition: GuardedTransition) -> Vectors:
        """The vectors after a move's own effects alone."""
        vectors = self.graph.vectors[self.graph.source[edges]].copy()
        for part in self.program.updates.effects_of(transition.move):
            part.apply(vectors)
        return vectors

    def _route(self, edge: int) -> Route:
        graph = self.graph
        return graph.route(int(graph.source[edge]), graph.transitions[graph.transition[edge]].move)


def _fits(vectors: Vectors, mask: int, value: int) -> Bools:
    masks = np.array(machine_words(mask, vectors.shape[1]), np.uint64)
    values = np.array(machine_words(value, vectors.shape[1]), np.uint64)
    found: Bools = ((vectors & masks) == values).all(axis=1)
    return found


def _part(vectors: Vectors, field: Field) -> NDArray[np.uint64]:
    """The code of a field in each vector."""
    found: NDArray[np.uint64] = vectors[:, field.offset // BITS] >> np.uint64(field.offset % BITS)
    return found & np.uint64((1 << field.width) - 1)

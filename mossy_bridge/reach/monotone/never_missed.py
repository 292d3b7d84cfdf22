"""Levels and deeds that can never be missed, proved from the lower bounds.

Whatever is reachable from a lower bound is reachable from every state with its discrete part. So a level or deed is
never missed if, wherever it may still be open, it is reachable from the lower bound. In a stuck state nothing more is
missed.
"""

from collections import deque
from collections.abc import Iterable, Mapping
from functools import cached_property

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.monotone.antichain_search import Discrete
from mossy_bridge.reach.monotone.lower_bounds import LowerBounds, Successor
from mossy_bridge.reach.system.things import missable_things
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition
from mossy_bridge.reach.system.updates import single_bits


def never_missed(bounds: LowerBounds, bases: Mapping[Discrete, Iterable[int]] | None) -> set[Thing]:
    """The levels and deeds that are proved never to be missed. ``bases`` are, if they are known, the minimal sets of
    monotone bits with which one is not stuck, for discrete parts from which the lower bound reaches no ending."""
    if not bounds.complete:
        return set()
    return _Proof(bounds, bases).never_missed() - bounds.system.program.cone.points.may_come_back_spent


class _Proof:
    def __init__(self, bounds: LowerBounds, bases: Mapping[Discrete, Iterable[int]] | None):
        self._bounds, self._bases, self._system = bounds, bases, bounds.system
        self._possible: dict[Discrete, int] = {}
        """For discrete parts from which the lower bound reaches an ending, what every state with it can still reach."""

    def never_missed(self) -> set[Thing]:
        bounds = self._bounds
        if self._reachable_around_the_start():
            return set(self._system.program.things.missable)
        history = self._history
        maybe_open = self._maybe_open()
        lost = 0
        for discrete in bounds.last_first():
            if not self._system.in_play(discrete[0]):
                continue
            wanted = maybe_open[discrete] & ~lost & ~self._possible.get(discrete, 0)
            wanted = wanted and wanted & ~history.shown_by(discrete[1] | bounds.bound[discrete])
            if wanted:
                lost |= self._lost_from(discrete, wanted)
                if bounds.stop():
                    return set()
        return {thing for thing in history.things if not lost & history.bit[thing]}

    @cached_property
    def _history(self) -> "History":
        return History(self._system)

    def _reachable_around_the_start(self) -> bool:
        """Whether the start is reachable again from everywhere in play, with no more than it began with: then so is all
        that is reachable at all. If only from some places, notes it for these."""
        bounds = self._bounds
        start = next(iter(bounds.bound))
        begun = self._system.start
        if begun is None or bounds.bound[start] != begun[1] & bounds.parts.bits or bounds.maximal.restarted:
            return False
        around = bounds.backward_reachable({start})
        if all(discrete in around for discrete in bounds.in_play()):
            return True
        everything, history = 0, self._history
        for discrete in bounds.maximal.antichains:
            everything |= history.at(discrete, None)
        for transition in bounds.maximal.used:
            everything |= history.at(start, (transition, None))
        self._possible = dict.fromkeys(around, everything)
        return False

    def _lost_from(self, discrete: Discrete, wanted: int) -> int:
        """Those of the wanted things that are not shown to be reachable from a discrete part."""
        bounds, history, possible = self._bounds, self._history, self._possible
        sure = self._bases is None or discrete in bounds.sure_to_end
        begun = [0] if self._bases is None or sure else self._bases[discrete]
        lost = found = 0
        for bits in [bounds.bound[discrete] | more for more in begun]:
            found = 0
            for here, step in bounds.reachable_from(discrete, bits):
                found |= history.at(here, step) | possible.get(here, 0)
                if not wanted & ~found:
                    break
            lost |= wanted & ~found
            if bounds.stop():
                return wanted
        if sure:
            for here in bounds.backward_reachable({discrete}):
                possible[here] = possible.get(here, 0) | found
        return lost

    def _maybe_open(self) -> dict[Discrete, int]:
        """For each discrete part what may still be open after some route into it. That depends on the places passed
        within a component, so it is computed on the program graph."""
        bounds, quotient, program = self._bounds, self._system, self._system.program
        monotone, antichains = bounds.parts.bits, bounds.maximal.antichains
        successors: dict[Discrete, list[Successor]] = {}
        for (component, vector), antichain in antichains.items():
            for location in quotient.members[component]:
                successors[location, vector] = [
                    (transition, None if target == ENDING else (target, after & ~monotone))
                    for bits in antichain
                    for transition, target, after in program.moves(location, vector | bits & ~bounds.done_bits)
                    if target == ENDING or (quotient.component[target], after & ~monotone) in antichains
                ]
        assert program.start is not None
        begun, first = program.start
        found: dict[Discrete, int] = {}
        for (location, vector), bits in self._history.maybe_open(successors, (begun, first & ~monotone)).items():
            discrete = quotient.component[location], vector
            found[discrete] = found.get(discrete, 0) | bits
        return found


class History:
    """Which levels may be unseen and which deeds undone, though no condition asks: sets as bits."""

    def __init__(self, quotient: QuotientGraph):
        program, flow = quotient.program, quotient.rules.flow
        self.things: list[Thing] = missable_things(flow)
        self.bit: dict[Thing, int] = {thing: 1 << index for index, thing in enumerate(self.things)}
        self._all = (1 << len(self.things)) - 1
        levels = (1 << len(flow.levels)) - 1
        self._open_again = self._all if flow.progress == "run" else self._all & ~levels
        self._of_location = [self.bit[location.place] for location in program.locations]
        self._of_component = [
            sum(self.bit[level] for level in quotient.levels_of(component)) for component in range(quotient.count)
        ]
        self._transitions, self._quotient_transitions = program.transitions, quotient.transitions
        layout = program.layout
        visited = {name: layout.seen.get(name, 0) | layout.done.get(name, 0) for name in layout.seen | layout.done}
        marks: dict[Thing, int] = visited | {deed: mark for deed, mark in layout.spent.items() if deed in self.bit}
        self._redone = sum(self.bit[deed] for deed in program.cone.points.redone)
        """The deeds that a restart may take back: open wherever they are not surely spent."""
        self._marks = {one: (mark, self.bit[thing]) for thing, mark in marks.items() for one in single_bits(mark)}
        self._marking = sum(marks.values())
        self._last, self._shown = 0, 0
        """The last answer, for its vector: consecutive ones mostly agree in what matters here."""

    def _deed(self, transition: GuardedTransition) -> int:
        move = transition.move
        return self.bit.get((move.level, move.thing), 0) if move.kind == "deed" else 0

    def _closed_by(self, transition: GuardedTransition) -> int:
        """The deed that is surely not open any more after a transition."""
        return self._deed(transition) & ~self._redone

    def shown_by(self, vector: int) -> int:
        """The levels and deeds that a vector itself says are not open any more."""
        for changed in single_bits((vector ^ self._last) & self._marking):
            mark, bit = self._marks[changed]
            self._shown = self._shown | bit if vector & mark else self._shown & ~bit
        self._last = vector
        return self._shown

    def at(self, discrete: Discrete, step: Successor | None) -> int:
        """What is reached by being somewhere in a component, and by a transition."""
        return self._of_component[discrete[0]] | (self._deed(self._quotient_transitions[step[0]]) if step else 0)

    def maybe_open(self, successors: Mapping[Discrete, list[Successor]], start: Discrete) -> dict[Discrete, int]:
        """For each discrete part of the program graph what some route into it may have left open: a least fixpoint,
        over more transitions than there may be."""
        found = {start: self._all & ~self._of_location[start[0]]}
        waiting = deque([start])
        while waiting:
            here = waiting.popleft()
            for number, target in successors.get(here, ()):
                if target is None:
                    continue
                transition = self._transitions[number]
                again = self._open_again if transition.restarts else 0
                bits = (found[here] | again) & ~self._closed_by(transition)
                if transition.crosses:
                    bits &= ~self._of_location[target[0]]
                known = found.get(target)
                if known is None or bits & ~known:
                    found[target] = bits | (known or 0)
                    waiting.append(target)
        return found

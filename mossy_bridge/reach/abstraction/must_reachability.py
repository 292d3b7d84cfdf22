"""Must-reachability: what can always be reached, whatever the facts, along transitions whose guards always hold.

From a location such transitions can be taken in every state that is there. So whatever they lead to from all locations
can never be missed, and if they lead to an ending from all, nobody is stuck; however many states there are. Nor can a
level be missed through which every route to an ending leads: a landmark, as in planning (Hoffmann, Porteous and
Sebastia 2004). Locations are all that transitions lead to, whatever their guards. Linear in the transitions, times the
number of levels and deeds as bits.
"""

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.abstraction.constant_propagation import Constants
from mossy_bridge.reach.scc import components_of_pairs, reachable_unions
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.things import missable_things
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition


class MustReachability:
    """What is always possible in one flow, all of whose locations are compiled."""

    def __init__(self, program: ProgramGraph, constants: Constants):
        self._program, self._constants = program, constants
        self._never: list[bool] = constants.never_enabled.tolist()
        pairs = zip(program.transitions, self._never, strict=True)
        self._enabled = [transition for transition, never in pairs if not never]
        self._bit: dict[Thing, int] = {thing: 1 << at for at, thing in enumerate(missable_things(program.rules.flow))}
        self._end = 1 << len(self._bit)
        self._always = [self._always_enabled(location) for location in range(len(program.locations))]
        self._in_play = list(map(program.in_play, range(len(program.locations))))
        everywhere = -1
        for bits, in_play in zip(self._reachable(), self._in_play, strict=True):
            everywhere &= bits if in_play else -1
        self.never_missed = {thing for thing, bit in self._bit.items() if everywhere & bit}
        self.never_missed -= program.cone.points.may_come_back_spent
        """Levels and deeds that are reachable from everywhere."""
        self.landmarks = self._find_landmarks()
        """The levels through which every route to an ending leads: never missed, if an ending is reachable at all. If
        none is, nobody is called stuck for want of one, and what is said of who is not stuck means nothing."""
        self.nothing_loops = self._no_forced_cycle()
        self.nobody_stuck = bool(everywhere & self._end) and not self._some_screen_may_be_dead()

    def _find_landmarks(self) -> set[Thing]:
        locations = self._program.locations
        entered_from: dict[str, set[str]] = {}
        before = set()
        """The levels from which an ending, or the landmark found last, is entered."""
        roots = {self._program.rules.flow.start.level}
        """Where a run may begin, so that nothing before need have been seen."""
        for transition in self._enabled:
            here = locations[transition.location].place
            if transition.target == ENDING:
                before.add(here)
            elif transition.restarts:
                roots.add(locations[transition.target].place)
            elif locations[transition.target].place != here:
                entered_from.setdefault(locations[transition.target].place, set()).add(here)
        found: set[Thing] = set()
        while len(before) == 1 and not before <= found:
            (last,) = before
            found.add(last)
            before = set() if last in roots else entered_from.get(last, set())
        return found

    def _no_forced_cycle(self) -> bool:
        """Whether forced transitions, whatever their guards, lead from no location back to it."""
        forced = [(one.location, one.target) for one in self._enabled if one.forced and one.target != ENDING]
        component = components_of_pairs(len(self._program.locations), forced, self._program.limits)
        return all(component[source] != component[target] for source, target in forced)

    def _always_enabled(self, location: int) -> list[GuardedTransition]:
        """The transitions that can be taken in every state with the location."""
        numbers = self._program.transitions_of(location)
        enabled = [self._program.transitions[n] for n in numbers if not self._never[n]]
        if enabled and enabled[0].forced:
            return enabled[:1] if self._constants.always_holds(enabled[0], but=0) else []
        return [one for one in enabled if self._constants.always_holds(one, but=self._spent_bit(one))]

    def _spent_bit(self, transition: GuardedTransition) -> int:
        """A deed stays in its location, so whether it has been done already makes no difference here."""
        move = transition.move
        return self._program.layout.spent.get((move.level, move.thing), 0) if move.kind == "deed" else 0

    def _reachable(self) -> list[int]:
        """For each location what transitions that are always enabled lead to in the same run, as bits."""
        program = self._program
        found = [self._bit[location.place] for location in program.locations]
        pairs = []
        for location, transitions in enumerate(self._always):
            for transition in transitions:
                if transition.target == ENDING:
                    found[location] |= self._end
                elif transition.move.kind == "deed":
                    found[location] |= self._bit.get((transition.move.level, transition.move.thing), 0)
                elif not transition.restarts:
                    pairs.append((location, transition.target))
        return reachable_unions(found, pairs, program.limits)

    def _some_screen_may_be_dead(self) -> bool:
        """Whether a screen or board may be left without any move."""
        lasting = [any(one.move.kind != "deed" for one in transitions) for transitions in self._always]
        return any(not in_play and not lasts for in_play, lasts in zip(self._in_play, lasting, strict=True))

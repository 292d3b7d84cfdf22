"""The flow compiled into a program graph: locations, and guarded transitions that update a state vector.

A program graph (Baier and Katoen, *Principles of Model Checking*, 2008, section 2.1) has locations for where control
is, here where the player is and came from, and conditional transitions with a guard and an effect on the variables. A
state is a pair of a :class:`Location` and a state vector (:mod:`mossy_bridge.reach.system.state_vector`). Where a
transition leads depends on the location alone, whether it is enabled on the vector alone. So the transitions of a
location are derived from the rules of play once, however many states have it.
"""

from collections.abc import Callable, Iterable, Iterator, Sequence
from collections.abc import Set as AbstractSet
from typing import NamedTuple

import numpy as np
from msgspec.structs import replace

from mossy_bridge.language.evaluation import Facts
from mossy_bridge.play.board_cursor import tiles_in_reach
from mossy_bridge.play.compiled_level import ReadyDeed, ReadyExit
from mossy_bridge.play.destinations import Landing, Leads, Nowhere, Target
from mossy_bridge.play.rules import NONE, Rules
from mossy_bridge.play.state import DeedPlace, Move, Origin, RewindPoint, State
from mossy_bridge.reach.arrays import Bools, Numbers, Vectors, spans
from mossy_bridge.reach.limits import LIMITS, Limits
from mossy_bridge.reach.system.cone_of_influence import ConeOfInfluence, Location
from mossy_bridge.reach.system.guards import ALWAYS, NEVER, Cubes, Guard, Guards, conjunction, tile_in_reach
from mossy_bridge.reach.system.move_updates import MoveUpdates
from mossy_bridge.reach.system.recompilation import touched
from mossy_bridge.reach.system.routes import Route
from mossy_bridge.reach.system.state_vector import CopyName, VectorLayout
from mossy_bridge.reach.system.things import Things, things_of
from mossy_bridge.reach.system.transition_columns import TransitionColumns, columns_again, columns_of
from mossy_bridge.reach.system.transitions import ENDING, GuardedTransition, Ready, enabled, prepared

PackedState = tuple[int, int]
"""The number of a location, and a state vector."""
Stopper = Callable[[], bool]
"""Called now and then; true when the work is to stop."""


class _Compiled(NamedTuple):
    """What has been compiled of a flow so far."""

    locations: list[Location]
    numbers: dict[Location, int]
    transitions: list[GuardedTransition]
    first_transition: list[int]
    """Where the transitions of each compiled location begin, and after the last one where they end."""
    ready: list[Ready | None]


class ProgramGraph:
    """All locations and transitions of one flow. ``start`` is the location's number and the vector, None without a
    start. ``also_asked`` are conditions from outside the flow that will be asked of its states. What was compiled for
    an earlier flow (``before``) is taken over where no edit has changed it; only numbers, which follow from the order
    of compiling, are given anew."""

    tells_level = True

    def __init__(
        self,
        rules: Rules,
        also_asked: Iterable[str] = (),
        before: "ProgramGraph | None" = None,
        limits: Limits = LIMITS,
    ):
        self.rules, self.limits = rules, limits
        self.things: Things = things_of(rules.flow, before.things if before else None)
        self.cone: ConeOfInfluence = ConeOfInfluence(rules, also_asked, before.cone if before else None)
        self.layout = VectorLayout(rules.flow, self.cone, limits)
        self._compiled = _Compiled([], {}, [], [0], [])
        self.locations, self._numbers, self.transitions, self.first_transition, self._ready = self._compiled
        self._columns: TransitionColumns | None = None
        self._landings: dict[tuple[str, str, Origin | None], int] = {}
        """The locations that arrivals lead to, by level, spawn point and origin, as far as that is kept."""
        self._facts = tuple(fact.first for fact in rules.flow.facts)
        self.updates = MoveUpdates(rules, self.cone, self.layout)
        same_bits = before is not None and self._means_the_same(before)
        again = touched(rules, before.rules) if before and same_bits else None
        known = None if again is None else before
        self.guards: Guards = known.guards if known else Guards(self.layout, rules.words, limits)
        if known and again is not None:
            self.updates.take_over(known.updates, again)
        begun = rules.begin()
        self.start = None if begun is None else self.packed(begun)
        if known and again is not None and begun and self.locations == known.locations[:1]:
            self._compile_again(again, known)

    def _means_the_same(self, other: "ProgramGraph") -> bool:
        """Whether every bit of state vectors means the same in both."""
        mine, theirs = self.updates.visiting, other.updates.visiting
        return (self.cone, self.layout, mine) == (other.cone, other.layout, theirs)

    # -- states ----------------------------------------------------------------------------------------

    def packed(self, state: State) -> PackedState:
        """A state of the rules of play as the number of its location and its vector."""
        vector, location = (
            self.layout.vector(state.facts, state.seen, state.done, state.spent),
            self.cone.location(state),
        )
        if self.updates.rewind.source_of_point(location) == "point":
            vector |= self.layout.remembered("point", state.rewind_point)
        if state.origin and self.updates.rewind.source_of_origin(location) == "origin":
            vector |= self.layout.remembered("origin", state.origin.rewind_point)
        return self._number_of(location), vector

    def state(self, location: int, vector: int) -> State:
        """A state of the rules of play; whatever is not tracked has its first value."""
        place, zone, respawn, origin, arrived = self.locations[location]
        layout = self.layout
        held = [frozenset(thing for thing, bit in bits.items() if vector & bit) for bits in (layout.seen, layout.done)]
        spent, facts = frozenset(deed for deed, bit in layout.spent.items() if vector & bit), layout.values(vector)
        rewind, at = self.updates.rewind, self.locations[location]
        point = self._remembered_point(rewind.source_of_point(at), vector, facts, spent)
        if origin:
            of_origin = self._remembered_point(rewind.source_of_origin(at), vector, facts, spent)
            origin = origin._replace(rewind_point=of_origin)
        return State(place, zone, facts, held[0], held[1], spent, respawn, origin, arrived, rewind_point=point)

    def _remembered_point(
        self, source: CopyName, vector: int, facts: Facts, spent: frozenset[DeedPlace]
    ) -> RewindPoint:
        now = source == "now"
        return self.rules.rewinding.point(facts, spent) if now else self.layout.rewind_point(source, vector)

    def sample(self, location: int) -> State:
        """Some state with the location; its facts mean nothing."""
        place, zone, respawn, origin, arrived = self.locations[location]
        return State(place, zone, self._facts, NONE, NONE, frozenset(), respawn, origin, arrived)

    @property
    def count(self) -> int:
        """How many locations are known."""
        return len(self.locations)

    def told_apart(self, level: str) -> bool:
        """Whether no location stands for the level and for others too: always."""
        del level
        return True

    def staying(self, location: int, vectors: Vectors) -> Iterator[tuple[GuardedTransition, int]]:
        """Transitions without a number: none."""
        del location, vectors
        return iter(())

    def stays(self, location: int, vectors: Vectors) -> Bools:
        """For each vector whether one of these is enabled: never."""
        del location
        return np.zeros(len(vectors), dtype=np.bool_)

    def levels_of(self, location: int) -> tuple[str, ...]:
        """The level of a location."""
        return (self.locations[location].place,)

    def in_play(self, location: int) -> bool:
        """Whether a location is in a play level."""
        return self.rules.levels[self.locations[location].place].source.kind == "play"

    def _number_of(self, location: Location) -> int:
        found = self._numbers.get(location)
        if found is None:
            found = self._numbers[location] = len(self.locations)
            self.locations.append(location)
        return found

    # -- transitions -----------------------------------------------------------------------------------

    def transitions_of(self, location: int) -> range:
        """The numbers of a location's transitions, forced ones first, in the order of the rules. Compiles all
        locations up to this one."""
        while location >= len(self.first_transition) - 1:
            self._compile(len(self.first_transition) - 1)
        return range(self.first_transition[location], self.first_transition[location + 1])

    def compile_all(self, stop: Stopper) -> bool:
        """Compiles every location that transitions lead to, whatever their guards; False if stopped."""
        while len(self.first_transition) <= len(self.locations):
            if len(self.first_transition) % 64 == 0 and stop():
                return False
            self._compile(len(self.first_transition) - 1)
        self._landings.clear()  # no more will be asked for
        return True

    @property
    def columns(self) -> TransitionColumns:
        """The transitions as columns, all locations being compiled."""
        known = self._columns
        done = len(known.location) if known else 0
        if known is None or done < len(self.transitions):
            more = columns_of(self.transitions[done:], self.things)
            self._columns = known = known.joined(more) if known else more
        return known

    def _compile_again(self, levels: AbstractSet[str], before: "ProgramGraph") -> None:
        """Compiles some levels again, and takes over all else that was compiled for an earlier flow that begins in the
        same location; locations have the numbers that compiling all anew would give them."""
        places, first = before.locations, before.first_transition
        self.locations += places[1:]
        self._numbers.update(before._numbers)
        done, known = 0, list[Numbers]()
        for location in (at for at, place in enumerate(places[: len(first) - 1]) if place.place in levels):
            self._copy(before._compiled, done, location)
            known.append(np.arange(first[done], first[location]))
            done, count = location + 1, len(self.transitions)
            self._compile(location)
            known.append(np.full(len(self.transitions) - count, -1))
        self._copy(before._compiled, done, len(first) - 1)
        known.append(np.arange(first[done], first[-1]))
        columns = before.columns if before._columns else None
        self._columns = columns_again(columns, np.concatenate(known), self.transitions, self.things)
        if not self._in_order():
            while len(self.first_transition) <= len(self.locations):
                self._compile(len(self.first_transition) - 1)
            self._renumber(self._ordered())

    def _copy(self, before: _Compiled, location: int, end: int) -> None:
        """Takes over the transitions of some locations, whose numbers stay the same."""
        first, more = before.first_transition, len(self.transitions) - before.first_transition[location]
        self.transitions += before.transitions[first[location] : first[end]]
        ends = first[location + 1 : end + 1]
        self.first_transition += [number + more for number in ends] if more else ends
        self._ready += [None] * (end - location) if more else before.ready[location:end]

    def _in_order(self) -> bool:
        """Whether the locations are numbered in the order in which compiling from the start comes upon them."""
        known = np.maximum.accumulate(np.concatenate([[0], self.columns.target]))  # the last one before a transition
        begun = known[self.first_transition[:-1]] >= np.arange(len(self.first_transition) - 1)
        return bool(begun.all() and (np.diff(known) <= 1).all()) and int(known[-1]) == len(self.locations) - 1

    def _ordered(self) -> list[int]:
        """The locations in the order in which compiling from the start comes upon them."""
        found, known = [0], bytearray(len(self.locations))
        known[0] = True
        first, targets = self.first_transition, self.columns.target.tolist()
        for location in found:
            for target in targets[first[location] : first[location + 1]]:
                if target != ENDING and not known[target]:
                    known[target] = True
                    found.append(target)
        return found

    def _renumber(self, order: Sequence[int]) -> None:
        """Numbers all locations, which are compiled, in an order; those that are not in it are left out."""
        number = np.full(len(self.locations) + 1, ENDING, np.int32)
        number[order] = np.arange(len(order))
        first = np.array(self.first_transition)
        taken = spans(first[order], first[1:][order])
        before, columns = self.columns.taken(taken), self.columns.taken(taken).moved(number)
        same = (before.location == columns.location) & (before.target == columns.target)
        transitions = [self.transitions[at] for at in taken.tolist()]
        for at in np.flatnonzero(~same).tolist():
            location, target = int(columns.location[at]), int(columns.target[at])
            transitions[at] = replace(transitions[at], location=location, target=target)
        self._columns, self.transitions[:] = columns, transitions
        self.locations[:] = [self.locations[location] for location in order]
        self._numbers.clear()
        self._numbers.update(zip(self.locations, range(len(order)), strict=True))
        self._landings.clear()
        self._ready[:] = [None] * len(order)
        self.first_transition[:] = [0, *np.cumsum(np.diff(first)[order]).tolist()]

    def _compile(self, location: int) -> None:
        self._compile_anew(location)
        self.first_transition.append(len(self.transitions))

    def _compile_anew(self, location: int) -> None:
        here = self.sample(location)
        forced = list(self._forced_transitions(location, here))
        self.transitions += forced
        if not any(transition.guard is ALWAYS for transition in forced):
            self.transitions += self._free_transitions(location, here)
        self._ready.append(None)

    def _forced_transitions(self, location: int, here: State) -> Iterator[GuardedTransition]:
        rules = self.rules
        for exit_ in rules.levels[here.place].forcing:
            armed = here.arrived and here.respawn in exit_.armed_at and rules.within(exit_, here)
            if (armed or exit_.source.trigger.kind == "auto") and not rules.comes_to_resume(exit_, here):
                found = self._exit_transition(location, here, exit_, forced=True)
                yield from (found,) if found else ()

    def _free_transitions(self, location: int, here: State) -> Iterator[GuardedTransition]:
        rules = self.rules
        level = rules.levels[here.place]
        for path in level.source.paths:
            ends = {path.end: path.start, path.start: path.end} if path.both_ways else {path.start: path.end}
            known = {path.start, path.end} <= {zone.id for zone in level.source.zones}
            if known and here.zone in ends:
                yield from self._path_transition(location, here, (path.start, path.end), ends[here.zone], path.when)
        for deed in level.deeds:
            if not level.zones or deed.source.zone in ("", here.zone):
                yield from self._deed_transition(location, here, deed)
        for exit_ in level.exits:
            kind = exit_.source.trigger.kind
            if kind != "auto" and (kind not in ("touch", "press") or rules.within(exit_, here)):
                found = self._exit_transition(location, here, exit_, forced=False)
                yield from (found,) if found else ()
        if level.tiles:
            yield from self._tile_transitions(location, here)

    def guard_of_exit(self, exit_: ReadyExit, here: State) -> Guard:
        """The guard of an exit in states with the same location as this one."""
        return self._asked(exit_, self.rules.target(exit_, here))

    def _asked(self, exit_: ReadyExit, target: Target) -> Guard:
        if isinstance(target, Nowhere) or not exit_.by_player:
            return NEVER
        asked = exit_.source.trigger.when, exit_.source.opens
        if isinstance(target, Landing) and not target.restart:
            return self.guards.of_all((*asked, self.rules.levels[target.level].source.opens))
        return self.guards.of_all(asked)

    def _exit_transition(self, location: int, here: State, exit_: ReadyExit, forced: bool) -> GuardedTransition | None:
        target = self.rules.target(exit_, here)
        guard = self._asked(exit_, target)
        if guard is NEVER:
            return None
        move, restarts = Move("exit", here.place, exit_.source.id), exit_.source.fresh
        place = move[1:3]
        if not isinstance(target, Landing):
            ending = target.ending if isinstance(target, Leads) else ""
            return GuardedTransition(location, move, place, guard, (), ENDING, ending, restarts, forced)
        left_play = self.rules.levels[here.place].source.kind == "play"
        origin = Origin(here.place, here.respawn) if left_play else here.origin
        lands = self._landed(target, None if restarts else origin)
        update = self.updates.by_exit(self.locations[location], self.locations[lands], exit_, target)
        goes_back = "" if restarts else target.restart
        return GuardedTransition(location, move, place, guard, update, lands, "", restarts, forced, goes_back)

    def _path_transition(
        self, location: int, here: State, path: tuple[str, str], end: str, when: str
    ) -> Iterator[GuardedTransition]:
        guard = self.guards.of(when)
        if guard is NEVER:
            return
        there = self._number_of(self.cone.location(here._replace(zone=end, arrived=False)))
        move = Move("path", here.place, here.zone, end)
        yield GuardedTransition(location, move, (here.place, *path), guard, (), there)

    def _deed_transition(self, location: int, here: State, deed: ReadyDeed) -> Iterator[GuardedTransition]:
        source = deed.source
        spent = self.layout.spent.get((here.place, source.id), 0)
        asked = [self.guards.of(source.when), *([Cubes(((spent, 0),))] if spent else [])]
        guard = conjunction(asked, self.limits)
        if guard is NEVER:
            return
        after = here._replace(respawn=deed.checkpoint or here.respawn, arrived=False)
        update = self.updates.by_deed(self.locations[location], deed)
        there = self._number_of(self.cone.location(after))
        move = Move("deed", here.place, source.id)
        yield GuardedTransition(location, move, move[1:3], guard, update, there)

    def _tile_transitions(self, location: int, here: State) -> Iterator[GuardedTransition]:
        board = self.rules.levels[here.place]
        opens, landings = {}, {}
        for tile in board.tiles.values():
            landing = self.rules.landing_of(tile)
            if landing:
                landings[tile.id] = landing
                opens[tile.id] = self.guards.of(self.rules.levels[tile.level].source.opens)
        always = frozenset() if board.source.cursor == "open" else frozenset(opens)
        near = frozenset(tiles_in_reach(board.source, always))
        neighbours = {tile.id: tile.neighbours for tile in board.source.tiles}
        for name in landings:
            if board.source.cursor != "open" and name not in near:
                continue
            guard = [opens[name]]
            if name not in near:
                guard.append(tile_in_reach(board.source, name, opens, neighbours, self.limits))
            whole = conjunction(guard, self.limits)
            if whole is not NEVER:
                there, move = self._landed(landings[name], here.origin), Move("tile", here.place, name)
                update = self.updates.by_tile(self.locations[location], self.locations[there])
                yield GuardedTransition(location, move, move[1:3], whole, update, there)

    def _landed(self, landing: Landing, origin: Origin | None) -> int:
        """The number of the location that an arrival leads to."""
        kept = origin if self.cone.keeps_origin(landing.level) else None
        known = self._landings.get((landing.level, landing.spawn, kept))
        if known is None:
            zone = self.rules.levels[landing.level].zone_at[landing.spawn]
            known = self._number_of(self.cone.location_at(landing.level, zone, landing.spawn, kept, arrived=True))
            self._landings[landing.level, landing.spawn, kept] = known
        return known

    # -- moves -----------------------------------------------------------------------------------------

    def moves(self, location: int, vector: int) -> list[tuple[int, int, int]]:
        """Every transition that is enabled in a state, with the location (or ENDING) and the vector it leads to; a
        forced one is the only one."""
        while location >= len(self._ready):
            self._compile(len(self._ready))
        ready = self._ready[location]
        if ready is None:
            ready = self._ready[location] = prepared(self.transitions, self.transitions_of(location))
        return enabled(ready, vector)

    # -- routes ----------------------------------------------------------------------------------------

    def level_begun_in(self, location: int) -> str:
        """The level in which a search that starts at a location begins."""
        return self.locations[location].place

    def enters(self, transition: int) -> str:
        """The level that a transition arrives at, "" if it does not."""
        row = self.transitions[transition]
        return self.locations[row.target].place if row.crosses else ""

    def route(self, transitions: Iterable[int], last: Move | None = None, into: str = "", vector: int = 0) -> Route:
        """The moves of some transitions one after the other, and a last one. Where it leads is told by these alone, so
        no level and no vector need be named."""
        del into, vector
        moves = tuple([self.transitions[number].move for number in transitions])
        return (*moves, last) if last else moves

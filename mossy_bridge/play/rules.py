"""The rules: arrival, what can happen in a state, and what a move leads to."""

from collections.abc import Iterable, Iterator
from functools import reduce

from mossy_bridge.language.evaluation import Change, Facts, Vocabulary
from mossy_bridge.model.flow import Flow, Lifetime, Tile
from mossy_bridge.model.level_changes import level_changes
from mossy_bridge.model.patterns import resolved
from mossy_bridge.play.board_cursor import tiles_in_reach
from mossy_bridge.play.compiled_level import ReadyDeed, ReadyExit, ReadyLevel, ready_level
from mossy_bridge.play.destinations import Destinations, Landing, Leads, Nowhere, Target
from mossy_bridge.play.rewinding import Rewinding
from mossy_bridge.play.state import Ended, Move, Origin, RewindPoint, Saved, State

NONE: frozenset[str] = frozenset()


class Rules:
    """The rules of play for one flow.

    ``resuming`` is for the trial walk and recorded walks: games are saved and can be resumed. Without it
    exits that reach ``resume`` are closed, as the survey wants. What was made ready for an earlier flow
    (``before``) is used again where it has not changed.
    """

    def __init__(self, flow: Flow, resuming: bool = False, before: "Rules | None" = None):
        self.flow = resolved(flow)
        self.resuming = resuming
        known = before if before and _asks_alike(self.flow, before.flow) else None
        self.words: Vocabulary = known.words if known else Vocabulary(self.flow)
        self.levels: dict[str, ReadyLevel] = self._made_ready(known)
        self._destinations = Destinations(self.flow, resuming)
        self._unresumed = Destinations(self.flow, resuming=False) if resuming else self._destinations
        self._first: Facts = tuple(fact.first for fact in self.flow.facts)
        self._lifetimes = [fact.lifetime for fact in self.flow.facts]
        self._has_visit_facts = "visit" in self._lifetimes
        self.rewinding = Rewinding(self.flow, self.words)
        deeds = [(level, deed) for level in self.flow.levels for deed in level.deeds]
        self.deeds_per_visit = frozenset((level.id, deed.id) for level, deed in deeds if deed.repeats == "visit")
        """The deeds that can be done again on every visit."""

    def _made_ready(self, known: "Rules | None") -> dict[str, ReadyLevel]:
        """All levels, ready for play; those that have not changed, as they were in what is ``known``."""
        if known is None:
            return {level.id: ready_level(self.flow, level, self.words) for level in self.flow.levels}
        changes = level_changes(known.flow, self.flow)
        changed = {level.id: ready_level(self.flow, level, self.words) for _, level in changes.changed}
        levels = known.levels | changed
        return levels if changes.same_order else {level.id: levels[level.id] for level in self.flow.levels}

    # -- beginning and arriving ------------------------------------------------------------------------

    def begin(self) -> State | None:
        """The state after the arrival at the start, or None where the start is no place to be."""
        landing = self._destinations.landing(self.flow.start.level, self.flow.start.spawn)
        if not isinstance(landing, Landing):
            return None
        nothing = State("", "", self._first, NONE, NONE, frozenset(), "", None, arrived=True)
        return self.arrive(nothing, landing)

    def quit(self, state: State) -> State | None:
        """The state after quitting and starting the game again: at the start, with what lasts for ever, and with the
        saved game to resume."""
        landing = self._destinations.landing(self.flow.start.level, self.flow.start.spawn)
        if not isinstance(landing, Landing):
            return None
        facts = self._afresh(state.facts, ("run", "visit"))
        kept = self.flow.progress == "profile"
        seen, done = (state.seen, state.done) if kept else (NONE, NONE)
        return self.arrive(State("", "", facts, seen, done, frozenset(), "", None, True, state.saved), landing)

    def arrive(self, state: State, landing: Landing, back_to: RewindPoint | None = None) -> State:
        """The state after an arrival; ``back_to`` is the rewind point that a restart goes back to."""
        name, spawn = landing.level, landing.spawn
        level = self.levels[name]
        if back_to is not None:
            state = self.rewinding.back(state, back_to)
        seen = state.seen if name in state.seen else state.seen | {name}
        facts = self.before_arrival(state.facts)
        spent = state.spent - self.deeds_per_visit if self.deeds_per_visit else state.spent
        zone = level.zone_at[spawn]
        arrived = State(name, zone, facts, seen, state.done, spent, spawn, state.origin, True, state.saved)
        if level.source.kind == "play" and self.flow.saving == "arrival":
            arrived = self._saving(arrived)
        effects = level.on_arrival if back_to is None else level.on_restart
        if effects:
            arrived = arrived._replace(facts=_changed(facts, effects))
        point = self.rewinding.point(arrived.facts, spent) if back_to is None else back_to
        return arrived if point is arrived.rewind_point else arrived._replace(rewind_point=point)

    def before_arrival(self, facts: Facts) -> Facts:
        """The facts as an arrival finds them, before the level's own effects: those of a visit afresh."""
        return self._afresh(facts, ("visit",)) if self._has_visit_facts else facts

    def _afresh(self, facts: Facts, lifetimes: tuple[Lifetime, ...]) -> Facts:
        return tuple(
            first if lifetime in lifetimes else value
            for value, first, lifetime in zip(facts, self._first, self._lifetimes, strict=True)
        )

    # -- what can happen -------------------------------------------------------------------------------

    def exit(self, move: Move) -> ReadyExit:
        """The exit that a move fires."""
        return next(exit_ for exit_ in self.levels[move.level].exits if exit_.source.id == move.thing)

    def target(self, exit_: ReadyExit, state: State) -> Target:
        """Where the exit leads in this state, whether or not it is open."""
        return self._destinations.target(exit_.source.to, state)

    def touches_on_arrival(self, state: State) -> bool:
        """Whether an exit may be sprung here only because the player has just arrived."""
        return state.arrived and state.respawn in self.levels[state.place].armed_at

    def is_open(self, exit_: ReadyExit, state: State) -> bool:
        """Whether the exit could fire, wherever in the level the player stands."""
        return exit_.by_player and exit_.when(state) and exit_.opens(state) and self.lets_in(exit_, state)

    def lets_in(self, exit_: ReadyExit, state: State) -> bool:
        """Whether the exit leads somewhere that can be entered now."""
        match self.target(exit_, state):
            case Landing(level, _, restart):
                return bool(restart) or self.levels[level].opens(state)
            case Leads():
                return True
            case _:
                return False

    def sprung(self, state: State) -> ReadyExit | None:
        """The exit that fires by itself in this state, or None."""
        for exit_ in self.levels[state.place].forcing:
            if self._is_sprung(exit_, state):
                return exit_
        return None

    def _is_sprung(self, exit_: ReadyExit, state: State) -> bool:
        if exit_.source.trigger.kind == "touch" and not (
            state.arrived and state.respawn in exit_.armed_at and self.within(exit_, state)
        ):
            return False
        return self.is_open(exit_, state) and not self.comes_to_resume(exit_, state)

    def comes_to_resume(self, exit_: ReadyExit, state: State) -> bool:
        """Whether the exit uses ``resume`` in this state, or would if there were a saved game."""
        found = self._unresumed.target(exit_.source.to, state)
        return isinstance(found, Nowhere) and found.reason == "resume"

    def within(self, exit_: ReadyExit, state: State) -> bool:
        """Whether the player stands where the exit can be set off."""
        if not exit_.zone_known:
            return False
        return not self.levels[state.place].zones or exit_.source.zone in ("", state.zone)

    def can_set_off(self, exit_: ReadyExit, state: State) -> bool:
        """Whether the player may choose the exit (where none is sprung)."""
        kind = exit_.source.trigger.kind
        if kind == "auto":
            return False
        near = kind not in ("touch", "press") or self.within(exit_, state)
        return near and self.is_open(exit_, state)

    def resume_open(self, state: State) -> bool:
        """Whether the player could resume a saved game from here, if there is one."""
        return any(
            self.comes_to_resume(exit_, state)
            and exit_.source.trigger.kind != "auto"
            and exit_.by_player
            and exit_.when(state)
            and exit_.opens(state)
            and (exit_.source.trigger.kind not in ("touch", "press") or self.within(exit_, state))
            for exit_ in self.levels[state.place].exits
        )

    def can_do(self, deed: ReadyDeed, state: State) -> bool:
        """Whether the player may do the deed (where no exit is sprung)."""
        if (state.place, deed.source.id) in state.spent:
            return False
        near = not self.levels[state.place].zones or deed.source.zone in ("", state.zone)
        return near and deed.when(state)

    def open_tiles(self, state: State) -> dict[str, Landing]:
        """The tiles of this board that are open, in reach of the cursor or not, and where they lead."""
        found = {}
        for tile in self.levels[state.place].tiles.values():
            landing = self.landing_of(tile)
            if landing and self.levels[tile.level].opens(state):
                found[tile.id] = landing
        return found

    def landing_of(self, tile: Tile) -> Landing | None:
        """The arrival that a tile leads to where it is open, None where there is nothing to arrive at."""
        landing = self._destinations.landing(tile.level, tile.spawn)
        return landing if isinstance(landing, Landing) else None

    def moves(self, state: State) -> Iterator[tuple[Move, "State | Ended"]]:
        """Every move that is possible, with what it leads to; where an exit is sprung, that one alone."""
        forced = self.sprung(state)
        if forced:
            yield self.forced_move(forced, state)
        else:
            yield from self.free_moves(state)

    def forced_move(self, sprung: ReadyExit, state: State) -> tuple[Move, "State | Ended"]:
        """The only move of a state in which an exit is sprung."""
        return Move("exit", state.place, sprung.source.id), self.fire(sprung, state)

    def free_moves(self, state: State) -> Iterator[tuple[Move, "State | Ended"]]:
        """The player's moves in a state in which no exit is sprung."""
        level = self.levels[state.place]
        for way in level.ways:
            if way.start == state.zone and way.when(state):
                walked = state._replace(zone=way.end, arrived=False)
                yield Move("path", state.place, way.start, way.end), walked
        for deed in level.deeds:
            if self.can_do(deed, state):
                yield Move("deed", state.place, deed.source.id), self.do(deed, state)
        for exit_ in level.exits:
            if self.can_set_off(exit_, state):
                yield Move("exit", state.place, exit_.source.id), self.fire(exit_, state)
        if level.tiles:
            yield from self._tile_moves(level, state)

    def _tile_moves(self, level: ReadyLevel, state: State) -> Iterator[tuple[Move, State]]:
        landings = self.open_tiles(state)
        for tile in tiles_in_reach(level.source, frozenset(landings)):
            if tile in landings:
                yield Move("tile", state.place, tile), self.arrive(state, landings[tile])

    # -- what a move does ------------------------------------------------------------------------------

    def do(self, deed: ReadyDeed, state: State) -> State:
        """The state after a deed."""
        place = (state.place, deed.source.id)
        state = state._replace(
            facts=_changed(state.facts, deed.changes),
            spent=state.spent if deed.source.repeats == "always" else state.spent | {place},
            respawn=deed.checkpoint or state.respawn,
            arrived=False,
        )
        if deed.checkpoint:
            state = state._replace(rewind_point=self.rewinding.point(state.facts, state.spent))
        return self._saving(state) if deed.source.saves and self.flow.saving == "deed" else state

    def fire(self, exit_: ReadyExit, state: State) -> State | Ended:
        """What an open exit leads to."""
        target = self.target(exit_, state)
        back_to = self.rewinds_to(exit_, target, state)
        state = self.on_leaving(exit_, state)
        if isinstance(target, Leads):
            return Ended(target.ending)
        if not isinstance(target, Landing):
            raise ValueError(f"{state.place}.{exit_.source.id} is closed and cannot fire")
        return self.arrive(self._restored(state) if target.resumes else state, target, back_to)

    def rewinds_to(self, exit_: ReadyExit, target: Target, state: State) -> RewindPoint | None:
        """The rewind point that an exit goes back to, which leads to a target in this state; None if it makes no
        restart, or begins a new run."""
        if not isinstance(target, Landing) or not target.restart or exit_.source.fresh:
            return None
        if target.restart == "again":
            return state.rewind_point
        return state.origin.rewind_point if state.origin else None

    def on_leaving(self, exit_: ReadyExit, state: State) -> State:
        """The state between an exit's firing and its destination."""
        place, done, origin = state.place, state.done, state.origin
        if exit_.source.completes and place not in done:
            done = done | {place}
        if self.levels[place].source.kind == "play":
            origin = Origin(place, state.respawn, state.rewind_point)
        facts = _changed(state.facts, exit_.changes) if exit_.changes else state.facts
        state = state._replace(facts=facts, done=done, origin=origin)
        return self._new_run(state) if exit_.source.fresh else state

    def _new_run(self, state: State) -> State:
        state = state._replace(facts=self._afresh(state.facts, ("run", "visit")), spent=frozenset(), origin=None)
        return state._replace(seen=NONE, done=NONE) if self.flow.progress == "run" else state

    # -- saved games -----------------------------------------------------------------------------------

    def _saving(self, state: State) -> State:
        if not self.resuming:
            return state
        spent = state.spent - self.deeds_per_visit
        saved = Saved(state.place, state.respawn, state.facts, state.seen, state.done, spent, state.origin)
        return state._replace(saved=saved)

    def _restored(self, state: State) -> State:
        saved = state.saved
        if saved is None:
            return state
        facts = tuple(
            old if lifetime == "run" else now
            for old, now, lifetime in zip(saved.facts, state.facts, self._lifetimes, strict=True)
        )
        state = state._replace(facts=facts, spent=saved.spent, origin=saved.origin)
        if self.flow.progress == "run":
            state = state._replace(seen=saved.seen, done=saved.done)
        return state


def _asks_alike(flow: Flow, other: Flow) -> bool:
    """Whether conditions mean, and bodies are, the same in two flows."""
    if (flow.facts, flow.walker, flow.units) != (other.facts, other.walker, other.units):
        return False
    changes = level_changes(other, flow)
    return not (changes.gone or changes.new)


def _changed(facts: Facts, changes: Iterable[Change]) -> Facts:
    return reduce(lambda value, change: change(value), changes, facts)

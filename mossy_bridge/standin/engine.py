"""The rules of play over a game table: how a game follows a flow. It knows the table and nothing else.

Everything is addressed by its place in its list, from 0; -1 is none. A :class:`State` is never changed: each move makes
a new one. A game of yours would do the same with its own words; this module is the reference for it.
"""

from collections.abc import Iterator
from typing import Any, NamedTuple

Table = dict[str, Any]
NONE = -1
TINY = 1e-9
"""Bodies and areas overlap only if they share more than this across and along."""


class Rewind(NamedTuple):
    """What a restart goes back to: the values of the facts that rewind, and the redone deeds that were spent."""

    facts: tuple[int, ...] = ()
    spent: frozenset[tuple[int, int]] = frozenset()


class Origin(NamedTuple):
    """The play level most recently left, and where and with what one would begin it again."""

    level: int
    respawn: int
    rewind: Rewind


class Saved(NamedTuple):
    """A saved game."""

    level: int
    respawn: int
    facts: tuple[int, ...]
    seen: frozenset[int]
    done: frozenset[int]
    spent: frozenset[tuple[int, int]]
    origin: Origin | None


class State(NamedTuple):
    """Everything that matters at one moment."""

    level: int
    zone: int
    facts: tuple[int, ...]
    seen: frozenset[int] = frozenset()
    done: frozenset[int] = frozenset()
    spent: frozenset[tuple[int, int]] = frozenset()
    """Deeds that cannot be done again yet, each by its level and its own place."""
    respawn: int = NONE
    origin: Origin | None = None
    arrived: bool = True
    """From an arrival until the player's first move."""
    saved: Saved | None = None
    rewind: Rewind = Rewind()


class Ended(NamedTuple):
    """The flow has come to an ending."""

    ending: int


class Move(NamedTuple):
    """One move in the present level: an exit, deed or tile by its place, or a path, which may be walked back."""

    kind: str
    thing: int
    back: bool = False


class Goal(NamedTuple):
    """Where an exit leads in a state."""

    level: int
    spawn: int
    restart: str = ""
    """``again`` or ``back``, where the player appears at the respawn point."""
    resumes: bool = False
    ending: int = NONE


class Game:
    """Follows one table."""

    def __init__(self, table: Table):
        self._table, self._levels, self._facts = table, table["levels"], table["facts"]
        self._first = tuple(fact["initial"] for fact in self._facts)
        self._rewinding = [at for at, fact in enumerate(self._facts) if fact["rewinds"]]
        self._redone = frozenset(self._deeds_that(self._is_redone))
        self._each_visit = frozenset(self._deeds_that(lambda deed: deed["repeats"] == "visit"))

    def _deeds_that(self, fits: Any) -> Iterator[tuple[int, int]]:
        for at, level in enumerate(self._levels):
            yield from ((at, number) for number, deed in enumerate(level["deeds"]) if fits(deed))

    def _is_redone(self, deed: Table) -> bool:
        return deed["repeats"] == "run" and any(_changed_fact(one) in self._rewinding for one in deed["effects"])

    # -- beginning, quitting ---------------------------------------------------------------------------

    def begin(self) -> State | None:
        """The state after the arrival at the start; None where the table has no start."""
        return self._arrive_at_start(State(NONE, NONE, self._first))

    def quit(self, state: State) -> State | None:
        """The state after quitting, or after an ending, once somebody plays on: what lasts is kept."""
        kept = self._table["progress"] == "profile"
        seen, done = (state.seen, state.done) if kept else (frozenset[int](), frozenset[int]())
        facts = self._afresh(state.facts, ("run", "visit"))
        return self._arrive_at_start(State(NONE, NONE, facts, seen, done, saved=state.saved))

    def _arrive_at_start(self, state: State) -> State | None:
        start = self._table["start"]
        return self._arrive(state, Goal(start["level"], start["spawn"]), None) if start["level"] != NONE else None

    # -- arriving --------------------------------------------------------------------------------------

    def _arrive(self, state: State, goal: Goal, back_to: Rewind | None) -> State:
        level = self._levels[goal.level]
        if back_to is not None:
            state = self._rewound(state, back_to)
        facts = self._afresh(state.facts, ("visit",))
        zone = level["spawns"][goal.spawn]["zone"] if goal.spawn != NONE else 0 if level["zones"] else NONE
        state = state._replace(
            level=goal.level, zone=zone, facts=facts, seen=state.seen | {goal.level},
            spent=state.spent - self._each_visit, respawn=goal.spawn, arrived=True,
        )  # fmt: skip
        if level["kind"] == "play" and self._table["saving"] == "arrival":
            state = self._save(state)
        for effect in level["on_arrival"]:
            if back_to is None or _changed_fact(effect) not in self._rewinding:
                state = state._replace(facts=self._after(effect, state.facts))
        return state._replace(rewind=self._rewind_point(state) if back_to is None else back_to)

    def _afresh(self, facts: tuple[int, ...], lifetimes: tuple[str, ...]) -> tuple[int, ...]:
        return tuple(
            first if fact["lifetime"] in lifetimes else value
            for fact, value, first in zip(self._facts, facts, self._first, strict=True)
        )

    def _rewind_point(self, state: State) -> Rewind:
        if not self._rewinding:
            return Rewind()
        return Rewind(tuple(state.facts[at] for at in self._rewinding), state.spent & self._redone)

    def _rewound(self, state: State, point: Rewind) -> State:
        if not self._rewinding:
            return state
        facts = list(state.facts)
        for at, value in zip(self._rewinding, point.facts, strict=True):
            facts[at] = value
        return state._replace(facts=tuple(facts), spent=state.spent - self._redone | point.spent)

    # -- what can happen -------------------------------------------------------------------------------

    def sprung(self, state: State) -> int:
        """The exit that fires by itself in this state; -1 where none does."""
        for number, exit_ in enumerate(self._levels[state.level]["exits"]):
            forced = exit_["trigger"] == "auto" or (
                exit_["trigger"] == "touch"
                and exit_["armed_on_arrival"]
                and state.arrived
                and self._is_near(exit_, state)
                and self._stands_in(exit_["area"], state)
            )
            if forced and self._is_open(exit_, state) and not self._uses_resume(exit_["to"], state):
                return number
        return NONE

    def moves(self, state: State) -> list[Move]:
        """All moves that are possible: where an exit is sprung, that one alone."""
        forced = self.sprung(state)
        if forced != NONE:
            return [Move("exit", forced)]
        level = self._levels[state.level]
        found = []
        for number, path in enumerate(level["paths"]):
            if self._holds(path["when"], state):
                found += [Move("path", number)] if path["from"] == state.zone else []
                found += [Move("path", number, True)] if path["both_ways"] and path["to"] == state.zone else []
        for number, deed in enumerate(level["deeds"]):
            spent = (state.level, number) in state.spent
            if not spent and deed["zone"] in (NONE, state.zone) and self._holds(deed["when"], state):
                found.append(Move("deed", number))
        for number, exit_ in enumerate(level["exits"]):
            near = exit_["trigger"] not in ("touch", "press") or self._is_near(exit_, state)
            if exit_["trigger"] != "auto" and near and self._is_open(exit_, state):
                found.append(Move("exit", number))
        return found + [Move("tile", number) for number in self._tiles(level, state)]

    def _is_near(self, exit_: Table, state: State) -> bool:
        zone: int = exit_["zone"]
        return zone in (NONE, state.zone)

    def _stands_in(self, area: list[float], state: State) -> bool:
        """Whether the body at the respawn point overlaps an area."""
        if state.respawn == NONE:
            return False
        spawn, walker = self._levels[state.level]["spawns"][state.respawn], self._table["walker"]
        left, right = spawn["x"] - walker["width"] / 2, spawn["x"] + walker["width"] / 2
        feet, height = spawn["y"], walker["height"]
        low, high = (feet - height, feet) if self._table["units"]["y"] == "down" else (feet, feet + height)
        x, y, width, tall = area
        across: float = min(right, x + width) - max(left, x)
        along: float = min(high, y + tall) - max(low, y)
        return across > TINY and along > TINY

    def _is_open(self, exit_: Table, state: State) -> bool:
        if not (exit_["by_player"] and self._holds(exit_["when"], state) and self._holds(exit_["opens"], state)):
            return False
        goal = self._goal(exit_["to"], state)
        if goal is None or goal.ending != NONE or goal.restart:
            return goal is not None
        return self._holds(self._levels[goal.level]["opens"], state)

    def _tiles(self, level: Table, state: State) -> list[int]:
        """The tiles of a board that are open and that the cursor can get to."""
        tiles = level["tiles"]
        lit = [tile["level"] != NONE and self._holds(self._levels[tile["level"]]["opens"], state) for tile in tiles]
        if level["cursor"] == "free" or not tiles:
            return [number for number, is_open in enumerate(lit) if is_open]
        reached = {max(level["first_tile"], 0)}
        waiting = list(reached)
        while waiting:
            tile = tiles[waiting.pop()]
            for beside in (tile["left"], tile["right"], tile["up"], tile["down"]):
                if beside != NONE and beside not in reached and (level["cursor"] == "any" or lit[beside]):
                    reached.add(beside)
                    waiting.append(beside)
        return [number for number, is_open in enumerate(lit) if is_open and number in reached]

    # -- where exits lead ------------------------------------------------------------------------------

    def _goal(self, to: Table | None, state: State) -> Goal | None:
        """Where a destination leads before anything has changed; None where it finds nothing."""
        if to is None:
            return None
        level = self._levels[state.level]
        match to["kind"]:
            case "level":
                return Goal(to["level"], to["spawn"])
            case "end":
                return Goal(NONE, NONE, ending=to["ending"])
            case "again":
                return Goal(state.level, state.respawn, "again")
            case "back":
                origin = state.origin
                return Goal(origin.level, origin.respawn, "back") if origin else self._goal(to["otherwise"], state)
            case "resume":
                saved = state.saved
                found = Goal(saved.level, saved.respawn, resumes=True) if saved else None
                return found or self._goal(to["otherwise"], state)
            case _:  # next, previous: counted from this level, or on a screen from the one most recently left
                base = level if level["kind"] == "play" else self._levels[state.origin.level] if state.origin else None
                beside = base[to["kind"]] if base else NONE
                if beside == NONE:
                    return self._goal(to["otherwise"], state)
                return Goal(beside, 0) if self._levels[beside]["spawns"] else None

    def _uses_resume(self, to: Table | None, state: State) -> bool:
        """Whether a destination gets as far as resuming, be there a saved game or not."""
        while to is not None and to["kind"] not in ("level", "end", "again"):
            if to["kind"] == "resume":
                return True
            if self._goal({**to, "otherwise": None}, state) is not None or self._finds_no_room(to, state):
                return False
            to = to["otherwise"]
        return False

    def _finds_no_room(self, to: Table, state: State) -> bool:
        """Whether next or previous finds a level in which nobody can appear."""
        there = {"kind": "level", "level": 0, "spawn": 0}
        found = self._goal({**to, "otherwise": there}, state) if to["kind"] in ("next", "previous") else there
        return found is None

    # -- what a move does ------------------------------------------------------------------------------

    def play(self, state: State, move: Move) -> State | Ended:
        """What a move that is possible leads to."""
        level = self._levels[state.level]
        match move.kind:
            case "path":
                path = level["paths"][move.thing]
                return state._replace(zone=path["from" if move.back else "to"], arrived=False)
            case "deed":
                return self._do(state, move.thing)
            case "tile":
                tile = level["tiles"][move.thing]
                return self._arrive(state, Goal(tile["level"], tile["spawn"]), None)
            case _:
                return self._fire(state, level["exits"][move.thing])

    def _do(self, state: State, number: int) -> State:
        deed = self._levels[state.level]["deeds"][number]
        for effect in deed["effects"]:
            state = state._replace(facts=self._after(effect, state.facts))
        if deed["repeats"] != "always":
            state = state._replace(spent=state.spent | {(state.level, number)})
        state = state._replace(arrived=False)
        if deed["checkpoint"] != NONE:
            state = state._replace(respawn=deed["checkpoint"])
            state = state._replace(rewind=self._rewind_point(state))
        return self._save(state) if deed["saves"] and self._table["saving"] == "deed" else state

    def _fire(self, state: State, exit_: Table) -> State | Ended:
        goal = self._goal(exit_["to"], state)
        assert goal is not None, "the exit is closed"
        back_to = None
        if goal.restart and not exit_["fresh"]:
            back_to = state.rewind if goal.restart == "again" else state.origin and state.origin.rewind
        state = self.leaving(state, exit_)
        if goal.ending != NONE:
            return Ended(goal.ending)
        return self._arrive(self._restored(state) if goal.resumes else state, goal, back_to)

    def leaving(self, state: State, exit_: Table) -> State:
        """The state between an exit's firing and where it leads; an ending is followed by quitting from there."""
        for effect in exit_["effects"]:
            state = state._replace(facts=self._after(effect, state.facts))
        if exit_["completes"]:
            state = state._replace(done=state.done | {state.level})
        if self._levels[state.level]["kind"] == "play":
            state = state._replace(origin=Origin(state.level, state.respawn, state.rewind))
        if exit_["fresh"]:
            state = state._replace(facts=self._afresh(state.facts, ("run", "visit")), spent=frozenset(), origin=None)
            if self._table["progress"] == "run":
                state = state._replace(seen=frozenset(), done=frozenset())
        return state

    def _save(self, state: State) -> State:
        spent = state.spent - self._each_visit
        parts = (state.level, state.respawn, state.facts, state.seen, state.done, spent, state.origin)
        return state._replace(saved=Saved(*parts))

    def _restored(self, state: State) -> State:
        saved = state.saved
        assert saved is not None
        facts = tuple(
            old if fact["lifetime"] == "run" else now
            for fact, old, now in zip(self._facts, saved.facts, state.facts, strict=True)
        )
        state = state._replace(facts=facts, spent=saved.spent, origin=saved.origin)
        return state._replace(seen=saved.seen, done=saved.done) if self._table["progress"] == "run" else state

    # -- conditions and effects ------------------------------------------------------------------------

    def _holds(self, condition: list[Any], state: State) -> bool:
        word: str = condition[0]
        rest = condition[1:]
        match word:
            case "always" | "never":
                return word == "always"
            case "has" | "lacks":
                return bool(state.facts[rest[0]]) is (word == "has")
            case "at least" | "at most" | "exactly":
                return _within(word, rest[0], state.facts[rest[1]])
            case "is" | "is not":
                value: int = rest[1]
                return (state.facts[rest[0]] == value) is (word == "is")
            case "seen" | "done":
                level: int = rest[0]
                return level in (state.seen if word == "seen" else state.done)
            case "not":
                return not self._holds(rest[0], state)
            case "and":
                return all(self._holds(part, state) for part in rest)
            case "or":
                return any(self._holds(part, state) for part in rest)
            case _:  # of
                bound, number, parts = rest
                return _within(bound, number, sum(self._holds(part, state) for part in parts))

    def _after(self, effect: list[Any], facts: tuple[int, ...]) -> tuple[int, ...]:
        """The facts after one effect; counts stop at low and high."""
        at, number = _changed_fact(effect), effect[1]
        fact, now = self._facts[at], facts[at]
        value = {"gain": 1, "lose": 0, "add": now + number, "take": now - number, "set": number,
                 "raise": max(now, number), "lower": min(now, number), "turn": effect[-1],
                 "clear": fact["initial"]}[effect[0]]  # fmt: skip
        return (*facts[:at], min(max(value, fact["low"]), fact["high"]), *facts[at + 1 :])


def _changed_fact(effect: list[Any]) -> int:
    """The fact that an effect changes: behind the number, where there is one."""
    counts = effect[0] in ("add", "take", "set", "raise", "lower")
    return int(effect[2] if counts else effect[1])


def _within(bound: str, number: int, have: int) -> bool:
    if bound == "exactly":
        return have == number
    return have >= number if bound == "at least" else have <= number

"""How things can stand while a game is played, as far as its log tells: the set of states that the events so far allow.

Moves of kinds that the log tells without a gap happen only where it tells them; any others may have happened in
between. Each arrival is one ``arrive`` where these are logged.
"""

from collections.abc import Callable, Iterable, Iterator
from typing import Literal, NamedTuple

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State
from mossy_bridge.play_logs.events import NAMED, Event

MOST_STATES = 20_000
"""So many states at once, or in which one may take up again, are too many."""
KEPT = 8
"""So many times as many possibilities and moves are kept, for they come up again."""
Owed = Literal["", "arrive", "ending"]
Logged = frozenset[str]
"""The kinds of events that a log tells without a gap."""
EventKey = tuple[object, ...]
"""An event without what makes no difference: its time, its line."""
Steps = tuple[Move | None, ...]
"""What was done: moves, and None for quitting."""
QUITS: Steps = (None,)


class Over(NamedTuple):
    """An ending was reached, and what is left of the state for whoever plays on."""

    ending: str
    left: State


class Possibility:
    """One way in which things can stand: a state, and the event that the log still owes for how it came about. There is
    one object of each, so that sets of them need not compare states; it keeps what was found out about it."""

    __slots__ = ("next", "owed", "silent", "state")

    def __init__(self, state: State | Over, owed: Owed):
        self.state, self.owed = state, owed
        self.silent: dict[Logged, tuple[tuple[Move, Possibility], ...]] = {}
        """For what is logged, the moves that are not, and how things stand after each."""
        self.next: dict[tuple[Logged, EventKey], tuple[Possibility, ...]] = {}
        """For what is logged, and an event, how things can stand after it."""


def left(state: State | Over) -> State:
    """What there is to go on from."""
    return state.left if isinstance(state, Over) else state


class TooMany(Exception):  # noqa: N818 - no error
    """There are more states than are looked at."""


class Stopped(Exception):  # noqa: N818 - no error
    """Nobody wants to know any more."""


class PossibleStates:
    """Follows sets of possibilities of one flow from event to event. What takes long raises :class:`TooMany`, or
    :class:`Stopped` once it is ``cancelled``."""

    def __init__(self, flow: Flow, most: int = MOST_STATES, cancelled: Callable[[], bool] = lambda: False):
        self.rules = Rules(flow, resuming=True)
        self.flow = self.rules.flow
        self._most, self._cancelled = most, cancelled
        self._known: dict[tuple[State | Over, Owed], Possibility] = {}
        self._moves: dict[State, tuple[tuple[Move, State | Ended], ...]] = {}
        self._all: frozenset[State] | None = None
        self._arrivals: dict[tuple[str, str], frozenset[State]] | None = None

    def possibility(self, state: State | Over, owed: Owed = "") -> Possibility:
        """The one object for a state and what is owed. Of very many the older ones are forgotten: then there may be two
        of one, which only costs time."""
        found = self._known.get((state, owed))
        if found is None:
            if len(self._known) > KEPT * self._most:
                self._known.clear()
            found = self._known[state, owed] = Possibility(state, owed)
        return found

    # -- where it begins -------------------------------------------------------------------------------

    def fresh(self, logged: Logged) -> set[Possibility]:
        """How things stand at the start of a game of which nothing was kept."""
        begun = self.rules.begin()
        return {self.possibility(begun, _arrival_owed(logged))} if begun else set()

    def after_quitting(self, before: Iterable[State], logged: Logged) -> set[Possibility]:
        """How things can stand when the game is begun again after one of some states."""
        again = (self.rules.quit(state) for state in before)
        return {self.possibility(state, _arrival_owed(logged)) for state in again if state}

    def lasts(self) -> bool:
        """Whether anything outlives a session."""
        profile = self.flow.progress == "profile" or any(fact.lifetime == "profile" for fact in self.flow.facts)
        exits = (exit_ for level in self.flow.levels for exit_ in level.exits)
        return profile or any(to.kind == "resume" for exit_ in exits for to in exit_.destinations)

    def reachable(self) -> frozenset[State]:
        """Every state that can be reached, and those that quitting leads to."""
        if self._all is None:
            self._all = self._explored()
        if len(self._all) > self._most:
            raise TooMany
        return self._all

    def _explored(self) -> frozenset[State]:
        """The same; where they are too many, enough of them to show it."""
        begun = self.rules.begin()
        found = {begun} if begun else set()
        waiting = list(found)
        while waiting and len(found) <= self._most:
            self._check()
            state = waiting.pop()
            nexts = [after for _, after in self.moves_in(state) if isinstance(after, State)]
            again = self.rules.quit(state)
            for after in (*nexts, *([again] if again else [])):
                if after not in found:
                    found.add(after)
                    waiting.append(after)
        return frozenset(found)

    def just_arrived(self, event: Event) -> set[Possibility]:
        """Everything that can be so just after an arrival; nothing at another event."""
        if event.kind != "arrive":
            return set()
        if self._arrivals is None:
            found: dict[tuple[str, str], set[State]] = {}
            for state in self.reachable():
                if state.arrived:
                    found.setdefault((state.place, state.respawn), set()).add(state)
            self._arrivals = {place: frozenset(states) for place, states in found.items()}
        level, spawn = event.values["level"], event.values.get("spawn")
        places = (place for place in self._arrivals if place[0] == level and spawn in (None, place[1]))
        return {self.possibility(state) for place in places for state in self._arrivals[place]}

    def _check(self) -> None:
        if self._cancelled():
            raise Stopped

    # -- what may have happened ------------------------------------------------------------------------

    def moves_in(self, state: State) -> tuple[tuple[Move, State | Ended], ...]:
        """Every move that is possible in a state, with what it leads to."""
        found = self._moves.get(state)
        if found is None:
            if len(self._moves) > KEPT * self._most:
                self._moves.clear()
            found = self._moves[state] = tuple(self.rules.moves(state))
        return found

    def silently(self, possible: Iterable[Possibility], logged: Logged) -> set[Possibility]:
        """How things can stand after any moves that the log need not tell."""
        found = set(possible)
        waiting = list(found)
        while waiting:
            for _, then in self.silent_moves(waiting.pop(), logged):
                if then not in found:
                    found.add(then)
                    waiting.append(then)
            if len(found) > self._most:
                raise TooMany
            self._check()
        return found

    def silent_moves(self, one_way: Possibility, logged: Logged) -> tuple[tuple[Move, Possibility], ...]:
        """The moves that may be made without being logged, and how things stand after each."""
        state = one_way.state
        if one_way.owed or isinstance(state, Over):
            return ()
        found = one_way.silent.get(logged)
        if found is None:
            moves = ((move, after) for move, after in self.moves_in(state) if move.kind not in logged)
            found = one_way.silent[logged] = tuple(
                (move, self._then(state, move, after, logged)) for move, after in moves
            )
        return found

    def _then(self, state: State, move: Move, after: State | Ended, logged: Logged) -> Possibility:
        """How things stand after a move."""
        if isinstance(after, Ended):
            remains = self.rules.on_leaving(self.rules.exit(move), state)
            return self.possibility(Over(after.ending, remains), "ending" if "ending" in logged else "")
        return self.possibility(after, "arrive" if move.kind in ("exit", "tile") and "arrive" in logged else "")

    # -- what the log tells ----------------------------------------------------------------------------

    def after(self, event: Event, possible: set[Possibility], logged: Logged) -> set[Possibility]:
        """How things can stand once a move, an arrival, quitting or an ending has happened; in no way where it cannot
        have."""
        return self._resumed(possible, logged) if event.kind == "resume" else self._stepped(event, possible, logged)

    def _stepped(self, event: Event, possible: set[Possibility], logged: Logged) -> set[Possibility]:
        """The same but for resuming; each possibility keeps what comes of it."""
        key = (logged, _key(event))
        found: set[Possibility] = set()
        for one_way in possible:
            after = one_way.next.get(key)
            if after is None:
                around = self.silently([one_way], logged)
                after = one_way.next[key] = tuple({then for one in around for _, then in self.step(event, one, logged)})
            found.update(after)
        if len(found) > self._most:
            raise TooMany
        return found

    def step(self, event: Event, one_way: Possibility, logged: Logged) -> Iterator[tuple[Steps, Possibility]]:
        """How things can stand once an event has happened directly after this, and what was done for it."""
        if event.kind == "quit":
            if one_way.owed != "ending":
                for then in self.after_quitting([left(one_way.state)], logged):
                    yield QUITS, then
        elif event.kind == "ending":
            state = one_way.state
            if isinstance(state, Over) and state.ending == event.values["ending"]:
                yield (), self.possibility(state)
        elif event.kind == "arrive":
            for first, one in self._played_on(one_way, logged):
                if self._is_arrival(event, one, logged):
                    yield first, self.possibility(one.state)
        else:
            wanted = move_of(event)
            for first, one in self._played_on(one_way, logged):
                if not one.owed and isinstance(one.state, State):
                    for move, after in self.moves_in(one.state):
                        if move == wanted:
                            yield (*first, move), self._then(one.state, move, after, logged)

    def _played_on(self, one_way: Possibility, logged: Logged) -> Iterator[tuple[Steps, Possibility]]:
        """The same, and after an ending how somebody may have played on."""
        yield (), one_way
        if isinstance(one_way.state, Over) and not one_way.owed:
            for then in self.after_quitting([one_way.state.left], logged):
                yield QUITS, then

    def _is_arrival(self, event: Event, one_way: Possibility, logged: Logged) -> bool:
        """Whether just such an arrival is owed; where arrivals have gaps, whether there was one."""
        state, spawn = one_way.state, event.values.get("spawn")
        if not isinstance(state, State) or one_way.owed != _arrival_owed(logged) or not state.arrived:
            return False
        return state.place == event.values["level"] and spawn in (None, state.respawn)

    def _resumed(self, possible: set[Possibility], logged: Logged) -> set[Possibility]:
        """After, or instead of, an exit that comes to resume."""
        owing = {one for one in possible if one.owed == "arrive"}
        if owing:  # the exit was logged, and its arrival is still to come
            return owing
        return {then for one in self.silently(possible, logged) for _, then in self.resuming(one, logged)}

    def resuming(self, one_way: Possibility, logged: Logged) -> Iterator[tuple[Move, Possibility]]:
        """The exits that come to resume, and how things stand after each."""
        state = one_way.state
        if one_way.owed or isinstance(state, Over):
            return
        for move, after in self.moves_in(state):
            if move.kind == "exit" and self.rules.comes_to_resume(self.rules.exit(move), state):
                yield move, self._then(state, move, after, logged)


def move_of(event: Event) -> Move | None:
    """The move that an event tells; None where it tells none."""
    values = event.values
    if event.kind == "path":
        return Move("path", str(values["level"]), str(values["from"]), str(values["to"]))
    if event.kind in ("exit", "deed", "tile"):
        return Move(event.kind, str(values["level"]), str(values[event.kind]))  # type: ignore[arg-type]
    return None


def _key(event: Event) -> EventKey:
    """What of an event makes a difference."""
    values = event.values
    if event.kind == "arrive":
        spawn = values.get("spawn")
        return event.kind, values["level"], spawn if spawn is None or isinstance(spawn, str) else 0
    return event.kind, *(values[name] for name in NAMED.get(event.kind, ()))


def _arrival_owed(logged: Logged) -> Owed:
    return "arrive" if "arrive" in logged else ""

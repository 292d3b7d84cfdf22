"""Whether a flow can explain what was logged: the set of states that the events so far allow, followed through the log.

Moves of kinds that the log tells without a gap happen only where it tells them; any others may have happened in
between. Each arrival is one ``arrive`` where these are logged. So every event leaves the states in which it can have
happened; where it leaves none it is impossible, and everything is taken up again at the next arrival. Where the states
are too many the answer is unknown, which accuses nobody.
"""

from collections.abc import Iterable, Iterator
from typing import Literal, NamedTuple

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.language.evaluation import Change, Facts, FactValue
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.refusal_reasons import Reasons
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State
from mossy_bridge.play_logs.events import MOVES, Event, PlaySession

MOST_STATES = 20_000
"""So many states at once, or in which one may take up again, are too many."""
Owed = Literal["", "arrive", "ending"]


class Over(NamedTuple):
    """An ending was reached, and what is left of the state for whoever plays on."""

    ending: str
    left: State


class Possibility(NamedTuple):
    """One way in which things can stand: a state, and the event that the log still owes for how it came about."""

    state: State | Over
    owed: Owed = ""


class Impossible(Struct, frozen=True):
    """An event that no state allows."""

    event: Event
    level: str
    """Where the player was before, as far as that is known."""
    why: str


class Explained(Struct, frozen=True):
    """What a flow makes of a session: ``yes`` where it can explain all of it."""

    session: PlaySession
    """Without its events, of which a long log has too many to keep."""
    answer: Literal["yes", "no", "unknown"]
    impossible: tuple[Impossible, ...] = ()
    events: int = 0
    seconds: float = 0.0
    levels: tuple[str, ...] = ()
    """Where it arrived, in order."""
    lasting: frozenset[State] | None = None
    """The states it may have ended in; None where they are not known."""


class TooMany(Exception):  # noqa: N818 - no error
    """There are more states than are looked at."""


class Explainer:
    """Explains sessions of one flow. Those of one player are given in the order in which they were played."""

    def __init__(self, flow: Flow, most: int = MOST_STATES):
        self.rules = Rules(flow, resuming=True)
        self.flow = self.rules.flow
        self._most = most
        self._reasons = Reasons(self.rules)
        self._facts = {fact.id: at for at, fact in enumerate(self.flow.facts)}
        self._kept: dict[str, frozenset[State] | None] = {}
        """What the latest session of each player may have left."""
        self._moves: dict[State, tuple[tuple[Move, State | Ended], ...]] = {}
        self._silent: dict[tuple[State, frozenset[str]], tuple[Possibility, ...]] = {}
        """For a state and what is logged, how things can stand after one move that is not."""
        self._all: frozenset[State] | None = None
        self._arrivals: dict[tuple[str, str], frozenset[State]] | None = None

    def explain(self, session: PlaySession) -> Explained:
        """What the flow makes of a session."""
        known = self._kept.get(session.player) if session.player else None
        try:
            possible = self._begun(session, known)
        except TooMany:
            return _summed_up(session, Explained(session, "unknown"))
        found = self._followed(session, possible)
        if session.player:
            self._kept[session.player] = found.lasting
        return _summed_up(session, found)

    # -- beginning -------------------------------------------------------------------------------------

    def _begun(self, session: PlaySession, kept: frozenset[State] | None) -> set[Possibility]:
        """How things can stand when a session begins."""
        owed: Owed = "arrive" if "arrive" in session.logged else ""
        if session.new or (kept is None and not self._lasts()):
            begun = self.rules.begin()
            return {Possibility(begun, owed)} if begun else set()
        before = kept if kept is not None else self._reachable()
        again = (self.rules.quit(state) for state in before)
        fresh = self.rules.begin() if kept is None else None
        return {Possibility(state, owed) for state in (*again, fresh) if state}

    def _lasts(self) -> bool:
        """Whether anything outlives a session."""
        profile = self.flow.progress == "profile" or any(fact.lifetime == "profile" for fact in self.flow.facts)
        exits = (exit_ for level in self.flow.levels for exit_ in level.exits)
        return profile or any(to.kind == "resume" for exit_ in exits for to in exit_.destinations)

    def _reachable(self) -> frozenset[State]:
        """Every state that can be reached, and those that quitting leads to. Raises :class:`TooMany`."""
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
            state = waiting.pop()
            nexts = [after for _, after in self._moves_in(state) if isinstance(after, State)]
            again = self.rules.quit(state)
            for after in (*nexts, *([again] if again else [])):
                if after not in found:
                    found.add(after)
                    waiting.append(after)
        return frozenset(found)

    def _moves_in(self, state: State) -> tuple[tuple[Move, State | Ended], ...]:
        found = self._moves.get(state)
        if found is None:
            if len(self._moves) > 4 * self._most:
                self._moves.clear()
            found = self._moves[state] = tuple(self.rules.moves(state))
        return found

    # -- following -------------------------------------------------------------------------------------

    def _followed(self, session: PlaySession, possible: set[Possibility]) -> Explained:
        impossible: list[Impossible] = []
        lost = False  # nothing is known of where the player is, until the next arrival
        for event in session.events:
            if event.kind in ("at", "end"):
                continue
            try:
                if lost:
                    possible = self._taken_up(event)
                    lost = not possible
                    continue
                after = self._after(event, possible, session.logged)
            except TooMany:
                return Explained(session, "no" if impossible else "unknown", tuple(impossible))
            if after:
                possible = after
                continue
            impossible.append(self._impossible(event, possible))
            try:
                possible = self._taken_up(event)
            except TooMany:
                return Explained(session, "no", tuple(impossible))
            lost = not possible
        lasting = None if lost else frozenset(self._left(one_way.state) for one_way in possible)
        return Explained(session, "no" if impossible else "yes", tuple(impossible), lasting=lasting)

    def _left(self, state: State | Over) -> State:
        return state.left if isinstance(state, Over) else state

    def _after(self, event: Event, possible: set[Possibility], logged: frozenset[str]) -> set[Possibility]:
        """How things can stand once an event has happened."""
        match event.kind:
            case "fact":
                return self._with_fact(event, possible, logged)
            case "quit":
                left = {self._left(one.state) for one in self._silently(possible, logged) if one.owed != "ending"}
                owed: Owed = "arrive" if "arrive" in logged else ""
                return {Possibility(again, owed) for state in left if (again := self.rules.quit(state))}
            case "arrive":
                return set(self._arrived(event, self._played_on(self._silently(possible, logged), logged), logged))
            case "ending":
                wanted = event.values["ending"]
                over = (one.state for one in self._silently(possible, logged) if isinstance(one.state, Over))
                return {Possibility(state) for state in over if state.ending == wanted}
            case "resume":
                return self._resumed(possible, logged)
            case _:
                return set(self._moved(event, self._played_on(self._silently(possible, logged), logged), logged))

    def _silently(self, possible: Iterable[Possibility], logged: frozenset[str]) -> set[Possibility]:
        """How things can stand after any moves that the log need not tell. Raises :class:`TooMany`."""
        found = set(possible)
        waiting = list(found)
        while waiting:
            one_way = waiting.pop()
            if one_way.owed or isinstance(one_way.state, Over):
                continue
            for then in self._silent_moves(one_way.state, logged):
                if then not in found:
                    found.add(then)
                    waiting.append(then)
            if len(found) > self._most:
                raise TooMany
        return found

    def _silent_moves(self, state: State, logged: frozenset[str]) -> tuple[Possibility, ...]:
        """How things can stand after one such move."""
        found = self._silent.get((state, logged))
        if found is None:
            if len(self._silent) > 4 * self._most:
                self._silent.clear()
            moves = ((move, after) for move, after in self._moves_in(state) if move.kind not in logged)
            found = tuple(self._then(state, move, after, logged) for move, after in moves)
            self._silent[state, logged] = found
        return found

    def _then(self, state: State, move: Move, after: State | Ended, logged: frozenset[str]) -> Possibility:
        """How things stand after a move."""
        if isinstance(after, Ended):
            left = self.rules.on_leaving(self.rules.exit(move), state)
            return Possibility(Over(after.ending, left), "ending" if "ending" in logged else "")
        return Possibility(after, "arrive" if move.kind in ("exit", "tile") and "arrive" in logged else "")

    def _played_on(self, possible: Iterable[Possibility], logged: frozenset[str]) -> Iterator[Possibility]:
        """The same, where after an ending somebody may have played on."""
        for one_way in possible:
            yield one_way
            if isinstance(one_way.state, Over) and not one_way.owed:
                again = self.rules.quit(one_way.state.left)
                if again:
                    yield Possibility(again, "arrive" if "arrive" in logged else "")

    def _arrived(self, event: Event, possible: Iterable[Possibility], logged: frozenset[str]) -> Iterator[Possibility]:
        """Those in which just such an arrival is owed; where arrivals have gaps, in which there was one."""
        level, spawn = event.values["level"], event.values.get("spawn")
        owed: Owed = "arrive" if "arrive" in logged else ""
        for one_way in possible:
            state = one_way.state
            if not isinstance(state, State) or one_way.owed != owed or not state.arrived:
                continue
            if state.place == level and spawn in (None, state.respawn):
                yield Possibility(state)

    def _moved(self, event: Event, possible: Iterable[Possibility], logged: frozenset[str]) -> Iterator[Possibility]:
        wanted = move_of(event)
        for one_way in possible:
            if one_way.owed or isinstance(one_way.state, Over):
                continue
            for move, after in self._moves_in(one_way.state):
                if move == wanted:
                    yield self._then(one_way.state, move, after, logged)

    def _resumed(self, possible: set[Possibility], logged: frozenset[str]) -> set[Possibility]:
        """After, or instead of, an exit that comes to resume."""
        owing = {one for one in possible if one.owed == "arrive"}
        if owing:  # the exit was logged, and its arrival is still to come
            return owing
        found: set[Possibility] = set()
        for one_way in self._silently(possible, logged):
            state = one_way.state
            if one_way.owed or isinstance(state, Over):
                continue
            for move, after in self._moves_in(state):
                if move.kind == "exit" and self.rules.comes_to_resume(self.rules.exit(move), state):
                    found.add(self._then(state, move, after, logged))
        return found

    # -- facts -----------------------------------------------------------------------------------------

    def _with_fact(self, event: Event, possible: set[Possibility], logged: frozenset[str]) -> set[Possibility]:
        """Those in which a fact has a value now, had it before the latest move, or has it within or after the next: an
        event of a fact may stand on either side of what changed it."""
        at, value = self._facts.get(event.values["fact"]), event.values["value"]
        if at is None:
            return set()
        now = {one for one in possible if self._left(one.state).facts[at] == value}
        if now:
            return possible  # which of them it was, later events tell: it may also have been just before
        around = self._silently(possible, logged)
        for one_way in self._played_on(around, logged):
            state = one_way.state
            if isinstance(state, Over):
                if state.left.facts[at] == value:
                    return possible
                continue
            if state.facts[at] == value or self._comes_up(state, at, value):
                return possible
        return set()

    def _comes_up(self, state: State, at: int, value: FactValue) -> bool:
        """Whether some next move gives a fact a value, if only for a moment."""
        return any(
            facts[at] == value for move, after in self._moves_in(state) for facts in self._trail(state, move, after)
        )

    def _trail(self, state: State, move: Move, after: State | Ended) -> Iterator[Facts]:
        """The facts after each single effect of a move."""
        level = self.rules.levels[state.place]
        facts = state.facts
        changes: tuple[Change, ...] = ()
        if move.kind == "exit":
            changes = self.rules.exit(move).changes
        elif move.kind == "deed":
            changes = next(deed.changes for deed in level.deeds if deed.source.id == move.thing)
        for change in changes:
            facts = change(facts)
            yield facts
        if isinstance(after, State):
            if move.kind in ("exit", "tile"):
                facts = self.rules.before_arrival(facts)
                for change in self.rules.levels[after.place].on_arrival:
                    facts = change(facts)
                    yield facts
            yield after.facts

    # -- what is impossible ----------------------------------------------------------------------------

    def _taken_up(self, event: Event) -> set[Possibility]:
        """Everything that can be so just after an arrival; nothing at another event. Raises :class:`TooMany`."""
        if event.kind != "arrive":
            return set()
        if self._arrivals is None:
            found: dict[tuple[str, str], set[State]] = {}
            for state in self._reachable():
                if state.arrived:
                    found.setdefault((state.place, state.respawn), set()).add(state)
            self._arrivals = {place: frozenset(states) for place, states in found.items()}
        level, spawn = event.values["level"], event.values.get("spawn")
        places = (place for place in self._arrivals if place[0] == level and spawn in (None, place[1]))
        return {Possibility(state) for place in places for state in self._arrivals[place]}

    def _impossible(self, event: Event, possible: set[Possibility]) -> Impossible:
        states = [one.state for one in possible if isinstance(one.state, State)]
        level = states[0].place if states else ""
        return Impossible(event, level, self._why(event, possible, states))

    def _why(self, event: Event, possible: set[Possibility], states: list[State]) -> str:
        """Why an event cannot have happened, and what was to be expected instead."""
        unknown = self._unknown(event)
        if unknown:
            return unknown
        owing = next((one for one in possible if one.owed), None)
        if event.kind in MOVES and states and not owing:
            wanted = move_of(event)
            there = [state for state in states if state.place == event.values["level"]] or states
            return self._reasons.why_not(wanted, there[0]) if wanted else "it is no move"
        if owing and isinstance(owing.state, Over):
            return f"the ending {owing.state.ending} was to be logged first"
        if owing and isinstance(owing.state, State):
            where = self._title(owing.state.place)
            by = f", at {owing.state.respawn}," if owing.state.respawn else ""
            return f"an arrival in {where}{by} was expected"
        if event.kind == "arrive" and states:
            afters = [after for state in states for _, after in self._moves_in(state)]
            ways = {after.place for after in afters if isinstance(after, State) and after.arrived}
            leads = f"; from there one gets to {', '.join(sorted(map(self._title, ways)))}" if ways else ""
            return f"the player is in {self._title(states[0].place)}{leads}"
        if event.kind == "fact":
            at = self._facts[event.values["fact"]]
            had = sorted({str(self._left(one.state).facts[at]) for one in possible})
            return f"it is {' or '.join(had)} there, and no move makes it so"
        return "nothing that was logged before leads to it"

    def _title(self, place: str) -> str:
        return self.rules.levels[place].source.title

    def _unknown(self, event: Event) -> str:
        """What the flow does not have of what an event names."""
        level = self.flow.level(event.values["level"]) if isinstance(event.values.get("level"), str) else None
        if "level" in event.values and level is None:
            return f"the flow has no level {event.values['level']}"
        things = {"exit": "exits", "deed": "deeds", "tile": "tiles"}
        if event.kind in things and level is not None:
            name = event.values[event.kind]
            if all(thing.id != name for thing in getattr(level, things[event.kind])):
                return f"{level.title} has no {event.kind} {name}"
        if event.kind == "fact" and event.values["fact"] not in self._facts:
            return f"the flow has no fact {event.values['fact']}"
        if event.kind == "ending" and all(ending.id != event.values["ending"] for ending in self.flow.endings):
            return f"the flow has no ending {event.values['ending']}"
        return ""


def _summed_up(session: PlaySession, found: Explained) -> Explained:
    """The same, without the events themselves."""
    levels = tuple(event.values["level"] for event in session.events if event.kind == "arrive")
    bare = replace(session, events=[])
    return replace(found, session=bare, events=len(session.events), seconds=session.seconds, levels=levels)


def move_of(event: Event) -> Move | None:
    """The move that an event tells; None where it tells none."""
    values = event.values
    if event.kind == "path":
        return Move("path", str(values["level"]), str(values["from"]), str(values["to"]))
    if event.kind in ("exit", "deed", "tile"):
        return Move(event.kind, str(values["level"]), str(values[event.kind]))  # type: ignore[arg-type]
    return None

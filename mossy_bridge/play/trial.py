"""The trial walk: the flow played move by move, with a tape to step back on, and branches that were left."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from msgspec import Struct

from mossy_bridge.language.numbers import enumerated
from mossy_bridge.model.addresses import title_of
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.destinations import Landing
from mossy_bridge.play.narration import named_move, told_value, what_it_did
from mossy_bridge.play.refusal_reasons import Reasons
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State, parse_move

QUIT = "quit"
"""The move that quits and starts again; no recorded walk can hold it."""


class Moment(Struct, frozen=True):
    """One moment on the tape: the move that led to it ("" at the beginning), what it led to, the seconds it takes in
    play, and how many arrivals there were before."""

    move: str
    state: State | Ended
    seconds: float = 0.0
    crossings: int = 0


class MoveChoice(Struct, frozen=True):
    """Something that can be done now: the move, its name, what comes of it, and whether it happens by itself."""

    move: Move
    title: str
    detail: str
    forced: bool


class TakenBack(Struct, frozen=True):
    """What a restart took back: facts by id, and the names of the deeds that are there again."""

    facts: tuple[str, ...]
    there_again: tuple[str, ...]

    @property
    def told_again(self) -> str:
        """Which deeds can be done once more, in words."""
        return f"{enumerated(self.there_again, 3)}: to be done again" if self.there_again else ""

    def told(self, flow: Flow) -> str:
        """What was taken back, in a sentence or two."""
        names = ", ".join(fact.name or fact.id for fact in flow.facts if fact.id in self.facts)
        told = (f"Taken back: {names}" if names else "", self.told_again)
        return ". ".join(filter(None, told)) + "."


class Refusal(Struct, frozen=True):
    """Something that cannot be done now: its short place, its name and why."""

    at: str
    title: str
    why: str


@dataclass(frozen=True)
class Trial:
    """A walk under way. ``at`` is the moment shown; those behind it can be gone to again."""

    rules: Rules
    tape: tuple[Moment, ...]
    at: int = 0
    branches: tuple[tuple[Moment, ...], ...] = ()
    """Tapes that were left for another move."""

    @property
    def now(self) -> Moment:
        """The moment shown."""
        return self.tape[self.at]

    @property
    def state(self) -> State | None:
        """The state now, or None at an ending."""
        return self.now.state if isinstance(self.now.state, State) else None

    @property
    def last_state(self) -> State:
        """The state now; at an ending, the one before it."""
        states = (moment.state for moment in self.tape[self.at :: -1] if isinstance(moment.state, State))
        return next(states)

    @property
    def seconds(self) -> float:
        """The time played so far."""
        return sum(moment.seconds for moment in self.tape[: self.at + 1])

    @property
    def moves(self) -> tuple[str, ...]:
        """The moves up to now."""
        return tuple(moment.move for moment in self.tape[1 : self.at + 1])

    @property
    def can_be_kept(self) -> bool:
        """Whether a recorded walk can hold it: some moves, none of them quitting."""
        return bool(self.moves) and QUIT not in self.moves

    # -- going ------------------------------------------------------------------------------------------

    def take(self, move: Move) -> "Trial":
        """The walk after a possible move. Another move than the one taken here before begins a branch. Raises
        ValueError where the move is impossible."""
        state = self.state
        after = next((a for m, a in self.rules.moves(state) if m == move), None) if state else None
        if state is None or after is None:
            raise ValueError(f"{move} is not possible now")
        crosses = move.kind in ("exit", "tile") and isinstance(after, State)
        seconds = _seconds(self.rules, move)
        return self._then(Moment(str(move), after, seconds, self.now.crossings + crosses))

    def live(self, move: Move, after: State | Ended) -> "Trial":
        """The walk after a move made in real time, where zones are walked through without paths."""
        crosses = move.kind in ("exit", "tile") and isinstance(after, State)
        return self._then(Moment(str(move), after, _seconds(self.rules, move), self.now.crossings + crosses))

    def quit(self) -> "Trial":
        """The walk after quitting and starting again; at an ending, with what the exit into it has done."""
        state, move = self.last_state, parse_move(self.now.move)
        if self.state is None and move:
            state = self.rules.on_leaving(self.rules.exit(move), state)
        begun = self.rules.quit(state)
        return self._then(Moment(QUIT, begun, 0.0, self.now.crossings + 1)) if begun else self

    def _then(self, moment: Moment) -> "Trial":
        ahead = self.tape[self.at + 1 :]
        if ahead and ahead[0].move == moment.move:
            return replace(self, at=self.at + 1)
        branches = (*self.branches, self.tape) if ahead else self.branches
        return replace(self, tape=(*self.tape[: self.at + 1], moment), at=self.at + 1, branches=branches)

    def follow(self, moves: Sequence[str]) -> "Trial":
        """The walk after several moves, quitting among them, as far as they are possible."""
        walk = self
        for text in moves:
            if text == QUIT:
                walk = walk.quit()
                continue
            move = parse_move(text)
            if move is None or walk.state is None or not any(m == move for m, _ in walk.rules.moves(walk.state)):
                return walk
            walk = walk.take(move)
        return walk

    def go_to(self, at: int) -> "Trial":
        """The walk with another of its moments shown."""
        return replace(self, at=min(max(at, 0), len(self.tape) - 1))

    def back(self) -> "Trial":
        """The walk one moment earlier."""
        return self.go_to(self.at - 1)

    def turn_to(self, branch: int) -> "Trial":
        """The walk on a branch that was left, at its end; the one left now takes its place."""
        others = list(self.branches)
        tape, others[branch] = others[branch], self.tape
        return replace(self, tape=tape, at=len(tape) - 1, branches=tuple(others))

    # -- what is told -----------------------------------------------------------------------------------

    def choices(self) -> list[MoveChoice]:
        """What can be done now, in the order of the rules."""
        state = self.state
        if state is None:
            return []
        forced = self.rules.sprung(state) is not None
        return [
            MoveChoice(move, named_move(self.rules, move), _detail(self.rules, move, state, after), forced)
            for move, after in self.rules.moves(state)
        ]

    def refusals(self) -> list[Refusal]:
        """What is here and cannot be done now, with the reason."""
        state = self.state
        return list(_refusals(self.rules, state)) if state else []

    def changed(self) -> dict[str, str]:
        """For each fact that the last move changed, what it was before, in words."""
        if not self.at or self.state is None:
            return {}
        before = self.tape[self.at - 1].state
        if not isinstance(before, State):
            return {}
        pairs = zip(self.rules.flow.facts, before.facts, self.state.facts, strict=True)
        return {fact.id: told_value(old) for fact, old, new in pairs if old != new}

    @property
    def taken_back(self) -> "TakenBack | None":
        """What the last move took back; None if it was no restart, or nothing rewinds."""
        before = self.tape[self.at - 1].state if self.at else None
        move = parse_move(self.now.move)
        if move is None or not isinstance(before, State) or self.state is None:
            return None
        return what_is_taken_back(self.rules, move, before, self.state)

    def differs(self, branch: int) -> list[str]:
        """In what the end of a branch differs from now, in words."""
        other, state = self.branches[branch][-1].state, self.state
        if not isinstance(other, State) or state is None:
            return ["it has reached an ending" if isinstance(other, Ended) else "it has not"]
        pairs = zip(self.rules.flow.facts, other.facts, state.facts, strict=True)
        told = [f"{f.name or f.id}: {told_value(a)} there, {told_value(b)} here" for f, a, b in pairs if a != b]
        levels = self.rules.levels
        if other.place != state.place:
            told.insert(0, f"in {levels[other.place].source.title} there")
        only = [levels[name].source.title for name in sorted(other.seen - state.seen)]
        return told + ([f"seen only there: {', '.join(only)}"] if only else [])


def what_is_taken_back(rules: Rules, move: Move, before: State, after: State) -> TakenBack | None:
    """What a move takes back; None if it is no restart, or nothing that rewinds was otherwise."""
    exit_ = rules.exit(move) if move.kind == "exit" else None
    if exit_ is None or rules.rewinds_to(exit_, rules.target(exit_, before), before) is None:
        return None
    values = zip(rules.flow.facts, before.facts, after.facts, strict=True)
    facts = tuple(fact.id for fact, old, new in values if fact.rewinds and old != new)
    again = sorted((before.spent - after.spent) & rules.rewinding.redone)
    here = f"{rules.levels[after.place].source.title}: "
    deeds = tuple(title_of(rules.flow, f"{level}.{name}").removeprefix(here) for level, name in again)
    return TakenBack(facts, deeds) if facts or deeds else None


def begun(rules: Rules) -> Trial | None:
    """A walk at the start, or None where the flow has none. ``rules`` should be ``resuming``."""
    start = rules.begin()
    return Trial(rules, (Moment("", start),)) if start else None


def _seconds(rules: Rules, move: Move) -> float:
    """How long a move takes: leaving a level by an exit takes the minutes it is played for, and the transition."""
    if move.kind != "exit":
        return 0.0
    exit_ = rules.exit(move).source
    transition = next((one for one in rules.flow.transitions if one.id == exit_.transition), None)
    return 60 * rules.levels[move.level].source.minutes + (transition.seconds if transition else 0.0)


def _detail(rules: Rules, move: Move, state: State, after: State | Ended) -> str:
    told = what_it_did(rules, state, after).strip(" →")
    if isinstance(after, Ended):
        return told
    if move.kind == "exit":
        target = rules.target(rules.exit(move), state)
        spawn = rules.levels[after.place].source.spawn(after.respawn) if after.respawn else None
        at = f", at {spawn.name or spawn.id}" if spawn else ""
        if isinstance(target, Landing) and target.restart and after.place == state.place:
            told = f"once more{at} {told}".strip()
        elif after.place != state.place:
            told = f"to {told}{at}"
    taken_back = what_is_taken_back(rules, move, state, after)
    if taken_back and taken_back.there_again:
        told = "; ".join(filter(None, (told, taken_back.told_again)))
    if move.kind == "deed":
        told = "; ".join(filter(None, (told, *_of_deed(rules, move))))
    return told or "nothing changes"


def _of_deed(rules: Rules, move: Move) -> Iterator[str]:
    """What else a deed does, and whether it can be done again."""
    deed = rules.levels[move.level].source.deed(move.thing)
    if deed is None:
        return
    if deed.checkpoint:
        spawn = rules.levels[move.level].source.spawn(deed.checkpoint)
        yield f"whoever fails appears at {spawn.name or spawn.id}" if spawn else ""
    if deed.saves and rules.flow.saving == "deed":
        yield "saves the game"
    if deed.repeats != "always":
        yield f"once a {deed.repeats}"


def _refusals(rules: Rules, state: State) -> Iterator[Refusal]:
    level, reasons = rules.levels[state.place].source, Reasons(rules)
    possible = {move for move, _ in rules.moves(state)}
    moves = [Move("exit", level.id, exit_.id) for exit_ in level.exits]
    moves += [Move("deed", level.id, deed.id) for deed in level.deeds]
    moves += [Move("tile", level.id, tile.id) for tile in level.tiles]
    for move in moves:
        if move not in possible:
            at = f"{level.id}.{move.thing}"
            yield Refusal(at, title_of(rules.flow, at), reasons.why_not(move, state))

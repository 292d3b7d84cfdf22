"""Playing recorded moves one after the other."""

from collections.abc import Iterable, Iterator, Sequence

from msgspec import Struct

from mossy_bridge.model.flow import Walk
from mossy_bridge.play.refusal_reasons import Reasons
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, State, parse_move


class Taken(Struct, frozen=True):
    """A move of a walk: what it led to, or why it was impossible (then ``after`` is None)."""

    move: str
    after: State | Ended | None
    problem: str = ""


class Replay(Struct, frozen=True):
    """What became of a recorded walk."""

    holds: bool
    stopped_at: int | None
    """The index, from 0, of the first impossible move; None where all were possible."""
    problem: str
    """Why that move was impossible, or in which way the walk ended otherwise than expected."""
    final: State | Ended | None
    """Where it reached; None where the flow has no start."""


def play(rules: Rules, moves: Iterable[str]) -> Iterator[Taken]:
    """Plays the moves from the start, up to and including the first impossible one.

    Nothing is possible after an ending, nor after the flow has looped by itself.
    """
    state: State | Ended | None = rules.begin()
    forced: set[State] = set()
    for text in moves:
        if state is None:
            yield Taken(text, None, "the flow has no start")
            return
        if isinstance(state, Ended):
            yield Taken(text, None, "the flow has ended")
            return
        here = state._replace(saved=None)
        if here in forced:
            yield Taken(text, None, "the flow loops by itself here")
            return
        after = _outcome(rules, text, state)
        if after is None:
            yield Taken(text, None, _problem(rules, text, state))
            return
        forced = forced | {here} if rules.sprung(state) else set()
        state = after
        yield Taken(text, state)


def _outcome(rules: Rules, text: str, state: State) -> State | Ended | None:
    wanted = parse_move(text)
    return next((after for move, after in rules.moves(state) if move == wanted), None)


def _problem(rules: Rules, text: str, state: State) -> str:
    move = parse_move(text)
    if move is None:
        return "is not written as a move (exit L.E, deed L.D, path L.FROM.TO or tile L.T)"
    return Reasons(rules).why_not(move, state)


def final_state(rules: Rules, moves: Sequence[str]) -> State | Ended | None:
    """Where the moves lead, or None if they are not all possible."""
    state: State | Ended | None = rules.begin()
    for taken in play(rules, moves):
        state = taken.after
    return state


def replay(rules: Rules, walk: Walk) -> Replay:
    """Plays a recorded walk and compares with what it expects. ``rules`` must be ``resuming``."""
    state: State | Ended | None = rules.begin()
    for index, taken in enumerate(play(rules, walk.moves)):
        if taken.after is None:
            return Replay(walk.expect == "fails", index, f"“{taken.move}”: {taken.problem}", state)
        state = taken.after
    problem = _unexpected(walk.expect, state)
    return Replay(not problem, None, problem, state)


def _unexpected(expect: str, state: State | Ended | None) -> str:
    if state is None:
        return "the flow has no start"
    kind, _, name = expect.partition(":")
    if kind == "fails":
        return "every move is possible, though one should fail"
    if kind == "ends" and state != Ended(name):
        return f"it does not end in {name}"
    if kind == "at" and not (isinstance(state, State) and state.place == name):
        return f"it does not end up in {name}"
    return ""

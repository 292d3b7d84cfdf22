"""The walk that a session shows: as few moves as will do, from the start through all that was logged.

Moves that a log need not tell stand in its gaps. They are found by uniform-cost search (Dijkstra 1959), from event to
event.
"""

from collections.abc import Iterator
from heapq import heappop, heappush
from itertools import count

from msgspec import Struct

from mossy_bridge.play.trial import QUIT
from mossy_bridge.play_logs.events import Event, PlaySession
from mossy_bridge.play_logs.possible_states import MOST_STATES, Logged, Possibility, PossibleStates, Steps, TooMany

LONGEST = 20_000
"""Sessions of more events are not walked again."""


class Reached(Struct, frozen=True):
    """How a possibility was reached: with how many moves in all, and by which from the one that it follows upon."""

    moves: int
    before: "Reached | None" = None
    steps: Steps = ()


Layer = dict[Possibility, Reached]
"""How things can stand between two events."""


def walk_of(states: PossibleStates, session: PlaySession) -> tuple[str, ...] | None:
    """The moves of a session of which all events are kept, ``quit`` among them; None where no walk from the start of a
    game of which nothing was kept explains it, or it is too long."""
    events = [event for event in session.events if event.kind not in ("at", "end", "fact")]
    if len(events) > LONGEST:
        return None
    layer: Layer = {one: Reached(0) for one in states.fresh(session.logged)}
    try:
        for event in events:
            layer = _after(states, event, layer, session.logged)
    except TooMany:
        return None
    last = min(layer.values(), key=lambda reached: reached.moves, default=None)
    return tuple(_told(last)) if last else None


def _after(states: PossibleStates, event: Event, before: Layer, logged: Logged) -> Layer:
    """How things can stand after an event, each reached with the fewest moves."""
    found: Layer = {}
    number, done = count(), set[Possibility]()
    waiting = [(reached.moves, next(number), one, reached) for one, reached in before.items()]
    waiting.sort(key=lambda entry: entry[:2])
    while waiting:
        moves, _, one_way, reached = heappop(waiting)
        if one_way in done:
            continue
        done.add(one_way)
        if len(done) > MOST_STATES:
            raise TooMany
        for steps, then in _steps(states, event, one_way, logged):
            if then not in found or found[then].moves > moves + len(steps):
                found[then] = Reached(moves + len(steps), reached, steps)
        for move, then in states.silent_moves(one_way, logged):
            if then not in done:
                heappush(waiting, (moves + 1, next(number), then, Reached(moves + 1, reached, (move,))))
    return found


def _steps(
    states: PossibleStates, event: Event, one_way: Possibility, logged: Logged
) -> Iterator[tuple[Steps, Possibility]]:
    """What an event may be directly after this."""
    if event.kind != "resume":
        yield from states.step(event, one_way, logged)
    elif one_way.owed == "arrive":
        yield (), one_way
    else:
        yield from (((move,), then) for move, then in states.resuming(one_way, logged))


def _told(last: Reached | None) -> Iterator[str]:
    """The moves from the beginning."""
    parts: list[Steps] = []
    while last is not None:
        parts.append(last.steps)
        last = last.before
    for steps in reversed(parts):
        yield from (QUIT if move is None else str(move) for move in steps)

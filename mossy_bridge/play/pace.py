"""How long a walk takes and how hard it is, level by level."""

from collections.abc import Iterable

from msgspec import Struct

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State


class Stay(Struct, frozen=True):
    """A stay in a level: when it begins, how long it is, in minutes; its difficulty; and the seconds that the
    transition out of it takes, 0 where the walk does not leave it."""

    level: str
    begins: float
    minutes: float
    difficulty: int
    transition: float


class Pace(Struct, frozen=True):
    """The stays of one walk, and the ending it reaches, if it does."""

    stays: tuple[Stay, ...]
    ending: str = ""

    @property
    def minutes(self) -> float:
        """The whole time, transitions included."""
        return sum(stay.minutes + stay.transition / 60 for stay in self.stays)

    @property
    def share_between(self) -> float:
        """The share of the time that goes by in transitions, from 0 to 1."""
        between = sum(stay.transition for stay in self.stays) / 60
        return between / self.minutes if self.minutes else 0.0


def pace_of(rules: Rules, route: Iterable[Move]) -> Pace:
    """The pace of a walk from the start, as far as its moves are possible. A level is played for its minutes at each
    stay; screens and boards take what they say."""
    state: State | Ended | None = rules.begin()
    if not isinstance(state, State):
        return Pace(())
    seconds = {one.id: one.seconds for one in rules.flow.transitions}
    stays: list[Stay] = []
    begins = 0.0
    for move in route:
        after = next((a for m, a in rules.moves(state) if m == move), None)
        if after is None:
            break
        if move.kind in ("exit", "tile"):
            transition = seconds.get(rules.exit(move).source.transition, 0.0) if move.kind == "exit" else 0.0
            stays.append(_stay(rules, state, begins, transition))
            begins += stays[-1].minutes + transition / 60
        if isinstance(after, Ended):
            return Pace(tuple(stays), after.ending)
        state = after
    return Pace((*stays, _stay(rules, state, begins, 0.0)))


def _stay(rules: Rules, state: State, begins: float, transition: float) -> Stay:
    level = rules.levels[state.place].source
    return Stay(level.id, begins, float(level.minutes), level.difficulty, transition)

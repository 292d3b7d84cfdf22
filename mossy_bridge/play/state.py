"""What is true at one moment of play."""

from typing import Literal, NamedTuple, cast

from mossy_bridge.language.evaluation import Facts

DeedPlace = tuple[str, str]
"""A deed of the whole flow: its level and its id."""
Thing = str | DeedPlace
"""What can be missed: a level's id, or a deed."""


class RewindPoint(NamedTuple):
    """What a restart goes back to: the values of the facts that rewind, in the order of the facts, and which of the
    redone deeds were spent, when the respawn point was last set."""

    facts: Facts
    spent: frozenset[DeedPlace]


NOTHING_REWINDS = RewindPoint((), frozenset())
"""The only rewind point of a flow in which no fact rewinds."""


class Origin(NamedTuple):
    """The play level most recently left, and the respawn and rewind point it had then."""

    level: str
    respawn: str
    rewind_point: RewindPoint = NOTHING_REWINDS


class Saved(NamedTuple):
    """A saved game. ``facts`` holds every fact; those of lifetime profile are not taken back from it."""

    level: str
    respawn: str
    facts: Facts
    seen: frozenset[str]
    done: frozenset[str]
    spent: frozenset[DeedPlace]
    origin: Origin | None


class State(NamedTuple):
    """Everything the rules of play look at."""

    place: str
    zone: str
    facts: Facts
    seen: frozenset[str]
    done: frozenset[str]
    spent: frozenset[DeedPlace]
    respawn: str
    origin: Origin | None
    arrived: bool
    saved: Saved | None = None
    rewind_point: RewindPoint = NOTHING_REWINDS


class Ended(NamedTuple):
    """The flow has reach an ending."""

    ending: str


MoveKind = Literal["exit", "deed", "path", "tile"]


class Move(NamedTuple):
    """One move: ``exit L.E``, ``deed L.D``, ``path L.FROM.TO`` or ``tile L.T``."""

    kind: MoveKind
    level: str
    thing: str
    end: str = ""
    """For a path, the zone walked to; ``thing`` is the one walked from."""

    def __str__(self) -> str:
        ends = f".{self.end}" if self.kind == "path" else ""
        return f"{self.kind} {self.level}.{self.thing}{ends}"


def parse_move(text: str) -> Move | None:
    """The move that the text writes, or None if it writes none."""
    kind, _, where = text.strip().partition(" ")
    names = where.strip().split(".")
    if kind == "path" and len(names) == 3:
        return Move("path", *names)
    if kind in ("exit", "deed", "tile") and len(names) == 2:
        return Move(cast(MoveKind, kind), *names)
    return None

"""Which levels an edit has changed, told by identity: whatever an edit does not touch is shared by both flows."""

from collections.abc import Iterable, Sequence
from functools import lru_cache
from operator import is_not
from typing import Any

from msgspec import Struct

from mossy_bridge.model.flow import Flow, Level

MANY = 256
"""How long sequences are for which what has been found is kept."""


class LevelChanges(Struct, frozen=True):
    """How the levels of one flow differ from those of another."""

    gone: tuple[Level, ...]
    new: tuple[Level, ...]
    changed: tuple[tuple[Level, Level], ...]
    """Levels of one id, as they were and as they are."""
    same_order: bool
    """Whether both flows have levels of the same ids in the same order."""


def level_changes(old: Flow, new: Flow) -> LevelChanges:
    """How the levels of a flow differ from those it had before."""
    was, now = differing_parts(old.levels, new.levels)
    before, after = ({level.id: level for level in levels} for levels in (old.levels[was], new.levels[now]))
    return LevelChanges(
        gone=tuple(level for name, level in before.items() if name not in after),
        new=tuple(level for name, level in after.items() if name not in before),
        changed=tuple((level, after[name]) for name, level in before.items() if after.get(name, level) is not level),
        same_order=list(before) == list(after),
    )


def differing_parts(one: Sequence[Any], other: Sequence[Any]) -> tuple[slice, slice]:
    """What is left of two sequences without the very same things at the beginning and at the end of both."""
    if min(len(one), len(other)) < MANY:
        return _differing(one, other)
    return _kept(_Same(one), _Same(other))


class _Same:
    """A sequence that equals itself only."""

    def __init__(self, sequence: Sequence[Any]):
        self.sequence = sequence

    def __hash__(self) -> int:
        return id(self.sequence)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and other.sequence is self.sequence


@lru_cache(maxsize=4)
def _kept(one: _Same, other: _Same) -> tuple[slice, slice]:
    """Kept for a moment: after an edit everybody asks for the same."""
    return _differing(one.sequence, other.sequence)


def _differing(one: Sequence[Any], other: Sequence[Any]) -> tuple[slice, slice]:
    start = _alike(one, other)
    end = min(_alike(reversed(one), reversed(other)), len(one) - start, len(other) - start)
    return slice(start, len(one) - end), slice(start, len(other) - end)


def _alike(one: Iterable[Any], other: Iterable[Any]) -> int:
    """How many things both begin with."""
    differ = bytes(map(is_not, one, other))  # found in machine code: there may be thousands
    at = differ.find(1)
    return at if at >= 0 else len(differ)

"""The sequence of levels: which is next, which is previous."""

from collections.abc import Iterator

from mossy_bridge.model.flow import Flow, Level

STEPS = {"next": 1, "previous": -1}
"""Which way along the sequence the destinations lead that follow it."""


def in_sequence(level: Level) -> bool:
    """Whether *next* and *previous* stop at the level."""
    return level.kind == "play" and level.ships


def neighbour(flow: Flow, level_id: str, step: int) -> Level | None:
    """The nearest later (step 1) or earlier (step -1) play level that ships, or None."""
    index = flow.place_of(level_id)
    if index is None:
        return None
    behind = range(index + 1, len(flow.levels)) if step > 0 else range(index - 1, -1, -1)
    return next((flow.levels[at] for at in behind if in_sequence(flow.levels[at])), None)


def neighbours(flow: Flow, step: int) -> dict[str, Level | None]:
    """:func:`neighbour` of every level, by id."""
    found: dict[str, Level | None] = {}
    nearest: Level | None = None
    for level in reversed(flow.levels) if step > 0 else flow.levels:
        found[level.id] = nearest
        if in_sequence(level):
            nearest = level
    return found


def having_as_neighbour(flow: Flow, level_id: str) -> Iterator[Level]:
    """The levels that have a level as their next or previous one, or would if play stopped there."""
    place = flow.place_of(level_id)
    for step in (-1, 1) if place is not None else ():
        at = (place or 0) + step
        while 0 <= at < len(flow.levels):
            yield flow.levels[at]
            if in_sequence(flow.levels[at]):
                break
            at += step


def first_play_level(flow: Flow) -> Level | None:
    """The level the sequence begins with, or None."""
    return next((level for level in flow.levels if in_sequence(level)), None)

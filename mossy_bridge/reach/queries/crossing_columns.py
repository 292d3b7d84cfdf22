"""Columns of levels by crossings from the start, and the levels that exits really lead to: what the map is drawn
from."""

from collections.abc import Mapping

from msgspec import Struct

from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.survey.result import Survey


class CrossingColumns(Struct, frozen=True):
    """The levels of each column, from the start on, in the designer's order; and those of the shelf."""

    columns: tuple[tuple[str, ...], ...]
    shelf: tuple[str, ...]


def crossing_columns(flow: Flow, crossings: Mapping[str, int]) -> CrossingColumns:
    """Levels by their least number of crossings; levels without one go to the shelf."""
    widest = max(crossings.values(), default=-1) + 1
    rows: list[list[str]] = [[] for _ in range(widest)]
    shelf = []
    for level in flow.levels:
        if level.id in crossings:
            rows[crossings[level.id]].append(level.id)
        else:
            shelf.append(level.id)
    return CrossingColumns(tuple(tuple(row) for row in rows if row), tuple(shelf))


def levels_led_to(survey: Survey) -> dict[tuple[str, str], frozenset[str]]:
    """For each exit that ever fires, the levels it leads to in some reachable state."""
    found: dict[tuple[str, str], set[str]] = {}
    locations, transitions = survey.program.locations, survey.program.transitions
    for number in survey.used_transitions:
        transition = transitions[number]
        if transition.move.kind == "exit" and transition.crosses:
            key = transition.move.level, transition.move.thing
            found.setdefault(key, set()).add(locations[transition.target].place)
    return {exit_: frozenset(levels) for exit_, levels in found.items()}

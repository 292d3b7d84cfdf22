"""Columns of levels by crossings from the start, and the levels that exits really lead to: what the map is drawn
from."""

from collections.abc import Iterator, Mapping

from msgspec import Struct

from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.queries.column_order import Pass, ordered
from mossy_bridge.reach.survey.result import Survey

FEW = 4
"""An exit that leads to more levels than this, as the game stands, says little about their places."""
Leads = Mapping[tuple[str, str], frozenset[str]]
"""To which levels each exit really leads."""


class CrossingColumns(Struct, frozen=True):
    """The levels of each column, from the start on, and those of the shelf, ordered so that crossings cross one
    another seldom."""

    columns: tuple[tuple[str, ...], ...]
    shelf: tuple[str, ...]
    passes: dict[tuple[str, str], tuple[Pass, ...]] = {}
    """Where a crossing between two levels, from left to right, passes the columns between them."""
    turns_left: frozenset[tuple[str, str]] = frozenset()
    """The crossings between two levels of one column, in either direction, that had best run left of it."""


def crossing_columns(flow: Flow, crossings: Mapping[str, int], leads: Leads) -> CrossingColumns:
    """Levels by their least number of crossings; levels without one go to the shelf."""
    widest = max(crossings.values(), default=-1) + 1
    rows: list[list[str]] = [[] for _ in range(widest)]
    shelf = []
    for level in flow.levels:
        if level.id in crossings:
            rows[crossings[level.id]].append(level.id)
        else:
            shelf.append(level.id)
    columns = [row for row in (shelf, *rows) if row]  # the shelf is the first from the left
    order = ordered(columns, _lines(flow, leads))
    first = 1 if shelf else 0
    return CrossingColumns(order.columns[first:], order.columns[0] if shelf else (), order.passes, order.turns_left)


def _lines(flow: Flow, leads: Leads) -> Iterator[tuple[str, str]]:
    """The pairs of levels between which a crossing is drawn at all times."""
    for level in flow.levels:
        for exit_ in level.exits:
            to = exit_.to
            if to and to.kind == "level" and exit_.trigger.kind != "fail":
                yield level.id, to.level
            elif to and to.kind != "level":
                targets = leads.get((level.id, exit_.id), frozenset())
                yield from ((level.id, target) for target in targets if len(targets) <= FEW)


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

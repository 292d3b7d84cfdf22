"""Where levels stand on the map: columns by crossings from the start, and the shelf of the stranded."""

from collections.abc import Mapping

from msgspec import Struct

from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.verdicts import Survey


class Columns(Struct, frozen=True):
    """The levels of each column, from the start on, in the designer's order; and those of the shelf."""

    columns: tuple[tuple[str, ...], ...]
    shelf: tuple[str, ...]


def columns(flow: Flow, crossings: Mapping[str, int]) -> Columns:
    """Levels by their least number of crossings; levels without one go to the shelf."""
    widest = max(crossings.values(), default=-1) + 1
    rows: list[list[str]] = [[] for _ in range(widest)]
    shelf = []
    for level in flow.levels:
        if level.id in crossings:
            rows[crossings[level.id]].append(level.id)
        else:
            shelf.append(level.id)
    return Columns(tuple(tuple(row) for row in rows if row), tuple(shelf))


def really_leads_to(survey: Survey) -> dict[tuple[str, str], frozenset[str]]:
    """For each exit that ever fires, the levels it leads to in some reachable state."""
    found: dict[tuple[str, str], set[str]] = {}
    controls, rows = survey.machine.controls, survey.machine.rows
    used = survey.graph.first_by_row if survey.settled or not survey.proofs else survey.proofs.used
    for number in used:
        row = rows[number]
        if row.move.kind == "exit" and row.crosses:
            found.setdefault((row.move.level, row.move.thing), set()).add(controls[row.target].place)
    return {place: frozenset(levels) for place, levels in found.items()}

"""Crossings from a table put into a flow: levels that it has get more exits, others are made."""

from collections.abc import Iterable
from typing import Any

from msgspec.structs import replace

from mossy_bridge.exchange.tables.cells import Table, table_of
from mossy_bridge.exchange.tables.exporting import EXITS
from mossy_bridge.exchange.tables.importing import Imported, imported
from mossy_bridge.model.edits.levels import add_thing, insert_level
from mossy_bridge.model.flow import Flow, Level

NEEDED = frozenset(["from", "to"])
NAME = "the clipboard"


def crossings_in(text: str) -> Table | None:
    """The table of crossings that copied cells are; None where they are none. Raises
    :class:`~mossy_bridge.exchange.tables.cells.CannotImport`."""
    first = text.lstrip("\ufeff\r\n").partition("\n")[0].lower()
    headings = {cell.strip().strip('"') for separator in "\t;," for cell in first.split(separator)}
    return table_of(NAME, text) if headings >= NEEDED and headings & set(EXITS) else None


def with_crossings(flow: Flow, table: Table) -> Imported:
    """The flow with the crossings of a table, and what had to be added. Raises
    :class:`~mossy_bridge.exchange.tables.cells.CannotImport`."""
    found = imported("", {"exits": table}, flow.levels)
    new, before = found.flow, {fact.id for fact in flow.facts}
    for group in ("endings", "facts", "transitions"):
        flow = replace(flow, **{group: _joined(getattr(flow, group), getattr(new, group))})
    for level in new.levels:
        flow = _with_things(flow, level) if flow.level(level.id) else insert_level(flow, level)
    known = tuple(f"the fact {name} " for name in before)
    return Imported(flow, tuple(one for one in found.told if not one.startswith(known)))


def _joined(old: tuple[Any, ...], new: Iterable[Any]) -> tuple[Any, ...]:
    known = {one.id for one in old}
    return (*old, *(one for one in new if one.id not in known))


def _with_things(flow: Flow, level: Level) -> Flow:
    """A level of the flow with the exits and spawn points of another."""
    known = flow.level(level.id)
    here = {point.id for point in known.spawns} if known else set()
    for spawn in level.spawns:
        if spawn.id not in here:
            flow, _ = add_thing(flow, level.id, "spawns", spawn)
    for exit_ in level.exits:
        flow, _ = add_thing(flow, level.id, "exits", exit_)
    return flow

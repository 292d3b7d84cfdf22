"""Whether a table can be played at all: that every place in it is one of its list."""

from collections.abc import Iterator
from typing import Any

from mossy_bridge.standin.engine import NONE, Table

TOP = ("title", "progress", "saving", "walker", "units", "start", "facts", "endings", "transitions", "levels")
LEVEL = ("id", "kind", "next", "previous", "opens", "on_arrival", "zones", "paths", "spawns", "deeds", "exits", "tiles",
         "first_tile", "cursor")  # fmt: skip
ATOMS = {"has": 1, "lacks": 1, "seen": 1, "done": 1, "is": 2, "is not": 2, "at least": 2, "at most": 2, "exactly": 2}
DEEPEST = 100
"""Conditions and destinations nested deeper than this are refused."""


def faults(table: Table) -> list[str]:
    """What is wrong with a table, in sentences; none where it can be played."""
    missing = [key for key in TOP if key not in table]
    if missing:
        return [f"lacks {', '.join(missing)}"]
    try:
        return list(_Soundness(table).found())
    except (KeyError, TypeError, IndexError, AttributeError, RecursionError) as error:
        return [f"is not built as the schema says ({type(error).__name__}: {error})"]


class _Soundness:
    def __init__(self, table: Table):
        self._table, self._levels = table, table["levels"]

    def found(self) -> Iterator[str]:
        start = self._table["start"]
        yield from self._landing("start", start)
        for number, level in enumerate(self._levels):
            at = f"levels[{number}]"
            lacking = [key for key in LEVEL if key not in level]
            if lacking:
                yield f"{at} lacks {', '.join(lacking)}"
                continue
            yield from self._level(at, level)

    def _level(self, at: str, level: Table) -> Iterator[str]:
        zones, spawns, tiles = len(level["zones"]), len(level["spawns"]), len(level["tiles"])
        yield from self._within(f"{at}.next", level["next"], len(self._levels))
        yield from self._within(f"{at}.previous", level["previous"], len(self._levels))
        yield from self._within(f"{at}.first_tile", level["first_tile"], tiles)
        yield from self._condition(f"{at}.opens", level["opens"])
        yield from self._effects(f"{at}.on_arrival", level["on_arrival"])
        for number, path in enumerate(level["paths"]):
            yield from self._within(f"{at}.paths[{number}].from", path["from"], zones, 0)
            yield from self._within(f"{at}.paths[{number}].to", path["to"], zones, 0)
            yield from self._condition(f"{at}.paths[{number}].when", path["when"])
        for number, spawn in enumerate(level["spawns"]):
            yield from self._within(f"{at}.spawns[{number}].zone", spawn["zone"], zones)
        for number, deed in enumerate(level["deeds"]):
            here = f"{at}.deeds[{number}]"
            yield from self._within(f"{here}.zone", deed["zone"], zones)
            yield from self._within(f"{here}.checkpoint", deed["checkpoint"], spawns)
            yield from self._condition(f"{here}.when", deed["when"])
            yield from self._effects(f"{here}.effects", deed["effects"])
        for number, exit_ in enumerate(level["exits"]):
            here = f"{at}.exits[{number}]"
            yield from self._within(f"{here}.zone", exit_["zone"], zones)
            yield from self._within(f"{here}.transition", exit_["transition"], len(self._table["transitions"]))
            yield from self._condition(f"{here}.when", exit_["when"])
            yield from self._condition(f"{here}.opens", exit_["opens"])
            yield from self._effects(f"{here}.effects", exit_["effects"])
            yield from self._destination(f"{here}.to", exit_["to"])
        for number, tile in enumerate(level["tiles"]):
            yield from self._landing(f"{at}.tiles[{number}]", tile)
            for way in ("left", "right", "up", "down"):
                yield from self._within(f"{at}.tiles[{number}].{way}", tile[way], tiles)

    def _within(self, at: str, place: Any, count: int, least: int = NONE) -> Iterator[str]:
        if not isinstance(place, int) or isinstance(place, bool) or not least <= place < count:
            yield f"{at} is {place}, which is no place in a list of {count}"

    def _landing(self, at: str, landing: Table) -> Iterator[str]:
        wrong = list(self._within(f"{at}.level", landing["level"], len(self._levels)))
        yield from wrong
        if not wrong:
            spawns = len(self._levels[landing["level"]]["spawns"]) if landing["level"] != NONE else 0
            yield from self._within(f"{at}.spawn", landing["spawn"], spawns)

    def _destination(self, at: str, to: Table, depth: int = 0) -> Iterator[str]:
        if depth > DEEPEST:
            yield f"{at} is nested too deeply"
        elif to["kind"] == "level":
            yield from self._within(f"{at}.level", to["level"], len(self._levels), 0)
            yield from self._landing(at, to)
        elif to["kind"] == "end":
            yield from self._within(f"{at}.ending", to["ending"], len(self._table["endings"]), 0)
        elif to["kind"] not in ("next", "previous", "back", "resume", "again"):
            yield f"{at}.kind is “{to['kind']}”, which is none"
        elif to["kind"] != "again" and to["otherwise"] is not None:
            yield from self._destination(f"{at}.otherwise", to["otherwise"], depth + 1)

    def _condition(self, at: str, condition: list[Any], depth: int = 0) -> Iterator[str]:
        word, rest = condition[0], condition[1:]
        if depth > DEEPEST:
            yield f"{at} is nested too deeply"
        elif word in ("not", "and", "or", "of"):
            for part in rest[2] if word == "of" else rest:
                yield from self._condition(at, part, depth + 1)
        elif word in ("seen", "done"):
            yield from self._within(at, rest[0], len(self._levels), 0)
        elif word in ATOMS:
            fact = rest[1] if word in ("at least", "at most", "exactly") else rest[0]
            yield from self._within(at, fact, len(self._table["facts"]), 0)
        elif word not in ("always", "never"):
            yield f"{at} begins with “{word}”, which is no condition"

    def _effects(self, at: str, effects: list[list[Any]]) -> Iterator[str]:
        verbs = ("gain", "lose", "clear", "turn", "add", "take", "set", "raise", "lower")
        for number, effect in enumerate(effects):
            if effect[0] not in verbs:
                yield f"{at}[{number}] begins with “{effect[0]}”, which is no effect"
                continue
            fact = effect[2] if effect[0] in verbs[4:] else effect[1]
            yield from self._within(f"{at}[{number}]", fact, len(self._table["facts"]), 0)

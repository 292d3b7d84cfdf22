"""Which levels name which others: by exits, tiles and conditions, and as what they were copied from."""

from collections.abc import Collection, Iterable, Sequence
from functools import lru_cache
from typing import NamedTuple

from mossy_bridge.language.asked import asked_by, conditions_of_level
from mossy_bridge.model.flow import Exit, Flow, Level, Tile
from mossy_bridge.model.level_changes import level_changes

_Leading = tuple[tuple[Exit | Tile, str], ...]
"""Exits and tiles of one level that name another, each with the spawn point that it names there."""


class Entrance(NamedTuple):
    """An exit or tile that names a level as where it leads, or may lead."""

    level: Level
    """Where it is."""
    thing: Exit | Tile
    spawn: str
    """The spawn point that it names, or ""."""


class LevelLinks:
    """The levels of one flow and what they name, whether it exists or not. Of ``before`` is used what still holds."""

    def __init__(self, flow: Flow, before: "LevelLinks | None" = None):
        self._flow = flow
        self._named: dict[str, dict[str, _Leading]] = dict(before._named) if before else {}
        """For each level what it names; itself, where its own exits lead back to it."""
        self._naming: dict[str, dict[str, _Leading]] = dict(before._naming) if before else {}
        """The same, for each name by the levels that name it."""
        self._ways_in: dict[str, Sequence[Entrance]] = {}
        """What has been asked for: several checks ask for the ways into every level."""
        self._own: set[str] = set()
        """Whose levels in ``_naming`` are not shared with the links before."""
        if before is None:
            self._note_all()
            return
        changes = level_changes(before._flow, flow)
        for level in changes.gone:
            self._note(level.id, {})
            del self._named[level.id]
        for level in (*changes.new, *(now for _, now in changes.changed)):
            self._note(level.id, _named_by(level))
        self._own.clear()  # from now on it is shared, or nothing is changed

    def _note_all(self) -> None:
        for level in self._flow.levels:
            named = self._named[level.id] = _named_by(level)
            for other, leading in named.items():
                self._naming.setdefault(other, {})[level.id] = leading

    def _note(self, name: str, named: dict[str, _Leading]) -> None:
        before, self._named[name] = self._named.get(name, {}), named
        for other in before:
            self._naming_of(other).pop(name, None)
        for other, leading in named.items():
            self._naming_of(other)[name] = leading

    def _naming_of(self, name: str) -> dict[str, _Leading]:
        if name not in self._own:
            self._own.add(name)
            self._naming[name] = dict(self._naming.get(name, {}))
        return self._naming[name]

    def naming(self, level: str) -> Iterable[str]:
        """The other levels that name a level."""
        return (name for name in self._naming.get(level, ()) if name != level)

    def around(self, level: str) -> list[Level]:
        """The levels that name a level, and itself, in their order."""
        return self._in_order({level, *self._naming.get(level, ())})

    def ways_in(self, level: str) -> Sequence[Entrance]:
        """The exits and tiles that name a level as where they lead, its own among them, in their order."""
        if level not in self._ways_in:
            naming = self._naming.get(level, {})
            leading = [(one, naming[one.id]) for one in self._in_order(naming)]
            self._ways_in[level] = [Entrance(one, thing, spawn) for one, things in leading for thing, spawn in things]
        return self._ways_in[level]

    def _in_order(self, names: Iterable[str]) -> list[Level]:
        places = map(self._flow.place_of, names)
        return [self._flow.levels[place] for place in sorted([place for place in places if place is not None])]

    def beside(self, levels: Collection[str]) -> set[str]:
        """All that some levels name, and all that name them."""
        found: set[str] = set()
        for name in levels:
            found.update(self._named.get(name, ()), self._naming.get(name, ()))
        return found


def _named_by(level: Level) -> dict[str, _Leading]:
    found: dict[str, _Leading] = {}
    for exit_ in level.exits:
        for to in exit_.destinations:
            if to.kind == "level" and to.level:
                found[to.level] = (*found.get(to.level, ()), (exit_, to.spawn))
    for tile in level.tiles:
        if tile.level:
            found[tile.level] = (*found.get(tile.level, ()), (tile, tile.spawn))
    for text in set(conditions_of_level(level)):
        for name in _asked_by(text):
            found.setdefault(name, ())
    if level.copied_from:
        found.setdefault(level.copied_from, ())
    return found


@lru_cache(maxsize=10_000)
def _asked_by(condition: str) -> frozenset[str]:
    """The levels that a condition names, if any."""
    asked = asked_by([condition])
    return asked.seen | asked.done

"""Which levels name which others: by exits, tiles and conditions, and as what they were copied from."""

from collections.abc import Collection, Iterable

from mossy_bridge.language.asked import asked_by, conditions_of_level
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.level_changes import level_changes


class LevelLinks:
    """The levels of one flow and what they name, whether it exists or not. Of ``before`` is used what still holds."""

    def __init__(self, flow: Flow, before: "LevelLinks | None" = None):
        self._flow = flow
        self._named: dict[str, tuple[str, ...]] = dict(before._named) if before else {}
        self._naming: dict[str, set[str]] = dict(before._naming) if before else {}
        self._own: set[str] = set()
        """Whose set in ``_naming`` is not shared with the links before."""
        changes = level_changes(before._flow if before else Flow(), flow)
        for level in changes.gone:
            self._note(level.id, ())
            del self._named[level.id]
        for level in (*changes.new, *(now for _, now in changes.changed)):
            self._note(level.id, _named_by(level))
        self._own.clear()  # from now on it is shared, or nothing is changed

    def _note(self, name: str, named: tuple[str, ...]) -> None:
        before, self._named[name] = self._named.get(name, ()), named
        for other in before:
            self._naming_of(other).discard(name)
        for other in named:
            self._naming_of(other).add(name)

    def _naming_of(self, name: str) -> set[str]:
        if name not in self._own:
            self._own.add(name)
            self._naming[name] = set(self._naming.get(name, ()))
        return self._naming[name]

    def naming(self, level: str) -> Iterable[str]:
        """The other levels that name a level."""
        return self._naming.get(level, ())

    def around(self, level: str) -> list[Level]:
        """The levels that name a level, and itself, in their order."""
        places = (self._flow.place_of(name) for name in (level, *self.naming(level)))
        return [self._flow.levels[place] for place in sorted(place for place in places if place is not None)]

    def beside(self, levels: Collection[str]) -> set[str]:
        """All that some levels name, and all that name them."""
        found: set[str] = set()
        for name in levels:
            found.update(self._named.get(name, ()), self._naming.get(name, ()))
        return found


def _named_by(level: Level) -> tuple[str, ...]:
    named = {to.level for exit_ in level.exits for to in exit_.destinations if to.kind == "level"}
    named.update(tile.level for tile in level.tiles)
    asked = asked_by(conditions_of_level(level))
    return tuple({*named, *asked.seen, *asked.done, level.copied_from} - {"", level.id})

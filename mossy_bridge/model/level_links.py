"""Which levels name which others, kept from flow to flow."""

from collections.abc import Callable, Collection, Iterable

from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.level_changes import level_changes


def led_to_by(level: Level) -> set[str]:
    """The levels that a level's exits and tiles name, whether or not they exist."""
    named = {tile.level for tile in level.tiles}
    for exit_ in level.exits:
        to = exit_.to
        while to is not None:  # of thousands of levels, ``destinations`` would take twice as long
            if to.kind == "level":
                named.add(to.level)
            to = to.otherwise
    return named


class LevelLinks:
    """The levels of one flow and what they name, whether it exists or not; ``named_by`` says that of a level. Of
    ``before`` is used what still holds."""

    def __init__(self, flow: Flow, named_by: Callable[[Level], Iterable[str]], before: "LevelLinks | None" = None):
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
            self._note(level.id, tuple(named_by(level)))
        self._own.clear()  # from now on it is shared, or nothing is changed

    def _note(self, name: str, named: tuple[str, ...]) -> None:
        before, self._named[name] = self._named.get(name, ()), named
        for other in before:
            self._naming_of(other).discard(name)
        for other in named:
            self._naming_of(other).add(name)

    def _naming_of(self, name: str) -> set[str]:
        if name in self._own:
            return self._naming[name]
        self._own.add(name)
        found = self._naming[name] = set(self._naming.get(name, ()))
        return found

    def naming(self, level: str) -> Iterable[str]:
        """The levels that name a level."""
        return self._naming.get(level, ())

    def beside(self, levels: Collection[str]) -> set[str]:
        """All that some levels name, and all that name them."""
        found: set[str] = set()
        for name in levels:
            found.update(self._named.get(name, ()), self._naming.get(name, ()))
        return found

"""What is worked out of levels one by one, kept from flow to flow, so that after an edit only the levels that it
touches are looked at."""

from collections.abc import Callable, Collection, Iterable, Mapping
from functools import cached_property
from typing import Any, Literal, TypeVar, cast

from mossy_bridge.checks.level_links import LevelLinks
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.level_changes import level_changes
from mossy_bridge.model.sequence import having_as_neighbour

T = TypeVar("T")
Scope = Literal["level", "beside"]
"""What a result depends on. ``level``: each level, and the flow's settings (walker, limits, units, actors; which
regions, transitions and patterns there are). ``beside``: also the levels that it names and that name it (destinations,
tiles, conditions, copies), its neighbours in the order, whether an earlier level comes before it, and all of the flow
that is not levels."""
Look = Callable[[tuple[Level, ...]], Iterable[tuple[str, T]]]
"""What there is to say of some levels, each with the id of the level."""
MANY = 500
"""Where more levels than this have changed, all are looked at."""
_OF_NO_CHECK = ("levels", "map", "walks", "waivers", "trial_settings")


class LevelResults:
    """What was worked out of the levels of one flow, with its patterns filled in. Of ``before`` is used what still
    holds. Levels are told apart by what they are, not by id: an edit makes new ones of those it changes, and of no
    others."""

    def __init__(self, flow: Flow | None = None, before: "LevelResults | None" = None):
        self.flow = flow or Flow()
        self._results: dict[str, dict[str, Any]] = {}
        """By name, then by level, what was worked out."""
        self._kept: dict[str, dict[str, Any]] = before._results if before else {}
        self._links_before = before.links if before else None
        self._settings = {"level": _settings(self.flow), "beside": _all_but_levels(self.flow)}
        self._touched: dict[str, Collection[str] | None] = {"level": None, "beside": None}
        """The levels to look at anew, of each scope; None for all."""
        if before:
            changes = level_changes(before.flow, self.flow)
            changed = {level.id for level in (*changes.new, *(now for _, now in changes.changed))}
            if before._settings["level"] == self._settings["level"]:
                self._touched["level"] = changed
                if before._settings["beside"] == self._settings["beside"]:
                    gone = {level.id for level in changes.gone}
                    self._touched["beside"] = self._beside(changed | gone, before, changes.same_order)

    @cached_property
    def links(self) -> LevelLinks:
        """Which levels name which; of a flow seen for the first time not before the checks for errors, which need not
        know."""
        before, self._links_before = self._links_before, None
        return LevelLinks(self.flow, before)

    def _beside(self, changed: set[str], before: "LevelResults", same_order: bool) -> set[str] | None:
        """The levels of which something beside them may have changed; None where too much has."""
        if not same_order:
            order, old = ([level.id for level in flow.levels] for flow in (self.flow, before.flow))
            if list(filter(before.flow.level, order)) != list(filter(self.flow.level, old)):
                return None
        if len(changed) > MANY:
            return None
        found = changed | before.links.beside(changed) | self.links.beside(changed)
        for flow in (before.flow, self.flow):
            for name in changed:
                found.update(level.id for level in having_as_neighbour(flow, name))
        return {name for name in found if self.flow.level(name)}

    def of(self, name: str, look: Look[T], scope: Scope = "level", again: bool = False) -> Mapping[str, list[T]]:
        """All that there is to say of levels, in their order. Only those are looked at that may have changed, and
        ``again`` those of which there was something to say, all screens and all boards."""
        if name not in self._results:
            kept, wanted = self._still_known(name, scope, again)
            found = cast(dict[str, list[T]], kept)
            for level, value in look(wanted):
                found.setdefault(level, []).append(value)
            self._note(name, found, wanted)
        return self._results[name]

    def each(self, name: str, value_of: Callable[[Level], T | None], scope: Scope = "level") -> list[tuple[Level, T]]:
        """The levels with what is worked out of each, where that is something."""
        if name not in self._results:
            found, wanted = self._still_known(name, scope)
            for level in wanted:
                value = value_of(level)
                if value is not None:
                    found[level.id] = value
            self._note(name, found, wanted)
        levels = self.flow.levels
        return [(levels[self.flow.place_of(one) or 0], value) for one, value in self._results[name].items()]

    def where(self, name: str, holds: Callable[[Level], bool], scope: Scope = "level") -> list[Level]:
        """The levels for which something holds, in their order."""
        return [level for level, _ in self.each(name, lambda level: holds(level) or None, scope)]

    def _still_known(self, name: str, scope: Scope, again: bool = False) -> tuple[dict[str, Any], tuple[Level, ...]]:
        """What still holds of what was worked out before, and the levels to look at."""
        kept, touched = self._kept.get(name), self._touched[scope]
        if kept is None or touched is None:
            return {}, self.flow.levels
        touched = {*touched, *kept, *self._not_play} if again else touched
        places = sorted(place for one in touched if (place := self.flow.place_of(one)) is not None)
        still = {one: told for one, told in kept.items() if one not in touched and self.flow.level(one)}
        return still, tuple(self.flow.levels[place] for place in places)

    def _note(self, name: str, found: dict[str, Any], looked_at: tuple[Level, ...]) -> None:
        """Keeps what was worked out, in the order of levels."""
        if len(looked_at) < len(self.flow.levels):
            found = {one: found[one] for one in sorted(found, key=lambda one: self.flow.place_of(one) or 0)}
        self._results[name] = found

    @cached_property
    def _not_play(self) -> tuple[str, ...]:
        return tuple(level.id for level in self.flow.levels if level.kind != "play")

    def settled(self) -> "LevelResults":
        """The same, without what they were made from."""
        self._kept = {}
        return self


def _settings(flow: Flow) -> tuple[Any, ...]:
    named = ({one.id for one in group} for group in (flow.regions, flow.transitions, flow.patterns))
    return (flow.walker, flow.limits, flow.units, flow.actors, *named)


def _all_but_levels(flow: Flow) -> tuple[Any, ...]:
    return tuple(getattr(flow, name) for name in flow.__struct_fields__ if name not in _OF_NO_CHECK)

"""What local checks have found, level by level, so that after an edit only the levels that it changed are looked at."""

from collections.abc import Callable, Iterable

from mossy_bridge.checks.finding import Finding
from mossy_bridge.model.flow import Flow, Level

Look = Callable[[tuple[Level, ...]], Iterable[Finding]]
"""What a local check finds in some levels."""


class LocalFindings:
    """The findings of local checks in one flow, with its patterns filled in; they depend on nothing but each level and
    the flow's settings. Of ``before`` is used what still holds. Levels are told apart by what they are, not by id: an
    edit makes new ones of those it changes, and of no others."""

    def __init__(self, flow: Flow | None = None, before: "LocalFindings | None" = None):
        flow = flow or Flow()
        self._settings = (flow.walker, flow.limits, flow.units, flow.actors)
        self._levels = flow.levels
        self._known = {id(level): level for level in flow.levels}
        self._found: dict[str, dict[str, list[Finding]]] = {}
        """By check, then by level, what it found there."""
        same = before is not None and before._settings == self._settings
        self._before = before._found if before and same else {}
        old = before._known if before and same else {}
        self._changed = tuple(level for level in flow.levels if id(level) not in old)
        changed = {level.id for level in self._changed}
        self._kept = {level.id for level in flow.levels} - changed

    def of(self, check: str, look: Look) -> list[Finding]:
        """All that a check finds, in the order of levels; it looks at the changed ones."""
        known = self._before.get(check)
        wanted = self._changed if known is not None else self._levels
        found = {name: told for name, told in (known or {}).items() if name in self._kept}
        for finding in look(wanted):
            found.setdefault(finding.at[0].partition(".")[0], []).append(finding)
        self._found[check] = found
        return [finding for level in self._levels for finding in found.get(level.id, ())] if found else []

    def settled(self) -> "LocalFindings":
        """The same, without what they were made from."""
        self._before = {}
        return self

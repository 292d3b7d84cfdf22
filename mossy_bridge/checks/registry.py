"""How checks are declared.

A check is a generator of findings over an :class:`~mossy_bridge.checks.inspection.Inspection`, declared with
:func:`check`. Adding one means writing one function in its chapter.
"""

from collections.abc import Callable, Iterator

from msgspec import Struct

from mossy_bridge.checks.finding import Chapter, Finding, Found, Severity
from mossy_bridge.checks.inspection import Inspection, LocalInspection
from mossy_bridge.model.flow import Level

CheckFunction = Callable[[Inspection], Iterator[Found]]
LocalCheckFunction = Callable[[LocalInspection], Iterator[Found]]


class Check(Struct, frozen=True):
    """A declared check."""

    slug: str
    severity: Severity
    chapter: Chapter
    why: str
    function: CheckFunction | None = None
    local: LocalCheckFunction | None = None
    """Instead, where it looks at nothing but one level after the other and the flow's settings."""
    disk: bool = False
    """Whether it looks at the disk, so that its findings can change while the flow does not."""

    def findings(self, inspection: Inspection) -> Iterator[Finding]:
        """All that the check finds."""
        local = self.local
        if local:
            flow = inspection.flow

            def look(levels: tuple[Level, ...]) -> Iterator[Finding]:
                return self._told(local(LocalInspection(flow, levels)))

            yield from inspection.local.of(self.slug, look)
        if self.function:
            yield from self._told(self.function(inspection))

    def _told(self, findings: Iterator[Found]) -> Iterator[Finding]:
        for found in findings:
            severity = found.severity or self.severity
            yield Finding(
                self.slug, severity, found.at, found.message, self.why, found.trace, found.repair, found.steps
            )


CHECKS: dict[str, Check] = {}
"""Every declared check by its slug, in the order of declaration."""


def check(
    slug: str, severity: Severity, chapter: Chapter, why: str, disk: bool = False
) -> Callable[[CheckFunction], CheckFunction]:
    """Declares a check. ``why`` is one sentence that says why its findings matter; ``disk``, that it looks at what
    lies on the disk, or in level files, or at what such checks find."""

    def declare(function: CheckFunction) -> CheckFunction:
        CHECKS[slug] = Check(slug, severity, chapter, why, function, disk=disk)
        return function

    return declare


def local_check(
    slug: str, severity: Severity, chapter: Chapter, why: str
) -> Callable[[LocalCheckFunction], LocalCheckFunction]:
    """Declares a check that looks at nothing but one level after the other and the flow's settings (walker, limits,
    units, actors): after an edit it is asked of the changed levels only."""

    def declare(function: LocalCheckFunction) -> LocalCheckFunction:
        CHECKS[slug] = Check(slug, severity, chapter, why, local=function)
        return function

    return declare

"""How checks are declared.

A check is a generator of findings over an :class:`~mossy_bridge.checks.inspection.Inspection`, declared with
:func:`check`. Adding one means writing one function in its chapter.
"""

from collections.abc import Callable, Iterator

from msgspec import Struct

from mossy_bridge.checks.finding import Chapter, Finding, Found, Severity
from mossy_bridge.checks.inspection import Inspection

CheckFunction = Callable[[Inspection], Iterator[Found]]


class Check(Struct, frozen=True):
    """A declared check."""

    slug: str
    severity: Severity
    chapter: Chapter
    why: str
    function: CheckFunction

    def findings(self, inspection: Inspection) -> Iterator[Finding]:
        """All that the check finds."""
        for found in self.function(inspection):
            severity = found.severity or self.severity
            yield Finding(
                self.slug, severity, found.at, found.message, self.why, found.trace, found.repair, found.steps
            )


CHECKS: dict[str, Check] = {}
"""Every declared check by its slug, in the order of declaration."""


def check(slug: str, severity: Severity, chapter: Chapter, why: str) -> Callable[[CheckFunction], CheckFunction]:
    """Declares a check. ``why`` is one sentence that says why its findings matter."""

    def declare(function: CheckFunction) -> CheckFunction:
        CHECKS[slug] = Check(slug, severity, chapter, why, function)
        return function

    return declare

"""How checks are declared.

A check is a generator of findings over an :class:`~mossy_bridge.checks.inspection.Inspection`, declared with
:func:`check`. Adding one means writing one function in its chapter.
"""

from collections.abc import Callable, Iterator
from itertools import chain
from typing import TypeVar

from msgspec import Struct

from mossy_bridge.checks.finding import Chapter, Finding, Found, Severity
from mossy_bridge.checks.inspection import Inspection, LocalInspection, NearbyInspection
from mossy_bridge.checks.level_results import Scope
from mossy_bridge.model.flow import Level

CheckFunction = Callable[[Inspection], Iterator[Found]]
LocalCheckFunction = Callable[[LocalInspection], Iterator[Found]]
NearbyCheckFunction = Callable[[NearbyInspection], Iterator[Found]]
LevelCheckFunction = Callable[[Inspection, tuple[Level, ...]], Iterator[Found]]
F = TypeVar("F", bound=Callable[..., Iterator[Found]])


class Check(Struct, frozen=True):
    """A declared check."""

    slug: str
    severity: Severity
    chapter: Chapter
    why: str
    function: Callable[..., Iterator[Found]]
    """What was declared."""
    find: Callable[["Check", Inspection], Iterator[Finding]]
    """Finds what there is to find by it."""
    disk: bool = False
    """Whether it looks at the disk, so that its findings can change while the flow does not."""

    def findings(self, inspection: Inspection) -> Iterator[Finding]:
        """All that the check finds."""
        return self.find(self, inspection)

    def told(self, findings: Iterator[Found]) -> Iterator[Finding]:
        """What its function found, as findings of this check."""
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
        def find(one: Check, here: Inspection) -> Iterator[Finding]:
            return one.told(function(here))

        CHECKS[slug] = Check(slug, severity, chapter, why, function, find, disk)
        return function

    return declare


def local_check(
    slug: str, severity: Severity, chapter: Chapter, why: str
) -> Callable[[LocalCheckFunction], LocalCheckFunction]:
    """Declares a check that looks at nothing but one level after the other and the flow's settings: after an edit it is
    asked of the changed levels only."""

    def asked(function: LocalCheckFunction, here: Inspection, levels: tuple[Level, ...]) -> Iterator[Found]:
        return function(here.local(levels))

    return _level_by_level(slug, severity, chapter, why, asked)


def nearby_check(
    slug: str, severity: Severity, chapter: Chapter, why: str
) -> Callable[[NearbyCheckFunction], NearbyCheckFunction]:
    """Declares a check whose findings about a level depend on nothing but that level and the levels beside it: after an
    edit it is asked of the changed levels and those beside them."""

    def asked(function: NearbyCheckFunction, here: Inspection, levels: tuple[Level, ...]) -> Iterator[Found]:
        return function(here.nearby(levels))

    return _level_by_level(slug, severity, chapter, why, asked, "beside")


def level_check(
    slug: str, severity: Severity, chapter: Chapter, why: str
) -> Callable[[LevelCheckFunction], LevelCheckFunction]:
    """The same for a check of which no more is so than whether it finds something in a play level: how that is told and
    mended may depend on all of flow and survey, and so may what it finds in screens and boards. After an edit it is
    also asked again of all levels where it found something, and of all screens and boards."""

    def asked(function: LevelCheckFunction, here: Inspection, levels: tuple[Level, ...]) -> Iterator[Found]:
        return function(here, levels)

    return _level_by_level(slug, severity, chapter, why, asked, "beside", again=True)


def _level_by_level(
    slug: str,
    severity: Severity,
    chapter: Chapter,
    why: str,
    asked: Callable[[F, Inspection, tuple[Level, ...]], Iterator[Found]],
    scope: Scope = "level",
    again: bool = False,
) -> Callable[[F], F]:
    """Declares a check of which is kept what it found level by level; ``asked`` asks it about some levels."""

    def declare(function: F) -> F:
        def find(one: Check, here: Inspection) -> Iterator[Finding]:
            def look(levels: tuple[Level, ...]) -> Iterator[tuple[str, Finding]]:
                return _by_level(one.told(asked(function, here, levels)))

            return chain.from_iterable(here.level_results.of(slug, look, scope, again).values())

        CHECKS[slug] = Check(slug, severity, chapter, why, function, find)
        return function

    return declare


def _by_level(findings: Iterator[Finding]) -> Iterator[tuple[str, Finding]]:
    return ((finding.at[0].partition(".")[0], finding) for finding in findings)

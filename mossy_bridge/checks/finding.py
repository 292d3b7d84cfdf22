"""What a check finds, and how checks are declared.

A check is a generator of findings over an :class:`Inspection`, declared with :func:`check`. Adding one means
writing one function in its chapter.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.language.wording import Wording
from mossy_bridge.model.addresses import title_of
from mossy_bridge.model.flow import Exit, Flow, Level, Waiver
from mossy_bridge.play.state import Move
from mossy_bridge.reach.survey.result import Survey

Severity = Literal["error", "warning", "hint"]
Chapter = Literal["structure", "reachability", "places", "transitions", "upkeep"]


class Repair(Struct, frozen=True):
    """An edit that mends a finding: what it does, in a sentence, and the edit of the flow as written."""

    label: str
    edit: Callable[[Flow], Flow]


class Finding(Struct, frozen=True):
    """Something the survey found. ``at`` are short places, the main one first."""

    check: str
    severity: Severity
    at: tuple[str, ...]
    message: str
    why: str
    route: tuple[Move, ...] = ()
    repair: Repair | None = None
    waived: str = ""
    """The reason for which the designer accepted it; "" while that has not happened."""


def accepted_by(finding: Finding) -> Iterator[tuple[str, str]]:
    """The checks and places of waivers that accept the finding: such as name its check, and one or all of its
    places."""
    for at in (*finding.at, " ".join(finding.at)):
        yield finding.check, at


class Waivers:
    """What the designer has accepted."""

    def __init__(self, waivers: Iterable[Waiver]):
        self._of: dict[tuple[str, str], tuple[int, Waiver]] = {}
        for number, waiver in enumerate(waivers):
            self._of.setdefault((waiver.check, waiver.at), (number, waiver))

    def applied(self, finding: Finding) -> Finding:
        """The finding, with the reason of the first waiver that accepts it."""
        known = [self._of[key] for key in accepted_by(finding) if key in self._of]
        if not known:
            return finding
        _, waiver = min(known, key=lambda one: one[0])
        return replace(finding, waived=waiver.why or "accepted")


class Found(Struct, frozen=True):
    """What a check function yields: a finding without what is the same for all of its check."""

    at: tuple[str, ...]
    message: str
    route: tuple[Move, ...] = ()
    repair: Repair | None = None
    severity: Severity | None = None
    """Where it differs from the check's own."""


@dataclass
class Inspection:
    """What checks look at: the survey of a flow, and its surroundings."""

    survey: Survey
    written: Flow
    """The flow as it stands in its file, patterns not filled in. Repairs edit this one."""
    folder: Path | None = None
    """The folder of the flow's file, or None while it has none."""
    final: bool = False
    """Whether the flow is judged as it would be delivered."""
    ran: frozenset[str] = frozenset()
    """The checks of this run."""
    undeliverable: Callable[[Flow], Mapping[str, str]] = lambda _flow: {}
    """The places of a flow as written whose value to deliver cannot stand there, each with why."""
    cancelled: Callable[[], bool] = lambda: False
    """Whether nobody wants the findings any more; for checks that take long."""
    found: tuple[Finding, ...] = ()
    """For the check of waivers, which runs last: what the others have found."""

    @property
    def flow(self) -> Flow:
        """The flow with its patterns filled in."""
        return self.survey.flow

    @cached_property
    def wording(self) -> Wording:
        """Says conditions and effects with names."""
        return Wording(self.flow)

    def exits(self) -> Iterator[tuple[Level, Exit]]:
        """Every exit with its level."""
        for level in self.flow.levels:
            for exit_ in level.exits:
                yield level, exit_

    @cached_property
    def by_transition(self) -> dict[str, list[tuple[Level, Exit]]]:
        """The exits that use each transition."""
        found: dict[str, list[tuple[Level, Exit]]] = {}
        for level, exit_ in self.exits():
            found.setdefault(exit_.transition, []).append((level, exit_))
        return found

    def title(self, place: str) -> str:
        """A short place in words."""
        return title_of(self.flow, place)


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
            yield Finding(self.slug, severity, found.at, found.message, self.why, found.route, found.repair)


CHECKS: dict[str, Check] = {}
"""Every declared check by its slug, in the order of declaration."""


def check(slug: str, severity: Severity, chapter: Chapter, why: str) -> Callable[[CheckFunction], CheckFunction]:
    """Declares a check. ``why`` is one sentence that says why its findings matter."""

    def declare(function: CheckFunction) -> CheckFunction:
        CHECKS[slug] = Check(slug, severity, chapter, why, function)
        return function

    return declare

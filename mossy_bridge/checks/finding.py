"""What a check finds, and what the designer has accepted of it."""

from collections.abc import Callable, Iterable, Iterator
from functools import cached_property
from typing import Literal, get_args

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.model.flow import Flow, Waiver
from mossy_bridge.reach.survey.verdicts import Route

Severity = Literal["error", "warning", "hint"]
Chapter = Literal["structure", "reachability", "boards", "places", "transitions", "level files", "upkeep"]
CHAPTERS: tuple[Chapter, ...] = get_args(Chapter)


def check_words(slug: str) -> str:
    """The name of a check as words."""
    words = slug.replace("-", " ")
    return words[:1].upper() + words[1:]


class Repair(Struct, frozen=True):
    """An edit that mends a finding: what it does, in a sentence, and the edit of the flow as written."""

    label: str
    edit: Callable[[Flow], Flow]


def known(route: Route) -> Callable[[], Route]:
    """The trace of a route that is known already."""
    return lambda: route


class Finding(Struct, frozen=True, eq=False, dict=True):
    """Something the survey found. ``at`` are short places, the main one first."""

    check: str
    severity: Severity
    at: tuple[str, ...]
    message: str
    why: str
    trace: Callable[[], Route] = tuple
    repair: Repair | None = None
    steps: tuple[int, ...] = ()
    """Of a transition the numbers of the steps that it is about, where these are not all of their kind."""
    waived: str = ""
    """The reason for which the designer accepted it; "" while that has not happened."""

    @property
    def has_route(self) -> bool:
        """Whether moves show it."""
        return self.trace is not tuple

    @cached_property
    def route(self) -> Route:
        """The moves that show it, traced when somebody looks at them first: many findings of a large flow have long
        ones."""
        return self.trace()


ONE_BY_ONE = ("checklist-open",)
"""The checks whose findings are about several places, each accepted by itself."""


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
        if not known or (finding.check in ONE_BY_ONE and len(known) < len(finding.at)):
            return finding
        _, waiver = min(known, key=lambda one: one[0])
        return replace(finding, waived=waiver.why or "accepted")


class Found(Struct, frozen=True):
    """What a check function yields: a finding without what is the same for all of its check."""

    at: tuple[str, ...]
    message: str
    trace: Callable[[], Route] = tuple
    repair: Repair | None = None
    steps: tuple[int, ...] = ()
    severity: Severity | None = None
    """Where it differs from the check's own."""

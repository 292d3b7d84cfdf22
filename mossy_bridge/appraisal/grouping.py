"""The findings of an appraisal in groups, as they are listed: by gravity or as accepted, and within that by check."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from mossy_bridge.checks.finding import Finding

Heading = Literal["error", "warning", "hint", "accepted"]
HEADINGS: tuple[Heading, ...] = ("error", "warning", "hint", "accepted")
Key = tuple[str, tuple[str, ...]]
"""A check and the places of a finding."""


def key_of(finding: Finding) -> Key:
    """What makes two findings of different appraisals the same."""
    return finding.check, finding.at


@dataclass(frozen=True, eq=False)
class FindingGroups:
    """Findings by heading and by check, in their order."""

    groups: Mapping[Heading, Mapping[str, Sequence[Finding]]]
    keys: frozenset[Key]
    """Those of all findings."""

    def count(self, heading: Heading) -> int:
        """How many findings stand under a heading."""
        return sum(map(len, self.groups[heading].values()))

    @property
    def open(self) -> int:
        """How many findings nobody has accepted."""
        return sum(self.count(heading) for heading in HEADINGS if heading != "accepted")

    def new_since(self, known: Collection[Key] | None) -> set[int]:
        """Which findings, by identity, are new: neither accepted nor among the known ones; none where all are known."""
        new = frozenset[Key]() if known is None else self.keys.difference(known)
        checks = {check for check, _ in new}
        groups = (self.groups[heading] for heading in HEADINGS if heading != "accepted")
        of_checks = (of[check] for of in groups for check in of.keys() & checks)
        return {id(one) for group in of_checks for one in group if key_of(one) in new}


def grouped(findings: Iterable[Finding]) -> FindingGroups:
    """The findings in groups."""
    groups: dict[Heading, dict[str, list[Finding]]] = {heading: {} for heading in HEADINGS}
    keys = set()
    for one in findings:
        groups["accepted" if one.waived else one.severity].setdefault(one.check, []).append(one)
        keys.add(key_of(one))
    return FindingGroups(groups, frozenset(keys))

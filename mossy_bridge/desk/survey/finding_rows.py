"""What the survey column lists: findings by gravity, those of one check as a group that opens. No widget."""

from collections.abc import Collection, Iterator, Mapping, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass, field

from mossy_bridge.appraisal.grouping import HEADINGS, FindingGroups, Heading
from mossy_bridge.checks.finding import Chapter, Finding, Severity, check_words

WORDS: dict[Heading, str] = {
    "error": "Broken", "warning": "Suspicious", "hint": "Worth knowing", "accepted": "Accepted",
}  # fmt: skip
OPEN_AT_FIRST = 4
"""A group of no more findings than this is open until somebody closes it."""


@dataclass(frozen=True)
class FindingFilter:
    """Which findings are listed: but for those of some severities, of one chapter, about some levels, or new ones."""

    hidden: frozenset[Severity] = frozenset()
    chapter: Chapter | None = None
    levels: frozenset[str] | None = None
    only_new: bool = False

    @property
    def is_on(self) -> bool:
        """Whether anything may be left out."""
        return self != FindingFilter()

    def lets(self, finding: Finding, chapters: dict[str, Chapter], is_new: bool) -> bool:
        """Whether a finding is listed."""
        if finding.severity in self.hidden or (self.only_new and not is_new):
            return False
        if self.chapter and chapters.get(finding.check) != self.chapter:
            return False
        return self.levels is None or any(at.partition(".")[0] in self.levels for at in finding.at)


@dataclass(frozen=True)
class FindingRow:
    """One line of the list: a heading, a group of findings of one check, or a finding."""

    heading: Heading
    text: str
    findings: tuple[Finding, ...] = field(default=(), repr=False)
    check: str = ""
    """The check of a group."""
    is_open: bool = False
    in_group: bool = False
    is_new: bool = False

    @property
    def is_group(self) -> bool:
        """Whether it stands for several findings."""
        return bool(self.check)

    @property
    def finding(self) -> Finding | None:
        """The finding it is, if it is one."""
        return self.findings[0] if self.findings and not self.check else None


def rows_of(
    found: FindingGroups,
    wanted: FindingFilter,
    chapters: dict[str, Chapter],
    turned: Collection[tuple[Heading, str]] = (),
    new: AbstractSet[int] = frozenset(),
) -> list[FindingRow]:
    """The list: ``turned`` are the groups that somebody has opened or closed, ``new`` what is new, by identity."""
    rows: list[FindingRow] = []
    for heading in HEADINGS:
        groups = found.groups[heading]
        if wanted.is_on:
            let = {
                check: [one for one in of if wanted.lets(one, chapters, id(one) in new)] for check, of in groups.items()
            }
            groups = {check: group for check, group in let.items() if group}
        rows += _part(heading, groups, turned, new)
    return rows


def _part(
    heading: Heading,
    groups: Mapping[str, Sequence[Finding]],
    turned: Collection[tuple[Heading, str]],
    new: AbstractSet[int],
) -> Iterator[FindingRow]:
    if not groups:
        return
    yield FindingRow(heading, f"{WORDS[heading]} {sum(map(len, groups.values())):,}")
    for check, group in groups.items():
        if len(group) == 1:
            yield FindingRow(heading, group[0].message, (group[0],), is_new=id(group[0]) in new)
            continue
        is_open = (len(group) <= OPEN_AT_FIRST) != ((heading, check) in turned)
        some_new = not new.isdisjoint(map(id, group))
        yield FindingRow(
            heading, f"{check_words(check)}: {len(group):,}", tuple(group), check, is_open, is_new=some_new
        )
        for one in group if is_open else ():
            yield FindingRow(heading, one.message, (one,), in_group=True, is_new=id(one) in new)

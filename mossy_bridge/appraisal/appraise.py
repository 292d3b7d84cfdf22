"""An appraisal: the survey of a flow, the findings of all checks, and the verdict."""

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path

from msgspec.structs import replace

from mossy_bridge.appraisal.grouping import FindingGroups, grouped
from mossy_bridge.appraisal.standing import Standing
from mossy_bridge.checks.finding import Finding
from mossy_bridge.checks.level_results import LevelResults
from mossy_bridge.checks.registry import Check
from mossy_bridge.checks.runner import inspected
from mossy_bridge.checks.verdict import Mark, verdict_mark, verdict_sentence
from mossy_bridge.exchange.shipping_values import undeliverable
from mossy_bridge.level_files.contents import LevelFiles
from mossy_bridge.level_files.differences import Comparison, compared
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.queries.crossing_columns import CrossingColumns, crossing_columns, levels_led_to
from mossy_bridge.reach.survey.budget import Budget
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.survey.run import survey_flow

SECONDS, SECONDS_A_LEVEL = 10.0, 0.002
"""The budget of a survey, and so much more for each level."""


@dataclass(frozen=True)
class Judgement:
    """How a flow stands, in one sentence."""

    sentence: str
    mark: Mark


@dataclass(frozen=True, eq=False)
class Appraisal:
    """All that is known of a flow. ``flow`` is as written, patterns not filled in."""

    flow: Flow
    survey: Survey
    findings: Sequence[Finding]
    """The gravest first."""
    level_results: LevelResults
    """What was found in levels one by one, for the next appraisal."""
    level_files: Comparison = field(default_factory=Comparison)
    """What the level files hold, held against the flow."""

    @cached_property
    def judgement(self) -> Judgement:
        """How the flow stands."""
        return _judgement(self.survey, self.findings)

    @cached_property
    def groups(self) -> FindingGroups:
        """The findings in groups."""
        return grouped(self.findings)

    @cached_property
    def columns(self) -> CrossingColumns:
        """The levels by crossings from the start."""
        return crossing_columns(self.survey.flow, self.survey.crossings, self.levels_led_to)

    @cached_property
    def standing(self) -> Standing:
        """How each level stands."""
        return Standing(self.survey, self.open_findings())

    def chart(self, check: Callable[[], None]) -> None:
        """Works out ``columns`` beforehand; ``check`` is called now and then, and ends it by raising."""
        self.survey.count_crossings(check)
        _ = self.levels_led_to, self.columns

    @cached_property
    def levels_led_to(self) -> dict[tuple[str, str], frozenset[str]]:
        """For each exit that ever fires the levels it leads to."""
        return levels_led_to(self.survey)

    def for_flow(self, flow: Flow) -> "Appraisal":
        """The same, for a flow that differs in its layout only."""
        found = Appraisal(flow, self.survey, self.findings, self.level_results, self.level_files)
        found.__dict__.update({name: value for name, value in self.__dict__.items() if name not in found.__dict__})
        return found

    def open_findings(self) -> list[Finding]:
        """The findings that nobody has accepted."""
        return [finding for finding in self.findings if not finding.waived]


def only_layout_differs(one: Flow, other: Flow) -> bool:
    """Whether two flows are the same but for where cards lie on the map, of which neither rules nor checks know."""
    return one.map != other.map and replace(one, map=other.map) == other


def default_budget(flow: Flow, cancelled: Callable[[], bool] = lambda: False) -> Budget:
    """The time that the window gives a survey."""
    return Budget(SECONDS + SECONDS_A_LEVEL * len(flow.levels), cancelled)


def appraise(
    flow: Flow,
    folder: Path | None = None,
    *,
    budget: Budget,
    before: Appraisal | None = None,
    level_files: LevelFiles | None = None,
    final: bool = False,
    only: Collection[str] = (),
    tell: Callable[[Judgement], None] = lambda _judgement: None,
) -> Appraisal:
    """Surveys a flow and runs its checks (``only`` some, if named), with what its level files hold. Of an earlier
    appraisal is used what still holds.
    The judgement is told as soon as the survey and the checks for errors are done. Raises
    :class:`~mossy_bridge.reach.survey.budget.Cancelled`."""
    same = before if before and before.flow is flow and before.survey.settled and not (final or only) else None
    survey = same.survey if same else survey_flow(flow, budget, before=before.survey if before else None)
    results = same.level_results if same else LevelResults(survey.flow, before.level_results if before else None)
    drawn = compared(survey.flow, level_files or {}, before.level_files if before else None)
    told = False

    def watch(check: Check, found: Sequence[Finding]) -> None:
        nonlocal told
        budget.check()
        if not told and check.severity != "error":
            told = True
            tell(_judgement(survey, found))

    findings = inspected(
        survey,
        flow,
        folder,
        final,
        only,
        watch=watch,
        undeliverable=undeliverable,
        cancelled=budget.cancelled,
        level_results=results,
        level_files=drawn,
        before=same.findings if same else None,  # only its files have changed
    )
    found = Appraisal(flow, survey, findings, results.settled(), drawn)
    for name in ("columns", "levels_led_to"):  # they follow from the survey alone
        if same and name in same.__dict__:
            found.__dict__[name] = same.__dict__[name]
    return found


def _judgement(survey: Survey, findings: Sequence[Finding]) -> Judgement:
    return Judgement(verdict_sentence(survey, findings), verdict_mark(survey, findings))

"""Carrying out the repairs that findings offer, each checked by appraising the flow anew."""

from collections.abc import Callable, Collection, Iterable
from pathlib import Path

from msgspec import Struct

from mossy_bridge.appraisal.appraise import Appraisal, appraise
from mossy_bridge.appraisal.grouping import Key, key_of
from mossy_bridge.checks.finding import Finding
from mossy_bridge.level_files.contents import LevelFiles
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.survey.budget import Budget


class Attempt(Struct, frozen=True):
    """A repair that was tried: its finding, and why it was left undone, "" where it was carried out."""

    finding: Finding
    objection: str = ""


class Mended(Struct, frozen=True):
    """A flow after its repairs, and what was tried, in order."""

    flow: Flow
    attempts: tuple[Attempt, ...]


def mend(
    flow: Flow,
    folder: Path | None = None,
    *,
    budget: Callable[[], Budget],
    only: Collection[str] = (),
    at: str = "",
    level_files: LevelFiles | None = None,
    tell: Callable[[Attempt], None] = lambda _attempt: None,
) -> Mended:
    """Carries out what findings offer, one after the other; ``only`` of some checks, or ``at`` one place. A repair
    that does not mend its finding, or brings something new, is left undone. ``budget`` gives a new one for each
    appraisal."""

    def look(changed: Flow) -> Appraisal:
        return appraise(changed, folder, budget=budget(), before=now, level_files=level_files)

    now = appraise(flow, folder, budget=budget(), level_files=level_files)
    tried: set[Key] = set()
    attempts: list[Attempt] = []
    while finding := _next(now.findings, tried, only, at):
        tried.add(key_of(finding))
        after, objection = attempt(now, finding, look)
        if after:
            now = after
        attempts.append(Attempt(finding, objection))
        tell(attempts[-1])
    return Mended(now.flow, tuple(attempts))


def _next(findings: Iterable[Finding], tried: set[Key], only: Collection[str], at: str) -> Finding | None:
    for finding in findings:
        wanted = (not only or finding.check in only) and (not at or at in finding.at)
        if finding.repair and not finding.waived and wanted and key_of(finding) not in tried:
            return finding
    return None


def attempt(before: Appraisal, finding: Finding, look: Callable[[Flow], Appraisal]) -> tuple[Appraisal | None, str]:
    """The appraisal after a finding's repair, or None and why it is better left undone."""
    assert finding.repair
    try:
        changed = finding.repair.edit(before.flow)
    except CannotEdit as error:
        return None, str(error)
    after = look(changed)
    objection = objection_to(before, after, finding)
    return (None, objection) if objection else (after, "")


def objection_to(before: Appraisal, after: Appraisal, finding: Finding) -> str:
    """Why a repair is none: its finding is still there, or an error or warning is new in a place that was reached
    before; "" where it mends."""
    if key_of(finding) in map(key_of, after.findings):
        return "it would not mend this"
    known = set(map(key_of, before.findings))
    for other in after.findings:
        if other.check == "stuck" and not before.survey.some_ending:
            continue  # that is asked only where some ending is reached
        if other.severity != "hint" and not other.waived and key_of(other) not in known and _reached(before, other):
            return f"it would bring something new: {other.message}"
    return ""


def _reached(before: Appraisal, finding: Finding) -> bool:
    """Whether a finding is about something other than places that were out of reach, or not there, before."""
    places = finding.at[:1] if finding.check == "stuck" else finding.at  # the move that seals it is no place of its own
    levels = {place.split(".")[0] for place in places} & {level.id for level in before.survey.flow.levels}
    return not levels or any(before.survey.levels[name].answer != "no" for name in levels)

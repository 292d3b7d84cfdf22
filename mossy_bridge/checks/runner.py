"""Runs the checks over a surveyed flow and marks what the designer has accepted."""

from collections import defaultdict
from collections.abc import Callable, Collection, Mapping, Sequence
from pathlib import Path

from mossy_bridge.checks.finding import Finding, Waivers
from mossy_bridge.checks.geometry import landings, passages, spawns, triggers
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.level_files import drift, reading
from mossy_bridge.checks.level_results import LevelResults
from mossy_bridge.checks.reachability import arriving, conditions, reached, retries, rewinding, sealed
from mossy_bridge.checks.registry import CHECKS, Check
from mossy_bridge.checks.structure import boards, codes, connections, facts, files, numbers, order, references
from mossy_bridge.checks.transitions import timing
from mossy_bridge.checks.upkeep import pending, promises
from mossy_bridge.level_files.differences import Comparison
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.survey.result import Survey

CHAPTERS = (spawns, triggers, passages, landings, arriving, conditions, reached, retries, rewinding, sealed, boards,
            codes, numbers, order, connections, facts, files, references, timing, reading, drift,
            pending, promises)  # fmt: skip
"""The modules that declare checks."""
_ORDER = {"error": 0, "warning": 1, "hint": 2}


def inspected(
    survey: Survey,
    written: Flow,
    folder: Path | None = None,
    final: bool = False,
    only: Collection[str] = (),
    watch: Callable[[Check, Sequence[Finding]], None] = lambda _check, _found: None,
    undeliverable: Callable[[Flow], Mapping[str, str]] = lambda _flow: {},
    cancelled: Callable[[], bool] = lambda: False,
    level_results: LevelResults | None = None,
    level_files: Comparison | None = None,
    before: Sequence[Finding] | None = None,
) -> list[Finding]:
    """All findings, the gravest first; with ``only``, those of the named checks. Checks for errors run first; before
    each check ``watch`` is told, with what has been found so far. ``undeliverable`` says where values to deliver cannot
    stand, and why; ``level_results`` knows what was found in levels before; ``level_files`` what the files hold.
    ``before`` are the findings of the same flow, where nothing but the disk can have changed since."""
    wanted = [one for one in CHECKS.values() if not only or one.slug in only]
    inspection = Inspection(
        survey,
        written,
        folder,
        final,
        frozenset(one.slug for one in wanted),
        undeliverable,
        level_results or LevelResults(survey.flow),
        cancelled,
        level_files or Comparison(),
    )
    found: list[Finding] = []
    waivers = Waivers(written.waivers)
    known: dict[str, list[Finding]] = defaultdict(list)
    for finding in before or ():
        known[finding.check].append(finding)
    for one in sorted(wanted, key=lambda one: (one.slug == "waiver-idle", one.severity != "error")):
        watch(one, found)
        inspection.found = tuple(found)
        if before is None or one.disk:
            found += map(waivers.applied, one.findings(inspection))
        else:
            found += known[one.slug]
    return sorted(found, key=lambda finding: _ORDER[finding.severity])


def known_checks() -> list[str]:
    """The slug of every check."""
    return list(CHECKS)

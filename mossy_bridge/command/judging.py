"""Calls that judge a flow: the survey, and carrying out repairs."""

import gc
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import click

from mossy_bridge.command.group import (
    FILE,
    FOUND,
    NOTHING_WRONG,
    Unusable,
    cli,
    delivered_flow,
    known_slugs,
    level_files_of,
    progress,
    read_file,
)
from mossy_bridge.terminal import say, say_json

if TYPE_CHECKING:
    from mossy_bridge.appraisal.appraise import Appraisal

SEVERITIES = ("error", "warning", "hint")


@cli.command()
@click.argument("files", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.option(
    "--format", "form", type=click.Choice(["text", "json", "sarif", "junit"]), default="text", show_default=True
)
@click.option(
    "--budget", type=click.FloatRange(min=0), default=10.0, show_default=True, help="Seconds to search, a file."
)
@click.option("--only", default="", help="The checks to run, by slug, with commas between.")
@click.option("--fail-on", type=click.Choice(SEVERITIES), default="error", show_default=True)
@click.option("--final", is_flag=True, help="Judge the flow as it would be delivered.")
def survey(files: tuple[Path, ...], form: str, budget: float, only: str, fail_on: str, final: bool) -> None:
    """Run all checks over flows. SARIF is for code reviews and build servers, JUnit for build servers alone."""
    gc.disable()  # one short computation that makes many small values and hardly any cycles
    wanted = known_slugs(only)
    found = [(file, _appraised(file, budget, wanted, final)) for file in files]
    failing = SEVERITIES[: SEVERITIES.index(fail_on) + 1]
    if form in ("sarif", "junit"):
        _say_for_builds(form, found, failing, wanted)
    else:
        _say_surveys(form, found)
    findings = (finding for _, appraisal in found for finding in appraisal.findings)
    sys.exit(FOUND if any(f.severity in failing and not f.waived for f in findings) else NOTHING_WRONG)


def _appraised(file: Path, budget: float, only: list[str], final: bool) -> "Appraisal":
    from mossy_bridge.appraisal.appraise import appraise
    from mossy_bridge.reach.survey.budget import Budget

    flow, folder = read_file(file), file.resolve().parent
    if final:
        flow = delivered_flow(flow)
    level_files = level_files_of(flow, folder)
    with progress("surveying", budget) as tick:
        return appraise(flow, folder, budget=Budget(budget, tick), level_files=level_files, final=final, only=only)


def _say_surveys(form: str, found: "Sequence[tuple[Path, Appraisal]]") -> None:
    """As text, or as one object, of several files a list of them."""
    from mossy_bridge.checks.reports.survey_report import survey_text, survey_values

    if form == "json":
        values = [survey_values(appraisal.survey, appraisal.findings) for _, appraisal in found]
        say_json(values if len(values) > 1 else values[0])
        return
    for number, (file, appraisal) in enumerate(found):
        named = str(file) if len(found) > 1 else ""
        say(("\n" if number else "") + "\n".join(survey_text(appraisal.survey, appraisal.findings, named)))


def _say_for_builds(
    form: str, found: "Sequence[tuple[Path, Appraisal]]", failing: Sequence[str], only: list[str]
) -> None:
    from mossy_bridge.appraisal.junit import junit_bytes
    from mossy_bridge.appraisal.sarif import JudgedFile, sarif_values
    from mossy_bridge.exchange.reading import file_bytes

    judged = [JudgedFile(file, file_bytes(file).decode("utf-8"), appraisal) for file, appraisal in found]
    if form == "sarif":
        say_json(sarif_values(judged, only))
    else:
        say(junit_bytes(judged, failing, only).decode("utf-8"))


@cli.command()
@FILE
@click.option("--only", default="", help="The checks whose findings are mended, by slug, with commas between.")
@click.option("--at", default="", help="A place: only findings about it are mended.")
@click.option("-o", "--output", type=click.Path(path_type=Path, dir_okay=False), help="Write here, not to FILE.")
@click.option("--dry-run", is_flag=True, help="Tell what would be done, and write nothing.")
@click.option("--budget", type=click.FloatRange(min=0), default=10.0, show_default=True, help="Seconds a survey.")
def mend(file: Path, only: str, at: str, output: Path | None, dry_run: bool, budget: float) -> None:
    """Carry out the repairs that findings offer, each checked."""
    from mossy_bridge.appraisal.mending import Attempt, mend
    from mossy_bridge.exchange.saving import CannotSave, replace_file
    from mossy_bridge.exchange.writing import flow_bytes
    from mossy_bridge.reach.survey.budget import Budget

    def tell(attempt: Attempt) -> None:
        finding, label = attempt.finding, attempt.finding.repair.label if attempt.finding.repair else ""
        place = " ".join(finding.at)
        done = f"left undone: {attempt.objection}" if attempt.objection else "done"
        say(f"{finding.check}  {place}\n    {label}: {done}")

    wanted, flow = known_slugs(only), read_file(file)
    level_files = level_files_of(flow, file.resolve().parent)
    with progress("mending", budget) as tick:
        found = mend(
            flow,
            file.resolve().parent,
            budget=lambda: Budget(budget, tick),
            only=wanted,
            at=at.strip(),
            level_files=level_files,
            tell=tell,
        )
    undone = sum(1 for attempt in found.attempts if attempt.objection)
    say(f"{len(found.attempts) - undone} repaired, {undone} left undone")
    try:
        if not dry_run and (output or found.flow is not flow):
            replace_file(output or file, flow_bytes(found.flow))
    except CannotSave as error:
        raise Unusable([str(error)]) from error
    sys.exit(FOUND if undone else NOTHING_WRONG)

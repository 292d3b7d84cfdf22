"""Calls that judge a flow: the survey, and carrying out repairs."""

import gc
import sys
from pathlib import Path

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

SEVERITIES = ("error", "warning", "hint")


@cli.command()
@FILE
@click.option("--format", "form", type=click.Choice(["text", "json"]), default="text", show_default=True)
@click.option("--budget", type=click.FloatRange(min=0), default=10.0, show_default=True, help="Seconds to search.")
@click.option("--only", default="", help="The checks to run, by slug, with commas between.")
@click.option("--fail-on", type=click.Choice(SEVERITIES), default="error", show_default=True)
@click.option("--final", is_flag=True, help="Judge the flow as it would be delivered.")
def survey(file: Path, form: str, budget: float, only: str, fail_on: str, final: bool) -> None:
    """Run all checks over a flow."""
    from mossy_bridge.appraisal.appraise import appraise
    from mossy_bridge.checks.reports.survey_report import survey_text, survey_values
    from mossy_bridge.reach.survey.budget import Budget

    gc.disable()  # one short computation that makes many small values and hardly any cycles
    wanted = known_slugs(only)
    flow = read_file(file)
    if final:
        flow = delivered_flow(flow)
    level_files = level_files_of(flow, file.resolve().parent)
    with progress("surveying", budget) as tick:
        found = appraise(
            flow,
            file.resolve().parent,
            budget=Budget(budget, tick),
            level_files=level_files,
            final=final,
            only=wanted,
        )
    result, findings = found.survey, found.findings
    if form == "json":
        say_json(survey_values(result, findings))
    else:
        say("\n".join(survey_text(result, findings)))
    failing = SEVERITIES[: SEVERITIES.index(fail_on) + 1]
    sys.exit(FOUND if any(f.severity in failing and not f.waived for f in findings) else NOTHING_WRONG)


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

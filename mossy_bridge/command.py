"""The command line. The computing commands import no Qt."""

import contextlib
import gc
import sys
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from pathlib import Path, PurePosixPath
from typing import IO, TYPE_CHECKING, Any

import click

from mossy_bridge import __version__
from mossy_bridge.terminal import UNUSABLE, say, say_json

if TYPE_CHECKING:
    from mossy_bridge.model.flow import Flow
    from mossy_bridge.play.rules import Rules
    from mossy_bridge.play.state import Ended, State

NOTHING_WRONG, FOUND = 0, 1
SEVERITIES = ("error", "warning", "hint")
FILE = click.argument("file", type=click.Path(path_type=Path))


class Unusable(click.ClickException):
    """The input cannot be used: one line a problem on standard error, status 2."""

    exit_code = UNUSABLE

    def __init__(self, problems: Sequence[str]):
        super().__init__("\n".join(problems))

    def show(self, file: IO[Any] | None = None) -> None:
        """Writes the problems to standard error, or to the file."""
        del file
        say(self.message, err=True)


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="mossy-bridge")
def cli() -> None:
    """Lay out the flow of a game's levels, and prove that every level is reached and nobody gets stuck."""


@cli.command("open")
@click.argument("file", type=click.Path(path_type=Path), required=False)
def open_(file: Path | None) -> None:
    """Open the program, with a flow if one is named."""
    from mossy_bridge.demo.showing import has_display

    if not has_display():
        raise Unusable(["There is no display here to open a window on; the other calls work without one."])
    from mossy_bridge.desk.app import run

    run(file)


@cli.command()
def demo() -> None:
    """Open the program with the demo flow; without a display, render its views instead."""
    from mossy_bridge.demo.showing import show_demo

    sys.exit(show_demo())


@cli.command()
@click.option("-o", "--out", type=click.Path(path_type=Path), default=Path("docs/screenshots"), show_default=True)
def shots(out: Path) -> None:
    """Render the pictures of every main view from the demo flow."""
    from mossy_bridge.demo.showing import render_views

    for path in render_views(out):
        say(path)


@cli.command()
@click.argument("folder", type=click.Path(path_type=Path, exists=True, file_okay=False))
@click.option(
    "--pattern", default="", help="Which files are levels; * stands for anything. Found by itself if left out."
)
@click.option("--title", default="", help="What the game is called; the folder's name if left out.")
@click.option("-o", "--out", type=click.Path(path_type=Path, dir_okay=False), help="Where to write it.")
def new(folder: Path, pattern: str, title: str, out: Path | None) -> None:
    """Make a flow of a folder's level files, in natural order, each leading on to the next."""
    from mossy_bridge.exchange.level_files import files_below, flow_from_folder, matching, naming_pattern
    from mossy_bridge.exchange.saving import CannotSave, save_flow
    from mossy_bridge.model.ids import id_from

    files = files_below(folder)
    pattern = pattern or naming_pattern(files)
    chosen = matching(files, pattern) if pattern else []
    if not chosen:
        way_out = "name the level files with --pattern, such as maps/level_*.map"
        raise Unusable([f"{folder}: no file fits “{pattern or '*'}”; {way_out}"])
    title = title or folder.resolve().name.replace("_", " ").title()
    out = out or folder / f"{id_from(title, ())}.mossy"
    if out.exists():
        raise Unusable([f"{out}: is there already; choose another with --out"])
    home = out.resolve().parent
    if not folder.resolve().is_relative_to(home):
        raise Unusable([f"{out}: a flow lies in the folder of its level files, or above it"])
    inside = PurePosixPath(*folder.resolve().relative_to(home).parts)
    named = [str(inside / file) for file in chosen]
    try:
        save_flow(flow_from_folder(title, named, str(inside / pattern)), out)
    except CannotSave as error:
        raise Unusable([str(error)]) from error
    say(f"{out}: {len(chosen)} levels of {pattern}")


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
    wanted = _known_slugs(only)
    flow = _read(file)
    if final:
        flow = _delivered(flow)
    with _progress("surveying", budget) as tick:
        found = appraise(flow, file.resolve().parent, budget=Budget(budget, tick), final=final, only=wanted)
    result, findings = found.survey, found.findings
    if form == "json":
        say_json(survey_values(result, findings))
    else:
        say("\n".join(survey_text(result, findings)))
    failing = SEVERITIES[: SEVERITIES.index(fail_on) + 1]
    sys.exit(FOUND if any(f.severity in failing and not f.waived for f in findings) else NOTHING_WRONG)


@cli.command()
@FILE
@click.argument("target")
@click.option("--avoid", default="", help="Levels not to enter, with commas between.")
@click.option("--when", default="always", help="A condition that must hold at the target.")
@click.option("--budget", type=click.FloatRange(min=0), default=10.0, show_default=True, help="Seconds to search.")
def route(file: Path, target: str, avoid: str, when: str, budget: float) -> None:
    """The shortest route to a level, exit (LEVEL.EXIT), deed (LEVEL.DEED) or ending."""
    from mossy_bridge.language.parsing import WrongWording, canonical_condition
    from mossy_bridge.play.rules import Rules
    from mossy_bridge.reach.survey.result import is_shortest
    from mossy_bridge.reach.survey.route_query import route_to

    flow = _read(file)
    avoided = _names(avoid)
    _refuse_unknown(Rules(flow), target, avoided)
    try:
        condition = canonical_condition(when)
    except WrongWording as error:
        raise Unusable([f"--when: {error}"]) from error
    _refuse_unknown_words(flow, condition)
    found = route_to(flow, target, frozenset(avoided), condition, budget)
    if found.answer != "yes":
        reason = "none exists" if found.answer == "no" else "time ran out before one was found"
        say(f"No route to {target}: {reason}.", err=True)
        sys.exit(FOUND)
    if not is_shortest(found.route):
        say("There may be a shorter route: looking for it took too long.", err=True)
    sys.exit(_play(Rules(flow), [str(move) for move in found.route], brief=True))


@cli.command()
@FILE
@click.option("--moves", "moves_file", type=click.File("r", encoding="utf-8"), default="-", help="One move a line.")
def walk(file: Path, moves_file: Iterable[str]) -> None:
    """Play moves, read from a file or standard input, and print the state after each."""
    from mossy_bridge.play.rules import Rules

    flow = _read(file)
    try:
        lines = [line.strip() for line in moves_file]
    except UnicodeDecodeError as error:
        raise Unusable(["--moves: is not UTF-8 text"]) from error
    moves = [line for line in lines if line and not line.startswith("#")]
    sys.exit(_play(Rules(flow, resuming=True), moves))


@cli.command()
@FILE
@click.option(
    "--format",
    "form",
    type=click.Choice(["text", "json", "csv", "markdown"]),
    default="text",
    show_default=True,
    help="How to print it.",
)
@click.option("--budget", type=click.FloatRange(min=0), default=10.0, show_default=True, help="Seconds to search.")
def tour(file: Path, form: str, budget: float) -> None:
    """A play-test plan: few walks that together use all that can be used."""
    from mossy_bridge.checks.reports.tour_report import tour_csv, tour_markdown, tour_text, tour_values
    from mossy_bridge.reach.queries.transition_tour import transition_tour
    from mossy_bridge.reach.survey.run import survey_flow

    flow = _read(file)
    with _progress("surveying", budget) as tick:
        survey = survey_flow(flow, budget, tick)
    found = transition_tour(survey)
    if form == "json":
        say_json(tour_values(survey.rules, found))
    elif form == "csv":
        say(tour_csv(survey.rules, found), nl=False)
    else:
        say("\n".join((tour_text if form == "text" else tour_markdown)(survey.rules, found)))


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

    wanted, flow = _known_slugs(only), _read(file)
    with _progress("mending", budget) as tick:
        found = mend(
            flow, file.resolve().parent, budget=lambda: Budget(budget, tick), only=wanted, at=at.strip(), tell=tell
        )
    undone = sum(1 for attempt in found.attempts if attempt.objection)
    say(f"{len(found.attempts) - undone} repaired, {undone} left undone")
    try:
        if not dry_run and (output or found.flow is not flow):
            replace_file(output or file, flow_bytes(found.flow))
    except CannotSave as error:
        raise Unusable([str(error)]) from error
    sys.exit(FOUND if undone else NOTHING_WRONG)


@cli.command()
@FILE
def tidy(file: Path) -> None:
    """Rewrite a flow file in its canonical form."""
    from mossy_bridge.exchange.reading import CannotRead, file_bytes, flow_from_bytes
    from mossy_bridge.exchange.saving import CannotSave, replace_file
    from mossy_bridge.exchange.writing import flow_bytes

    try:
        before = file_bytes(file)
        after = flow_bytes(flow_from_bytes(before))
        if after == before:
            say(f"{file} is tidy already")
        else:
            replace_file(file, after)
            say(f"{file} rewritten")
    except CannotRead as error:
        raise Unusable(error.problems) from error
    except CannotSave as error:
        raise Unusable([str(error)]) from error


@cli.command()
def schema() -> None:
    """Print the JSON Schema of flow files."""
    from mossy_bridge.exchange.schema import flow_schema

    say_json(flow_schema())


def _read(file: Path) -> "Flow":
    from mossy_bridge.exchange.reading import CannotRead, read_flow

    try:
        return read_flow(file)
    except CannotRead as error:
        raise Unusable(error.problems) from error


def _delivered(flow: "Flow") -> "Flow":
    from mossy_bridge.exchange.reading import CannotRead
    from mossy_bridge.exchange.shipping_values import delivered

    try:
        return delivered(flow)
    except CannotRead as error:
        raise Unusable(error.problems) from error


@contextlib.contextmanager
def _progress(label: str, seconds: float) -> Iterator[Callable[[], bool]]:
    """A bar on standard error that fills with the time allowed; only on a terminal. Yields what is to be called
    now and then; it always says False: go on."""
    if not sys.stderr.isatty():
        yield lambda: False
        return
    began, steps = time.monotonic(), 100
    with click.progressbar(length=steps, label=label, file=sys.stderr, show_eta=False, show_percent=False) as bar:

        def tick() -> bool:
            done = min(steps, int((time.monotonic() - began) / max(seconds, 0.1) * steps))
            bar.update(done - bar.pos)
            return False

        yield tick


def _names(text: str) -> list[str]:
    return [name.strip() for name in text.split(",") if name.strip()]


def _known_slugs(only: str) -> list[str]:
    from mossy_bridge.checks.runner import known_checks
    from mossy_bridge.model.ids import nearest

    wanted = _names(only)
    known = known_checks()
    problems = []
    for slug in wanted:
        if slug not in known:
            likely = nearest(slug, known)
            problems.append(f"--only: there is no check “{slug}”" + (f"; did you mean “{likely}”?" if likely else ""))
    if problems:
        raise Unusable(problems)
    return wanted


def _refuse_unknown_words(flow: "Flow", condition: str) -> None:
    from mossy_bridge.language.evaluation import Vocabulary, unknown_in_condition
    from mossy_bridge.language.parsing import parse_condition
    from mossy_bridge.model.ids import nearest

    words = Vocabulary(flow)
    problems = []
    for unknown in unknown_in_condition(parse_condition(condition), words):
        likely = nearest(unknown.name, words.names(unknown))
        hint = f"; did you mean “{likely}”?" if likely else ""
        problems.append(f"--when: there is no {unknown.wanted} “{unknown.name}”{hint}")
    if problems:
        raise Unusable(problems)


def _refuse_unknown(rules: "Rules", target: str, avoided: list[str]) -> None:
    from mossy_bridge.model.addresses import things_of
    from mossy_bridge.model.ids import nearest

    flow = rules.flow
    levels = {level.id for level in flow.levels}
    places = levels | {ending.id for ending in flow.endings}
    places |= {f"{level.id}.{name}" for level in flow.levels for name in things_of(level)}
    problems = []
    for name, known in [(target, places), *((name, levels) for name in avoided)]:
        if name not in known:
            likely = nearest(name, known)
            problems.append(f"“{name}” is nothing in this flow" + (f"; did you mean “{likely}”?" if likely else ""))
    if problems:
        raise Unusable(problems)


def _play(rules: "Rules", moves: list[str], brief: bool = False) -> int:
    """Plays the moves and prints the state after each; with ``brief``, only what changed."""
    from mossy_bridge.play.narration import told_start, told_step
    from mossy_bridge.play.replay import play

    start = rules.begin()
    if start is None:
        say("The flow has no start to walk from.", err=True)
        return FOUND
    say(told_start(rules, start))
    before: State | Ended = start
    for number, taken in enumerate(play(rules, moves), start=1):
        if taken.after is None:
            say(f"stops at move {number}, “{taken.move}”: {taken.problem}")
            return FOUND
        say(told_step(rules, number, taken.move, before, taken.after, brief))
        before = taken.after
    return NOTHING_WRONG

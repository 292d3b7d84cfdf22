"""Calls about versions of a flow: comparing, merging, and what git needs for both."""

import os
import sys
from pathlib import Path
from typing import Any

import click

from mossy_bridge.command.group import FOUND, NOTHING_WRONG, Unusable, cli, progress, read_file
from mossy_bridge.terminal import say, say_json

VERSION = click.Path(path_type=Path)
MOST_PROBLEMS = 5
"""So many are told of a version that cannot be read."""


@cli.command()
@click.argument("old", type=VERSION)
@click.argument("new", type=VERSION)
@click.option("--format", "form", type=click.Choice(["text", "json", "markdown"]), default="text", show_default=True)
@click.option("--budget", type=click.FloatRange(min=0), default=10.0, show_default=True, help="Seconds a survey.")
def compare(old: Path, new: Path, form: str, budget: float) -> None:
    """What was changed from OLD to NEW, what it does to verdicts and findings, and which saved games of OLD can no
    longer be resumed. Status 1 if something that was reached, held or could be resumed no longer is."""
    from mossy_bridge.appraisal.appraise import Appraisal, appraise
    from mossy_bridge.appraisal.comparison import compare
    from mossy_bridge.appraisal.comparison_report import comparison_markdown, comparison_text, comparison_values
    from mossy_bridge.reach.survey.budget import Budget

    def appraised(path: Path) -> Appraisal:
        flow = read_file(path)
        with progress(f"surveying {path.name}", budget) as tick:
            return appraise(flow, path.resolve().parent, budget=Budget(budget, tick))

    found = compare(appraised(old), appraised(new))
    if form == "json":
        say_json(comparison_values(found))
    else:
        say("\n".join(comparison_text(found) if form == "text" else comparison_markdown(found)))
    sys.exit(FOUND if found.loses else NOTHING_WRONG)


@cli.command()
@click.argument("base", type=VERSION)
@click.argument("ours", type=VERSION)
@click.argument("theirs", type=VERSION)
@click.option("-o", "--output", type=click.Path(path_type=Path, dir_okay=False), required=True, help="Where to write.")
@click.option("--markers", is_flag=True, help="Write conflicts between markers, as git does: no flow until decided.")
def merge(base: Path, ours: Path, theirs: Path, output: Path, markers: bool) -> None:
    """Bring two versions of a flow together, of which both came from BASE. Conflicts are printed one a line: place,
    base, ours, theirs; our side stands there then."""
    from mossy_bridge.exchange.merging.markers import conflict_line, marked_text
    from mossy_bridge.exchange.merging.three_way import Merged
    from mossy_bridge.exchange.merging.three_way import merge as three_way
    from mossy_bridge.exchange.reading import flow_from_tree
    from mossy_bridge.exchange.saving import CannotSave, replace_file
    from mossy_bridge.exchange.writing import flow_bytes

    merged = three_way(_tree(base, may_be_empty=True), _tree(ours), _tree(theirs))
    for conflict in merged.conflicts:
        say(conflict_line(conflict))
    conflicts = bool(merged.conflicts or merged.problems)
    for problem in merged.problems:
        say(f"what comes of it is no flow: {problem}", err=True)
    if merged.problems:
        merged = Merged(_tree(ours), _tree(ours))
    marked = markers and merged.conflicts
    text = marked_text(merged).encode() if marked else flow_bytes(flow_from_tree(merged.ours))
    try:
        replace_file(output, text, backup=False)
    except CannotSave as error:
        raise Unusable([str(error)]) from error
    sys.exit(FOUND if conflicts else NOTHING_WRONG)


def _tree(path: Path, may_be_empty: bool = False) -> dict[str, Any]:
    """The tree of a version; git hands over an empty file where there was none."""
    from mossy_bridge.exchange.reading import CannotRead, file_bytes, flow_from_bytes
    from mossy_bridge.exchange.writing import tree_of

    try:
        data = file_bytes(path)
        if may_be_empty and not data.strip():
            return {}
        tree: dict[str, Any] = tree_of(flow_from_bytes(data))
    except CannotRead as error:
        prefix = f"{path}: "
        raise Unusable([p if p.startswith(prefix) else prefix + p for p in error.problems]) from error
    return tree


@cli.command("git-setup")
@click.option("--undo", is_flag=True, help="Take it back.")
def git_setup(undo: bool) -> None:
    """Have git bring flows together thing by thing, and show what was changed in words, in the repository one stands
    in."""
    from mossy_bridge.exchange.merging.git import CannotSetUp, Repository

    try:
        repository = Repository(Path.cwd())
        done = repository.take_back() if undo else repository.set_up()
    except CannotSetUp as error:
        raise Unusable([str(error)]) from error
    for line in done:
        say(line)


@cli.command("git-diff", hidden=True, context_settings={"ignore_unknown_options": True})
@click.argument("given", nargs=-1)
def git_diff(given: tuple[str, ...]) -> None:
    """What git asks for to show what was changed: PATH, the old file, its hash and mode, the new file, and so on."""
    from mossy_bridge.appraisal.comparison import lead_changes, told_changes
    from mossy_bridge.appraisal.comparison_report import change_lines
    from mossy_bridge.exchange.reading import CannotRead, flow_from_bytes
    from mossy_bridge.model.flow import Flow

    if len(given) < 7:
        raise Unusable(["git hands over a path, and two versions with their hashes and modes"])

    def version(name: str) -> Flow:
        data = Path(name).read_bytes() if name != os.devnull else b""
        return flow_from_bytes(data) if data.strip() else Flow()

    say(f"flow {given[0]}")
    try:
        old, new = version(given[1]), version(given[4])
    except (CannotRead, OSError) as error:
        problems = error.problems if isinstance(error, CannotRead) else [str(error)]
        say("\n".join(f"! cannot be read: {problem}" for problem in problems[:MOST_PROBLEMS]))
        return
    for line in change_lines(list(told_changes(old, new)), list(lead_changes(old, new))):
        say(line)

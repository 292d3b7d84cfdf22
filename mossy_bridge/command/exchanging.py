"""Calls that bring flows in from tables and graphs, and take them out."""

import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING, cast

import click

from mossy_bridge.command.group import FILE, FOUND, Unusable, cli, counting, delivered_flow, read_file
from mossy_bridge.model.flow import Flow
from mossy_bridge.terminal import say

if TYPE_CHECKING:
    from mossy_bridge.desk.map.picture import PictureKind
    from mossy_bridge.exchange.game.constants import Language
    from mossy_bridge.exchange.tables.files import Kind

TABLES, PICTURES, FOR_GAMES = ("csv", "tsv", "graphml", "dot"), ("svg", "png", "pdf"), ("table", "constants")
REPORT = "report"
"""What a flow can be written as; named here so that a call need not load what writes it."""
LANGUAGES = ("c", "csharp", "go", "java", "javascript", "typescript", "lua", "python", "rust")


@cli.command("import")
@click.argument("source", type=click.Path(path_type=Path, exists=True))
@click.option("--levels", type=click.Path(path_type=Path, dir_okay=False), help="A table of levels beside SOURCE.")
@click.option("-o", "--out", type=click.Path(path_type=Path, dir_okay=False), required=True, help="Where to write it.")
@click.option("--title", default="", help="What the game is called; the name of SOURCE if left out.")
def import_(source: Path, levels: Path | None, out: Path, title: str) -> None:
    """Make a flow of a table of crossings (CSV or TSV), of a GraphML file, or of a folder that export has written."""
    from mossy_bridge.exchange.saving import CannotSave, save_flow
    from mossy_bridge.exchange.tables.cells import CannotImport
    from mossy_bridge.exchange.tables.files import tables_from
    from mossy_bridge.exchange.tables.importing import imported

    if out.exists():
        raise Unusable([f"{out}: is there already; choose another with --out"])
    try:
        found = imported(title or source.stem.replace("_", " ").capitalize(), tables_from(source, levels))
        save_flow(found.flow, out)
    except CannotImport as error:
        raise Unusable(error.problems) from error
    except CannotSave as error:
        raise Unusable([str(error)]) from error
    say(f"{out}: {len(found.flow.levels)} levels")
    for sentence in found.told:
        say(sentence)


@cli.command()
@FILE
@click.option("--to", "kind", type=click.Choice([*TABLES, *PICTURES, *FOR_GAMES, REPORT]), required=True)
@click.option("-o", "--out", type=click.Path(path_type=Path), required=True, help="A file; for tables, a folder.")
@click.option("--as-is", is_flag=True, help="Write values for testing as they are, not as they ship.")
@click.option("--language", type=click.Choice(LANGUAGES), help="Of constants: the language of the game's code.")
@click.option("--final", is_flag=True, help="Write nothing while the flow, as it would be delivered, has errors.")
@click.option("--since", type=click.Path(path_type=Path), help="Of a report: another version, to tell what changed.")
def export(
    file: Path, kind: str, out: Path, as_is: bool, language: str | None, final: bool, since: Path | None
) -> None:
    """Write a flow as tables (a folder of CSV or TSV) or as a graph (GraphML, DOT), and tell what these cannot hold;
    the map as a picture (SVG, PNG, PDF); the table that the game reads, or constants for its code; or a report to hand
    round (HTML or PDF, by the ending of OUT)."""
    from mossy_bridge.exchange.saving import CannotSave
    from mossy_bridge.exchange.tables.files import left_out, write

    flow = read_file(file)
    if as_is and final:
        raise Unusable(["--as-is and --final contradict each other: what is final is as it ships"])
    if kind == "constants" and language is None:
        raise Unusable([f"constants need a --language: {', '.join(LANGUAGES)}"])
    written = flow if as_is else delivered_flow(flow)
    if final:
        _refuse_errors(written, file)
    try:
        if kind in FOR_GAMES:
            _write_for_game(written, out, cast("Language", language) if kind == "constants" else None)
            return
        if kind == REPORT:
            _write_report(written, file, out, since)
            return
        if kind in PICTURES:
            _write_map(written, cast("PictureKind", kind), out)
            return
        for path in write(written, cast("Kind", kind), out):
            say(path)
    except CannotSave as error:
        raise Unusable([str(error)]) from error
    missing = left_out(flow, cast("Kind", kind))
    if missing:
        say(f"not in there: {'; '.join(missing)}")


def _refuse_errors(flow: Flow, file: Path) -> None:
    """Ends with the errors of a flow, as it would be delivered, that nobody has accepted, where it has any."""
    from mossy_bridge.appraisal.appraise import appraise, default_budget

    found = appraise(flow, file.resolve().parent, budget=default_budget(flow), final=True)
    errors = [one for one in found.open_findings() if one.severity == "error"]
    for one in errors:
        say(f"{' '.join(one.at)}: {one.message} ({one.check})", err=True)
    if errors:
        say("nothing written: these must not ship", err=True)
        sys.exit(FOUND)


def _write_for_game(flow: Flow, out: Path, language: "Language | None") -> None:
    from mossy_bridge.exchange.game.table import game_table, table_bytes
    from mossy_bridge.exchange.saving import replace_file

    table = game_table(flow)
    if language is None:
        data = table_bytes(table)
    else:
        from mossy_bridge.exchange.game.constants import constants_text

        data = constants_text(table, language, out.stem).encode()
    replace_file(out, data, backup=False)
    say(out)
    if table["left_out"]:
        say(f"not in there: {', '.join(table['left_out'])}")


def _write_map(flow: Flow, kind: "PictureKind", out: Path) -> None:
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from mossy_bridge.appraisal.appraise import appraise, default_budget
    from mossy_bridge.desk.app import make_application
    from mossy_bridge.desk.map.picture import map_picture
    from mossy_bridge.desk.widgets.theme import Look
    from mossy_bridge.exchange.saving import replace_file

    app = make_application()
    found = appraise(flow, budget=default_budget(flow))
    look = Look(app)
    look.wear("light")
    replace_file(out, map_picture(found, look, kind), backup=False)
    say(out)


def _write_report(flow: Flow, file: Path, out: Path, since: Path | None) -> None:
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from mossy_bridge.appraisal.appraise import appraise, default_budget
    from mossy_bridge.desk.app import make_application
    from mossy_bridge.desk.report.writing import report_bytes, report_kind, report_parts
    from mossy_bridge.desk.widgets.theme import Look
    from mossy_bridge.exchange.saving import replace_file

    kind = report_kind(out)
    if kind is None:
        raise Unusable([f"{out}: a report is HTML or PDF; end its name with .html or .pdf"])
    older = (since.name, read_file(since)) if since else None
    app = make_application()
    look = Look(app)
    look.wear("light")
    found = appraise(flow, file.resolve().parent, budget=default_budget(flow))
    report, map_svg = report_parts(found, look, older)
    with counting("writing pages") as tell:
        data = report_bytes(report, map_svg, kind, lambda share: tell(round(100 * share), 100))
    replace_file(out, data, backup=False)
    say(out)

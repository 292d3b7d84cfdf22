"""Calls that bring flows in from tables and graphs, and take them out."""

from pathlib import Path
from typing import TYPE_CHECKING

import click

from mossy_bridge.command.group import FILE, Unusable, cli, delivered_flow, read_file
from mossy_bridge.terminal import say

if TYPE_CHECKING:
    from mossy_bridge.exchange.tables.cells import Table

TABLES = ("levels", "exits", "spawns", "deeds", "facts")
ENDINGS = {"csv": ".csv", "tsv": ".tsv"}


@cli.command("import")
@click.argument("source", type=click.Path(path_type=Path, exists=True))
@click.option("--levels", type=click.Path(path_type=Path, dir_okay=False), help="A table of levels beside SOURCE.")
@click.option("-o", "--out", type=click.Path(path_type=Path, dir_okay=False), required=True, help="Where to write it.")
@click.option("--title", default="", help="What the game is called; the name of SOURCE if left out.")
def import_(source: Path, levels: Path | None, out: Path, title: str) -> None:
    """Make a flow of a table of crossings (CSV or TSV), of a GraphML file, or of a folder that export has written."""
    from mossy_bridge.exchange.saving import CannotSave, save_flow
    from mossy_bridge.exchange.tables.cells import CannotImport
    from mossy_bridge.exchange.tables.importing import imported

    if out.exists():
        raise Unusable([f"{out}: is there already; choose another with --out"])
    try:
        found = imported(title or source.stem.replace("_", " ").capitalize(), _tables(source, levels))
        save_flow(found.flow, out)
    except CannotImport as error:
        raise Unusable(error.problems) from error
    except CannotSave as error:
        raise Unusable([str(error)]) from error
    say(f"{out}: {len(found.flow.levels)} levels")
    for sentence in found.told:
        say(sentence)


def _tables(source: Path, levels: Path | None) -> dict[str, "Table"]:
    """The tables of a file or a folder, by what they hold."""
    from mossy_bridge.exchange.tables.cells import table_of
    from mossy_bridge.exchange.tables.graphs import tables_of_graphml

    if source.is_dir():
        files = {name: source / f"{name}{ending}" for name in TABLES for ending in ENDINGS.values()
                 if (source / f"{name}{ending}").is_file()}  # fmt: skip
        if "exits" not in files:
            raise Unusable([f"{source}: has no exits.csv or exits.tsv; export writes one"])
    elif source.suffix.lower() == ".graphml":
        return tables_of_graphml(source.name, _bytes(source))
    else:
        files = {"exits": source}
    if levels:
        files["levels"] = levels
    return {name: table_of(path.name, _text(path)) for name, path in files.items()}


def _bytes(path: Path) -> bytes:
    from mossy_bridge.exchange.reading import CannotRead, file_bytes

    try:
        return file_bytes(path)
    except CannotRead as error:
        raise Unusable(error.problems) from error


def _text(path: Path) -> str:
    try:
        return _bytes(path).decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise Unusable([f"{path}: is not UTF-8 text; save the table as UTF-8"]) from error


@cli.command()
@FILE
@click.option("--to", "kind", type=click.Choice(["csv", "tsv", "graphml", "dot"]), required=True)
@click.option("-o", "--out", type=click.Path(path_type=Path), required=True, help="A file; for tables, a folder.")
@click.option("--as-is", is_flag=True, help="Write values for testing as they are, not as they ship.")
def export(file: Path, kind: str, out: Path, as_is: bool) -> None:
    """Write a flow as tables (a folder of CSV or TSV) or as a graph, and tell what these cannot hold."""
    from mossy_bridge.exchange.saving import CannotSave, replace_file
    from mossy_bridge.exchange.tables.cells import table_text
    from mossy_bridge.exchange.tables.exporting import HEADINGS, lacking, tables_of
    from mossy_bridge.exchange.tables.graphs import dot, graphml
    from mossy_bridge.model.patterns import resolved

    flow = read_file(file)
    whole = resolved(flow if as_is else delivered_flow(flow))
    if kind in ENDINGS:
        separator = "," if kind == "csv" else "\t"
        texts = {out / f"{name}{ENDINGS[kind]}": table_text(HEADINGS[name], rows, separator)
                 for name, rows in tables_of(whole).items()}  # fmt: skip
    else:
        texts = {out: graphml(whole) if kind == "graphml" else dot(whole)}
    try:
        if kind in ENDINGS:
            out.mkdir(parents=True, exist_ok=True)
        for path, text in texts.items():
            replace_file(path, text.encode())
            say(path)
    except OSError as error:
        raise Unusable([f"{out}: cannot be written ({error.strerror or error})"]) from error
    except CannotSave as error:
        raise Unusable([str(error)]) from error
    left_out = [*([] if kind in ENDINGS else ["facts, deeds and places of spawn points"]), *lacking(flow)]
    if left_out:
        say(f"not in there: {'; '.join(left_out)}")

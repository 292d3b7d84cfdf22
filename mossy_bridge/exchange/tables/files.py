"""Files and folders of tables and graphs: what is read of them, and what is written."""

from pathlib import Path
from typing import Literal

from mossy_bridge.exchange.reading import CannotRead, file_bytes
from mossy_bridge.exchange.saving import CannotSave, replace_file
from mossy_bridge.exchange.tables.cells import CannotImport, Table, table_of, table_text
from mossy_bridge.exchange.tables.exporting import HEADINGS, lacking, tables_of
from mossy_bridge.exchange.tables.graphs import dot, graphml, tables_of_graphml
from mossy_bridge.model.flow import Flow
from mossy_bridge.model.patterns import resolved

Kind = Literal["csv", "tsv", "graphml", "dot"]
SEPARATORS = {"csv": ",", "tsv": "\t"}


def tables_from(source: Path, levels: Path | None = None) -> dict[str, Table]:
    """The tables of a file of crossings, of a GraphML file, or of a folder that was written by :func:`write`. Raises
    :class:`~mossy_bridge.exchange.tables.cells.CannotImport`."""
    if source.is_dir():
        files = {
            name: path for name in HEADINGS for kind in SEPARATORS if (path := source / f"{name}.{kind}").is_file()
        }
        if "exits" not in files:
            raise CannotImport([f"{source}: has no exits.csv or exits.tsv; export writes one"])
    elif source.suffix.lower() == ".graphml":
        return tables_of_graphml(source.name, _bytes(source))
    else:
        files = {"exits": source}
    if levels:
        files["levels"] = levels
    return {name: table_of(path.name, _text(path)) for name, path in files.items()}


def _bytes(path: Path) -> bytes:
    try:
        return file_bytes(path)
    except CannotRead as error:
        raise CannotImport(error.problems) from error


def _text(path: Path) -> str:
    try:
        return _bytes(path).decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise CannotImport([f"{path}: is not UTF-8 text; save the table as UTF-8"]) from error


def write(flow: Flow, kind: Kind, out: Path) -> list[Path]:
    """Writes a flow as a folder of tables, or as a graph; the files written. Raises
    :class:`~mossy_bridge.exchange.saving.CannotSave`."""
    whole = resolved(flow)
    if kind in SEPARATORS:
        texts = {
            out / f"{name}.{kind}": table_text(HEADINGS[name], rows, SEPARATORS[kind])
            for name, rows in tables_of(whole).items()
        }
        try:
            out.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise CannotSave(f"{out}: cannot be made a folder ({error.strerror or error})") from error
    else:
        texts = {out: graphml(whole) if kind == "graphml" else dot(whole)}
    for path, text in texts.items():
        replace_file(path, text.encode())
    return list(texts)


def left_out(flow: Flow, kind: Kind) -> list[str]:
    """What a flow has that is not written, in words."""
    return [*([] if kind in SEPARATORS else ["facts, deeds and places of spawn points"]), *lacking(flow)]

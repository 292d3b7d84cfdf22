"""Flows brought in from tables and graphs, and written as these, or as a picture of the map."""

from collections.abc import Callable, Mapping
from pathlib import Path
from typing import cast

from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.desk.dialogs.person import ExportKind, Person
from mossy_bridge.desk.map.picture import PICTURES, PictureKind, map_picture
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.naming import listed, suggested
from mossy_bridge.desk.session.report_commands import ReportCommands
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.workers.background_task import done_beside
from mossy_bridge.exchange.game.constants import LANGUAGES, constants_text
from mossy_bridge.exchange.game.table import game_table, table_bytes
from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.exchange.saving import CannotSave, replace_file
from mossy_bridge.exchange.shipping_values import delivered
from mossy_bridge.exchange.tables.cells import CannotImport
from mossy_bridge.exchange.tables.files import Kind, left_out, tables_from, write
from mossy_bridge.exchange.tables.importing import imported
from mossy_bridge.model.flow import Flow

REPORTS: Mapping[ExportKind, str] = {"report as html": "html", "report as pdf": "pdf"}
"""The kinds of files that reports are written to."""


class Exchange:
    """Imports and exports. ``may_leave`` asks whether the present flow may be left."""

    def __init__(
        self, document: Document, person: Person, look: Look, reports: ReportCommands, may_leave: Callable[[], bool]
    ):
        self._document, self._person, self._look = document, person, look
        self._reports, self._may_leave = reports, may_leave

    def import_tables(self) -> None:
        """Makes a flow of tables or of a graph, after showing what it would be."""
        source = self._person.import_path() if self._may_leave() else None
        if source is None:
            return
        try:
            found = done_beside(lambda: imported(source.stem.replace("_", " ").capitalize(), tables_from(source)))
        except CannotImport as error:
            self._person.tell(f"{source.name} cannot be imported", listed(error.problems))
            return
        count, exits = len(found.flow.levels), sum(len(level.exits) for level in found.flow.levels)
        told = [f"{count} levels with {exits} exits", *found.told]
        if self._person.agrees(f"Import {source.name}", listed(told)):
            self._document.take(found.flow, edited=True)

    def export(self) -> None:
        """Writes the flow as it ships: as tables or as a graph, its map as a picture, or what the game reads; and tells
        what is not in there."""
        told = self._person.export_path(suggested(self._document, ""))
        if told is None:
            return
        out, kind = told
        if kind in REPORTS:
            self._reports.write(out, REPORTS[kind])
            return
        try:
            written, missing = self._written(out, kind)
        except CannotRead as error:
            self._person.tell("Not exported", listed(error.problems))
            return
        except CannotSave as error:
            self._person.tell("Not exported", str(error))
            return
        names = ", ".join(path.name for path in written)
        lacks = f"\n\nNot in there:\n{listed(missing)}" if missing else ""
        self._person.tell("Exported", f"{names} in {written[0].parent}{lacks}")

    def _written(self, out: Path, kind: ExportKind) -> tuple[list[Path], list[str]]:
        """The files written, and what is not in them."""
        flow = delivered(self._document.flow)
        if kind in PICTURES:
            self._export_map(flow, kind, out)
            return [out], []
        if kind == "table" or kind in LANGUAGES:
            table = done_beside(lambda: game_table(flow))
            data = table_bytes(table) if kind == "table" else constants_text(table, kind, out.stem).encode()
            replace_file(out, data, backup=False)
            return [out], table["left_out"]
        return done_beside(lambda: write(flow, cast(Kind, kind), out)), left_out(self._document.flow, cast(Kind, kind))

    def _export_map(self, flow: Flow, kind: PictureKind, out: Path) -> None:
        look = self._look

        def write_map() -> None:
            found = appraise(flow, budget=default_budget(flow))
            replace_file(out, map_picture(found, look, kind), backup=False)

        done_beside(write_map)

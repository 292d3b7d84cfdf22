"""Copy, cut and paste: of levels, or of things on a plan, as text that other windows understand."""

from PyQt6.QtGui import QGuiApplication

from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.naming import listed
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.exchange.clipboard_json import levels_text, parts_of, things_text, transitions_text
from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.exchange.tables.cells import CannotImport, Table
from mossy_bridge.exchange.tables.pasting import crossings_in, with_crossings
from mossy_bridge.model.edits.levels import whole


class Clipboard:
    """Copies what is selected, and pastes what was copied."""

    def __init__(self, document: Document, selection: Selection, requests: Requests, person: Person):
        self._document, self._selection = document, selection
        self._requests, self._person = requests, person

    def text(self) -> str:
        """What is selected, as text; "" where nothing is."""
        flow, selection = self._document.flow, self._selection
        level = whole(flow, selection.level_id)
        if selection.parts and level:
            return things_text(flow, level, selection.parts)
        chosen = [name for name in selection.levels if flow.level(name)]
        return levels_text(flow, chosen) if chosen else ""

    def copy(self) -> bool:
        """Copies; whether there was anything to copy."""
        text = self.text()
        if text:
            given(QGuiApplication.clipboard()).setText(text)
        return bool(text)

    def cut(self) -> None:
        """Copies and removes."""
        if self.copy():
            self._requests.remove()

    def copy_transition(self, name: str) -> None:
        """Copies a transition."""
        given(QGuiApplication.clipboard()).setText(transitions_text(self._document.flow, [name]))

    def paste(self) -> None:
        """Pastes things into the level shown, levels behind it."""
        self._take(given(QGuiApplication.clipboard()).text(), "paste")

    def duplicate(self) -> None:
        """Copies what is selected in place: levels behind themselves, things beside themselves."""
        if self._selection.parts:
            self._take(self.text(), f"duplicate {len(self._selection.parts)} things")
        else:
            self._requests.levels.duplicate()

    def _take(self, text: str, step: str) -> None:
        try:
            table = crossings_in(text)
            if table:
                self._take_crossings(table)
                return
            parts = parts_of(text)
        except CannotImport as error:
            self._person.tell("Nothing pasted", listed(error.problems))
            return
        except CannotRead as error:
            self._person.tell("Nothing pasted", listed(error.problems))
            return
        if parts is None:
            self._person.tell("Nothing pasted", "The clipboard holds nothing of a flow.")
        elif parts.only_transitions:
            self._requests.transitions.paste(parts.transitions, step)
        elif parts.levels or self._selection.level_id:
            self._requests.plans.paste(self._selection.level_id, parts, step)
        else:
            self._person.tell("Nothing pasted", "Choose the level first that it should go into.")

    def _take_crossings(self, table: Table) -> None:
        """Shows what cells copied from a spreadsheet would make, before they make it."""
        with_crossings(self._document.flow, table)  # what is wrong with them is told now
        self._requests.door.show_first("paste a table", lambda flow: with_crossings(flow, table).flow)

"""Readers of level files, made by pointing or brought from a file."""

from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.requests.level_files import LevelFileRequests
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.naming import listed
from mossy_bridge.exchange.folders import files_below, natural
from mossy_bridge.exchange.readers.new_flow import readers_from_file
from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.model.patterns import resolved


class ReaderCommands:
    """Asks for readers, and adds them to the flow."""

    def __init__(self, document: Document, requests: LevelFileRequests, person: Person):
        self._document, self._requests, self._person = document, requests, person

    def add_from_file(self) -> None:
        """Adds the readers of a file that is asked for."""
        path = self._person.reader_path(self._document.folder)
        if path is None:
            return
        try:
            self._requests.add_readers(readers_from_file(path))
        except CannotRead as error:
            self._person.tell("No reader in there", listed(error.problems))

    def make(self, reader_id: str = "") -> None:
        """Makes a reader by pointing at a level file, or changes one."""
        flow, folder = self._document.flow, self._document.folder
        if folder is None:
            self._person.tell("Not saved yet", "Save the flow first: level files are looked for below its folder.")
            return
        before = next((reader for reader in flow.readers if reader.id == reader_id), None)
        named = [level.file for level in resolved(flow).levels if level.ships and level.file]
        files = sorted(dict.fromkeys(named), key=natural) or files_below(folder)
        made = self._person.reader(folder, flow, files, before)
        if made and before:
            self._requests.change_reader(made)
        elif made:
            self._requests.add_readers([made])

"""What is asked of level files and their readers."""

from collections.abc import Iterable, Sequence
from functools import partial
from typing import Any

from msgspec.structs import replace

from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.exchange import folders
from mossy_bridge.level_files.contents import LevelFiles, readers_of
from mossy_bridge.level_files.differences import Difference
from mossy_bridge.level_files.taking import Extent, take_over, taken
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.flow import Flow, Reader
from mossy_bridge.model.ids import id_from


class LevelFileRequests:
    """Edits by which the flow comes to say what its level files say. No file is ever written."""

    def __init__(self, document: Document, door: EditDoor):
        self._document, self._door = document, door

    # -- which files there are -------------------------------------------------------------------------

    def add_files(self, files: Sequence[str]) -> None:
        """Makes levels of files, behind the others."""
        pattern = folders.naming_pattern([level.file for level in self._document.flow.levels if level.file])
        step = f"add {len(files)} level files"
        self._door.edit(step, lambda flow: folders.with_files(flow, files, pattern, linked=False))

    def follow_renamed(self, renamed: Iterable[tuple[str, str]]) -> None:
        """Names files as they are called now."""
        pairs = tuple(renamed)
        self._door.edit("follow renamed files", lambda flow: folders.follow(flow, pairs))

    def forget_file(self, file: str) -> None:
        """Lets a level go on without its file."""
        self._door.edit("forget a file", lambda flow: folders.follow(flow, [(file, "")]))

    # -- what they hold --------------------------------------------------------------------------------

    def take(self, difference: Difference, file: str) -> None:
        """Takes over one thing that a file says."""
        self._door.edit(f"take over from {file}", lambda flow: taken(flow, [difference]))

    def take_all(self, files: LevelFiles, extent: Extent, level: str = "") -> None:
        """Takes over everything that all files say, or that of one level."""
        found = self._document.flow.level(level)
        told = found.file if found else "the level files"
        step = f"take over places from {told}" if extent == "places" else f"take over from {told}"
        self._door.edit(step, lambda flow: take_over(flow, files, extent, level))

    def follow_places(self, files: LevelFiles, changed: Iterable[str]) -> None:
        """Moves what has moved in files that changed, where their readers follow places."""
        for name in changed:
            flow = self._document.flow
            follow = any(reader.follow == "places" for reader in readers_of(flow, name))
            levels = [level.id for level in flow.levels if level.file == name and follow]
            for level in levels:
                change = partial(take_over, files=files, extent="places", level=level)
                self._door.edit(f"follow {name}", change, shown=True)

    # -- readers ---------------------------------------------------------------------------------------

    def add_readers(self, readers: Sequence[Reader]) -> None:
        """Adds readers; one whose id is taken gets another."""

        def change(flow: Flow) -> Flow:
            for reader in readers:
                known = {other.id for other in flow.readers}
                new = replace(reader, id=id_from(reader.id, known, "reader"))
                flow = replace(flow, readers=(*flow.readers, new))
            return flow

        self._door.edit("add a reader" if len(readers) == 1 else f"add {len(readers)} readers", change)

    def set_reader(self, step: str, reader_id: str, **values: Any) -> None:
        """Changes a reader."""
        self._door.edit(step, lambda flow: _with_reader(flow, reader_id, **values))

    def change_reader(self, reader: Reader) -> None:
        """Puts a reader in the place of the one with its id."""
        values = {field: getattr(reader, field) for field in reader.__struct_fields__}
        self._door.edit("change a reader", lambda flow: _with_reader(flow, reader.id, **values))

    def remove_reader(self, reader_id: str) -> None:
        """Removes a reader; what was taken over by it stays."""

        def change(flow: Flow) -> Flow:
            return replace(flow, readers=tuple(one for one in flow.readers if one.id != reader_id))

        self._door.edit("remove a reader", change)


def _with_reader(flow: Flow, reader_id: str, **values: Any) -> Flow:
    if all(one.id != reader_id for one in flow.readers):
        raise CannotEdit(f"there is no reader “{reader_id}” any more")
    readers = (replace(one, **values) if one.id == reader_id else one for one in flow.readers)
    return replace(flow, readers=tuple(readers))

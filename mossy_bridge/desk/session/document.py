"""The document: the current flow, its undo history, and its file."""

import hashlib
import os
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.desk.workers.background_task import done_beside
from mossy_bridge.exchange.reading import CannotRead, file_bytes, flow_from_bytes
from mossy_bridge.exchange.saving import save_flow
from mossy_bridge.model.flow import Flow


@dataclass(frozen=True)
class HistoryStep:
    """An undoable step: its name, the flow on its other side, and where the designer was looking then."""

    name: str
    flow: Flow
    where: object = None


class Document(QObject):
    """Holds the flow and its history. Views read ``flow``; edits come through the
    :class:`~mossy_bridge.desk.session.edit_door.EditDoor`.

    It says what happened by one signal each: another flow was ``opened``; it ``changed(before, after)``; it was
    ``saved``. After undo and redo ``travelled`` follows, with where the designer was looking when the flow was last so.
    """

    opened = pyqtSignal()
    changed = pyqtSignal(object, object)
    travelled = pyqtSignal(object)
    saved = pyqtSignal()

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self.flow = Flow()
        self.path: Path | None = None
        self._home: Path | None = None
        """The folder of level files that a flow not saved yet was made from."""
        self._before: list[HistoryStep] = []
        self._after: list[HistoryStep] = []
        self._clean = self.flow
        self._on_disk = ""
        self.where: Callable[[], object] = lambda: None
        """Says where the designer is looking; the window sets it."""

    # -- editing ---------------------------------------------------------------------------------------

    def make(self, name: str, flow: Flow) -> bool:
        """Makes the flow another one, as a named step; whether it was another."""
        if flow == self.flow:
            return False
        self._before.append(HistoryStep(name, self.flow, self.where()))
        self._after.clear()
        self._become(flow)
        return True

    def amend(self, flow: Flow) -> None:
        """Makes the flow another one without a step of its own."""
        if flow != self.flow:
            as_saved = not self.edited
            if as_saved:  # whoever has only looked has nothing to save
                self._clean = flow
            self._become(flow)

    def undo(self) -> None:
        """Takes the last step back."""
        self._travel(self._before, self._after)

    def redo(self) -> None:
        """Makes the step taken back last once more."""
        self._travel(self._after, self._before)

    def _become(self, flow: Flow) -> None:
        before, self.flow = self.flow, flow
        self.changed.emit(before, flow)

    def _travel(self, source: list[HistoryStep], target: list[HistoryStep]) -> None:
        if source:
            step = source.pop()
            target.append(HistoryStep(step.name, self.flow, self.where()))
            self._become(step.flow)
            self.travelled.emit(step.where)

    @property
    def undo_name(self) -> str:
        """The name of the step that undo would take back, or ""."""
        return self._before[-1].name if self._before else ""

    @property
    def redo_name(self) -> str:
        """The name of the step that redo would make, or ""."""
        return self._after[-1].name if self._after else ""

    # -- keeping ---------------------------------------------------------------------------------------

    @property
    def edited(self) -> bool:
        """Whether there is something to save."""
        return self.flow is not self._clean and self.flow != self._clean

    @property
    def title(self) -> str:
        """What the flow is called on the window."""
        named = os.fsencode(self.path.stem).decode(errors="replace") if self.path else ""  # names may be any bytes
        return self.flow.title or named or "Untitled flow"

    @property
    def folder(self) -> Path | None:
        """The folder that level files are looked for in."""
        return self.path.parent if self.path else self._home

    def take(
        self, flow: Flow, path: Path | None = None, on_disk: str = "", home: Path | None = None, edited: bool = False
    ) -> None:
        """Begins anew with another flow. ``on_disk`` is the digest of what the file holds; ``edited`` says that it is
        something else."""
        self.flow, self.path, self._home = flow, path, home
        self._clean = Flow() if edited else flow
        self._on_disk = on_disk
        self._before.clear()
        self._after.clear()
        self.opened.emit()

    def open(self, path: Path) -> None:
        """Begins anew with the flow of a file. Raises ``CannotRead`` and then keeps what it has."""

        def read() -> tuple[Flow, str]:
            data = file_bytes(path)
            return flow_from_bytes(data), _digest(data)

        flow, on_disk = done_beside(read)
        self.take(flow, path.resolve(), on_disk)

    def take_up(self, flow: Flow, path: Path | None) -> None:
        """Begins anew with unsaved work, of a file or of none."""
        try:
            data = file_bytes(path) if path else b""
        except CannotRead:
            data = b""  # then it has changed, or is gone, and saving asks first
        self.take(flow, path, _digest(data), edited=True)

    def changed_on_disk(self) -> bool:
        """Whether somebody else has written or removed the file since it was read or saved."""
        if self.path is None:
            return False
        try:
            return _digest(file_bytes(self.path)) != self._on_disk
        except CannotRead:
            return True

    def save(self, path: Path) -> bytes:
        """Writes the file; what was written. Raises ``CannotSave``; then the file is as it was."""
        flow = self.flow

        def write() -> tuple[bytes, str]:
            data = save_flow(flow, path)
            return data, _digest(data)

        data, on_disk = done_beside(write)
        self.path, self._clean, self._on_disk = path.resolve(), flow, on_disk
        self.saved.emit()
        return data


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()

"""The document: the present flow, what came before it, and where it is kept."""

import hashlib
import os
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.desk.workers.background_task import done_beside
from mossy_bridge.exchange.reading import CannotRead, file_bytes, flow_from_bytes
from mossy_bridge.exchange.rereading import reread
from mossy_bridge.exchange.saving import save_flow
from mossy_bridge.model.addresses import place_words
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.flow import Flow

MOST_REFUSALS = 6
"""So many reasons why an edit is impossible are told at once."""


@dataclass(frozen=True)
class Step:
    """An undoable step: its name, the flow on its other side, and where the designer was looking then."""

    name: str
    flow: Flow
    where: object = None


class Document(QObject):
    """Holds the flow and its history. Views read ``flow`` and ask for edits; nothing else changes it.

    Signals: ``changed`` after the flow became another one; ``travelled`` after undo and redo, with where the
    designer was looking when the flow was last so; ``kept`` after saving, or when the file became another one;
    ``refused`` with a sentence when an edit was impossible.
    """

    changed = pyqtSignal()
    travelled = pyqtSignal(object)
    kept = pyqtSignal()
    refused = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self.flow = Flow()
        self.path: Path | None = None
        self._home: Path | None = None
        """The folder of level files that a flow not saved yet was made from."""
        self._before: list[Step] = []
        self._after: list[Step] = []
        self._clean = self.flow
        self._on_disk = ""
        self.where: Callable[[], object] = lambda: None
        """Says where the designer is looking; the window sets it."""

    # -- editing ---------------------------------------------------------------------------------------

    def edit(self, name: str, change: Callable[[Flow], Flow]) -> bool:
        """Makes an edit one named step. An impossible one changes nothing and is refused in words."""
        try:
            flow = reread(change(self.flow), self.flow)
        except CannotEdit as error:
            self.refused.emit(str(error))
            return False
        except CannotRead as error:
            self.refused.emit("\n".join(_in_words(self.flow, problem) for problem in error.problems[:MOST_REFUSALS]))
            return False
        if flow == self.flow:
            return False
        self._before.append(Step(name, self.flow, self.where()))
        self._after.clear()
        self.flow = flow
        self.changed.emit()
        return True

    def amend(self, change: Callable[[Flow], Flow]) -> None:
        """Changes the flow without a step of its own: what follows from looking, not from doing."""
        flow = reread(change(self.flow), self.flow)
        if flow != self.flow:
            self.flow = flow
            self.changed.emit()

    def undo(self) -> None:
        """Takes the last step back."""
        self._travel(self._before, self._after)

    def redo(self) -> None:
        """Makes the step taken back last once more."""
        self._travel(self._after, self._before)

    def _travel(self, source: list[Step], target: list[Step]) -> None:
        if source:
            step = source.pop()
            target.append(Step(step.name, self.flow, self.where()))
            self.flow = step.flow
            self.changed.emit()
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
        self, flow: Flow, path: Path | None = None, data: bytes = b"", home: Path | None = None, edited: bool = False
    ) -> None:
        """Begins anew with another flow. ``edited`` says that it is not what the file holds."""
        self.flow, self.path, self._home = flow, path, home
        self._clean = Flow() if edited else flow
        self._on_disk = _digest(data)
        self._before.clear()
        self._after.clear()
        self.changed.emit()
        self.kept.emit()

    def open(self, path: Path) -> None:
        """Begins anew with the flow of a file. Raises ``CannotRead`` and then keeps what it has."""

        def read() -> tuple[bytes, Flow]:
            data = file_bytes(path)
            return data, flow_from_bytes(data)

        data, flow = done_beside(read)
        self.take(flow, path.resolve(), data)

    def take_up(self, flow: Flow, path: Path | None) -> None:
        """Begins anew with unsaved work, of a file or of none."""
        try:
            data = file_bytes(path) if path else b""
        except CannotRead:
            data = b""  # then it has changed, or is gone, and saving asks first
        self.take(flow, path, data, edited=True)

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
        data = done_beside(partial(save_flow, flow, path))
        self.path, self._clean, self._on_disk = path.resolve(), flow, _digest(data)
        self.kept.emit()
        return data


def _in_words(flow: Flow, problem: str) -> str:
    """A problem as reading tells it, its place in the designer's words."""
    place, _, sentence = problem.partition(": ")
    return f"{place_words(flow, place)}: {sentence}"


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()

"""Opening and saving: what happens to the file on disk, and what is asked before."""

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, QSettings, pyqtSignal

from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.session.crash_recovery import Recovery, forget
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.desk.session.naming import DEMO, listed, suggested
from mossy_bridge.desk.workers.background_task import done_beside
from mossy_bridge.exchange.folders import bring_files
from mossy_bridge.exchange.reading import CannotRead, flow_from_bytes
from mossy_bridge.exchange.rereading import reread
from mossy_bridge.exchange.saving import CannotSave, clear_leftovers
from mossy_bridge.exchange.versions import Versions
from mossy_bridge.model.flow import Flow

MOST_RECENT = 8


class Files(QObject):
    """Opens, saves and remembers files, and keeps their earlier versions below a folder, if one is given.
    ``recent_changed`` follows every opening and saving; ``not_kept`` says why an earlier version could not be kept, or
    that it could (""); ``compare_wanted(name, flow)`` asks to have one compared, ``others_wanted(files)``
    to have flows opened, in windows of their own."""

    recent_changed = pyqtSignal()
    used = pyqtSignal(object)
    """The file that was opened or saved."""
    not_kept = pyqtSignal(str)
    compare_wanted = pyqtSignal(str, object)
    others_wanted = pyqtSignal(list)

    def __init__(
        self,
        document: Document,
        door: EditDoor,
        person: Person,
        settings: QSettings,
        versions_folder: Path | None = None,
    ):
        super().__init__(document)
        self._document, self._door, self._person, self._settings = document, door, person, settings
        self._versions = Versions(versions_folder) if versions_folder else None
        self._saving = False

    @property
    def recent(self) -> list[Path]:
        """The files opened or saved last, the latest first."""
        names = self._settings.value("recent", [], list)
        return [Path(name) for name in names if isinstance(name, str)]

    def _remember(self, path: Path) -> None:
        names = [str(path), *(str(old) for old in self.recent if old != path)]
        self._settings.setValue("recent", names[:MOST_RECENT])
        self.recent_changed.emit()
        self.used.emit(path)

    def may_leave(self) -> bool:
        """Whether the present flow may be left: saved, or its changes given up knowingly."""
        if self._saving:
            return False
        if not self._document.edited:
            return True
        answer = self._person.unsaved(self._document.title)
        return answer == "discard" or (answer == "save" and self.save())

    def new(self) -> None:
        """Begins a flow: a small one of the kind that is chosen."""
        flow = self._person.new_flow() if self.may_leave() else None
        if flow is not None:
            self._document.take(flow)

    def open(self, path: Path | None = None) -> bool:
        """Opens a file, asking which if none is given. A file that cannot be read changes nothing."""
        if not self.may_leave():
            return False
        path = path or self._person.open_path(self._document.folder)
        if path is None:
            return False
        try:
            self._document.open(path)
        except CannotRead as error:
            self._person.tell(f"{path.name} cannot be opened", listed(error.problems))
            return False
        clear_leftovers(path.resolve().parent)
        self._remember(path.resolve())
        return True

    def open_demo(self, name: str = "tidewick", with_files: bool = True) -> bool:
        """Opens a demo flow as a new, unsaved one, if what is open may be left; with its level files, which lie where
        the demo does, or as a flow that has none."""
        if not self.may_leave():
            return False
        flow = flow_from_bytes((DEMO / f"{name}.mossy").read_bytes())
        self._document.take(flow, home=DEMO if with_files else None)
        return True

    def new_from_folder(self) -> None:
        """Makes a flow of a folder's level files; it is to be saved there."""
        if not self.may_leave():
            return
        folder = self._person.folder_path()
        flow = self._person.flow_of_folder(folder) if folder else None
        if flow and folder:
            self._document.take(reread(flow, Flow()), home=folder, edited=True)

    def take_up_left(self, recovery: Recovery) -> None:
        """Offers unsaved work that was left behind by a crash, the latest first, until one is taken up."""
        for left in recovery.left_behind():
            if left.entry is None:
                told = f"It stays where it is: {left.file}\nNothing else is wrong: you can go on working."
                self._person.tell("Unsaved work of an earlier session cannot be read", told)
                left.file.rename(left.file.with_suffix(".unreadable"))
                continue
            told = f"{left.entry.path or 'It was never saved.'}\nIts unsaved changes are from {left.when}."
            answer = self._person.recover(left.entry.title, told)
            if answer == "take":
                self._document.take_up(left.entry.flow, left.entry.path)
                recovery.keep_now()
            if answer != "later":
                forget(left)
            if answer == "take":
                return

    def save(self) -> bool:
        """Saves where the flow came from; asks where if it came from nowhere."""
        path = self._document.path
        if path is None:
            return self.save_as()
        changed = done_beside(self._document.changed_on_disk)
        if changed and not self._person.overwrite_changed(path):
            return False
        return self._write(path)

    def save_as(self) -> bool:
        """Saves to another file."""
        path = self._person.save_path(self._document.path or suggested(self._document, ".mossy"))
        return self._write(path) if path else False

    def _write(self, path: Path) -> bool:
        if self._saving:
            return False
        self._saving = True
        from_demo = self._document.path is None and self._document.folder == DEMO
        try:
            if from_demo and path.parent.is_dir():
                done_beside(partial(bring_files, self._document.flow, DEMO, path.resolve().parent))
            data = self._document.save(path)
        except OSError as error:
            self._person.tell("Not saved", f"Its level files cannot be put beside it: {error.strerror or error}")
            return False
        except CannotSave as error:
            self._person.tell("Not saved", f"{error}\n\nThe file is as it was. Save under another name instead.")
            return False
        finally:
            self._saving = False
        self._keep_version(path.resolve(), data)
        self._remember(path.resolve())
        return True

    # -- earlier versions ------------------------------------------------------------------------------

    def _keep_version(self, path: Path, data: bytes) -> None:
        if self._versions:
            try:
                done_beside(partial(self._versions.keep, path, data))
            except CannotSave as error:
                self.not_kept.emit(str(error))
            else:
                self.not_kept.emit("")

    @property
    def has_versions(self) -> bool:
        """Whether there are earlier versions of the present file."""
        path = self._document.path
        return bool(self._versions and path and self._versions.of(path))

    def go_back(self) -> None:
        """Shows the earlier versions of the file: brings one back as a step that can be undone, or has it compared."""
        path = self._document.path
        if not self._versions or path is None:
            self._person.tell("Earlier versions", "Save the flow first: every save is kept here.")
            return
        chosen = self._person.earlier_version(self._versions.of(path), self._document.flow)
        if chosen is not None:
            flow, when = chosen.flow, f"{chosen.version.when:%-d %B, %H:%M}"
            if chosen.compared:
                self.compare_wanted.emit(f"The version of {when}", flow)
            else:
                self._door.edit(f"go back to {when}", lambda _: flow)

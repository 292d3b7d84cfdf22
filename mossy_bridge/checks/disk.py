"""What lies on the disk below the folder of a flow: each folder is looked into once."""

import os
from pathlib import Path, PurePosixPath
from typing import NamedTuple


class _Folder(NamedTuple):
    """A folder below, as it is spelled, where it truly lies, and the names in it."""

    spelled: PurePosixPath
    path: str
    names: frozenset[str]
    folded: dict[str, str]
    """The names by how they are written in small letters."""


class Disk:
    """The files below one folder, as they are spelled."""

    def __init__(self, folder: Path):
        self._root = os.path.realpath(folder)
        self._folders: dict[PurePosixPath, _Folder | None] = {}
        self._spelled: dict[PurePosixPath, PurePosixPath | None] = {}

    def names_in(self, folder: PurePosixPath) -> list[str]:
        """The names in a folder below, in order; none where it cannot be looked into, or leads out."""
        found = self._looked_into(folder)
        return sorted(found.names) if found else []

    def is_file(self, file: PurePosixPath) -> bool:
        """Whether a name is that of a file."""
        return os.path.isfile(os.path.join(self._root, file))

    def spelled(self, file: PurePosixPath) -> PurePosixPath | None:
        """A file as the disk spells it, letter case apart; None where there is none below the folder."""
        if file not in self._spelled:
            self._spelled[file] = self._look_up(file)
        return self._spelled[file]

    def _look_up(self, file: PurePosixPath) -> PurePosixPath | None:
        if file.is_absolute() or ".." in file.parts or not file.name:
            return None
        parent = self._folder(file.parent)
        name = _match(parent, file.name)
        if parent is None or name is None:
            return None
        path = f"{parent.path}/{name}"
        if os.path.islink(path) and not self._is_below(os.path.realpath(path)):
            return None
        if not os.path.isfile(path):
            return None
        return file if name == file.name and parent.spelled == file.parent else parent.spelled / name

    def _folder(self, folder: PurePosixPath) -> _Folder | None:
        """A folder by whatever letter case; None where there is none below."""
        if folder not in self._folders:
            spelled: PurePosixPath | None = PurePosixPath()
            if folder.parts:
                parent = self._folder(folder.parent)
                name = _match(parent, folder.name)
                spelled = parent.spelled / name if parent and name is not None else None
            self._folders[folder] = self._looked_into(spelled) if spelled is not None else None
        return self._folders[folder]

    def _looked_into(self, spelled: PurePosixPath) -> _Folder | None:
        path = os.path.realpath(os.path.join(self._root, spelled))
        if not self._is_below(path):
            return None
        try:
            names = frozenset(os.listdir(path))
        except (OSError, ValueError):
            names = frozenset()
        return _Folder(spelled, path, names, {name.casefold(): name for name in sorted(names, reverse=True)})

    def _is_below(self, path: str) -> bool:
        """Whether a path, links followed, is that of the folder or of something in it."""
        return path == self._root or path.startswith(self._root.rstrip("/") + "/")


def _match(folder: _Folder | None, name: str) -> str | None:
    """The name in a folder that is alike, letter case apart."""
    if folder is None or name in folder.names:
        return name if folder else None
    return folder.folded.get(name.casefold())

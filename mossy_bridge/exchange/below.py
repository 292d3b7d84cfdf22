"""Files below a flow's folder, and no others: wherever names, ``..`` or links may lead."""

import os
from pathlib import Path, PurePosixPath


def file_below(folder: Path, name: str) -> Path | None:
    """Where a name in a flow leads, if that is below the folder; it need not exist. None where it is not, or where
    no file can have such a name."""
    wanted = PurePosixPath(name)
    if wanted.is_absolute() or ".." in wanted.parts:
        return None
    try:
        path, root = (folder / wanted).resolve(), folder.resolve()
    except (OSError, RuntimeError, ValueError):  # links in a circle; a null character
        return None
    return path if path.is_relative_to(root) else None


class FilesBelow:
    """The same for many files of one folder: where each folder in it leads is looked up once. For one look at the disk;
    links may change until the next."""

    def __init__(self, folder: Path):
        self._folder = folder
        self._parents: dict[str, Path | None] = {}

    def path(self, name: str) -> str | None:
        """Where a name leads, or None where :func:`file_below` says so."""
        parent, _, last = name.rpartition("/")
        if last in ("", ".", "..") or "\0" in name:
            found = file_below(self._folder, name)
            return str(found) if found else None
        if parent not in self._parents:
            self._parents[parent] = file_below(self._folder, parent) if parent or last != name else self._root()
        folder = self._parents[parent]
        if folder is None:
            return None
        path = f"{folder}/{last}"
        if os.path.islink(path):
            found = file_below(self._folder, name)
            return str(found) if found else None
        return path

    def _root(self) -> Path | None:
        return file_below(self._folder, ".")

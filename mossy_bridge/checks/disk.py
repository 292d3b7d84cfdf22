"""What lies on the disk below the folder of a flow: each folder is looked into once."""

from pathlib import Path, PurePosixPath


class Disk:
    """The files below one folder, as they are spelled."""

    def __init__(self, folder: Path):
        self._folder = folder
        self._names: dict[Path, frozenset[str]] = {}
        self._small: dict[Path, dict[str, str]] = {}
        self._below: dict[Path, bool] = {}
        self._spelled: dict[PurePosixPath, PurePosixPath | None] = {}

    def names_in(self, folder: PurePosixPath) -> list[str]:
        """The names in a folder below, in order; none where it cannot be looked into, or leads out."""
        path = self._folder / folder
        return sorted(self._listed(path)) if self._is_below(path) else []

    def is_file(self, file: PurePosixPath) -> bool:
        """Whether a name is that of a file."""
        return (self._folder / file).is_file()

    def spelled(self, file: PurePosixPath) -> PurePosixPath | None:
        """A file as the disk spells it, letter case apart; None where there is none below the folder."""
        if file not in self._spelled:
            self._spelled[file] = self._look_up(file)
        return self._spelled[file]

    def _look_up(self, file: PurePosixPath) -> PurePosixPath | None:
        if file.is_absolute() or ".." in file.parts:
            return None
        here, found = self._folder, PurePosixPath()
        for part in file.parts:
            names = self._listed(here)
            match = part if part in names else self._folded(here).get(part.casefold())
            if match is None or not self._is_below(here / match):
                return None
            here, found = here / match, found / match
        return found if here.is_file() else None

    def _listed(self, folder: Path) -> frozenset[str]:
        """The names in a folder."""
        if folder not in self._names:
            try:
                self._names[folder] = frozenset(entry.name for entry in folder.iterdir())
            except (OSError, ValueError):
                self._names[folder] = frozenset()
        return self._names[folder]

    def _folded(self, folder: Path) -> dict[str, str]:
        """The names in a folder by how they are written in small letters."""
        if folder not in self._small:
            names = sorted(self._listed(folder), reverse=True)
            self._small[folder] = {name.casefold(): name for name in names}
        return self._small[folder]

    def _is_below(self, path: Path) -> bool:
        """Whether a path leads to somewhere below the folder, links followed."""
        if path not in self._below:
            try:
                self._below[path] = path.resolve().is_relative_to(self._folder.resolve())
            except (OSError, RuntimeError):
                self._below[path] = False
        return self._below[path]

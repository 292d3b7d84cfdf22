"""Level files: whether they exist as written, and whether each belongs to one level."""

import os
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path, PurePosixPath

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.model.codes import shape
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Flow, Level


def _filed(here: Inspection) -> Iterator[tuple[Level, PurePosixPath]]:
    for level in here.flow.levels:
        if level.file:
            yield level, _normal(level.file)


def _normal(file: str) -> PurePosixPath:
    return PurePosixPath(os.path.normpath(file))


def _names_in(folder: Path) -> list[str]:
    try:
        return sorted(entry.name for entry in folder.iterdir())
    except (OSError, ValueError):
        return []


def _spelled(folder: Path, file: PurePosixPath) -> PurePosixPath | None:
    """The file as the disk spells it, letter case apart; None where there is none below the folder."""
    if file.is_absolute() or ".." in file.parts:
        return None
    here, found = folder, PurePosixPath()
    for part in file.parts:
        names = _names_in(here)
        match = part if part in names else next((n for n in names if n.casefold() == part.casefold()), None)
        if match is None or not _is_below(folder, here / match):
            return None
        here, found = here / match, found / match
    return found if here.is_file() else None


def _is_below(folder: Path, path: Path) -> bool:
    """Whether a path leads to somewhere below the folder, links followed."""
    try:
        return path.resolve().is_relative_to(folder.resolve())
    except (OSError, RuntimeError):
        return False


@check("file-missing", "error", "structure", "The game cannot load the level.")
def file_missing(here: Inspection) -> Iterator[Found]:
    """The file of a level does not exist below the folder of the flow.

    Example: levels/pan_row.json was renamed on disk.
    To mend: Follow the new name on the face Level files, or choose another file.
    """
    if here.folder is None:
        return
    for level, file in _filed(here):
        if _spelled(here.folder, file) is None:
            yield Found((level.id,), f"{level.title} names the file {level.file}, which does not exist.")


@check("file-case", "error", "structure", "It loads on some systems and fails on others.")
def file_case(here: Inspection) -> Iterator[Found]:
    """The file exists with other upper and lower case letters.

    Example: levels/Pan_Row.json on disk, levels/pan_row.json in the flow.
    To mend: Write it as it is on disk.
    """
    if here.folder is None:
        return
    for level, file in _filed(here):
        found = _spelled(here.folder, file)
        if found is not None and found != file:
            repair = Repair(f"Write it as {found}", _filed_as(level.id, str(found)))
            message = f"{level.title} names the file {level.file}, but on disk it is {found}."
            yield Found((level.id,), message, repair=repair)


def _filed_as(level_id: str, file: str) -> Callable[[Flow], Flow]:
    return lambda flow: edits.set_level(flow, level_id, file=file)


@check("file-unlisted", "warning", "structure", "A level nobody put into the flow is never played.")
def file_unlisted(here: Inspection) -> Iterator[Found]:
    """In a folder where level files lie there is another of their shape that belongs to no level.

    Example: levels/level_19.json is new.
    To mend: Make a level of it on the face Level files.
    """
    if here.folder is None:
        return
    files = [file for _, file in _filed(here) if not file.is_absolute() and ".." not in file.parts]
    for parent in dict.fromkeys(file.parent for file in files):
        shapes = Counter(shape(file.name) for file in files if file.parent == parent)
        common = {kind for kind, times in shapes.items() if times == max(shapes.values())}
        listed = {file.name.casefold() for file in files if file.parent == parent}
        for name in _names_in(here.folder / parent) if _is_below(here.folder, here.folder / parent) else ():
            fits = shape(name) in common and name.casefold() not in listed
            if fits and (here.folder / parent / name).is_file():
                yield Found((str(parent / name),), f"The file {parent / name} belongs to no level.")


@check("twin-file", "error", "structure", "Changing the one level changes the other.")
def twin_file(here: Inspection) -> Iterator[Found]:
    """Two levels use the same file.

    Example: A copy still names the file of its original.
    To mend: Give one of them a file of its own.
    """
    first: dict[PurePosixPath, Level] = {}
    for level, file in _filed(here):
        if file in first:
            one = first[file]
            yield Found((one.id, level.id), f"{one.title} and {level.title} use the same file, {file}.")
        first.setdefault(file, level)

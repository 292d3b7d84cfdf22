"""Level files: whether they exist as written, and whether each belongs to one level."""

import os
from collections import Counter
from collections.abc import Callable, Iterator
from functools import lru_cache
from pathlib import PurePosixPath

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


@lru_cache(maxsize=1 << 16)
def _normal(file: str) -> PurePosixPath:
    return PurePosixPath(os.path.normpath(file))


@check("file-missing", "error", "structure", "The game cannot load the level.", disk=True)
def file_missing(here: Inspection) -> Iterator[Found]:
    """The file of a level does not exist below the folder of the flow.

    Example: levels/pan_row.json was renamed on disk.
    To mend: Follow the new name on the face Level files, or choose another file.
    """
    if here.disk is None:
        return
    for level, file in _filed(here):
        if here.disk.spelled(file) is None:
            yield Found((level.id,), f"{level.title} names the file {level.file}, which does not exist.")


@check("file-case", "error", "structure", "It loads on some systems and fails on others.", disk=True)
def file_case(here: Inspection) -> Iterator[Found]:
    """The file exists with other upper and lower case letters.

    Example: levels/Pan_Row.json on disk, levels/pan_row.json in the flow.
    To mend: Write it as it is on disk.
    """
    if here.disk is None:
        return
    for level, file in _filed(here):
        found = here.disk.spelled(file)
        if found is not None and found != file:
            repair = Repair(f"Write it as {found}", _filed_as(level.id, str(found)))
            message = f"{level.title} names the file {level.file}, but on disk it is {found}."
            yield Found((level.id,), message, repair=repair)


def _filed_as(level_id: str, file: str) -> Callable[[Flow], Flow]:
    return lambda flow: edits.set_level(flow, level_id, file=file)


@check("file-unlisted", "warning", "structure", "A level nobody put into the flow is never played.", disk=True)
def file_unlisted(here: Inspection) -> Iterator[Found]:
    """In a folder where level files lie there is another of their shape that belongs to no level.

    Example: levels/level_19.json is new.
    To mend: Make a level of it on the face Level files.
    """
    if here.disk is None:
        return
    files = [file for _, file in _filed(here) if not file.is_absolute() and ".." not in file.parts]
    for parent in dict.fromkeys(file.parent for file in files):
        shapes = Counter(shape(file.name) for file in files if file.parent == parent)
        common = {kind for kind, times in shapes.items() if times == max(shapes.values())}
        listed = {file.name.casefold() for file in files if file.parent == parent}
        for name in here.disk.names_in(parent):
            fits = shape(name) in common and name.casefold() not in listed
            if fits and here.disk.is_file(parent / name):
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

"""Whether readers can read the level files, and find anything in them."""

from collections.abc import Iterable, Iterator

from mossy_bridge.checks.finding import Found
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.level_files.contents import FileFault, fits, read_levels


@check("file-unreadable", "error", "level files", "Nobody knows what the game will find in it.", disk=True)
def file_unreadable(here: Inspection) -> Iterator[Found]:
    """A level file is damaged, or a rule of its reader fails on it.

    Example: levels/sand.xml was saved half; or a rule reads x where a word stands.
    To mend: Save the file anew from where levels are built, or change the rule on the face Level files.
    """
    readers = {reader.id: reader for reader in here.flow.readers}
    for level, _ in read_levels(here.flow):
        contents = here.level_files.files.get(level.file)
        for fault in contents.faults if contents else ():
            yield Found((level.id,), f"{level.file}: {fault.told(readers)}")


@check("reader-idle", "warning", "level files", "What it was made for goes unread.", disk=True)
def reader_idle(here: Inspection) -> Iterator[Found]:
    """A reader fits the file of no level, or a rule finds nothing in any file.

    Example: The files were moved to another folder; or gates are called doors since.
    To mend: Change the reader's files or the rule on the face Level files, or remove it.
    """
    if here.folder is None:
        return
    idle = {(reader.id, number) for reader in here.flow.readers for number in range(len(reader.rules))}
    read: set[str] = set()
    for level, readers in read_levels(here.flow):
        contents = here.level_files.files.get(level.file)
        if contents is not None:
            if idle:
                idle -= {(thing.reader, thing.rule) for thing in contents.things}
                idle -= {(fault.reader, fault.rule) for fault in contents.faults}
            read.update(reader.id for reader in readers if not _failed(contents.faults, reader.id))
    for reader in here.flow.readers:
        name = reader.name or reader.id
        if not any(fits(reader, level.file) for level in here.flow.levels):
            yield Found((reader.id,), f"The reader {name} is for {reader.files}, but no level has such a file.")
            continue
        for number, rule in enumerate(reader.rules if reader.id in read else ()):
            if (reader.id, number) in idle:
                message = f"Rule {number + 1} of {name} finds nothing in any file: {rule.each[:80]}"
                yield Found((f"{reader.id}.{number}",), message)


def _failed(faults: Iterable[FileFault], reader: str) -> bool:
    """Whether a reader could not read a file at all."""
    return any(fault.rule < 0 and fault.reader in ("", reader) for fault in faults)

"""A whole flow made of a game's level files: levels, plans, exits and where they lead, spawn points and deeds."""

from collections.abc import Callable, Sequence
from pathlib import Path, PurePosixPath
from typing import Any

from msgspec.structs import replace

from mossy_bridge.exchange.folders import naming_pattern, natural, with_files
from mossy_bridge.exchange.readers.store import LevelFileStore
from mossy_bridge.exchange.reading import CannotRead, file_bytes, flow_from_tree, tree_from_text
from mossy_bridge.level_files.contents import LevelFiles, fits
from mossy_bridge.level_files.destinations import END
from mossy_bridge.level_files.taking import take_over, words_of
from mossy_bridge.model.flow import Ending, Flow, Reader, Start


def readers_from_file(path: Path) -> tuple[Reader, ...]:
    """The reader that a file holds, or a list of them. Raises :class:`~mossy_bridge.exchange.reading.CannotRead`."""
    try:
        text = file_bytes(path).decode("utf-8")
    except UnicodeDecodeError:
        raise CannotRead([f"{path}: is not UTF-8 text"]) from None
    try:
        tree: Any = tree_from_text(text)
        found = flow_from_tree({"mossy_bridge": 1, "readers": tree if isinstance(tree, list) else [tree]}).readers
    except CannotRead as error:
        raise CannotRead([f"{path}: {problem}" for problem in error.problems]) from error
    if not found:
        raise CannotRead([f"{path}: holds no reader; it is an object with “id”, “files”, “form” and “rules”"])
    return found


def fitting(readers: Sequence[Reader], files: Sequence[str]) -> list[str]:
    """The files that some reader fits, in natural order."""
    return sorted((file for file in files if any(fits(reader, file) for reader in readers)), key=natural)


def below(reader: Reader, inside: PurePosixPath) -> Reader:
    """The reader for files named from a folder further up."""
    return replace(reader, files=str(inside / reader.files))


def flow_from_level_files(
    title: str,
    folder: Path,
    files: Sequence[str],
    readers: tuple[Reader, ...],
    progress: Callable[[int, int], None] = lambda _done, _all: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> tuple[Flow, LevelFiles]:
    """A flow of level files as their readers read them, ready to be surveyed, and what the files hold. It begins at the
    first level; endings and flags that the files name are made; what means nothing is left unconnected."""
    endings = dict.fromkeys(
        word.removeprefix(END) for reader in readers for word in reader.words.values() if word.startswith(END)
    )
    flow = Flow(title=title, readers=readers, endings=tuple(Ending(id=name, name=words_of(name)) for name in endings))
    flow = with_files(flow, files, naming_pattern(files), linked=False)
    if any(rule.makes == "spawn" for reader in readers for rule in reader.rules):
        flow = replace(flow, levels=tuple(replace(level, spawns=()) for level in flow.levels))
    if flow.levels:
        flow = replace(flow, start=Start(level=flow.levels[0].id))
    store = LevelFileStore(folder)
    try:
        contents = store.read(flow, cancelled, progress)
    finally:
        store.close()
    return take_over(flow, contents, "all"), contents

"""Level files in a folder: finding out how they are named, making levels of them, and seeing what changed."""

import difflib
import os
import re
import shutil
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from contextlib import suppress
from fnmatch import fnmatchcase
from pathlib import Path, PurePosixPath
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.exchange.below import file_below
from mossy_bridge.exchange.rereading import cleaned
from mossy_bridge.model.codes import shape
from mossy_bridge.model.edits.levels import add_level, set_level
from mossy_bridge.model.flow import Destination, Ending, Exit, Flow, Start, Trigger

MOST_FILES = 20_000


class FileNews(Struct, frozen=True):
    """What is different between the level files on disk and those the flow names."""

    added: tuple[str, ...] = ()
    gone: tuple[str, ...] = ()
    renamed: tuple[tuple[str, str], ...] = ()
    """Pairs of the name the flow knows and the one it probably has now."""

    def __bool__(self) -> bool:
        return bool(self.added or self.gone or self.renamed)


def files_below(folder: Path) -> list[str]:
    """Every file below the folder, as the flow would name it, in natural order; hidden ones and backups left
    out. Folders that may not be read are passed over."""
    found: list[str] = []
    for here, folders, names in os.walk(folder):
        names = [name for name in names if _can_be_named(name)]
        folders[:] = sorted(name for name in folders if not name.startswith("."))
        inside = PurePosixPath(*Path(here).relative_to(folder).parts)
        found += [str(inside / name) for name in names if not name.startswith(".") and not name.endswith("~")]
        if len(found) > MOST_FILES:
            break
    return sorted(found[:MOST_FILES], key=natural)


def files_beside(folder: Path, named: Iterable[str]) -> list[str]:
    """Every file in the folders that the named files lie in, as the flow would name it, in natural order."""
    found: list[str] = []
    for parent in dict.fromkeys(str(PurePosixPath(parent)) for parent in {file.rpartition("/")[0] for file in named}):
        where = file_below(folder, parent)
        with suppress(OSError), os.scandir(where or os.devnull) as entries:
            inside = [entry.name for entry in entries if entry.is_file() and _can_be_named(entry.name)]
            before = "" if parent == "." else f"{parent}/"
            found += [f"{before}{name}" for name in inside if not name.startswith(".") and not name.endswith("~")]
    return sorted(found, key=natural)


def _can_be_named(name: str) -> bool:
    """Whether a flow can name a file: one whose name is no text, or has control characters, it cannot."""
    return cleaned(name) == name


def natural(text: str) -> list[tuple[int, int, str]]:
    """A key that sorts ``level_2`` before ``level_10``."""
    parts = [part for part in re.split(r"([0-9]+)", text.casefold()) if part]
    digits = {part: part.lstrip("0") for part in parts if part.isdecimal()}
    return [(0, len(digits[part]), digits[part]) if part in digits else (1, 0, part) for part in parts]


def bring_files(flow: Flow, source: Path, target: Path) -> None:
    """Copies the level files of a flow from one folder to another, but for those that are there already. Raises
    ``OSError``."""
    for level in flow.levels:
        old, new = file_below(source, level.file), file_below(target, level.file)
        if level.file and old and new and old.is_file() and not new.exists():
            new.parent.mkdir(parents=True, exist_ok=True)
            shutil.copyfile(old, new)


def naming_pattern(files: Sequence[str]) -> str:
    """The pattern (``levels/level_*.map``) that most files in a folder fit: of the folder and ending with the
    most files, what their names share before and after. "" where there are no files."""
    groups = Counter((PurePosixPath(file).parent, PurePosixPath(file).suffix) for file in files)
    likely = [key for key in groups if key[1] not in ("", ".mossy", ".md", ".txt", ".png", ".json")] or list(groups)
    if not likely:
        return ""
    numbered = Counter(
        (PurePosixPath(file).parent, PurePosixPath(file).suffix)
        for file in files
        if shape(PurePosixPath(file).stem) != PurePosixPath(file).stem
    )
    parent, suffix = max(likely, key=lambda key: (numbered[key], groups[key]))
    paths = [path for path in map(PurePosixPath, files) if (path.parent, path.suffix) == (parent, suffix)]
    before = Counter(match[0] if (match := re.match(r"\D*(?=\d)", path.stem)) else "" for path in paths)
    common, times = before.most_common(1)[0]
    return str(parent / f"{common if times * 2 > len(paths) else ''}*{suffix}")


def matching(files: Iterable[str], pattern: str) -> list[str]:
    """The files that fit a pattern, in natural order. ``*`` stands for anything within a name."""
    wanted = PurePosixPath(pattern)
    return sorted(
        (
            file
            for file in files
            if PurePosixPath(file).parent == wanted.parent and fnmatchcase(PurePosixPath(file).name, wanted.name)
        ),
        key=natural,
    )


def name_of(file: str, pattern: str) -> str:
    """What a level made of the file is called: what the pattern's star stands for, as words."""
    wanted, stem = PurePosixPath(pattern).stem, PurePosixPath(file).stem
    before, star, _ = wanted.partition("*")
    words = stem[len(before) :] if star and len(stem) > len(before) else stem
    words = re.sub(r"[_\- ]+", " ", re.sub(r"^\d+[_\- ]+(?=\D)", "", words)).strip()
    if not words or re.fullmatch("[0-9]+", words):
        number = words.lstrip("0")
        words = f"{re.sub(r'[_. -]+', ' ', before).strip() or 'level'} {number}".strip()
    return words[:1].upper() + words[1:]


def code_of(file: str) -> str:
    """The code a file name carries: its numbers (and a branch's letter), ``2-3b``; "" where it has none."""
    stem = PurePosixPath(file).stem
    match = re.search(r"[0-9]+(?:[-_.][0-9]+)*[a-z]?(?![A-Za-z0-9])", stem)
    if not match:
        return ""
    return re.sub("[0-9]+", lambda number: number[0].lstrip("0") or "0", re.sub("[_.]", "-", match[0]))


def with_files(flow: Flow, files: Sequence[str], pattern: str, linked: bool = True) -> Flow:
    """The flow with a level for each file, behind those it has, in the order given, with codes as the files
    have them, or else counted on. With ``linked`` each gets an exit to the next level."""
    number = len([level for level in flow.levels if level.kind == "play"])
    for file in files:
        number += 1
        values: dict[str, Any] = {"file": file, "code": code_of(file) or str(number), "region": ""}
        if linked:
            to = Destination(kind="next")
            values["exits"] = (Exit(id="end", name="End", trigger=Trigger(kind="choose"), completes=True, to=to),)
        flow, _ = add_level(flow, name_of(file, pattern), "", **values)
    return flow


def flow_from_folder(title: str, files: Sequence[str], pattern: str) -> Flow:
    """A new flow of the level files: each leads on to the next, the last to an ending."""
    flow = with_files(Flow(title=title, endings=(Ending(id="the_end", name="The end"),)), files, pattern)
    if not flow.levels:
        return flow
    last = flow.levels[-1]
    end = Destination(kind="end", ending="the_end")
    last = replace(last, exits=tuple(replace(exit_, to=end) for exit_ in last.exits))
    return replace(flow, levels=(*flow.levels[:-1], last), start=Start(level=flow.levels[0].id))


Stamp = tuple[int, int]
"""What tells a file by whatever name: its number on the disk, and its size."""


def stamps_of(folder: Path, files: Iterable[str]) -> dict[str, Stamp]:
    """The stamps of the files that are there."""
    found: dict[str, Stamp] = {}
    root = os.fspath(folder)
    for file in files:
        with suppress(OSError, ValueError):
            standing = os.stat(os.path.join(root, file))
            found[file] = standing.st_ino, standing.st_size
    return found


def news(
    flow: Flow, files: Sequence[str], before: Mapping[str, Stamp] | None = None, now: Mapping[str, Stamp] | None = None
) -> FileNews:
    """What is different on disk: level files that are gone, new ones of a shape and folder that level files have, and
    of both those that are probably one file renamed: such as have the same stamp, or where no stamp is known names
    much alike. One that is gone and one that is new with another stamp are two files."""
    present = set(files)
    named = dict.fromkeys(level.file for level in flow.levels if level.file)
    gone = [file for file in named if file not in present]
    strange = [path for path in map(PurePosixPath, files) if str(path) not in named]
    paths = list(map(PurePosixPath, named)) if strange else []
    shapes = {(path.parent, path.suffix) for path in paths}
    likely = {(path.parent, shape(path.name)) for path in paths}
    added = [
        str(path)
        for path in strange
        if (path.parent, path.suffix) in shapes and (gone or (path.parent, shape(path.name)) in likely)
    ]
    renamed = _renamed(gone, added, before or {}, now or {})
    old, new = {pair[0] for pair in renamed}, {pair[1] for pair in renamed}
    return FileNews(
        tuple(file for file in added if file not in new), tuple(file for file in gone if file not in old), renamed
    )


def _renamed(
    gone: Sequence[str], added: Sequence[str], before: Mapping[str, Stamp], now: Mapping[str, Stamp]
) -> tuple[tuple[str, str], ...]:
    pairs: list[tuple[str, str]] = []
    left = list(added)
    for file in gone:
        kind = PurePosixPath(file).suffix
        likely = [other for other in left if PurePosixPath(other).suffix == kind]
        if file in before:
            best = next((other for other in likely if now.get(other) == before[file]), "")
        else:
            close = difflib.get_close_matches(file, likely, n=1, cutoff=0.75)
            best = close[0] if close else ""
        if best:
            pairs.append((file, best))
            left.remove(best)
    return tuple(pairs)


def follow(flow: Flow, renamed: Iterable[tuple[str, str]]) -> Flow:
    """The flow with its levels naming the files by their new names."""
    names = dict(renamed)

    for level in flow.levels:
        if level.file in names:
            flow = set_level(flow, level.id, file=names[level.file])
    return flow

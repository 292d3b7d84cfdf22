"""Codes, names and file names that go on in sequence."""

import re
from collections import Counter, defaultdict
from collections.abc import Collection, Iterable
from itertools import count
from pathlib import PurePosixPath
from string import ascii_lowercase

from msgspec.structs import replace

from mossy_bridge.model.flow import Flow, Level

CODE = re.compile(r"(.*?)([0-9]{1,15})([A-Za-z]?)", re.DOTALL)
"""Prefix, number, letter: ``2-3b``."""


class InUse:
    """Texts that are in use, whatever their case."""

    def __init__(self, texts: Iterable[str] = ()):
        self._texts = {text.casefold() for text in texts}

    def __contains__(self, text: str) -> bool:
        return text.casefold() in self._texts

    def add(self, text: str) -> None:
        """From now on it is in use, too."""
        self._texts.add(text.casefold())


class FilesInUse:
    """File names that are in use, by folder and suffix, with how they are written."""

    def __init__(self, files: Iterable[str] = ()):
        self._stems: defaultdict[tuple[PurePosixPath, str], InUse] = defaultdict(InUse)
        self._marks: defaultdict[tuple[PurePosixPath, str], Counter[str]] = defaultdict(Counter)
        for file in files:
            self.add(file)

    def add(self, file: str) -> None:
        """From now on it is in use, too."""
        path = PurePosixPath(file)
        self._stems[path.parent, path.suffix].add(path.stem)
        self._marks[path.parent, path.suffix].update(_marks_in(path.stem))

    def beside(self, path: PurePosixPath) -> InUse:
        """The names, without suffixes, of the files beside one that have its suffix."""
        return self._stems[path.parent, path.suffix]

    def separator(self, path: PurePosixPath) -> str:
        """What stands between the words of these names: the commonest of underscore, hyphen and space."""
        counts = self._marks[path.parent, path.suffix] + Counter(_marks_in(path.stem))
        return max(_MARKS, key=lambda mark: counts[mark])


_MARKS = ("_", "-", " ")


def _marks_in(stem: str) -> list[str]:
    return [mark for mark in _MARKS if mark in stem]


def shape(text: str) -> str:
    """The text with every run of digits as one mark, so that ``level_1`` and ``level_12`` look alike."""
    return re.sub(r"\d+", "#", text)


def code_shape(code: str) -> str:
    """The shape of a code, the letter of a branch apart."""
    return shape(re.sub(r"(?<=\d)[A-Za-z]$", "", code))


def next_code(code: str, used: InUse) -> str:
    """The code behind this one: ``1-2`` → ``1-3``; where that is taken a branch, ``1-2b``; of a branch the next
    letter. A code without a number gets one; no code stays none."""
    match = CODE.fullmatch(code)
    if not match:
        return _counted(code, "", "", used, 2) if code else ""
    prefix, number, letter = match.groups()
    following = f"{prefix}{int(number) + 1:0{len(number)}}"
    if not letter and following not in used:
        return following
    letters = ascii_lowercase[ascii_lowercase.index(letter.lower()) + 1 :] if letter else ascii_lowercase[1:]
    branches = (f"{prefix}{number}{other}" for other in letters)
    free = (branch for branch in branches if branch not in used)
    return next(free, "") or _counted(prefix, "", "", used, int(number) + 1)


def _counted(before: str, after: str, gap: str, used: InUse, first: int, digits: int = 1) -> str:
    """The first of ``before2after``, ``before3after``, … that is free."""
    return next(text for n in count(first) if (text := f"{before}{gap}{n:0{digits}}{after}") not in used)


def _code_number(code: str) -> tuple[int, str] | None:
    match = CODE.fullmatch(code)
    return (int(match[2]), match[3]) if match else None


def next_text(text: str, old_code: str, new_code: str, used: InUse, gap: str = " ") -> str:
    """The name for a copy. A number at its end goes on; where it is the code's it stays the code's. A text
    without a number gets the new code's number, or else the first free one from 2."""
    if not text:
        return ""
    old, new = _code_number(old_code), _code_number(new_code)
    match = CODE.fullmatch(text)
    if match is None:
        wish = f"{text}{gap}{new[0]}{new[1]}" if new and (new[0] > 1 or new[1]) else ""
        return wish if wish and wish not in used else _counted(text, "", gap, used, 2)
    before, digits = match[1], len(match[2])
    if old and new and int(match[2]) == old[0]:
        wish = f"{before}{new[0]:0{digits}}{new[1]}"
        if wish not in used:
            return wish
    return _counted(before, "", "", used, int(match[2]) + 1, digits)


def free_name(name: str, taken: Collection[str]) -> str:
    """A name for something new: as it is, or with a letter behind it. A number there would be taken for the number of a
    level."""
    used = {other.casefold() for other in taken}
    if name.casefold() not in used:
        return name
    letters = (a + b for a in ("", *ascii_lowercase) for b in ascii_lowercase)
    return next(text for letter in letters if (text := f"{name} {letter.upper()}").casefold() not in used)


def next_file(file: str, old_code: str, new_code: str, used: FilesInUse) -> str:
    """The file name for a copy, in the style of the others: separator and number of digits as they have them."""
    if not file:
        return ""
    path = PurePosixPath(file)
    stem = next_text(path.stem, old_code, new_code, used.beside(path), used.separator(path))
    return str(path.with_name(stem + path.suffix))


def code_behind(flow: Flow, level_id: str) -> str:
    """The code for a new play level behind another: the next one behind its code; where it has none, behind that of the
    last level that has."""
    used = InUse(level.code for level in flow.levels)
    before = flow.level(level_id)
    if before and before.code:
        return next_code(before.code, used)
    coded = [level.code for level in flow.levels if level.kind == "play" and level.code]
    return next_code(coded[-1], used) if coded else next_code("1-0", used)


def numbered_too(flow: Flow, level_id: str) -> str:
    """What to call a level whose copy has its name with a 2 behind it: the same with a 1; "" where that does not
    fit."""
    level = flow.level(level_id)
    if level is None or not level.name or CODE.fullmatch(level.name):
        return ""
    taken = {other.name.casefold() for other in flow.levels}
    wish = f"{level.name} 1"
    return wish if f"{level.name} 2".casefold() in taken and wish.casefold() not in taken else ""


def renumbered(flow: Flow, region: str, first: str) -> Flow:
    """The flow with the codes of a region's play levels counted on from ``first``. A branch (``2-3b``) stays a
    branch of the level before it. Raises ``ValueError`` where ``first`` has no number."""
    match = CODE.fullmatch(first)
    if not match:
        raise ValueError("a first code needs a number, such as 2-1")
    prefix, digits = match[1], len(match[2])
    number, letter = int(match[2]) - 1, ""
    levels: list[Level] = []
    for level in flow.levels:
        if level.region == region and level.kind == "play":
            old = CODE.fullmatch(level.code)
            branch = bool(old and old[3]) and number >= int(match[2])
            letter = chr(ord(letter or "a") + 1) if branch else ""
            number += 0 if branch else 1
            own = level.set_here | {"code"} if level.pattern else level.set_here
            levels.append(replace(level, code=f"{prefix}{number:0{digits}}{letter}", set_here=own))
        else:
            levels.append(level)
    return replace(flow, levels=tuple(levels))

"""Numbers of levels: in the code, the name and the file, where they stand in one relation."""

import re
from collections import Counter
from collections.abc import Iterator, Sequence
from itertools import combinations
from pathlib import PurePosixPath
from typing import NamedTuple

from mossy_bridge.checks.finding import Found
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.model.flow import Level

NUMBER = re.compile(r"(?<!\d)\d{1,18}(?!\d)")
"""A number of levels. Whatever has thousands of digits is none."""
LAST = re.compile(r"(?<!\d)(\d{1,18})\s*\Z")
LEAST = 3
"""A relation shows in so many levels at least."""


class LevelNumbers(NamedTuple):
    """The last numbers in a level's code, its name and its file; None for what has none."""

    code: int | None
    name: int | None
    file: int | None


@check("numbers-disagree", "warning", "structure", "Somebody will open, play or mend the wrong level.")
def numbers_disagree(here: Inspection) -> Iterator[Found]:
    """The numbers in a level's code, name and file do not stand in the relation that they have in most levels.

    Example: Code 2-4, file level_05: all others have the same number in both.
    To mend: Correct the number that is wrong.
    """
    regions: dict[str, list[tuple[Level, LevelNumbers]]] = {}
    for level, numbers in here.level_results.each("numbers", _numbers):
        regions.setdefault(level.region, []).append((level, numbers))
    odd: dict[str, str] = {}
    for levels in regions.values():
        for one, other in combinations(LevelNumbers._fields, 2):
            pairs = ((level, getattr(has, one), getattr(has, other)) for level, has in levels)
            both = [
                (level, first, second) for level, first, second in pairs if first is not None and second is not None
            ]
            for level, first, second in _odd_ones(both, compared="file" not in (one, other)):
                odd.setdefault(level.id, f"{one} says {first}, {other} says {second}")
    for level in here.flow.levels if odd else ():
        if level.id in odd:
            yield Found((level.id,), f"{level.title}: the numbers disagree ({odd[level.id]}).")


def _numbers(level: Level) -> LevelNumbers | None:
    at_the_end = LAST.search(level.name)
    found = (
        re.findall(NUMBER, level.code),
        [at_the_end[1]] if at_the_end else [],
        re.findall(NUMBER, PurePosixPath(level.file).stem) if level.file else [],
    )
    return LevelNumbers(*(int(numbers[-1]) if numbers else None for numbers in found)) if any(found) else None


def _odd_ones(both: Sequence[tuple[Level, int, int]], compared: bool) -> Iterator[tuple[Level, int, int]]:
    """The levels that leave the relation of two of their numbers that most keep: a constant apart, or the second one
    more from level to level. Where they are few, such as differ, if that is ``compared``; where most keep no relation,
    none."""
    if len(both) < LEAST:
        yield from (one for one in both if compared and one[1] != one[2])
        return
    apart = [second - first for _, first, second in both]
    through = [second - number for number, (_, _, second) in enumerate(both)]
    relation = max((apart, through), key=lambda one: Counter(one).most_common(1)[0][1])
    common, times = Counter(relation).most_common(1)[0]
    if times * 2 > len(both):
        yield from (one for one, value in zip(both, relation, strict=True) if value != common)

"""Numbers of levels: in the code, the name and the file, where they stand in one relation."""

import re
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from itertools import combinations
from pathlib import PurePosixPath

from mossy_bridge.checks.finding import Found
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.model.flow import Level

NUMBER = re.compile(r"(?<!\d)\d{1,18}(?!\d)")
"""A number of levels. Whatever has thousands of digits is none."""
LAST = re.compile(r"(?<!\d)(\d{1,18})\s*\Z")
LEAST = 3
"""A relation shows in so many levels at least."""

Numbers = Mapping[str, int]
"""The last numbers of a level: of its code, its name and its file, as far as they have one."""


@check("numbers-disagree", "warning", "structure", "Somebody will open, play or mend the wrong level.")
def numbers_disagree(here: Inspection) -> Iterator[Found]:
    """The numbers in a level's code, name and file do not stand in the relation that they have in most levels.

    Example: Code 2-4, file level_05: all others have the same number in both.
    To mend: Correct the number that is wrong.
    """
    regions: dict[str, list[tuple[Level, Numbers]]] = {}
    for level in here.flow.levels:
        regions.setdefault(level.region, []).append((level, _numbers(level)))
    odd: dict[str, str] = {}
    for levels in regions.values():
        for one, other in combinations(("code", "name", "file"), 2):
            both = [(level, has[one], has[other]) for level, has in levels if one in has and other in has]
            for level, first, second in _odd_ones(both, compared="file" not in (one, other)):
                odd.setdefault(level.id, f"{one} says {first}, {other} says {second}")
    for level in here.flow.levels:
        if level.id in odd:
            yield Found((level.id,), f"{level.title}: the numbers disagree ({odd[level.id]}).")


def _numbers(level: Level) -> Numbers:
    at_the_end = LAST.search(level.name)
    found = {
        "code": re.findall(NUMBER, level.code)[-1:],
        "name": [at_the_end[1]] if at_the_end else [],
        "file": re.findall(NUMBER, PurePosixPath(level.file).stem)[-1:],
    }
    return {what: int(numbers[0]) for what, numbers in found.items() if numbers}


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

"""Codes, names and file names that should tell levels apart and go on in sequence."""

from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from pathlib import PurePosixPath

from mossy_bridge.checks.finding import Found, Severity
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.model.codes import CODE, code_shape, shape
from mossy_bridge.model.flow import Level


def _shared(levels: Iterable[Level], key: Callable[[Level], str]) -> Iterator[tuple[Level, Level]]:
    """Each level whose key an earlier one has, behind that one."""
    first: dict[str, Level] = {}
    for level in levels:
        text = key(level).strip()
        if text and text in first:
            yield first[text], level
        first.setdefault(text, level)


@check("duplicate-code", "warning", "structure", "Two levels with one code are confused in talk and in lists.")
def duplicate_code(here: Inspection) -> Iterator[Found]:
    """Two levels share a code, also where only the case of a letter differs.

    Example: Two levels are called 2-3.
    To mend: Give one of them the next free code.
    """
    for one, other in _shared(here.flow.levels, lambda level: level.code.casefold()):
        yield Found((one.id, other.id), f"{one.title} and {other.title} share the code {other.code}.")


@check("duplicate-name", "warning", "structure", "Two levels with one name are confused in talk and in lists.")
def duplicate_name(here: Inspection) -> Iterator[Found]:
    """Two levels share a name, also where only the case of a letter differs.

    Example: Two levels are called Salt Gate.
    To mend: Rename one of them.
    """
    for one, other in _shared(here.flow.levels, lambda level: level.name.casefold()):
        codes = " and ".join(level.code or level.id for level in (one, other))
        yield Found((one.id, other.id), f"{codes} are both called {other.name}.")


@check("code-gap", "hint", "structure", "A missing number looks like a missing level.")
def code_gap(here: Inspection) -> Iterator[Found]:
    """Within a region the codes leave out a number, or a letter.

    Example: 1-3 is followed by 1-5.
    To mend: Renumber the region, or accept the gap.
    """
    latest: dict[str, tuple[str, int, str]] = {}
    for level, code in here.level_results.each("codes", _parsed_code):
        before = latest.get(level.region)
        if before and before[0] == code[0] and not _goes_on(before, code):
            was = f"{before[0]}{before[1]}{before[2]}"
            yield Found((level.id,), f"{level.title} has the code {level.code}, which does not follow {was}.")
        latest[level.region] = code


def _parsed_code(level: Level) -> tuple[str, int, str] | None:
    """What is before the number of a code, the number, and the letter behind it."""
    match = CODE.fullmatch(level.code)
    return (match[1], int(match[2]), match[3].lower()) if match else None


def _goes_on(before: tuple[str, int, str], code: tuple[str, int, str]) -> bool:
    return code[1] == before[1] + 1 or (code[1] == before[1] and code[2] > before[2])


@check("naming-style", "hint", "structure", "Names of one style sort and read better.")
def naming_style(here: Inspection) -> Iterator[Found]:
    """A file name, or a code, does not have the shape that most others have.

    Example: level_1, level_2, Level3.
    To mend: Rename it like the others.
    """
    yield from _odd_ones(here, "file name", lambda level: PurePosixPath(level.file).name if level.file else "", shape)
    yield from _odd_ones(here, "code", lambda level: level.code, code_shape)


def _odd_ones(
    here: Inspection, what: str, text_of: Callable[[Level], str], shape_of: Callable[[str], str]
) -> Iterator[Found]:
    def shape_in(level: Level) -> str | None:
        text = text_of(level)
        return shape_of(text) if text else None

    shapes = here.level_results.each(f"shape of each {what}", shape_in)
    common, times = Counter(value for _, value in shapes).most_common(1)[0] if shapes else ("", 0)
    if times < 3 or times * 2 <= len(shapes):
        return
    like = next(text_of(level) for level, value in shapes if value == common)
    for level, value in shapes:
        if value != common:
            yield Found((level.id,), f"{level.title} has the {what} {text_of(level)}, unlike the others ({like}).")


@check("level-planned", "hint", "structure", "It is part of the game, but only an intention so far.")
def level_planned(here: Inspection) -> Iterator[Found]:
    """A level that is only planned is reached by play. For delivery this is an error.

    Example: The boat house is planned, and the raft already leads there.
    To mend: Make the level, or take it out before delivery.
    """
    for level in here.flow.levels:
        if level.status == "planned" and here.survey.levels[level.id].answer == "yes":
            trace = here.survey.levels[level.id].trace
            severity: Severity | None = "error" if here.final else None
            yield Found((level.id,), f"{level.title} is reached, but only planned.", trace, severity=severity)

"""In what levels and their files differ."""

from collections.abc import Callable, Iterator

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.level_files.differences import Difference, DifferenceKind
from mossy_bridge.level_files.taking import can_be_taken, taken
from mossy_bridge.level_files.wording import told
from mossy_bridge.model.flow import Flow


@check("file-lacks", "error", "level files", "What the flow counts on is not in the game.", disk=True)
def file_lacks(here: Inspection) -> Iterator[Found]:
    """The flow has an exit that is touched or pressed, a spawn point or a deed that the level's file lacks; a hint
    where the reader's rule need not find all of them.

    Example: The east gate was deleted where levels are built.
    To mend: Put it into the file, or remove it here.
    """
    for one in _of(here, "lacks"):
        yield Found(_at(one), told(here.flow, one), severity=None if one.complete else "hint")


@check("file-has-more", "warning", "level files", "The proof knows nothing of it.", disk=True)
def file_has_more(here: Inspection) -> Iterator[Found]:
    """The level's file has an exit, a spawn point or a deed that the flow lacks.

    Example: A second door was built into the hall.
    To mend: Add it here.
    """
    for one in _of(here, "more"):
        sure = one.makes != "exit" or (one.led is not None and one.led.to is not None)
        yield Found(_at(one), told(here.flow, one), repair=_repair("Add it", one) if sure else None)


@check("file-leads-elsewhere", "error", "level files", "In the game the player arrives somewhere else.", disk=True)
def file_leads_elsewhere(here: Inspection) -> Iterator[Found]:
    """An exit leads elsewhere in the level's file than in the flow, or the file names a place that there is not.

    Example: The file still leads to the level that stood there before.
    To mend: Lead it where the file says, or change the file; what a word of the file means stands under the words of
    its reader.
    """
    for one in _of(here, "leads"):
        repair = _repair("Lead it where the file says", one) if can_be_taken(one) else None
        yield Found(_at(one), told(here.flow, one), repair=repair)


@check("file-place-differs", "hint", "level files", "What is proven of places is not what is played.", disk=True)
def file_place_differs(here: Inspection) -> Iterator[Found]:
    """An area, a point, the size of the plan or the solids are not where the level's file has them.

    Example: The gate was moved two tiles to the left where levels are built.
    To mend: Take over the place that the file has.
    """
    for one in _of(here, "place"):
        yield Found(_at(one), told(here.flow, one), repair=_repair("Take over what the file has", one))


def _of(here: Inspection, kind: DifferenceKind) -> Iterator[Difference]:
    return (one for one in here.level_files.differences if one.kind == kind)


def _at(difference: Difference) -> tuple[str, ...]:
    """The thing; else the level, and what the file calls it."""
    if difference.thing:
        return (f"{difference.level}.{difference.thing}",)
    name = difference.found.called if difference.found else ""
    return (difference.level, name) if name and difference.kind == "more" else (difference.level,)


def _repair(label: str, difference: Difference) -> Repair:
    return Repair(label, _edit(difference))


def _edit(difference: Difference) -> Callable[[Flow], Flow]:
    return lambda flow: taken(flow, [difference])

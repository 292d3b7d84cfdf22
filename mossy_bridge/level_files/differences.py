"""Level files held against the flow: which thing of a file is which of the flow, and in what they differ."""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from typing import Literal

from msgspec import Struct, field
from msgspec.structs import replace

from mossy_bridge.level_files.contents import FileContents, FileThing, LevelFiles, as_rect, read_levels
from mossy_bridge.level_files.destinations import FileDestinations, Led
from mossy_bridge.level_files.regions import ALIKE, cover_the_same
from mossy_bridge.model.flow import Deed, Exit, Flow, Level, Plan, Reader, Rect, Spawn, ThingKind
from mossy_bridge.model.level_changes import differing_parts

DifferenceKind = Literal["lacks", "more", "leads", "place"]
Thing = Exit | Spawn | Deed
GROUPS: Mapping[ThingKind, str] = {"exit": "exits", "spawn": "spawns", "deed": "deeds"}
"""The field of a level that holds each kind of thing."""


class Difference(Struct, frozen=True):
    """One thing in which a level and its file differ: the file *lacks* it, has it *more*, *leads* elsewhere, or has it
    at another *place* (also: another size of the plan, other solids)."""

    kind: DifferenceKind
    level: str
    makes: ThingKind
    thing: str = ""
    """The id of the flow's thing; "" where the file has it more, and for plan and solids."""
    found: FileThing | None = None
    """What the file has, turned the way y grows in the flow; None where it lacks it, and for solids."""
    complete: bool = False
    """Whether the rule is said to find all there are."""
    led: Led | None = None
    """Where the file leads."""
    rects: tuple[Rect, ...] = ()
    """The solids of the file."""


class ComparedLevel(Struct, frozen=True):
    """In what one level differs from what its file holds."""

    level: Level
    contents: FileContents
    differences: tuple[Difference, ...]


class Comparison(Struct, frozen=True, dict=True):
    """The levels of a flow held against their files."""

    flow: Flow = field(default_factory=Flow)
    """With its patterns filled in."""
    files: LevelFiles = {}
    levels: dict[str, ComparedLevel] = {}
    """Those that were compared, by id, in the order of levels."""

    @cached_property
    def destinations(self) -> FileDestinations:
        """Looks up where files lead in the flow."""
        return FileDestinations(self.flow)

    @cached_property
    def differences(self) -> tuple[Difference, ...]:
        """Everything in which they differ, in the order of levels."""
        return tuple(one for level in self.levels.values() for one in level.differences)


def compared(flow: Flow, files: LevelFiles, before: Comparison | None = None) -> Comparison:
    """The levels of a flow, with its patterns filled in, held against their files; levels that do not ship are not. Of
    an earlier comparison is used what still holds."""
    if before and before.flow is flow and before.files is files:
        return before
    known = before.levels if before and _mean_the_same(before.flow, flow) else {}
    result = before if before and before.flow is flow else Comparison(flow)
    found: dict[str, ComparedLevel] = {}
    for level, readers in read_levels(flow):
        contents = files.get(level.file)
        old = known.get(level.id)
        if contents is None:
            continue
        if old and old.level is level and old.contents is contents:
            found[level.id] = old
        else:
            differences = tuple(level_differences(flow, result.destinations, level, readers, contents))
            found[level.id] = ComparedLevel(level, contents, differences)
    return _with_destinations(Comparison(flow, files, found), result)


def _with_destinations(comparison: Comparison, known: Comparison) -> Comparison:
    """The same, with what another of the same flow has looked up."""
    if "destinations" in known.__dict__:
        comparison.__dict__["destinations"] = known.destinations
    return comparison


def _mean_the_same(one: Flow, other: Flow) -> bool:
    """Whether what files say means the same in two flows."""
    if one.units != other.units or one.readers != other.readers or one.endings != other.endings:
        return False
    were, are = differing_parts(one.levels, other.levels)
    return list(map(_called, one.levels[were])) == list(map(_called, other.levels[are]))


def _called(level: Level) -> tuple[object, ...]:
    """All by which destinations find a level and its spawn points."""
    points = tuple((point.id, point.name) for point in level.spawns)
    return level.id, level.file, level.code, level.name, level.kind, level.ships, points


def level_differences(
    flow: Flow, destinations: FileDestinations, level: Level, readers: Sequence[Reader], contents: FileContents
) -> Iterator[Difference]:
    """In what one level differs from what its file holds."""
    upright = turned(flow, level, readers, contents)
    failed = {(fault.reader, fault.rule) for fault in contents.faults}
    rules = [(reader, number, rule) for reader in readers for number, rule in enumerate(reader.rules)]
    taken = {rule.makes for _, _, rule in rules}
    unsure = {rule.makes for reader, number, rule in rules if failed & {(reader.id, number), (reader.id, -1)}}
    complete = {rule.makes for _, _, rule in rules if rule.complete}
    if "plan" in taken:
        yield from _plan(level, upright)
    if "solid" in taken - unsure:
        yield from _solids(level, upright)
    words = {reader.id: reader.words for reader in readers}
    for kind in ("exit", "spawn", "deed"):
        if kind not in taken:
            continue
        pairs, more, lacking = matched(getattr(level, GROUPS[kind]), upright.of(kind))
        for thing, found in pairs:
            if moved(thing, found):
                yield Difference("place", level.id, kind, thing.id, found)
            led = destinations.of(found, level, words[found.reader]) if isinstance(thing, Exit) else None
            if led and isinstance(thing, Exit) and not destinations.same(led, thing.to, level):
                yield Difference("leads", level.id, kind, thing.id, found, led=led)
        for found in more:
            led = destinations.of(found, level, words[found.reader]) if kind == "exit" else None
            yield Difference("more", level.id, kind, "", found, led=led)
        for thing in lacking if kind not in unsure else ():
            yield Difference("lacks", level.id, kind, thing.id, complete=kind in complete)


def _plan(level: Level, contents: FileContents) -> Iterator[Difference]:
    sized = next((thing for thing in contents.of("plan") if thing.size), None)
    if sized is None or sized.size is None:
        return
    plan = level.plan or Plan()
    if _apart(sized.size, (plan.width, plan.height)):
        yield Difference("place", level.id, "plan", found=sized)


def _solids(level: Level, contents: FileContents) -> Iterator[Difference]:
    found = contents.of("solid")
    rects = tuple(as_rect(thing.rect) for thing in found if thing.rect)
    if len(rects) == len(found) and not cover_the_same(rects, level.plan.solids if level.plan else ()):
        yield Difference("place", level.id, "solid", rects=rects)


def matched(
    things: Sequence[Thing], found: Sequence[FileThing]
) -> tuple[list[tuple[Thing, FileThing]], list[FileThing], list[Thing]]:
    """Which things are which: by id; those without one, or with one used twice, by place, then by kind and number. Then
    what the file has more, and what it lacks; exits that nobody touches or presses it need not have."""
    left = {thing.id: thing for thing in things}
    ids = Counter(thing.id for thing in found if thing.id)
    pairs: list[tuple[Thing, FileThing]] = []
    more: list[FileThing] = []
    nameless: list[FileThing] = []
    for one in found:
        if not one.id or ids[one.id] > 1:
            nameless.append(one)
        elif one.id in left:
            pairs.append((left.pop(one.id), one))
        else:
            more.append(one)
    waiting: list[FileThing] = []
    for one in nameless:
        here = next((thing for thing in left.values() if one.place and not moved(thing, one)), None)
        if here is None:
            waiting.append(one)
        else:
            pairs.append((left.pop(here.id), one))
    for one in waiting:
        here = next((thing for thing in left.values() if _in_files(thing)), None)
        if here is None:
            more.append(one)
        else:
            pairs.append((left.pop(here.id), one))
    return pairs, more, [thing for thing in left.values() if _in_files(thing)]


def _in_files(thing: Thing) -> bool:
    """Whether a level file would have a thing: a timer, or a choice on a screen, it need not have."""
    return not isinstance(thing, Exit) or thing.trigger.kind in ("touch", "press")


def moved(thing: Thing, found: FileThing) -> bool:
    """Whether a thing lies elsewhere in the file, as far as that is known."""
    if isinstance(thing, Exit):
        return found.rect is not None and _apart(found.rect, thing.area)
    return found.point is not None and _apart(found.point, (thing.x, thing.y))


def _apart(one: Sequence[float], other: Sequence[float]) -> bool:
    if one == other:  # nearly always, and quick to see
        return False
    return any(abs(a - b) > ALIKE + 1e-9 for a, b in zip(one, other, strict=True))


# -- which way y grows ---------------------------------------------------------------------------------


def turned(flow: Flow, level: Level, readers: Sequence[Reader], contents: FileContents) -> FileContents:
    """The contents with y growing as in the flow. Where file and flow differ it is turned over at the height of the
    plan; where no height is known, places are left out."""
    other = {reader.id for reader in readers if reader.y != flow.units.y}
    if not other:
        return contents
    sized = next((thing.size for thing in contents.of("plan") if thing.size), None)
    height = sized[1] if sized else level.plan.height if level.plan else 0.0
    things = (_turned(thing, height) if thing.reader in other else thing for thing in contents.things)
    return replace(contents, things=tuple(things))


def _turned(thing: FileThing, height: float) -> FileThing:
    if not height:
        return replace(thing, rect=None, point=None)
    if thing.rect:
        x, y, width, tall = thing.rect
        return replace(thing, rect=(x, height - y - tall, width, tall))
    if thing.point:
        return replace(thing, point=(thing.point[0], height - thing.point[1]))
    return thing

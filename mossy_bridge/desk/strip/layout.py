"""Where beads lie on the strip. Plain geometry; nothing is painted here."""

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, field, replace
from itertools import groupby
from operator import attrgetter

from msgspec import Struct

from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.level_changes import differing_parts

MARGIN = 30.0
WIDEST, NARROWEST, LABELLED = 46.0, 9.0, 32.0
"""Pixels from bead to bead: at most, at least, and from where on codes are written below them."""
SLAB = 74.0
"""The width of a collapsed region."""


class Bead(Struct, frozen=True):
    """A level's place on the strip; for a collapsed region, that of its first level."""

    level: Level
    x: float
    held: tuple[Level, ...] = ()
    """The levels of a collapsed region."""


@dataclass(frozen=True)
class Group:
    """Neighbouring beads under one heading. ``region`` is "" where they are in none."""

    region: str
    heading: str
    left: float
    right: float
    collapsed: bool


@dataclass(frozen=True)
class StripLayout:
    """The whole strip, in pixels from its left end."""

    beads: tuple[Bead, ...] = ()
    groups: tuple[Group, ...] = ()
    width: float = 0.0
    places: dict[str, float] = field(default_factory=dict)
    """The place of every level, by id."""
    levels: Sequence[Level] = ()

    def with_levels(self, levels: Sequence[Level]) -> "StripLayout | None":
        """The same for levels that are the same but for what does not matter here; None where the layout may differ."""
        if levels is self.levels:
            return self
        if len(levels) != len(self.levels) or any(group.collapsed for group in self.groups):
            return None
        was, now = differing_parts(self.levels, levels)
        pairs = list(zip(self.beads[was], levels[now], strict=True))
        if not all(_alike(bead.level, level) for bead, level in pairs):
            return None
        changed = [Bead(level, bead.x) for bead, level in pairs]
        return replace(self, beads=(*self.beads[: was.start], *changed, *self.beads[was.stop :]), levels=levels)

    def beads_between(self, left: float, right: float) -> tuple[Bead, ...]:
        """The beads of which anything may be seen between two places."""
        first = bisect_left(self.beads, left - SLAB, key=lambda bead: bead.x)
        end = bisect_right(self.beads, right + SLAB, key=lambda bead: bead.x)
        return self.beads[first:end]

    def bead_near(self, x: float, reach: float) -> Bead | None:
        """The bead at the place, if one is within reach."""
        index = bisect_left(self.beads, x, key=lambda bead: bead.x)
        near = min(self.beads[max(0, index - 1) : index + 1], key=lambda bead: abs(bead.x - x), default=None)
        if near is None:
            return None
        return near if abs(near.x - x) <= (SLAB / 2 if near.held else reach) else None

    def gap_at(self, x: float) -> int:
        """Before which bead (by number) something dropped at the place would stand."""
        return bisect_left(self.beads, x, key=lambda bead: bead.x)

    def group_at(self, x: float) -> Group | None:
        """The group over the place."""
        return next((group for group in self.groups if group.left - 14 <= x <= group.right + 14), None)


def _alike(one: Level, other: Level) -> bool:
    """Whether two levels have one place on the strip."""
    return one.id == other.id and one.region == other.region


def laid_out(flow: Flow, spacing: float, collapsed: Collection[str], text_width: Callable[[str], float]) -> StripLayout:
    """Beads side by side; neighbours of one region under one heading, with a gap between groups."""
    names = {region.id: region.name or region.id for region in flow.regions}
    beads: list[Bead] = []
    groups: list[Group] = []
    places: dict[str, float] = {}
    x = MARGIN
    gap = spacing * 0.4
    for region, heading, members in _runs(flow, names):
        began = x
        folded = region in collapsed and bool(region)
        if folded:
            middle = x + SLAB / 2 - spacing / 2
            beads.append(Bead(members[0], middle, tuple(members)))
            places.update((level.id, middle) for level in members)
            x += SLAB
        else:
            along = [x + spacing * number for number in range(len(members))]
            beads += map(Bead, members, along)
            places.update(zip([level.id for level in members], along, strict=True))
            x += spacing * len(members)
        end = x - spacing
        groups.append(Group(region, heading, began, max(end, began), folded))
        x = max(x, began - 12 + text_width(heading) + 24 if len(members) * spacing > 60 or folded else x) + gap
    return StripLayout(tuple(beads), tuple(groups), x + MARGIN, places, flow.levels)


def _runs(flow: Flow, names: dict[str, str]) -> list[tuple[str, str, list[Level]]]:
    """Neighbours of one region, with the region and its heading."""
    runs = [(region, list(members)) for region, members in groupby(flow.levels, attrgetter("region"))]
    placed = [number for number, (region, _) in enumerate(runs) if region]
    return [
        (region, names.get(region, region) if region else _outside(number, placed), members)
        for number, (region, members) in enumerate(runs)
    ]


def _outside(run: int, placed: list[int]) -> str:
    if not placed:
        return ""
    return "Before" if run < placed[0] else "After" if run > placed[-1] else "Between"

"""The ways of bridges between cards: out at the side of a card, up or down a gutter between two columns, across other
columns through the gaps between their cards, or along the rim below them all; never over a card in between.

Nothing here is painted. Ways may be put in and taken out one by one; :meth:`Routing.settling` then works out anew just
what they touch, and the outcome is that of beginning afresh.
"""

from collections import defaultdict
from collections.abc import Generator, Hashable, Iterable, Iterator, Mapping, Sequence
from itertools import pairwise
from typing import NamedTuple

from mossy_bridge.desk.map.courses import CLEAR, ColumnGrid, Connection, Course, End, Footprint, course_of, measuring
from mossy_bridge.desk.map.label_places import Labelled, label_places
from mossy_bridge.desk.map.lanes import Long, Run, lanes, rim_heights, spread

Name = Hashable
Point = tuple[float, float]

TITLE, FOOT = 30.0, 8.0
"""The part of a card's side, above and below, where no bridge leaves."""
WRITTEN = 22.0
"""Below the last card of a column is so much room to write in; the rim is below that."""
AT_EDGE = 16.0
"""What lies no further from the side of a card lies at it."""
FARTHEST = 1e9
"""Beyond everything."""


class Route(NamedTuple):
    """How a way runs: from point to point, the first and the last stretch over its own cards, all others level or
    upright; where its lock is, and where there is room to write beside it."""

    points: tuple[Point, ...]
    lock: Point
    label: Footprint | None = None
    from_inside: bool = False
    """Whether it begins on its card, not at the side."""
    to_inside: bool = False


class Routing:
    """The routes of all ways on one map."""

    def __init__(self) -> None:
        self._grid = ColumnGrid((), {}, (), ())
        self._ways: dict[Name, Connection] = {}
        self._courses: dict[Name, Course] = {}
        self._columns: dict[Name, tuple[int, int]] = {}
        """The columns of the cards that a way joins, as it was planned."""
        self._at_card: dict[str, set[Name]] = defaultdict(set)
        self._at_column: dict[int, set[Name]] = defaultdict(set)
        self._in_gutter: dict[int, set[Name]] = defaultdict(set)
        self._in_gap: dict[tuple[int, int], set[Name]] = defaultdict(set)
        self._long: set[Name] = set()
        self._ports: dict[tuple[Name, int], float] = {}
        self._passing: dict[tuple[Name, int], float] = {}
        self._stretch: dict[tuple[Name, int], float] = {}
        self._labels: dict[Name, tuple[Point, Footprint | None]] = {}
        self._dirty_sides: set[tuple[str, bool]] = set()
        self._dirty_gaps: set[tuple[int, int]] = set()
        self._dirty_gutters: set[int] = set()
        self._unwritten: set[int] = set()
        self._dirty_rim = self._unsettled_rim = False
        self._displaced: set[Name] = set()
        """The ways that were planned among other cards than there are now."""
        self.changed: set[Name] = set()
        """The ways whose route differs from when they were last taken out of this set."""

    # -- taking cards and ways -------------------------------------------------------------------------

    def placing(self, columns: Iterable[Mapping[str, Footprint]]) -> Generator[None, None, None]:
        """Takes the cards of every column, all of them at the end. Ways that touch a column that differs are planned
        anew on settling."""
        grid = yield from measuring(columns, self._grid)
        new, old = grid.columns, self._grid.columns
        if len(new) != len(old):
            differ = set(range(max(len(new), len(old))))
        else:
            differ = {at for at in range(len(new)) if new[at] is not old[at] and new[at] != old[at]}
        if not differ:
            return
        for at in differ:
            self._displaced |= self._at_column[at]
        self._grid = grid
        self._dirty_gutters |= {gutter for at in differ for gutter in (at, at + 1)}
        self._dirty_rim = True

    def place(self, columns: Iterable[Mapping[str, Footprint]]) -> None:
        """The same at once."""
        for _ in self.placing(columns):
            pass

    def put(self, name: Name, way: Connection) -> None:
        """Puts in a way, or another one in its place."""
        if self._ways.get(name) == way and name not in self._displaced:
            return
        self.drop(name)
        course = course_of(self._grid, way)
        self._ways[name], self._courses[name] = way, course
        self._columns[name] = self._grid.column_of[way.start.card], self._grid.column_of[way.end.card]
        self.changed.add(name)
        self._touch(name, add=True)

    def drop(self, name: Name) -> None:
        """Takes out a way."""
        if name in self._ways:
            self._touch(name, add=False)
            course = self._courses[name]
            self._labels.pop(name, None)
            for kept, keys in (
                (self._ports, (0, 1)),
                (self._passing, [column for column, _ in course.passes]),
                (self._stretch, course.gutters),
            ):
                for key in keys:
                    kept.pop((name, key), None)
            del self._ways[name], self._courses[name], self._columns[name]
            self.changed.discard(name)
            self._displaced.discard(name)

    def _touch(self, name: Name, add: bool) -> None:
        """Notes a way wherever it passes, or no longer."""
        way, course = self._ways[name], self._courses[name]
        note = set.add if add else set.discard
        ends = (way.start, course.first), (way.end, course.last)
        for (end, gutter), column in zip(ends, self._columns[name], strict=True):
            note(self._at_card[end.card], name)
            note(self._at_column[column], name)
            self._dirty_sides.add((end.card, gutter > column))
        for column, gap in course.passes:
            note(self._at_column[column], name)
            if gap >= 0:
                note(self._in_gap[column, gap], name)
                self._dirty_gaps.add((column, gap))
        for gutter in course.gutters:
            note(self._in_gutter[gutter], name)
            self._dirty_gutters.add(gutter)
        if course.is_long:
            note(self._long, name)
            self._dirty_rim = True

    # -- settling --------------------------------------------------------------------------------------

    def settling(self) -> Iterator[None]:
        """Works out bit by bit what the ways put in and taken out have changed: ``changed``. Whoever goes on with other
        ways before the end loses nothing."""
        while self._displaced:
            self._plan_anew(next(iter(self._displaced)))
            yield
        while self._dirty_sides:
            self._settle_side(*self._dirty_sides.pop())
            yield
        while self._dirty_gaps:
            self._settle_gap(*self._dirty_gaps.pop())
            yield
        while self._dirty_rim or self._unsettled_rim:
            self._dirty_rim, self._unsettled_rim = False, True  # so it stays if nobody goes on with this
            yield from self._settle_rim()
            self._unsettled_rim = False
        while self._dirty_gutters:
            self._unwritten.add(gutter := self._dirty_gutters.pop())
            self._settle_gutter(gutter)
            yield
        while self._unwritten:
            gutter = next(iter(self._unwritten))
            yield from self._write(gutter)
            self._unwritten.discard(gutter)

    def _plan_anew(self, name: Name) -> None:
        way = self._ways[name]
        self.drop(name)
        if way.start.card in self._grid.column_of and way.end.card in self._grid.column_of:
            self.put(name, way)

    def settle(self) -> set[Name]:
        """The same at once. Returns the ways whose route differs, and forgets them."""
        for _ in self.settling():
            pass
        found, self.changed = self.changed, set()
        return found

    def _set(self, kept: dict[tuple[Name, int], float], name: Name, number: int, value: float) -> None:
        """Keeps a height; where it is another one, the way changes, and the gutters beside it."""
        if kept.get((name, number)) != value:
            kept[name, number] = value
            self.changed.add(name)
            self._dirty_gutters.update(self._courses[name].gutters)

    def _settle_side(self, card: str, right: bool) -> None:
        """The heights at which ways leave one side of a card."""
        column = self._grid.column_of.get(card)
        if column is None:
            return
        box, gutter, found = self._grid.footprint(card), column + right, []
        for name in self._at_card[card]:
            way, course = self._ways[name], self._courses[name]
            for number, end, at in ((0, way.start, course.first), (1, way.end, course.last)):
                if end.card == card and at == gutter:
                    height = min(max(end.y, box.top + TITLE), box.bottom - FOOT)
                    found.append((self._goes_to(name, number), str(name), number, height, name))
        loud = sorted(one for one in found if not self._ways[one[-1]].faint)
        heights = spread([one[3] for one in loud], box.top + TITLE, box.bottom - FOOT)
        for one, height in zip(loud, heights, strict=True):
            self._set(self._ports, one[-1], one[2], height)
        for one in found:
            if self._ways[one[-1]].faint:
                self._set(self._ports, one[-1], one[2], one[3])

    def _goes_to(self, name: Name, number: int) -> tuple[float, int]:
        """The place in the next column that a way goes to from one of its ends: its height, and its rank there."""
        way, course = self._ways[name], self._courses[name]
        if course.passes:
            at = 0 if number == 0 else -1
            return (FARTHEST / 2 if course.is_long else course.heights[at]), course.ranks[at]
        here, other = (way.start, way.end) if number == 0 else (way.end, way.start)
        column, box = self._grid.column_of[other.card], self._grid.footprint(other.card)
        height = (box.top + box.bottom) / 2
        if column != self._grid.column_of[here.card]:
            return height, 0
        # Back into the same column: from the end of the side that is nearest to it, the nearest from its very end.
        below = height > self._grid.footprint(here.card).top
        return (FARTHEST - height if below else -FARTHEST - height), 0

    def _settle_gap(self, column: int, gap: int) -> None:
        """The heights at which ways cross a column between two cards."""
        if column >= len(self._grid.gaps) or gap >= len(self._grid.gaps[column]):
            return
        low, high, _ = self._grid.gaps[column][gap]
        loud, passing = [], self._in_gap[column, gap]
        for name in passing:
            number = self._courses[name].passes.index((column, gap))
            height = self._courses[name].heights[number]
            if self._ways[name].faint:  # all of them on one line, and room to write below it
                self._set(self._passing, name, column, low + 1)
            else:
                rank = self._courses[name].ranks[number]
                loud.append((rank, self._slant(name, number), str(name), height, name))
        loud.sort(key=lambda one: one[:3])
        heights = spread([one[3] for one in loud], low, high)
        for one, height in zip(loud, heights, strict=True):
            self._set(self._passing, one[-1], column, height)

    def _slant(self, name: Name, number: int) -> float:
        """About how high a way is before and after it crosses a column."""
        way, heights = self._ways[name], self._courses[name].heights
        along = [way.start.y, *heights, way.end.y]
        return along[number] + along[number + 2]

    def _settle_rim(self) -> Iterator[None]:
        """The heights at which ways lead below all cards, way by way."""
        loud = sorted((name for name in self._long if not self._ways[name].faint), key=str)
        columns = {name: sorted(column for column, _ in self._courses[name].passes) for name in self._long}
        floors = [
            max([gaps[-1][0] + WRITTEN, *self._lowest(at, len(gaps) - 1)]) for at, gaps in enumerate(self._grid.gaps)
        ]
        heights = rim_heights([Long(columns[name][0], columns[name][-1]) for name in loud], floors)
        faint = [name for name in self._long if self._ways[name].faint]
        lowest = [max(floors[columns[name][0] : columns[name][-1] + 1]) for name in faint]
        for name, height in zip([*loud, *faint], [*heights, *lowest], strict=True):
            for column in columns[name] if name in self._long else ():
                self._set(self._passing, name, column, height)
            yield

    def _lowest(self, column: int, gap: int) -> list[float]:
        return [self._passing[name, column] for name in self._in_gap[column, gap] if not self._ways[name].faint]

    # -- gutters ---------------------------------------------------------------------------------------

    def _settle_gutter(self, gutter: int) -> None:
        """The lanes of the ways through a gutter."""
        if not self._is_gutter(gutter):
            return
        left, right = self._grid.bounds(gutter)
        names = sorted(self._in_gutter[gutter], key=str)
        loud = [name for name in names if not self._ways[name].faint]
        runs = {name: self._run(name, gutter) for name in names}
        across = lanes([runs[name] for name in loud], left + CLEAR, right - CLEAR)
        for name, x in zip(loud, across, strict=True):
            self._keep_stretch(name, gutter, x)
        for name in names:
            if self._ways[name].faint:
                self._keep_stretch(name, gutter, (left + right) / 2)

    def _is_gutter(self, gutter: int) -> bool:
        return bool(self._grid.columns) and 0 <= gutter <= len(self._grid.columns)

    def _keep_stretch(self, name: Name, gutter: int, x: float) -> None:
        if self._stretch.get((name, gutter)) != x:
            self._stretch[name, gutter] = x
            self.changed.add(name)

    def _run(self, name: Name, gutter: int) -> Run:
        way, course = self._ways[name], self._courses[name]
        step, gutters = (1 if course.last >= course.first else -1), course.gutters
        number = gutters.index(gutter)
        from_right, to_right = step < 0, step > 0
        if number == 0:
            from_right = self._grid.column_of[way.start.card] == gutter
            height = self._ports[name, 0]
        else:
            height = self._passing[name, course.passes[-1 if number == len(gutters) - 1 else number - 1][0]]
        if number == len(gutters) - 1:
            to_right = self._grid.column_of[way.end.card] == gutter
            leaves = self._ports[name, 1]
        else:
            leaves = self._passing[name, course.passes[number][0]]
        return Run(height, from_right, leaves, to_right)

    def _write(self, gutter: int) -> Iterator[None]:
        """Finds places for the locks of ways that leave into a gutter, one by one."""
        if not self._is_gutter(gutter):
            return
        names = sorted(self._in_gutter[gutter], key=str)
        runs = {name: self._run(name, gutter) for name in names}
        lines = [(self._stretch[name, gutter], runs[name]) for name in names]
        locked = [name for name in names if self._ways[name].label and self._courses[name].first == gutter]
        wanted = [Labelled(self._stretch[n, gutter], runs[n], self._ways[n].label) for n in locked]
        free = []
        for column, is_left in ((gutter - 1, True), (gutter, False)):
            if 0 <= column < len(self._grid.columns):
                for gap, (low, high, _) in enumerate(self._grid.gaps[column]):
                    crossed = [self._passing[name, column] for name in self._in_gap[column, gap]]
                    last = low + WRITTEN if gap == len(self._grid.gaps[column]) - 1 else high
                    free.append((is_left, low, last, tuple(sorted(crossed))))
        places = label_places(wanted, lines, self._grid.bounds(gutter), free)
        for name, place in zip(locked, places, strict=True):
            found = place.lock, Footprint(*place.box) if place.box else None
            if self._labels.get(name) != found:
                self._labels[name] = found
                self.changed.add(name)
            yield

    # -- routes ----------------------------------------------------------------------------------------

    def route(self, name: Name) -> Route:
        """The route of a way, as settled."""
        way, course = self._ways[name], self._courses[name]
        points = [self._side_point(name, 0)]
        for gutter in course.gutters:
            run, x = self._run(name, gutter), self._stretch[name, gutter]
            if not run.is_straight:
                points += [(x, run.height), (x, run.leaves)]
        points.append(self._side_point(name, 1))
        inside = _begins_inside(way.start, points[0]), _begins_inside(way.end, points[-1])
        lock, label = self._labels.get(name, (_middle(points), None))
        first = [(way.start.x, way.start.y)] if inside[0] else []
        last = [(way.end.x, way.end.y)] if inside[1] else []
        return Route((*first, *_without_repeats(points), *last), lock, label, *inside)

    def _side_point(self, name: Name, number: int) -> Point:
        way, course = self._ways[name], self._courses[name]
        end, gutter = (way.start, course.first) if number == 0 else (way.end, course.last)
        column, box = self._grid.column_of[end.card], self._grid.footprint(end.card)
        return (box.right if gutter > column else box.left), self._ports[name, number]


def _begins_inside(end: End, side: Point) -> bool:
    """Whether the line is drawn on over the card, from its side to the very point."""
    return not end.at_edge or abs(end.x - side[0]) <= AT_EDGE


def _without_repeats(points: Sequence[Point]) -> list[Point]:
    return [*points[:1], *(other for one, other in pairwise(points) if one != other)]


def _middle(points: Sequence[Point]) -> Point:
    """The middle of the longest stretch."""
    pairs = list(pairwise(points))
    (x, y), (u, v) = max(pairs, key=lambda pair: abs(pair[0][0] - pair[1][0]) + abs(pair[0][1] - pair[1][1]))
    return (x + u) / 2, (y + v) / 2

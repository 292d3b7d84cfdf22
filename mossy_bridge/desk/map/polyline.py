"""The line of a bridge, as points close together: corners rounded, and the first and last stretch, over its own cards,
bent so that it leaves and arrives level."""

import math
from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import accumulate, pairwise

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainterPath, QPolygonF

Point = tuple[float, float]

ROUND = 12.0
"""The radius of corners, where there is room for it."""
STEPS = 6
"""Points for each corner, and twice as many for each bend."""


@dataclass(frozen=True)
class Polyline:
    """A line by its points, at least two."""

    points: tuple[Point, ...]
    along: tuple[float, ...]
    """How far along the line each of them is."""

    def length(self) -> float:
        """How long it is."""
        return self.along[-1]

    def at(self, share: float) -> tuple[float, float, float, float]:
        """The point at a share of the length from 0 to 1, and the unit vector along the line there."""
        wanted = share * self.along[-1]
        number = min(max(1, bisect_left(self.along, wanted)), len(self.points) - 1)
        (x, y), (u, v) = self.points[number - 1], self.points[number]
        piece = self.along[number] - self.along[number - 1] or 1.0
        part = min(max((wanted - self.along[number - 1]) / piece, 0.0), 1.0)
        return x + (u - x) * part, y + (v - y) * part, (u - x) / piece, (v - y) / piece

    def within(self, left: float, top: float, right: float, bottom: float) -> Iterator[tuple[float, float]]:
        """The stretches in a rectangle, each by how far along the line it begins and ends (Liang and Barsky 1984)."""
        for (x, y), (u, v), begin, end in zip(self.points, self.points[1:], self.along, self.along[1:], strict=False):
            if (
                (x < left and u < left)
                or (x > right and u > right)
                or (y < top and v < top)
                or (y > bottom and v > bottom)
            ):
                continue  # as mostly
            first, last = 0.0, 1.0
            for at, way, low, high in ((x, u - x, left, right), (y, v - y, top, bottom)):
                if way:
                    one, other = (low - at) / way, (high - at) / way
                    first, last = max(first, min(one, other)), min(last, max(one, other))
            if first <= last:
                yield begin + (end - begin) * first, begin + (end - begin) * last

    def path(self) -> QPainterPath:
        """The line to be painted."""
        path = QPainterPath()
        path.addPolygon(self.polygon())
        return path

    def polygon(self) -> QPolygonF:
        """Its points."""
        return QPolygonF([QPointF(x, y) for x, y in self.points])

    def distance(self, point: QPointF) -> float:
        """How far a point is from the line."""
        return min(_distance(point.x(), point.y(), *one, *other) for one, other in pairwise(self.points))


def polyline(points: Sequence[Point]) -> Polyline:
    """The line over some points; such as lie in one place are one."""
    kept = [*points[:1], *(other for one, other in pairwise(points) if one != other)]
    kept = kept if len(kept) > 1 else [kept[0], (kept[0][0] + 0.1, kept[0][1])]
    steps = [math.dist(one, other) for one, other in pairwise(kept)]
    return Polyline(tuple(kept), (0.0, *accumulate(steps)))


def rounded(points: Sequence[Point], bent_first: bool, bent_last: bool) -> Polyline:
    """The line of a route: ``bent_first`` and ``bent_last`` say whether its ends lie on cards."""
    inner = list(points[1 if bent_first else 0 : -1 if bent_last else None])
    found = list(_bend(points[0], inner[0])) if bent_first else []
    found.append(inner[0])
    for before, corner, after in zip(inner, inner[1:], inner[2:], strict=False):
        found += _corner(before, corner, after)
    found.append(inner[-1])
    found += list(_bend(inner[-1], points[-1])) if bent_last else []
    return polyline(found)


def _bend(one: Point, other: Point) -> Iterator[Point]:
    """A curve that begins and ends level."""
    (x, y), (u, v) = one, other
    if abs(v - y) < 0.5 or abs(u - x) < 0.5:
        yield from (one, other)
        return
    for step in range(2 * STEPS + 1):
        t = step / (2 * STEPS)
        yield x + (u - x) * (1.5 * t * (1 - t) + t**3), y + (v - y) * (3 - 2 * t) * t * t


def _corner(before: Point, corner: Point, after: Point) -> Iterator[Point]:
    """A quarter of a circle instead of a corner (a quadratic Bezier curve, which is as near as one can see)."""
    one, other = math.dist(before, corner), math.dist(corner, after)
    radius = min(ROUND, one / 2, other / 2)
    if radius < 0.5:
        yield corner
        return
    start = _towards(corner, before, radius / one)
    end = _towards(corner, after, radius / other)
    for step in range(STEPS + 1):
        t = step / STEPS
        first, second, third = (1 - t) ** 2, 2 * t * (1 - t), t * t
        yield (
            first * start[0] + second * corner[0] + third * end[0],
            first * start[1] + second * corner[1] + third * end[1],
        )


def _towards(one: Point, other: Point, share: float) -> Point:
    return one[0] + (other[0] - one[0]) * share, one[1] + (other[1] - one[1]) * share


def _distance(x: float, y: float, a: float, b: float, c: float, d: float) -> float:
    """From a point to a stretch."""
    across, up = c - a, d - b
    square = across * across + up * up
    part = min(1.0, max(0.0, ((x - a) * across + (y - b) * up) / square)) if square else 0.0
    return math.hypot(x - a - part * across, y - b - part * up)

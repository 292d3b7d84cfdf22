"""Where there is room to write beside the bridges of a gutter: in the gaps between the cards at its sides."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from mossy_bridge.desk.map.lanes import Run

HEIGHT = 15.0
"""Of what is written."""
BESIDE = 6.0
"""How far it keeps from bridges."""
NEAR = 44.0
"""It stands no further than this from its lock."""
CORNER = 16.0
"""A lock keeps so far from corners."""
HALF_GAP = 72.0
"""So much of a gap belongs to the gutter beside it; the other half to the one at the other side."""

Gap = tuple[bool, float, float, tuple[float, ...]]
"""Whether it lies left of the gutter, its heights, and the heights of the lines that cross it."""
Rect = tuple[float, float, float, float]


class Labelled(NamedTuple):
    """A line that has a lock in the gutter: where its stretch is, and how wide what is to be written is."""

    x: float
    run: Run
    width: float


class LabelPlace(NamedTuple):
    """Where the lock is on the line, and the rectangle to write in; without one there is no room."""

    lock: tuple[float, float]
    box: Rect | None = None


def label_places(
    wanted: Sequence[Labelled],
    lines: Sequence[tuple[float, Run]],
    bounds: tuple[float, float],
    gaps: Sequence[Gap],
) -> Iterator[LabelPlace]:
    """A place for each, the first first; each place is given once."""
    taken: list[Rect] = []
    reach = BESIDE + HEIGHT / 2
    stretches = np.array([(x, run.low - reach, run.high + reach) for x, run in lines]).reshape(-1, 3)
    for one in wanted:
        room = _Room(one, stretches, bounds)
        near = [box for box in room.boxes(gaps) if not any(_share(box, other) for other in taken)]
        box = min(near, key=lambda box: _distance(one, box), default=None)
        if box:
            taken.append(box)
            yield LabelPlace((one.x, _on_stretch(one.run, (box[1] + box[3]) / 2)), box)
        else:
            yield LabelPlace((one.x, (one.run.low + one.run.high) / 2))


class _Room(NamedTuple):
    """What is to be written, the stretches of all lines (x, and the heights that they take up), and how far the gutter
    goes."""

    one: Labelled
    stretches: NDArray[np.float64]
    bounds: tuple[float, float]

    def boxes(self, gaps: Sequence[Gap]) -> Iterator[Rect]:
        """Where it may be written as far as lines are concerned: in each gap beside the outermost line there."""
        near = [
            (height, is_left)
            for is_left, top, bottom, crossed in gaps
            if top <= self.one.run.high + NEAR and bottom >= self.one.run.low - NEAR
            for height in _heights(self.one, top, bottom)
            if abs(height - _on_stretch(self.one.run, height)) <= NEAR and not _is_crossed(height, crossed)
        ]
        if not near:
            return
        heights = np.array([height for height, _ in near])[:, None]
        x, low, high = self.stretches.T
        meets = (low < heights) & (heights < high)
        rights = np.where(meets, x, np.inf).min(axis=1, initial=np.inf).tolist()
        lefts = np.where(meets, x, -np.inf).max(axis=1, initial=-np.inf).tolist()
        for (height, is_left), right, left in zip(near, rights, lefts, strict=True):
            begin = (
                min(right, self.one.x, self.bounds[1]) - BESIDE - self.one.width
                if is_left
                else max(left, self.one.x, self.bounds[0]) + BESIDE
            )
            end = begin + self.one.width
            if begin >= self.bounds[0] - HALF_GAP if is_left else end <= self.bounds[1] + HALF_GAP:
                yield begin, height - HEIGHT / 2, end, height + HEIGHT / 2


def _is_crossed(height: float, crossed: Sequence[float]) -> bool:
    return any(abs(height - other) < HEIGHT / 2 + BESIDE for other in crossed)


def _on_stretch(run: Run, height: float) -> float:
    """The height nearest to one at which a lock stands on a stretch, clear of its corners if it is long enough."""
    room = min(CORNER, (run.high - run.low) / 2)
    return min(max(height, run.low + room), run.high - room)


def _heights(one: Labelled, low: float, high: float) -> list[float]:
    """Heights to try in a gap: next to the line's stretch, in the middle, and at its ends."""
    first, last = low + HEIGHT / 2, high - HEIGHT / 2
    if first > last:
        return []
    beside = (one.run.low + one.run.high) / 2
    tried = {min(max(height, first), last) for height in (beside, (low + high) / 2, first, last)}
    return sorted(height for height in tried if abs(height) < 1e6)


def _distance(one: Labelled, box: Rect) -> tuple[float, float]:
    nearest = min(abs(box[0] - one.x), abs(box[2] - one.x))
    height = (box[1] + box[3]) / 2
    return nearest + abs(height - _on_stretch(one.run, height)), box[1]


def _share(one: Rect, other: Rect) -> bool:
    return one[0] < other[2] + 2 and other[0] < one[2] + 2 and one[1] < other[3] + 2 and other[1] < one[3] + 2

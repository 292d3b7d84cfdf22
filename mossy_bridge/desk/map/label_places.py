"""Where there is room to write beside the bridges of a gutter: in the gaps between the cards at its sides."""

from collections.abc import Sequence
from typing import NamedTuple

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
) -> list[LabelPlace]:
    """A place for each, the first first; each place is given once."""
    taken: list[Rect] = []
    found = []
    reach = BESIDE + HEIGHT / 2
    stretches = [(x, run.low - reach, run.high + reach) for x, run in lines] if wanted else []
    for one in wanted:
        low, high = one.run.low - NEAR, one.run.high + NEAR
        near = [
            place
            for gap in gaps
            if gap[1] <= high and gap[2] >= low
            for place in _in_gap(one, stretches, bounds, gap, taken)
        ]
        place = min(near, key=lambda place: _distance(one, place), default=None)
        if place and place.box:
            taken.append(place.box)
        found.append(place or LabelPlace((one.x, (one.run.low + one.run.high) / 2)))
    return found


def _in_gap(
    one: Labelled,
    stretches: Sequence[tuple[float, float, float]],
    bounds: tuple[float, float],
    gap: Gap,
    taken: Sequence[Rect],
) -> list[LabelPlace]:
    is_left, top, bottom, crossed = gap
    found = []
    for height in _heights(one, top, bottom):
        lock = one.x, _on_stretch(one.run, height)
        if abs(height - lock[1]) > NEAR or any(abs(height - other) < HEIGHT / 2 + BESIDE for other in crossed):
            continue
        across = [x for x, low, high in stretches if low < height < high]
        across.append(one.x)
        if is_left:
            right = min([*across, bounds[1]]) - BESIDE
            box = right - one.width, height - HEIGHT / 2, right, height + HEIGHT / 2
            fits = box[0] >= bounds[0] - HALF_GAP
        else:
            left = max([*across, bounds[0]]) + BESIDE
            box = left, height - HEIGHT / 2, left + one.width, height + HEIGHT / 2
            fits = box[2] <= bounds[1] + HALF_GAP
        if fits and not any(_share(box, other) for other in taken):
            found.append(LabelPlace(lock, box))
    return found


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


def _distance(one: Labelled, place: LabelPlace) -> tuple[float, float]:
    box = place.box or (0.0, 0.0, 0.0, 0.0)
    nearest = min(abs(box[0] - one.x), abs(box[2] - one.x))
    return nearest + abs((box[1] + box[3]) / 2 - place.lock[1]), box[1]


def _share(one: Rect, other: Rect) -> bool:
    return one[0] < other[2] + 2 and other[0] < one[2] + 2 and one[1] < other[3] + 2 and other[1] < one[3] + 2
